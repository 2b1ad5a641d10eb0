"""The app: registers what cables tell the lane, sign-off, linkages and the stand-ins."""

from django.apps import AppConfig


class CablesConfig(AppConfig):
    """Cables."""

    name = "server.cables"
    label = "cables"

    def ready(self) -> None:
        """Register the providers."""
        from server.cables import (  # noqa: F401
            covered,
            findables,
            moving,
            providers,
            routes,
            trade,
            turning,
        )
