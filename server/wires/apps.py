"""The app."""

from django.apps import AppConfig


class WiresConfig(AppConfig):
    """Wires."""

    name = "server.wires"
    label = "wires"

    def ready(self) -> None:
        """Declare the kinds of worksheet, and register what others read here."""
        import core.wiring.sheets  # noqa: F401
        from server.wires import beginning, findables, routes, trade  # noqa: F401
