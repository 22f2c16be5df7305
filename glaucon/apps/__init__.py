"""What is kept and served: Django's applications, none of which computes a colour.

Begin with `api`; `sites` keeps files and surveys, `studies` revisions, `releases` what went live, `bringing` and `work`
the long jobs, `accounts` the people.
"""
