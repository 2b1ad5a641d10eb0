"""A hole that a cable goes through, as a cables file has it."""

from __future__ import annotations

from typing import Any

from core.basis.refused import Refused, choice, positive
from core.basis.vectors import vec
from core.runs.holes import BARE, GUARDS, UNSAID, Hole

HOLE_WORDS = ("id", "plate", "centre", "d", "guard")
PLATES = ("bulkhead", "rib")


def hole_from(h: dict[str, Any], at: str) -> Hole:
    """A hole of a cables file. Refuses a plate or a guard that is none, and a size of nothing."""
    try:
        x, y, z = vec(h["centre"], "centre")
    except Refused as refusal:
        raise Refused(f"{at}.{refusal.field}", refusal.reason) from None
    plate = choice(h.get("plate", "bulkhead"), PLATES, f"{at}.plate")
    guard = choice(h.get("guard") or UNSAID, (UNSAID, BARE, *GUARDS), f"{at}.guard")
    name = str(h["id"]).strip()
    return Hole(name, x, y, z, positive(h["d"], f"{at}.d"), guard, plate == "rib")
