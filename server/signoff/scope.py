"""What a capability tells sign-off about one scope."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True)
class Scope:
    """A scope's name, who worked on it and until when, and why it cannot be signed yet."""

    name: str
    workers: tuple[str, ...]
    work_done_at: datetime | None
    not_ready: tuple[str, ...]
