"""The app: its kinds of worksheet are declared."""

from django.apps import AppConfig


class WiresConfig(AppConfig):
    """Wires."""

    name = "server.wires"
    label = "wires"

    def ready(self) -> None:
        """Declare the kinds."""
        import core.wiring.sheets  # noqa: F401
