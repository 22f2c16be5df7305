"""Who is signed in.

Begin with `apps`: Django's own users are enough so far.
"""
