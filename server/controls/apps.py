"""The app: registers what the controls tell the lane and sign-off."""

from django.apps import AppConfig


class ControlsConfig(AppConfig):
    """Controls."""

    name = "server.controls"
    label = "controls"

    def ready(self) -> None:
        """Register the providers."""
        from server.controls import documents, scopes, trade  # noqa: F401
        from server.controls.linkage import findables, jam_nuts, moving, turning  # noqa: F401
        from server.controls.linkage import trade as rod_ends  # noqa: F401
