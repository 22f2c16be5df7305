"""The work application."""

from django.apps import AppConfig


class WorkConfig(AppConfig):
    """Configuration of work."""

    name = "glaucon.apps.work"
    label = "glaucon_work"
