"""The app."""

from django.apps import AppConfig


class ClearanceConfig(AppConfig):
    """Clearance."""

    name = "server.clearance"
    label = "clearance"

    def ready(self) -> None:
        """Register what others read here."""
        import core.clearance.sheets
        import core.plan.sheets  # noqa: F401
        from server.clearance import findables, trade  # noqa: F401
