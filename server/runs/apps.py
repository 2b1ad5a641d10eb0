"""The app."""

from django.apps import AppConfig


class RunsConfig(AppConfig):
    """Runs."""

    name = "server.runs"
    label = "runs"

    def ready(self) -> None:
        """Register what others read here."""
        from server.runs import findables, routes  # noqa: F401
