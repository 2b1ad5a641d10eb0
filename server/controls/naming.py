"""Requirements as people call them."""

from __future__ import annotations

from server.controls.models import (
    Requirement,
)


def named(r: Requirement) -> str:
    """A requirement in words."""
    return in_words(r.surface.name if r.surface else None, r.position, r.kind)


def in_words(surface: str | None, stop: str, kind: str) -> str:
    """A requirement in words, from its surface's name, its position and its kind."""
    where = f"{surface}, " if surface else ""
    position = stop.replace("_stop", "").replace("_", " ")
    words = {
        "travel": f"{position} travel",
        "neutral": "neutral alignment",
        "symmetry": f"{position} left against right",
        "ratio": "up over down",
        "repeatability": "neutral from both sides",
    }
    return f"{where}{words[kind]}"
