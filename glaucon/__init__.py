"""Glaucon: a site's colours, decided once and checked for reading everywhere."""
