"""The studies application."""

from django.apps import AppConfig


class StudiesConfig(AppConfig):
    """Configuration of studies."""

    name = "glaucon.apps.studies"
    label = "glaucon_studies"
