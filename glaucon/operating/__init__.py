"""Running Glaucon for strangers: what is asked of its surroundings, starting it, backups, checks, limits by hand.

Begin with `start`; `admin` is what an operator types.
"""
