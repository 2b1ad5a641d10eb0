"""A made-up pluck, to try the pluck rule and its stand-in with: partials, noise, clipping."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.basis.refused import Refused, not_negative, numbers, positive

MOST_SECONDS = 30.0
MOST_RATE = 192_000
MOST_PARTIALS = 64


@dataclass(frozen=True)
class Signal:
    """Partials (amplitude, decay time s, phase rad) of f1, with inharmonicity B and noise."""

    rate_Hz: float
    duration_s: float
    f1_Hz: float
    partials: Sequence[Sequence[float]]
    onset_s: float = 0.0
    inharmonicity: float = 0.0
    noise: float = 0.0
    seed: int = 0
    clip: bool = False


def made(s: Signal) -> NDArray[np.float64]:
    """The samples, ±1. Noise comes from a linear congruential generator: seeded, repeatable.

    Refuses lengths and rates out of reason, and partials that are not triples.
    """
    rate, length = (
        positive(s.rate_Hz, "signal.rate_Hz"),
        positive(s.duration_s, "signal.duration_s"),
    )
    if rate > MOST_RATE or length > MOST_SECONDS:
        raise Refused("signal.duration_s", "at most 30 s at 192 kHz")
    positive(s.f1_Hz, "signal.f1_Hz")
    not_negative(s.inharmonicity, "signal.inharmonicity")
    if len(s.partials) > MOST_PARTIALS:
        raise Refused("signal.partials", f"at most {MOST_PARTIALS}")
    n = round(length * rate)
    t = np.arange(n) / rate - s.onset_s
    on = t >= 0
    x = np.zeros(n)
    for i, partial in enumerate(s.partials, 1):
        triple = numbers(partial, f"signal.partials.{i - 1}", 3)
        if len(triple) != 3:
            raise Refused(f"signal.partials.{i - 1}", "must be amplitude, decay and phase")
        a, decay, phase = triple
        positive(decay, f"signal.partials.{i - 1}")
        f = i * s.f1_Hz * math.sqrt((1.0 + s.inharmonicity * i * i) / (1.0 + s.inharmonicity))
        x[on] += a * np.exp(-t[on] / decay) * np.sin(2.0 * np.pi * f * t[on] + phase)
    if s.noise:
        x += not_negative(s.noise, "signal.noise") * math.sqrt(3.0) * _noise(n, s.seed)
    return np.clip(x, -1.0, 1.0) if s.clip else x


def _noise(n: int, seed: int) -> NDArray[np.float64]:
    """n values within ±1: u_i = (1664525 u_(i-1) + 1013904223) mod 2³²."""
    values = np.empty(n)
    u = int(seed)
    for i in range(n):
        u = (1664525 * u + 1013904223) & 0xFFFFFFFF
        values[i] = u
    return 2.0 * values / 2.0**32 - 1.0
