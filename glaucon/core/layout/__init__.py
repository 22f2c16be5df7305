"""Where things lie on a page, as a browser measured it, and what of an image lies at a place.

Begin with `document`, the measured page.
"""
