"""What one study changes in another, told change by change: what it is called, where it shows, how to take it back.

Begin with `told`; `taking_back` undoes one change, `places` says on which texts and pages each shows.
"""
