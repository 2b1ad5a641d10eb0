"""The holes that a run goes through, as typed: shared by every trade that has runs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from rest_framework import serializers

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.runs.holes import BARE, GUARDS, UNSAID, Hole, check_holes
from server.config.forms import Form
from server.config.text import Text, text

CHOICES = [(UNSAID, "not said"), (BARE, "no guard"), *GUARDS.items()]
PLATES = [(p, p) for p in ("bulkhead", "rib")]
MOST = 40
PLACE = ("station", "y", "z", "d")


class HoleIn(Form):
    """A hole in a plate as typed; lengths in the aircraft's unit."""

    id = Text(max_length=40)
    station = Text(max_length=30)
    y = Text(max_length=30)
    z = Text(max_length=30)
    d = Text(max_length=30)
    plate = serializers.ChoiceField(choices=PLATES, required=False, default="bulkhead")
    guard = serializers.ChoiceField(choices=CHOICES, required=False, default="", allow_blank=True)


class HolesIn(Form):
    """What a run goes through. `no_holes`: somebody says that it goes through none."""

    holes = serializers.ListField(child=HoleIn(), required=False, default=list, max_length=MOST)
    no_holes = serializers.BooleanField(required=False, default=False)
    edge_gap = text(30)


def holes_of(given: Mapping[str, Any], unit: str) -> list[dict[str, Any]] | None:
    """As they are kept, SI; None where nobody said. Refuses (`holes`) what is no hole."""
    if not given["holes"]:
        return [] if given["no_holes"] else None
    if given["no_holes"]:
        raise Refused("no_holes", "holes are entered: take them out, or this")
    return [
        {
            "id": " ".join(h["id"].split()),
            **{f"{k}_m": parse(h[k], "length", unit, "holes").si for k in PLACE},
            "guard": h["guard"],
            "rib": h["plate"] == "rib",
        }
        for h in given["holes"]
    ]


def read_holes(kept: Sequence[Mapping[str, Any]] | None) -> tuple[Hole, ...] | None:
    """As the core takes them."""
    return None if kept is None else tuple(Hole(**h) for h in kept)


def checked(
    centreline_m: Sequence[Sequence[float]],
    holes: Sequence[Mapping[str, Any]] | None,
    placed: bool,
) -> None:
    """Refuses holes that the run does not pass, or of a run that has no place yet."""
    if not holes:
        return
    if not placed:
        raise Refused("holes", "it has no place in the aircraft yet: enter its corners first")
    check_holes(centreline_m, read_holes(holes) or ())


def told(typed: Mapping[str, Any]) -> str:
    """In words."""
    rows = [
        f"{h['plate']} {h['id']} at {h['station']} {h['y']} {h['z']}, {h['d']},"
        f" edge: {dict(CHOICES)[h['guard']]}"
        for h in typed.get("holes", [])
    ]
    return "; ".join(rows) or ("none" if typed.get("no_holes") else "")
