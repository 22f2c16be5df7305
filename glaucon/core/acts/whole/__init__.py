"""Acts on the whole palette at once: fixing everything, making a palette, carrying a study over to a site's new files.

Begin with `fix`.
"""
