"""The releases application."""

from django.apps import AppConfig


class ReleasesConfig(AppConfig):
    """Configuration of releases."""

    name = "glaucon.apps.releases"
    label = "glaucon_releases"
