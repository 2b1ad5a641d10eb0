"""The app."""

from django.apps import AppConfig


class JournalConfig(AppConfig):
    """Journal."""

    name = "server.journal"
    label = "journal"
