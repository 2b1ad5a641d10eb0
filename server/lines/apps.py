"""The app."""

from django.apps import AppConfig


class LinesConfig(AppConfig):
    """Lines."""

    name = "server.lines"
    label = "lines"

    def ready(self) -> None:
        """Register what others read here."""
        from server.lines import trade  # noqa: F401
