"""One place of a site looked at closely: how far a choice there reaches, its colours, where they come from.

Begin with `section_map` for the sections of a site, `because` for why a text shows what it shows.
"""
