"""The app."""

from django.apps import AppConfig


class RulebookConfig(AppConfig):
    """Rulebook."""

    name = "server.rulebook"
    label = "rulebook"
