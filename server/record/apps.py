"""The app."""

from django.apps import AppConfig


class RecordConfig(AppConfig):
    """Record."""

    name = "server.record"
    label = "record"

    def ready(self) -> None:
        """Register what others read here."""
        from server.record import findables, looseends, trade  # noqa: F401
