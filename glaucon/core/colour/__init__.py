"""Colours as numbers: sRGB and OKLab, the gamut, contrast as WCAG has it.

Begin with `value.Colour`.
"""
