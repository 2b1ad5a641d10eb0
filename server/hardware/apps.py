"""The app."""

from django.apps import AppConfig


class HardwareConfig(AppConfig):
    """Hardware."""

    name = "server.hardware"
    label = "hardware"

    def ready(self) -> None:
        """Register what others read here."""
        from server.hardware import documents, findables, trade, wanted  # noqa: F401
