"""The app."""

from django.apps import AppConfig


class AircraftConfig(AppConfig):
    """Aircraft."""

    name = "server.aircraft"
    label = "aircraft"
