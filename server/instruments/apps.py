"""The app."""

from django.apps import AppConfig


class InstrumentsConfig(AppConfig):
    """Instruments."""

    name = "server.instruments"
    label = "instruments"
