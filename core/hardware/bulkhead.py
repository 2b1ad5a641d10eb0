"""Washers under a bulkhead fitting's nut in a thin skin (`hardware.bulkhead_washers`)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict

SLACK = 1e-9


@dataclass(frozen=True)
class BulkheadWashers:
    """How many washers (None: no number will do), the clamping excess, m, threads beyond."""

    washers: Annotated[int | None, "How many; null if no number will do."]
    clamp_excess_m: Annotated[float | None, "What stands above the lip."]
    threads_beyond_nut: Annotated[float | None, "Threads past the nut."]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]


@rule(
    "hardware.bulkhead_washers",
    title="Bulkhead fitting in a thin skin",
    purpose="How many washers so that the nut clamps the skin and not the lip?",
    source="Geometry; the least excess of 0.2 mm is this product's assumption.",
    validity="Fittings with a lip or shoulder that passes through the skin.",
    caution="Without them the nut runs down on the lip, and the fitting turns in the skin"
    " or leaks.",
)
def bulkhead_washers(
    lip_m: Annotated[float, "Flange's clamping face to the first full thread."],
    skin_m: Annotated[float, "Skin thickness."],
    washer_m: Annotated[float, "Washer thickness."],
    thread_m: Annotated[float, "Full thread beyond the lip."],
    nut_m: Annotated[float, "Nut height."],
    pitch_m: Annotated[float, "Thread pitch."],
    lip_diameter_m: Annotated[float, "Diameter of the lip."],
    washer_bore_m: Annotated[float, "Bore of the washer."],
    min_excess_m: Annotated[float, "Least clamping excess (0.2 mm assumed)."] = 0.0002,
    lip_tol_m: Annotated[float, "± tolerance of the lip."] = 0.0,
    skin_tol_m: Annotated[float, "± tolerance of the skin."] = 0.0,
    max_washers: Annotated[int, "Most washers (default 3)."] = 3,
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
