"""Lists of the harness to take away: labels of wires, and what to cut and order."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

from core.wiring.harness import WIRE, Harness
from core.wiring.tables import GAUGES

# Ordered wire is rounded up to half a metre, with this much to spare.
SPARE, STEP_M = 0.10, 0.5


@dataclass(frozen=True)
class Label:
    """What stands on one end of a wire."""

    slug: str
    wire: str
    this: str
    other: str
    circuit: str
    gauge: str

    def lines(self) -> list[str]:
        """Below its name: where it goes, and what it is."""
        way = f"{self.this or 'open'} → {self.other or 'open'}"
        return [way, ", ".join(x for x in (self.circuit, self.gauge) if x)]


def end_labels(h: Harness) -> Iterable[Label]:
    """A label for each end of each wire."""
    for w in h.of(WIRE):
        ends = [str(w.values.get(e, "")) for e in "ab"]
        gauge = f"AWG {w.values['awg']}" if "awg" in w.values else ""
        for this, other in (ends, reversed(ends)):
            yield Label(w.slug, w.name, this, other, str(w.values["circuit"]), gauge)


def labels(h: Harness) -> Iterable[list[str]]:
    """A label for each end of each wire: its name, where it goes, its circuit."""
    yield ["wire", "this end", "other end", "circuit", "gauge"]
    for x in end_labels(h):
        yield [x.wire, x.this, x.other, x.circuit, x.gauge]


def cut_list(h: Harness) -> Iterable[list[str]]:
    """Every wire with its length, by gauge and colour; then what to order of each."""
    yield ["gauge", "colour", "wire", "length m"]
    total: dict[tuple[str, str], float] = defaultdict(float)
    unknown: dict[tuple[str, str], int] = defaultdict(int)
    order = {g: n for n, g in enumerate(GAUGES)}
    wires = sorted(h.of(WIRE), key=lambda w: order.get(str(w.values.get("awg")), -1))
    for w in wires:
        key = (str(w.values.get("awg", "")), str(w.values.get("colour", "")))
        long = h.length_m(w)
        total[key] += long or 0.0
        unknown[key] += long is None
        gauge = f"AWG {key[0]}" if key[0] else "not said"
        yield [gauge, key[1], w.name, "not said" if long is None else f"{long:.3f}"]
    yield []
    yield ["gauge", "colour", "to order m", "without a length"]
    for (awg, colour), metres in total.items():
        rounded = math.ceil(metres * (1.0 + SPARE) / STEP_M - 1e-9) * STEP_M
        gauge = f"AWG {awg}" if awg else "not said"
        yield [gauge, colour, f"{rounded:.1f}", str(unknown[awg, colour])]
