"""Acts: all that a person can do to a study, each a small document in a module of its own; nothing else changes one.

Begin with `act` (what an act and a search are), then `registry` (all of them). `palette` holds those on colours,
`places` those on sections and coats, `behind` backdrops and CSS, `whole` those on the whole palette. `at_hand` is the
site that they are applied to; the application, the shell and the proofs bring theirs.
"""
