"""Django's settings: `base` for all, `test` for the tests.

Begin with `base`.
"""
