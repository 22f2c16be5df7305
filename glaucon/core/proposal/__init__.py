"""The palette hidden in a site: few roles and coats, found from use.

Begin with `proposal.propose`; `sorting` holds what has been chosen so far, and each kind of colour has a module.
"""
