"""What is told of a site's texts outside: the audit report and the list of texts, as JSON, CSV and tables.

Begin with `audit`.
"""
