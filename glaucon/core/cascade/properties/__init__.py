"""Declared values: what Chromium would take, each as a value of a longhand.

Begin with `declarations.parse_declaration`; `longhands` has the grammar of each property.
"""
