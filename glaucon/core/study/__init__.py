"""A study: what a person decided about a site's colours, as a document that is never changed but copied.

Begin with `study.Study`; `roles`, `coats`, `scopes` and `backdrops` are its parts, `editing` and `wearing` what is
done with them.
"""
