"""The app."""

from django.apps import AppConfig


class DemoConfig(AppConfig):
    """Demo."""

    name = "server.demo"
    label = "demo"
