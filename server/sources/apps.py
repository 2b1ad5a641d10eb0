"""The app."""

from django.apps import AppConfig


class SourcesConfig(AppConfig):
    """Sources."""

    name = "server.sources"
    label = "sources"

    def ready(self) -> None:
        """Register what others read here."""
        from server.sources import conflicts, directives, findables  # noqa: F401
