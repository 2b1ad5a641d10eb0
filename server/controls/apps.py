"""The app: registers what the controls tell the lane and sign-off."""

from django.apps import AppConfig


class ControlsConfig(AppConfig):
    """Controls."""

    name = "server.controls"
    label = "controls"

    def ready(self) -> None:
        """Register the providers."""
        from server.controls import documents, providers, scopes  # noqa: F401
        from server.controls.linkage import findables  # noqa: F401
        from server.controls.linkage import providers as rod_ends  # noqa: F401
