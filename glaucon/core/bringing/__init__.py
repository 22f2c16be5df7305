"""Reads sites that are no folder: pages that a browser saved (MHTML, one HTML file) and archives (HAR, WARC, WACZ).

Begin with `reading`, which tells them apart; `captured` lays answers down as files.
"""
