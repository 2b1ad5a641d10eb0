"""The app."""

from django.apps import AppConfig


class EntryConfig(AppConfig):
    """Entry."""

    name = "server.entry"
    label = "entry"
