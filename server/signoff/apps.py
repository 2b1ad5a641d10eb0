"""The app."""

from django.apps import AppConfig


class SignoffConfig(AppConfig):
    """Signoff."""

    name = "server.signoff"
    label = "signoff"
