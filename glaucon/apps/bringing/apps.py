"""Bringing sites in, as an application."""

from django.apps import AppConfig


class BringingConfig(AppConfig):
    """Configuration of bringing in; it holds no models."""

    name = "glaucon.apps.bringing"
    label = "glaucon_bringing"
