"""The HTTP API: what the applications do, as addresses. It stands above them all.

Begin with `main`, then `acts` and `searches`: most of what a person does goes through these two.
"""
