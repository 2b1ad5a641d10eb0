"""The app."""

from django.apps import AppConfig


class ClosingConfig(AppConfig):
    """Closing."""

    name = "server.closing"
    label = "closing"

    def ready(self) -> None:
        """Register what others read here."""
        from server.closing import inspections, trade  # noqa: F401
