"""Heavy work, done in processes of its own, each within limits.

Begin with `queue`, then `worker`: one process takes what waits, owner by owner.
"""
