"""The app."""

from django.apps import AppConfig


class WorksheetsConfig(AppConfig):
    """Worksheets."""

    name = "server.worksheets"
    label = "worksheets"

    def ready(self) -> None:
        """Register what others read here."""
        from server.worksheets import findables, trade  # noqa: F401
