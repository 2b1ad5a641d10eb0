"""The fundamental of a plucked span, found in a recording: `cables.pluck_frequency`.

Peaks of the windowed spectrum are explained by one fundamental and its multiples; the highest
fundamental that explains nine tenths of their power is taken. This rejects harmonics and finds
a fundamental that the microphone lost.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from numpy.typing import NDArray

from core.basis.refused import Refused, positive

Samples = NDArray[np.float64]

FULL_SCALE, MOST_CLIPPED = 0.999, 0.005
AFTER_PEAK_S, MOST_S, LEAST_S, LEAST_PERIODS = 0.030, 3.0, 0.5, 10.0
ABOVE_FLOOR, OF_LARGEST = 8.0, 0.05
MOST_PEAKS, DIVISORS, MULTIPLES = 12, 6, 10
MATCH, POWER_SHARE = 0.03, 0.90
MAINS_HZ, MAINS_MATCH = (50.0, 60.0, 100.0, 120.0), 0.01


@dataclass(frozen=True)
class Peak:
    """A tone of the spectrum: Hz and amplitude (1 = full scale)."""

    frequency_Hz: float
    amplitude: float


@dataclass(frozen=True)
class Spectrum:
    """Amplitude over frequency, the searched band, its floor and the peaks, strongest first."""

    frequencies_Hz: Samples
    amplitudes: Samples
    band_Hz: tuple[float, float]
    floor: float
    peaks: tuple[Peak, ...]
    resolution_Hz: float


@dataclass(frozen=True)
class Found:
    """The fundamental, Hz, its standard uncertainty, and what speaks for and against it."""

    frequency_Hz: Annotated[float, "First frequency of the span."]
    inferred: Annotated[bool, "The fundamental itself was not heard."]
    partials: Annotated[tuple[int, ...], "Multiples that were heard."]
    single_peak: Annotated[bool, "Only one tone was heard."]
    alternatives_Hz: Annotated[tuple[float, ...], "What a single tone could be a multiple of."]
    mains_suspect: Annotated[bool, "A single tone at a frequency of the mains."]
    u_frequency_Hz: Annotated[float, "Its standard uncertainty."]


def pluck_frequency(
    samples: Sequence[float] | Samples, rate_Hz: float, f_low_Hz: float, f_high_Hz: float
) -> Found:
    """The fundamental between f_low_Hz and f_high_Hz in samples scaled to ±1, mono.

    A single peak or a mains suspect is for a person to confirm. Refuses a rate under 8 times
    f_high_Hz, clipped or short recordings, and tones that no fundamental explains.
    """
    return fundamental(spectrum(samples, rate_Hz, f_low_Hz, f_high_Hz), f_low_Hz, f_high_Hz)


def after_the_pluck(samples: Sequence[float] | Samples, rate_Hz: float, f_low_Hz: float) -> Samples:
    """The part that is analysed: from 30 ms after the largest value, at most 3 s."""
    x = np.asarray(samples, dtype=float)
    if x.ndim != 1 or x.size == 0:
        raise Refused("samples", "needs a row of samples")
    if not np.all(np.isfinite(x)):
        raise Refused("samples", "must be finite numbers")
    if np.count_nonzero(np.abs(x) >= FULL_SCALE) > MOST_CLIPPED * x.size:
        raise Refused("samples", "clipped: record again, quieter")
    x = x - x.mean()
    start = int(np.argmax(np.abs(x))) + round(AFTER_PEAK_S * rate_Hz)
    part = x[start : start + round(MOST_S * rate_Hz)]
    if part.size < max(LEAST_S, LEAST_PERIODS / f_low_Hz) * rate_Hz:
        raise Refused("samples", "too short after the pluck")
    return np.asarray(part - part.mean())


def spectrum(
    samples: Sequence[float] | Samples, rate_Hz: float, f_low_Hz: float, f_high_Hz: float
) -> Spectrum:
    """The windowed spectrum of what follows the pluck, and its peaks."""
    positive(f_low_Hz, "f_low_Hz")
    if positive(f_high_Hz, "f_high_Hz") <= f_low_Hz:
        raise Refused("f_high_Hz", "must be greater than f_low_Hz")
    if positive(rate_Hz, "rate_Hz") < 8.0 * f_high_Hz:
        raise Refused("rate_Hz", "must be at least 8 times f_high_Hz")
    x = after_the_pluck(samples, rate_Hz, f_low_Hz)
    n = x.size
    padded = 1 << (4 * n - 1).bit_length()
    window = 0.5 - 0.5 * np.cos(2.0 * np.pi * np.arange(n) / n)
    a = np.abs(np.fft.rfft(x * window, padded)) / (window.sum() / 2.0)
    f = np.arange(a.size) * (rate_Hz / padded)
    band = (0.8 * f_low_Hz, min(8.0 * f_high_Hz, 0.45 * rate_Hz))
    inside = np.flatnonzero((f >= band[0]) & (f <= band[1]))
    floor = float(np.median(a[inside]))
    peaks = _peaks(a, inside, floor, rate_Hz / padded, 3.0 * rate_Hz / n)
    return Spectrum(f[inside], a[inside], band, floor, peaks, rate_Hz / n)


def _peaks(
    a: Samples, inside: NDArray[np.intp], floor: float, step: float, apart: float
) -> tuple[Peak, ...]:
    i = inside[(inside > 0) & (inside < a.size - 1)]
    tall = max(ABOVE_FLOOR * floor, OF_LARGEST * float(a[inside].max()))
    i = i[(a[i] > a[i - 1]) & (a[i] >= a[i + 1]) & (a[i] > tall)]
    if i.size == 0:
        return ()
    tiny = np.finfo(float).tiny
    before, at, after = (np.log(np.maximum(a[i + d], tiny)) for d in (-1, 0, 1))
    bend = before - 2.0 * at + after
    off = np.where(bend < 0, 0.5 * (before - after) / np.where(bend < 0, bend, 1.0), 0.0)
    heights = np.exp(at - 0.25 * (before - after) * off)
    found = sorted(
        (Peak(float((k + o) * step), float(h)) for k, o, h in zip(i, off, heights, strict=True)),
        key=lambda p: -p.amplitude,
    )
    kept: list[Peak] = []
    for p in found:
        if all(abs(p.frequency_Hz - q.frequency_Hz) >= apart for q in kept):
            kept.append(p)
    return tuple(kept[:MOST_PEAKS])


def fundamental(s: Spectrum, f_low_Hz: float, f_high_Hz: float) -> Found:
    """The highest fundamental in range whose multiples hold 90 % of the peaks' power."""
    if not s.peaks:
        raise Refused("samples", "too weak: no tone stands out of the noise")
    power = sum(p.amplitude**2 for p in s.peaks)
    candidates = sorted(
        {p.frequency_Hz / h for p in s.peaks for h in range(1, DIVISORS + 1)}, reverse=True
    )
    for f in candidates:
        if not f_low_Hz <= f <= f_high_Hz:
            continue
        matched = [(_multiple(p, f), p) for p in s.peaks]
        held = [(h, p) for h, p in matched if h is not None]
        if sum(p.amplitude**2 for _, p in held) >= POWER_SHARE * power:
            return _found(held, f_low_Hz, s)
    raise Refused("samples", "no fundamental in the expected range explains the tones")


def _multiple(p: Peak, f: float) -> int | None:
    h = max(1, round(p.frequency_Hz / f))
    near = abs(p.frequency_Hz - h * f) <= MATCH * h * f
    return h if h <= MULTIPLES and near else None


def _found(held: list[tuple[int, Peak]], f_low: float, s: Spectrum) -> Found:
    lowest = min(h for h, _ in held)
    peak = max((p for h, p in held if h == lowest), key=lambda p: p.amplitude)
    f = peak.frequency_Hz / lowest
    single = len(held) == 1
    others = tuple(f / k for k in (2, 3) if f / k >= f_low) if single else ()
    mains = single and any(abs(peak.frequency_Hz - m) <= MAINS_MATCH * m for m in MAINS_HZ)
    return Found(
        f,
        lowest > 1,
        tuple(sorted({h for h, _ in held})),
        single,
        others,
        mains,
        0.1 * s.resolution_Hz,
    )
