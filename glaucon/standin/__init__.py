"""A small web host that stands in for the outside one: what is brought in by address in the demo and the tests.

Begin with `host`.
"""
