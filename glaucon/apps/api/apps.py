"""The HTTP API as an application."""

from django.apps import AppConfig


class ApiConfig(AppConfig):
    """Configuration of the API; it holds no models, and stands above all that does."""

    name = "glaucon.apps.api"
    label = "glaucon_api"
