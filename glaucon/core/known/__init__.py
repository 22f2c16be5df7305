"""A surveyed site with all that its studies are read with, made once.

Begin with `site.KnownSite`; `rows` are what a study is read in.
"""
