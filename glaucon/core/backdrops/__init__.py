"""Backdrops as CSS and files: patterns and pictures drawn, layers written, the least veil found.

Begin with `css.written`.
"""
