"""Releases: what went live, when, and the way back.

Begin with `services`.
"""
