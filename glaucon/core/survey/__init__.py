"""A site looked at once: every text in every state, what it is painted with and what lies behind it, as expressions.

Begin with `survey.survey_site`; `model` is what comes of it, `walk` goes over a page.
"""
