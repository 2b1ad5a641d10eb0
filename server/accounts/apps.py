"""The app."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Accounts."""

    name = "server.accounts"
    label = "accounts"
