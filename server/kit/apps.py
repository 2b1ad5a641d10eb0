"""The app."""

from django.apps import AppConfig


class KitConfig(AppConfig):
    """What all trades share."""

    name = "server.kit"
    label = "kit"
