"""Making texts readable: one finding (`offers`, `here_only`), or the whole site (`fixed`).

Begin with `fixed.fix_all`, whose search is `fixing.fix`: `moving` holds the colours on their way, `ways` chooses
among what may move.
"""
