"""The app."""

from django.apps import AppConfig


class PeopleConfig(AppConfig):
    """Who may do what."""

    name = "server.people"
    label = "people"
