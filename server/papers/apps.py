"""The app."""

from django.apps import AppConfig


class PapersConfig(AppConfig):
    """Papers."""

    name = "server.papers"
    label = "papers"
