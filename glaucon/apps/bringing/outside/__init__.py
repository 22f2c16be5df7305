"""Fetching a live site: politely, within limits, and never from inside the network it runs in.

Begin with `crawling`.
"""
