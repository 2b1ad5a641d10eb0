"""What the linkage gives at the surface, position by position, before anything is drilled."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from core.basis.refused import Refused
from core.controls.linkage.contact import at_stops, met, places
from core.controls.linkage.document import Document
from core.controls.linkage.solving import solve

NEUTRAL = "neutral"


@dataclass(frozen=True)
class Reached:
    """One position: the output there (rad or m) and the input and stop that give it.

    `value` None: it locks first or meets no stop.
    """

    position: str
    value: float | None
    input: float | None
    stop: str


def reached(
    d: Document,
    output: str,
    lengths: Mapping[str, float] | None = None,
    stops_at: Mapping[str, float] | None = None,
    others: Mapping[str, float] | None = None,
) -> tuple[Reached, ...]:
    """Neutral, both stops and every detent of one output.

    lengths: built rods, m. stops_at: built stops (q). others: other inputs, held.
    Refuses unknown names.
    """
    b, use = d.bench(output, others), d.outputs[output]
    known = {s.id for s in b.stops}
    for name in stops_at or {}:
        if name not in known:
            raise Refused(f"stops.{name}", "is not a stop of this mechanism")
    built = {k: np.array([v]) for k, v in (lengths or {}).items()}
    at = places(b.stops)
    for i, s in enumerate(b.stops):
        at[i] = (stops_at or {}).get(s.id, s.at)
    one = np.zeros(1, dtype=int)
    ends = at_stops(b, built, one, at)
    found = [Reached(NEUTRAL, _value(ends.neutral), 0.0, "")]
    for direction, position in ((1, use.plus), (-1, use.minus)):
        if not position:
            continue
        m = met(b, direction, built, one, at, first_only=True)
        far = np.where(np.isnan(m.inputs[:, 0]), np.inf, np.abs(m.inputs[:, 0]))
        key, throw = ("plus", "throw_plus") if direction > 0 else ("minus", "throw_minus")
        value = _value(getattr(ends, key))
        first = b.stops[int(far.argmin())].id if value is not None else ""
        moved = _value(getattr(ends, throw))
        found.append(Reached(position, value, None if moved is None else direction * moved, first))
    for name, value in d.inputs[b.input].detents.items():
        motion = solve(d.plan, {**b.others, b.input: value}, lengths)
        locked = motion.rod_locked() is not None
        found.append(Reached(name, None if locked else float(motion.output(output)), value, ""))
    return tuple(found)


def _value(array: object) -> float | None:
    value = float(np.asarray(array).reshape(-1)[0])
    return None if np.isnan(value) else value
