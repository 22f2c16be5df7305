"""Acts on sections, parts and pages: what they wear, and the coats there are.

Begin with `wear`.
"""
