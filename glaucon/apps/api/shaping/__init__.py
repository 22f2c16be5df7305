"""What several addresses answer with, shaped for the API.

Begin with `answers`.
"""
