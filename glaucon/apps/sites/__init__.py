"""Sites as they were brought in: their files, versions, layouts and what was made of them.

Begin with `models`; `at_hand.KeptSite` is a site as acts and searches see it.
"""
