"""New palettes from a few given colours, placed on a site as its own colours lie.

Begin with `making`.
"""
