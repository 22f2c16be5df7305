"""Acts on the colours of the palette: their values, names, order, ties and locks, and what comes under them.

Begin with `set_colour`, the smallest.
"""
