"""Is the picture of a witness mark one of the mark as it is? One older than the torque is none."""

from __future__ import annotations

from datetime import datetime


def photo_state(taken: datetime | None, torqued: datetime | None) -> str:
    """present, missing, not torqued yet, older than the torque."""
    if taken is None:
        return "missing"
    if torqued is None:
        return "not torqued yet"
    return "present" if taken >= torqued else "older than the torque"
