"""`manage.py invite`: the link for a first account, on an installation that has none."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from server.people.inviting import GOOD_FOR, invite


class Command(BaseCommand):
    """Make a link that works once and lets its holder make an account."""

    help = "Print a link that works once: whoever opens it makes an account."

    def handle(self, *args: Any, **options: Any) -> None:
        """Print it."""
        _, token = invite(None, "", False, None)
        self.stdout.write(f"Open once, within {GOOD_FOR.days} days: /join/{token}")
