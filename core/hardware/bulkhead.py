"""Washers under a bulkhead fitting's nut in a thin skin (`hardware.bulkhead_washers`)."""

from __future__ import annotations

from dataclasses import dataclass

from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict

SLACK = 1e-9


@dataclass(frozen=True)
class BulkheadWashers:
    """How many washers (None: no number will do), the clamping excess, m, threads beyond."""

    washers: int | None
    clamp_excess_m: float | None
    threads_beyond_nut: float | None
    verdict: Verdict


def bulkhead_washers(
    lip_m: float,
    skin_m: float,
    washer_m: float,
    thread_m: float,
    nut_m: float,
    pitch_m: float,
    lip_diameter_m: float,
    washer_bore_m: float,
    min_excess_m: float = 0.0002,
    lip_tol_m: float = 0.0,
    skin_tol_m: float = 0.0,
    max_washers: int = 3,
) -> BulkheadWashers:
    """The least number of washers with which the nut clamps the skin and not the lip.

    lip_m: flange's clamping face to the first full thread; thread_m: full thread beyond it;
    all m. The least excess of 0.2 mm is this product's assumption. Refuses a washer that
    does not pass over the lip when one is needed, and lengths not greater than zero.
    """
    for name, value in (
        ("lip_m", lip_m),
        ("skin_m", skin_m),
        ("washer_m", washer_m),
        ("thread_m", thread_m),
        ("nut_m", nut_m),
        ("pitch_m", pitch_m),
        ("lip_diameter_m", lip_diameter_m),
        ("washer_bore_m", washer_bore_m),
    ):
        positive(value, name)
    finite(min_excess_m, "min_excess_m")
    not_negative(lip_tol_m, "lip_tol_m")
    not_negative(skin_tol_m, "skin_tol_m")
    if max_washers < 0:
        raise Refused("max_washers", "must not be negative")
    for n in range(max_washers + 1):
        excess = (skin_m - skin_tol_m) + n * washer_m - (lip_m + lip_tol_m)
        if excess < min_excess_m - SLACK:
            continue
        if n > 0 and washer_bore_m <= lip_diameter_m:
            raise Refused("washer_bore_m", "the washer does not pass over the lip")
        used = (skin_m + skin_tol_m) + n * washer_m - (lip_m - lip_tol_m)
        beyond = (thread_m - used - nut_m) / pitch_m
        verdict = Verdict.IN if beyond >= 1.0 - SLACK else Verdict.OUT
        return BulkheadWashers(n, excess, beyond, verdict)
    return BulkheadWashers(None, None, None, Verdict.OUT)
