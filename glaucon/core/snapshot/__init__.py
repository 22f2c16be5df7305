"""Pages as a visitor has them, once their own scripts have run, told apart from what their files say.

Begin with `document`, what a browser hands over.
"""
