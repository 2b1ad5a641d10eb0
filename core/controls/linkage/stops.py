"""Which stop is met first each way, by how much, and what is wrong with that order.

Sources: 14 CFR 23.675 (stops for every movable surface; wear and slack must not change
travel; they must carry the loads).
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from core.basis.refused import Refused, not_negative
from core.controls.linkage.contact import Bench, Stop, check, met, places
from core.controls.linkage.document import Document
from core.controls.linkage.lockup import first_lock
from core.controls.linkage.solving import solve

TOGETHER = math.radians(0.1)


@dataclass(frozen=True)
class Direction:
    """One way: the first stop, input and output there (rad or m), what the output would still
    move to each other stop, and the stops not reached."""

    first: str
    input: float
    output: float
    margins: Mapping[str, float]
    not_reached: tuple[str, ...]


@dataclass(frozen=True)
class Stops:
    """Both ways; None: no stop is met. `findings`: what is wrong, each way in order."""

    plus: Direction | None
    minus: Direction | None
    throw_difference: float | None
    findings: tuple[str, ...]


def stops_of(
    d: Document,
    output: str,
    lengths: Mapping[str, float] | None = None,
    stops_at: Mapping[str, float] | None = None,
) -> Stops:
    """Of a whole file, for one output; stops_at: where stops were turned to (q)."""
    b = d.bench(output)
    if stops_at:
        b = replace(b, stops=tuple(replace(s, at=stops_at.get(s.id, s.at)) for s in b.stops))
    return stops(b, lengths, throw_tol=d.inputs[b.input].throw_tol)


def stops(
    b: Bench,
    lengths: Mapping[str, float] | None = None,
    servo_margin: float = 0.0,
    together: float = TOGETHER,
    throw_tol: float | None = None,
) -> Stops:
    """Move the input from 0 each way up to the limit or lock-up.

    lengths: built rod lengths, m. servo_margin, together: of the output; throw_tol: of the
    input (rad or m). Refuses a stop that is passed already at the start, and unknown names.
    """
    check(b)
    not_negative(servo_margin, "servo_margin")
    not_negative(together, "together")
    findings: list[str] = []
    ways: list[Direction | None] = []
    for word, direction in (("plus", 1), ("minus", -1)):
        way, said = _one_way(b, direction, lengths or {}, servo_margin, together)
        ways.append(way)
        findings += [f"{word}: {s}" for s in said]
    plus, minus = ways
    difference = None
    if throw_tol is not None and plus and minus:
        difference = abs(abs(plus.input) - abs(minus.input))
        if difference > not_negative(throw_tol, "throw_tol"):
            findings.append("throw unequal")
    return Stops(plus, minus, difference, tuple(findings))


def _one_way(
    b: Bench, direction: int, lengths: Mapping[str, float], servo_margin: float, together: float
) -> tuple[Direction | None, list[str]]:
    lock = first_lock(b.plan, b.input, direction * b.limit, b.others, lengths)
    built = {k: np.array([v]) for k, v in lengths.items()}
    one = np.zeros(1, dtype=int)
    m = met(b, direction, built, one, places(b.stops), end=lock.input if lock else None)
    for i, s in enumerate(b.stops):
        if m.passed[i, 0]:
            raise Refused(f"stops.{s.id}", "is passed already in the reference position")
    far = {i: abs(float(m.inputs[i, 0])) for i in range(len(b.stops))}
    # Left out before sorting: a nan has no place in an order.
    order = sorted((i for i, x in far.items() if not math.isnan(x)), key=lambda i: (far[i], i))
    if not order:
        return None, ["lock before stop" if lock else "no stop"]
    inputs = m.inputs[order, 0]
    motion = solve(b.plan, {**b.others, b.input: inputs}, lengths)
    outputs = np.broadcast_to(motion.output(b.output), inputs.shape)
    contact = [b.stops[i] for i in order]
    margins = {
        s.id: abs(float(o - outputs[0])) for s, o in zip(contact[1:], outputs[1:], strict=True)
    }
    met_ids = {s.id for s in contact}
    way = Direction(
        first=contact[0].id,
        input=float(inputs[0]),
        output=float(outputs[0]),
        margins=margins,
        not_reached=tuple(sorted(s.id for s in b.stops if s.id not in met_ids)),
    )
    return way, _wrong(contact, margins, servo_margin, together)


def _wrong(
    contact: list[Stop], margins: Mapping[str, float], servo_margin: float, together: float
) -> list[str]:
    """What is wrong with this order of contact."""
    first = contact[0]
    required = [s for s in contact if s.named_first] or [s for s in contact if s.kind == "surface"]
    said = []
    if required and first not in required:
        said.append("required stop not first")
    if first.kind == "servo":
        said.append("servo stop first")
    for other in contact[1:]:
        if other.kind == "servo" and margins[other.id] < servo_margin:
            said.append("servo margin small")
        if margins[other.id] < together:
            said.append(f"{first.id} and {other.id} together")
    return said
