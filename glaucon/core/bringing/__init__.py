"""What a site is brought in as besides a folder: pages as a browser saved them, and archives of what a crawl met.

Begin with `reading`, which tells them apart; `captured` lays answers down as files.
"""
