"""Studies and their revisions, each a document that is never changed.

Begin with `services`: `write` is the one way in; `previews` shows a revision's pages.
"""
