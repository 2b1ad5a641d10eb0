"""Rule book: the fundamental of a pluck, from samples or from a made-up signal."""

from __future__ import annotations

from typing import Annotated

from core.basis.refused import Refused
from core.basis.rules import rule
from core.cables.pluck import Found, pluck_frequency
from core.cables.pluck_signal import Signal, made
from core.cables.words import CAUTION


@rule(
    "cables.pluck_frequency",
    title="Fundamental of a pluck",
    purpose="The fundamental that explains the tones of a recording.",
    source="Windowed Fourier transform; harmonic matching (this product's).",
    validity="A single peak or a mains suspect is for a person to confirm.",
    caution=CAUTION,
)
def fundamental(
    f_low_Hz: Annotated[float, "Lowest fundamental expected."],
    f_high_Hz: Annotated[float, "Highest fundamental expected."],
    samples: Annotated[tuple[float, ...] | None, "Mono, ±1."] = None,
    rate_Hz: Annotated[float | None, "Samples per second."] = None,
    signal: Annotated[Signal | None, "A made-up pluck instead of samples."] = None,
) -> Found:
    """`pluck_frequency` of samples, or of a signal that is made for it."""
    if signal is not None:
        return pluck_frequency(made(signal), signal.rate_Hz, f_low_Hz, f_high_Hz)
    if samples is None:
        raise Refused("samples", "is needed")
    if rate_Hz is None:
        raise Refused("rate_Hz", "is needed")
    return pluck_frequency(samples, rate_Hz, f_low_Hz, f_high_Hz)
