"""Rule book: what an arm can reach, from openings as plain boxes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Named, Unit
from core.basis.rules import rule
from core.clearance.reach import Item, Opening, Reach, reach
from core.runs.bays import Box, Point
from core.runs.words import CAUTION


@dataclass(frozen=True)
class OpeningIn:
    """An opening by its corners."""

    id: Annotated[str, "What it is called."]
    between: Annotated[tuple[str, str], "The two spaces."]
    lo: Annotated[Point, "Low corner."]
    hi: Annotated[Point, "High corner."]
    width: Annotated[float, "Clear width."]
    closure: Annotated[str | None, "none, removable or permanent."] = None
    open: Annotated[bool, "Whether it is open."] = True


@rule(
    "clearance.reach",
    title="What an arm can reach",
    purpose="After these closures are on, can it still be reached, and through what?",
    source="Geometry: the shortest way through one opening of the skin and at most one inner one.",
    validity="Says nothing of tools, sight or two hands. Inspection of fairleads, pulleys,"
    " terminals "
    "and turnbuckles: 14 CFR 23.689(a)(3), old amendment.",
    caution=CAUTION,
)
def reached(
    items: Annotated[tuple[Item, ...], "id, point; two_hands, not_through."],
    bays: Annotated[tuple[Box, ...], "Boxes: id, lo, hi; m."],
    openings: Annotated[
        tuple[OpeningIn, ...],
        "id, between, lo, hi, width; closure (none, removable, permanent), open.",
    ],
    arm: Annotated[float, "Your reach.", Unit("m")],
    arm_width: Annotated[float, "Your arm's width.", Unit("m")],
    closing: Annotated[tuple[str, ...], "Openings that are closed now."] = (),
) -> Annotated[dict[str, Reach], "status, reach m, path of openings.", Named("*")]:
    """`reach` as the page has it."""
    made = [
        Opening(o.id, o.between, Box(o.id, o.lo, o.hi), o.width, o.closure, o.open)
        for o in openings
    ]
    return reach(items, bays, made, closing, arm, arm_width)
