"""Bringing sites in: sources, jobs, what becomes of them.

Begin with `bring_in`; `outside` fetches from an address.
"""
