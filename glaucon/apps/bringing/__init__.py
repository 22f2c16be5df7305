"""Bringing sites in: sources, jobs, what becomes of them."""
