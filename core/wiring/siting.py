"""A magnetically quiet place (`wiring.sensor_siting`)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.forms import Named
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.vectors import unit, vec
from core.basis.verdicts import Verdict
from core.wiring.spans import Line, Point, line, merged, near, to_piece
from core.wiring.tables import EVEN
from core.wiring.words import CAUTION

TOUCH_M = 1e-9


@dataclass(frozen=True)
class Item:
    """Something that disturbs, at each position of it."""

    name: Annotated[str, "Its name."]
    of: Annotated[str, "As the sensor's maker has it.", Named("class")]
    positions_m: Annotated[
        tuple[tuple[tuple[float, float, float], ...], ...], "Points or lines, one a position."
    ]
    radius_m: Annotated[float, "Half its thickness."] = 0.0


@dataclass(frozen=True)
class Standing:
    """An item's distance, m."""

    name: Annotated[str, "Which."]
    required_m: Annotated[float, "By its class."]
    distance_m: Annotated[float, "Least over its positions."]
    margin_m: Annotated[float, "One less the other."]


@dataclass(frozen=True)
class Sited:
    """A sensor's place."""

    items: Annotated[tuple[Standing, ...], "In their order."]
    governing: Annotated[str, "Item of least margin."]
    margin_m: Annotated[float, "Its margin."]
    verdict: Annotated[Verdict, "In where every margin is kept."]
    move_m: Annotated[float | None, "Least shift along the axis that would do; null: none."]


@rule(
    "wiring.sensor_siting",
    title="Where the compass sensor goes",
    purpose="Is everything magnetic far enough, and where would it be?",
    source="Geometry. The distances are the sensor maker's.",
    validity="Every fastener, bracket and clamp nearer than small steel may be is brass,"
    " aluminium, plastic or austenitic steel checked with a magnet: cold-worked stainless"
    " attracts.",
    caution=CAUTION,
)
def sensor_siting(
    sensor_m: Annotated[Sequence[float], "Where it is to be."],
    required_m: Annotated[dict[str, float], "Least distance by class."],
    items: Annotated[tuple[Item, ...], "All that disturbs."],
    move_axis: Annotated[Sequence[float] | None, "Along which it could move."] = None,
    move_limit_m: Annotated[float, "How far."] = 2.0,
) -> Sited:
    """Refuses no items, and a class without a distance (`required_m`)."""
    at = vec(sensor_m, "sensor_m")
    if not items:
        raise Refused("items", "needs at least one")
    drawn, found = [], []
    for i in items:
        if i.of not in required_m:
            raise Refused("required_m", f"{i.name}: no distance for {i.of}")
        needs = not_negative(required_m[i.of], "required_m")
        radius = not_negative(i.radius_m, "radius_m")
        if not i.positions_m:
            raise Refused("positions_m", f"{i.name}: needs at least one")
        pieces = [p for where in i.positions_m for p in line(where, "positions_m", 1)]
        far = min(to_piece(at, p) for p in pieces) - radius
        drawn.append((pieces, needs + radius))
        found.append(Standing(i.name, needs, far, far - needs))
    least = min(found, key=lambda s: s.margin_m)
    good = least.margin_m >= -EVEN
    move: float | None = 0.0 if good else None
    limit = positive(move_limit_m, "move_limit_m")
    if not good and move_axis is not None:
        move = _move(at, unit(move_axis, "move_axis"), limit, drawn)
    verdict = Verdict.IN if good else Verdict.OUT
    return Sited(tuple(found), least.name, least.margin_m, verdict, move)


def _move(
    at: Point, axis: Point, limit: float, drawn: Sequence[tuple[Line, float]]
) -> float | None:
    """The least shift to outside all that is too near; forward at a tie."""
    near_by = [
        s for pieces, keep in drawn for p in pieces if (s := near(at, axis, p, keep)) is not None
    ]
    barred = merged(near_by)
    # Where two stretches meet there is no room between them.
    places = [x for low, high in barred for x in (low, high)]
    free = [
        x
        for x in places
        if abs(finite(x, "move_axis")) <= limit + TOUCH_M
        and not any(low + TOUCH_M < x < high - TOUCH_M for low, high in barred)
    ]
    return min(free, key=lambda x: (round(abs(x) / TOUCH_M), -x), default=None)
