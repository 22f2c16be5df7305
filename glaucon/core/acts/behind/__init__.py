"""Acts on what lies behind and over the pages: backdrops, the owner's own CSS, less fading.

Begin with `lay_backdrop`; the searches that help with backdrops stand in a module each.
"""
