"""What sections, parts and pages wear: from a study's scopes to colours, to rules, to a reading.

Begin with `values` (what one scope sets), then `cascade` (a deeper one over a shallower); `css` writes the same as
rules, `reading` reads it, `coats_worn` says which coat a region wears.
"""
