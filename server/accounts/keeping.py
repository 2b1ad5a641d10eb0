"""Answers that were kept for a write sent twice: for a month, then nobody sends it again."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from server.accounts.models import KeptWrite

LONGEST = timedelta(days=30)


def purge() -> int:
    """Take away what was kept longer; how many."""
    old = KeptWrite.objects.filter(at__lt=datetime.now(UTC) - LONGEST)
    return old.delete()[0]
