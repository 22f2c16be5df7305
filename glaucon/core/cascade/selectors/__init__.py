"""Selectors Level 4, matched in a state that is asked for.

Begin with `selectors.compile_selectors`.
"""
