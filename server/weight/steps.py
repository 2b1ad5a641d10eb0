"""What is done at a weighing: prepared, a scale read by hand, all scales captured together."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any

from core.basis.quantities import parse
from core.basis.refused import Refused, finite, not_negative
from core.weight.book import Book, Row, labels
from core.weight.entry import may_prepare, may_read, settled, together
from core.weight.rows import PREPARATIONS, PREPARED, READ, SCALE, WEIGHING
from server.accounts.models import Person
from server.weight.models import WeightEvent, WeightRow
from server.weight.reading import book_of, row_of

# Longer than any weighing: a minute at five readings a second, with room.
MOST_SAMPLES = 3000


def weighing_of(r: WeightRow) -> tuple[Book, Row]:
    """All rows, and this one of them. Refuses what is no weighing."""
    if r.kind != WEIGHING:
        raise Refused("doing", f"nothing is done to a {r.of.title.lower()}")
    return book_of(r.aircraft), row_of(r, r.events.order_by("id"))


def record(r: WeightRow, given: Mapping[str, Any], by: Person) -> WeightEvent:
    """Keep something prepared, or one scale read by hand."""
    b, w = weighing_of(r)
    doing = given["doing"]
    for field, only in (("item", PREPARED), ("wheel", READ), ("shown", READ), ("u", READ)):
        if given[field].strip() and doing != only:
            raise Refused(field, "does not belong to this step")
    if doing == PREPARED:
        may_prepare(w, given["item"])
        return _keep(r, doing, {"item": given["item"]}, {"item": given["item"]}, {}, by,
                     given["note"])  # fmt: skip
    if not given["shown"].strip():
        raise Refused("shown", "is needed: what the scale shows")
    kg = parse(given["shown"], "mass", "kg", "shown").si
    may_read(b, w, given["wheel"], kg)
    inputs: dict[str, Any] = {"wheel": given["wheel"], "kg": kg}
    if given["u"].strip():
        inputs["u_kg"] = not_negative(parse(given["u"], "mass", "kg", "u").si, "u") / 2.0
    elif (u := of_scale(b, w, given["wheel"])) is not None:
        inputs["u_kg"] = u
    typed = {k: given[k] for k in ("wheel", "shown", "u") if given[k].strip()}
    return _keep(r, doing, typed, inputs, {}, by, given["note"])


def of_scale(b: Book, w: Row, wheel: str) -> float | None:
    """Standard uncertainty of a reading as its scale has it, kg; None where nobody said it."""
    scale = b.named(SCALE, w.values["wheels"][labels(w).index(wheel)]["scale"])
    v = scale.values if scale else {}
    if "U_reading_kg" not in v:
        return None
    step = v.get("resolution_kg", 0.0)
    return math.hypot(v["U_reading_kg"] / 2.0, step / math.sqrt(12.0))


def series_of(given: Any) -> dict[str, dict[str, Sequence[float]]]:
    """What was read live, by wheel. Refuses what is none."""
    if not isinstance(given, dict) or not given:
        raise Refused("scales", "must be readings by wheel")
    for wheel, one in given.items():
        if not isinstance(one, dict):
            raise Refused("scales", f"{wheel}: must be t and kg")
        for name in ("t", "kg"):
            values = one.get(name)
            if not isinstance(values, list) or len(values) > MOST_SAMPLES:
                raise Refused("scales", f"{wheel}: {name} must be at most {MOST_SAMPLES} numbers")
            for v in values:
                finite(v, "scales")
    return given


def capture(r: WeightRow, given: Any, by: Person) -> list[WeightEvent]:
    """All scales of a weighing, settled together."""
    b, w = weighing_of(r)
    found = settled(b, w, series_of(given))
    together(b, w, found)
    events = []
    for wheel, one in found.items():
        may_read(b, w, wheel, one["value_kg"])
        own = of_scale(b, w, wheel)
        u = math.hypot(one["u_kg"], own or 0.0)
        inputs = {"wheel": wheel, "kg": one["value_kg"], "u_kg": u, "live": True}
        typed = {"wheel": wheel, "shown": f"{one['value_kg']:.3f} kg"}
        events.append(_keep(r, READ, typed, inputs, one, by, ""))
    return events


def _keep(
    r: WeightRow, doing: str, typed: Any, inputs: Any, result: Any, by: Person, note: str
) -> WeightEvent:
    return WeightEvent.objects.create(
        aircraft=r.aircraft, row=r, doing=doing, typed=typed, inputs=inputs, result=result,
        by=by, at=datetime.now(UTC), note=note,
    )  # fmt: skip


def step_said(e: WeightEvent) -> str:
    """In words."""
    if e.doing == PREPARED:
        return f"prepared: {PREPARATIONS[e.inputs['item']]}"
    live = ", read live and settled" if e.inputs.get("live") else ""
    u = f" ± {2.0 * e.inputs['u_kg']:.2f}" if "u_kg" in e.inputs else ""
    return f"{e.inputs['wheel']} wheel: {e.inputs['kg']:.2f} kg{u}{live}"
