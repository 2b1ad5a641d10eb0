"""The simulated aircraft's cables as they are really rigged, and what measures them.

The drawing's loop with a cable that is softer than assumed, rigged slack and off centre. Turns
that were recorded act on it. The tension gauge shows divisions of its own scale; the
thermometer the shed's temperature.
"""

from __future__ import annotations

import io
import json
import random
import threading
from dataclasses import replace
from functools import lru_cache
from pathlib import Path

from scipy.io import wavfile

from core.basis.quantities import parse
from core.cables.cable import bending_bounds
from core.cables.pluck_signal import Signal, made
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.cables.string import clamped_frequency, string_frequency

DEMO = Path(__file__).parent.parent / "demo"
SHED_C = 14.2
# By loop: how stiff the cable is against the assumption, N as rigged, and where the driven
# lever stands, degrees about its axis; friction makes the sides differ by this share.
RIGGED = {
    "fenlark-rudder": {"soft": 0.91, "tension": 73.0, "straight": -0.78, "friction": 0.012},
}
PLACES = {("fenlark", "rudder"): "fenlark-rudder"}


@lru_cache(maxsize=4)
def _loop(name: str) -> Rigged:
    data = json.loads((DEMO / "cables" / f"{name}.json").read_text(encoding="utf-8"))
    rigging = rigging_from(data)
    soft = RIGGED[name]["soft"]
    sides = {
        s: replace(c, data=replace(c.data, ae_N=c.data.ae_N * soft))
        for s, c in rigging.cables.items()
    }
    return Rigged(replace(rigging, cables=sides))


def _drawn(name: str, drawn: dict[str, float]) -> tuple[float, float]:
    """Tension, N, and where the driven lever stands, degrees, after drawing in these m."""
    loop, was = _loop(name), RIGGED[name]
    a, b = loop.compliance
    in_a, in_b = drawn.get("A", 0.0), drawn.get("B", 0.0)
    more = (in_a + in_b) / (a + b)
    tension = max(0.0, was["tension"] + more)
    turned = (in_a - more * a) / loop.driven_arm_m() * loop.pulls_positive("A")
    return tension, was["straight"] + turned * 57.29577951308232


def straight(aircraft: str, surface: str, drawn: dict[str, float]) -> float | None:
    """Where the driven surface stands with the driver at neutral, degrees; None: no such loop."""
    name = PLACES.get((aircraft, surface))
    return _drawn(name, drawn)[1] if name else None


@lru_cache(maxsize=1)
def _card() -> list[tuple[float, float]]:
    """The gauge's card for 1/8 in: (division, N)."""
    data = json.loads((DEMO / "fenlark.json").read_text(encoding="utf-8"))
    card = next(i["card"]["typed"] for i in data["instruments"] if "card" in i)
    rows = [[p.strip() for p in line.split(";")] for line in card.splitlines()[1:] if line.strip()]
    return [
        (float(r[2]), parse(r[3], "force", "lbf").si)
        for r in rows
        if abs(parse(r[1], "length", "in").si - 0.003175) < 5e-5
    ]


def pluck(
    aircraft: str, control: str, side: str, span_m: float, drawn: dict[str, float], seed: int
) -> bytes:
    """What a microphone hears of a plucked span: a WAV; empty where there is no such cable."""
    name = PLACES.get((aircraft, control))
    if name is None or side not in ("A", "B") or not 0.1 <= span_m <= 5.0:
        return b""
    cable = _loop(name).rigging.cables[side]
    low, high = bending_bounds(cable.construction, cable.data.diameter_m)
    chance = random.Random(seed)
    bending = low + (high - low) * chance.uniform(0.3, 0.6)
    mass = cable.data.mass_per_length_kg_m
    tension = max(_drawn(name, drawn)[0], 5.0)
    loose = string_frequency(tension, span_m, mass)
    tight = clamped_frequency(tension, span_m, mass, bending)
    f1 = (loose + tight) / 2.0
    signal = Signal(
        rate_Hz=16_000,
        duration_s=3.5,
        f1_Hz=f1,
        partials=[[0.30, 0.9, 0.3], [0.18, 0.7, 0.5], [0.12, 0.5, 1.1], [0.06, 0.4, 2.0]],
        onset_s=0.3,
        inharmonicity=3e-4,
        noise=0.004,
        seed=seed,
    )
    out = io.BytesIO()
    wavfile.write(out, 16_000, (made(signal) * 32767).astype("int16"))
    return out.getvalue()


class TensionGauge:
    """The gauge on a cable: it shows divisions, a little wrong and not twice the same."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)
        self.tension = 0.0
        self.drawn: dict[str, dict[str, float]] = {}
        self.lock = threading.Lock()

    def rig(self, name: str, drawn: dict[str, float]) -> None:
        """Take how far each side was drawn in, m."""
        self.drawn[name] = drawn

    def clamp(self, aircraft: str, control: str, side: str) -> bool:
        """Put it on a cable; False if there is no such cable."""
        name = PLACES.get((aircraft, control))
        if name is None or side not in ("A", "B"):
            return False
        tension, _ = _drawn(name, self.drawn.get(f"{name}-cables", {}))
        share = RIGGED[name]["friction"] * (1 if side == "A" else -1)
        with self.lock:
            self.tension = tension * (1.0 + share)
        return True

    def read(self) -> float:
        """Divisions, to half of one."""
        card = _card()
        with self.lock:
            n = self.tension + self.chance.gauss(0.4, 0.9)
        below = max((p for p in card if p[1] <= n), default=card[0], key=lambda p: p[1])
        i = min(card.index(below), len(card) - 2)
        (r0, n0), (r1, n1) = card[i], card[i + 1]
        return round((r0 + (r1 - r0) * (n - n0) / (n1 - n0)) * 2.0) / 2.0


class Thermometer:
    """Hangs in the shed."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)

    def read(self) -> float:
        """°C, to a tenth."""
        return round(SHED_C + self.chance.gauss(0.0, 0.03), 1)
