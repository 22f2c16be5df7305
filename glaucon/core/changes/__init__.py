"""The changes between two studies, one by one, each with words for people, its places, and a way to undo it.

Begin with `told`; `taking_back` undoes one change, `places` says on which texts and pages each shows.
"""
