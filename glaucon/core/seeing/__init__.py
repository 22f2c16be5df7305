"""Everything of a site that has to be seen, in one place: each text and what it stands on.

Begin with `texts` for the list of texts, `lanes` for the ladder of backgrounds and what stands on them.
"""
