"""The app."""

from django.apps import AppConfig


class WeightConfig(AppConfig):
    """Weight and balance."""

    name = "server.weight"
    label = "weight"

    def ready(self) -> None:
        """Register what others read here."""
        from server.weight import findables, trade  # noqa: F401
