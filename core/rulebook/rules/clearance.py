"""Rule book: what lies behind a closure, and what can still be reached."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from core.basis.refused import Refused
from core.clearance.bays import Box, point, run_in_bays
from core.clearance.reach import Item, Opening, reach
from core.rulebook.fields import ANY_NAME, Field
from core.rulebook.rules.entry import Entry
from core.rulebook.rules.hardware_bolts import numbers_of

CAUTION = (
    "Computed from the points you entered. Move every control by hand to both stops, in every "
    "combination, with each flap, trim and pedal setting, and look. A number here never "
    "replaces that, the kit maker's data, or the inspector."
)


def _box(thing: Any, field: str) -> Box:
    given = numbers_of(thing, field, ("id", "lo", "hi"))
    name = str(given["id"])
    return Box(name, point(given["lo"], f"{field}.lo"), point(given["hi"], f"{field}.hi"))


def _boxes(x: dict[str, Any]) -> list[Box]:
    return [_box(b, f"bays.{i}") for i, b in enumerate(x["bays"])]


def _run(x: dict[str, Any]) -> dict[str, Any]:
    for i, p in enumerate(x["pts"]):
        if not isinstance(p, list):
            raise Refused(f"pts.{i}", "must be three coordinates")
    return {k: [list(s) for s in v] for k, v in run_in_bays(x["pts"], _boxes(x)).items()}


def _opening(thing: Any, field: str) -> Opening:
    given = numbers_of(thing, field, ("id", "between", "lo", "hi", "width"))
    between = [str(b) for b in given["between"]]
    if len(between) != 2:
        raise Refused(f"{field}.between", "must name two spaces")
    return Opening(
        str(given["id"]),
        (between[0], between[1]),
        _box(given, field),
        given["width"],
        given.get("closure"),
        bool(given.get("open", True)),
    )


def _item(thing: Any, field: str) -> Item:
    given = numbers_of(thing, field, ("id", "point"))
    return Item(
        str(given["id"]),
        point(given["point"], f"{field}.point"),
        bool(given.get("two_hands", False)),
        tuple(given.get("not_through", ())),
    )


def _reach(x: dict[str, Any]) -> dict[str, Any]:
    found = reach(
        [_item(t, f"items.{i}") for i, t in enumerate(x["items"])],
        _boxes(x),
        [_opening(o, f"openings.{i}") for i, o in enumerate(x["openings"])],
        [str(c) for c in x.get("closing", ())],
        x["arm"],
        x["arm_width"],
    )
    return {k: asdict(r) | {"path": list(r.path)} for k, r in found.items()}


_BAYS = Field("bays", "list", "Boxes: id, lo, hi; m.", required=True)

ENTRIES = (
    Entry(
        "clearance.run_in_bays",
        "A run through the bays",
        "Which stretch of a run lies in which bay?",
        (Field("pts", "list", "Points [station, butt line, water line], m.", required=True), _BAYS),
        (Field(ANY_NAME, "list", "Stretches along the run in this bay, m."),),
        _run,
        "Geometry: the run is clipped against each box.",
        "Bays are boxes, walls included; overlapping bays both count.",
        CAUTION,
    ),
    Entry(
        "clearance.reach",
        "What an arm can reach",
        "After these closures are on, can it still be reached, and through what?",
        (
            Field("items", "list", "id, point; two_hands, not_through.", required=True),
            _BAYS,
            Field(
                "openings",
                "list",
                "id, between, lo, hi, width; closure (none, removable, permanent), open.",
                required=True,
            ),
            Field("closing", "list", "Openings that are closed now."),
            Field("arm", doc="Your reach.", required=True, unit="m"),
            Field("arm_width", doc="Your arm's width.", required=True, unit="m"),
        ),
        (Field(ANY_NAME, "object", "status, reach m, path of openings."),),
        _reach,
        "Geometry: the shortest way through one opening of the skin and at most one inner one.",
        "Says nothing of tools, sight or two hands. Inspection of fairleads, pulleys, terminals "
        "and turnbuckles: 14 CFR 23.689(a)(3), old amendment.",
        CAUTION,
    ),
)
