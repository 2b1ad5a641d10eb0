"""Is it a plucked cable at all? What a person must confirm before a recording counts.

The rule finds the fundamental of any tones. A pluck also begins suddenly, dies away smoothly,
and is not the mains. Where one of these is not so, the tension is shown, not taken.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.cables.pluck import (
    MAINS_MATCH,
    Found,
    Samples,
    Spectrum,
    after_the_pluck,
    fundamental,
    spectrum,
)

PARTS = 8
MOST_LEFT = 0.5
SMOOTH = 0.80
QUIET_BEFORE_S = 0.10
MOST_BEFORE = 0.35
ONSET = 0.35


@dataclass(frozen=True)
class Assessed:
    """The spectrum, the fundamental, and the reasons why a person has to confirm it."""

    spectrum: Spectrum
    found: Found
    confirm: tuple[str, ...]


def assess_pluck(
    samples: Sequence[float] | Samples, rate_Hz: float, f_low_Hz: float, f_high_Hz: float
) -> Assessed:
    """`pluck_frequency` with its spectrum, and what speaks against a pluck.

    Refuses as `pluck_frequency` does.
    """
    s = spectrum(samples, rate_Hz, f_low_Hz, f_high_Hz)
    found = fundamental(s, f_low_Hz, f_high_Hz)
    x = np.asarray(samples, dtype=float)
    reasons = [
        (found.single_peak, "only one tone stands out: it may be a multiple of the true one"),
        (_mains(s), "the tones are those of the mains"),
        (not _sudden(x, rate_Hz), "nothing begins suddenly: no pluck is heard"),
        (
            not _dies_away(after_the_pluck(x, rate_Hz, f_low_Hz), rate_Hz, found),
            "the tone does not die away as a pluck does",
        ),
    ]
    return Assessed(s, found, tuple(said for holds, said in reasons if holds))


def _mains(s: Spectrum) -> bool:
    """Whether all strong tones are multiples of 50 Hz, or all of 60 Hz."""
    strong = [p for p in s.peaks if p.amplitude >= 0.2 * s.peaks[0].amplitude]
    return any(
        all(
            round(p.frequency_Hz / m) >= 1
            and abs(p.frequency_Hz - m * round(p.frequency_Hz / m)) <= MAINS_MATCH * m
            for p in strong
        )
        for m in (50.0, 60.0)
    )


def _sudden(x: Samples, rate: float) -> bool:
    """Whether it is quiet for a while, and then loud at once."""
    x = np.abs(x - np.median(x))
    onset = int(np.argmax(x >= ONSET * x.max()))
    margin, span = round(0.01 * rate), round(QUIET_BEFORE_S * rate)
    before = x[max(0, onset - margin - 3 * span) : max(0, onset - margin)]
    after = x[onset : onset + 2 * span]
    if before.size < span:
        return False
    return float(np.sqrt(np.mean(before**2))) < MOST_BEFORE * float(np.sqrt(np.mean(after**2)))


def _dies_away(part: Samples, rate: float, found: Found) -> bool:
    """Whether the matched tones together fall off smoothly, by half or more."""
    envelope = _envelope(part, rate, found)
    noise = 0.02 * envelope.max()
    heard = envelope > noise
    last = len(envelope) if heard.all() else int(np.argmin(heard))
    if last < 3:
        return False
    log = np.log(envelope[:last])
    t = np.arange(last)
    slope, start = np.polyfit(t, log, 1)
    rest = log - (start + slope * t)
    spread = float(np.var(log))
    smooth = spread > 0 and 1.0 - float(np.var(rest)) / spread >= SMOOTH
    return bool(smooth and envelope[last - 1] < MOST_LEFT * envelope[0])


def _envelope(part: Samples, rate: float, found: Found) -> NDArray[np.float64]:
    """Amplitude of the matched tones in equal parts of the time, each at its own frequency."""
    t = np.arange(part.size) / rate
    total = np.zeros(PARTS)
    edges = np.linspace(0, part.size, PARTS + 1).astype(int)
    for h in found.partials:
        wave = part * np.exp(-2j * np.pi * h * found.frequency_Hz * t)
        sums = np.add.reduceat(wave, edges[:-1])
        total += np.abs(sums / np.diff(edges)) ** 2
    return np.asarray(np.sqrt(total))
