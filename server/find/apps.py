"""The app."""

from django.apps import AppConfig


class FindConfig(AppConfig):
    """Find."""

    name = "server.find"
    label = "find"

    def ready(self) -> None:
        """Register what can be found."""
        from server.find import findables  # noqa: F401
