"""A site with everything: its files, studies with their history, pictures, releases and layouts, as one open zip.

Begin with `document`, which says what is in it; `archive` writes and reads the zip.
"""
