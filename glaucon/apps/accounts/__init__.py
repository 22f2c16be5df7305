"""Who is signed in, and how much they may have.

Begin with `limits`; users are Django's own.
"""
