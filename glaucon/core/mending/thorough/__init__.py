"""The joint search over all roles, and proofs of what cannot be readable: what `mend --thorough` does."""
