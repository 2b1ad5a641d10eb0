"""The app."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Accounts."""

    name = "server.accounts"
    label = "accounts"

    def ready(self) -> None:
        """Hear sign-ins and failures."""
        from server.accounts.security import listen

        listen()
