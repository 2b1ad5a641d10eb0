"""What a washer still covers over a hole that wandered (`hardware.washer_cover`)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.refused import Refused, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict, judge

TOUCH = 1e-9


@dataclass(frozen=True)
class WasherCover:
    """How far a washer overlaps a hole beside its bolt, m."""

    overlap_m: Annotated[float, "At the side to which the hole wandered."]
    U_m: Annotated[float, "Its expanded uncertainty."]
    verdict: Annotated[Verdict, "Against the least overlap."]
    cover_share: Annotated[
        float | None, "Share of the rim with at least that overlap; null: beyond the hole's edge."
    ]
    largest_hole_m: Annotated[float, "That this washer would still cover."]
    least_washer_m: Annotated[float, "That would cover this hole."]
    shift_m: Annotated[float, "How far the washer may shift on its bolt."]


@rule(
    "hardware.washer_cover",
    title="Washer over a wandered hole",
    purpose="Does the washer still cover a hole that is not centred on its bolt?",
    source="Geometry of two circles; uncertainty from JCGM 100. The least overlap of 1 mm is this"
    " product's assumption.",
    validity="Round holes and washers.",
    caution="A hole that wandered also lost edge distance: check that before a larger washer.",
)
def washer_cover(
    washer_od_m: Annotated[float, "Washer's outside diameter."],
    hole_m: Annotated[float, "Hole as drilled."],
    offset_m: Annotated[float, "Hole's centre from the bolt's."],
    u_offset_m: Annotated[float, "Standard uncertainty of it."] = 0.0,
    u_hole_m: Annotated[float, "Standard uncertainty of the hole."] = 0.0,
    overlap_min_m: Annotated[float, "Least overlap (1 mm assumed)."] = 0.001,
    bolt_m: Annotated[float | None, "Bolt's diameter."] = None,
    washer_id_m: Annotated[float | None, "Washer's bore: then it may shift."] = None,
) -> WasherCover:
    """od/2 - hole/2 - (offset + shift), judged from below. Refuses a bolt that does not pass."""
    od, hole = positive(washer_od_m, "washer_od_m"), positive(hole_m, "hole_m")
    offset, least = not_negative(offset_m, "offset_m"), not_negative(overlap_min_m, "overlap_min_m")
    bolt = None if bolt_m is None else positive(bolt_m, "bolt_m")
    if hole / 2.0 <= offset + (0.0 if bolt is None else bolt / 2.0 - TOUCH):
        raise Refused("offset_m", "the bolt does not pass: the hole wandered too far")
    shift = 0.0
    if washer_id_m is not None:
        bore = positive(washer_id_m, "washer_id_m")
        if bolt is None:
            raise Refused("bolt_m", "is needed: the washer shifts on it")
        if not bolt <= bore < od:
            raise Refused("washer_id_m", "must be from the bolt's diameter to below the washer's")
        shift = (bore - bolt) / 2.0
    away, r = offset + shift, hole / 2.0
    U = 2.0 * math.hypot(
        not_negative(u_offset_m, "u_offset_m"), not_negative(u_hole_m, "u_hole_m") / 2.0
    )
    overlap = od / 2.0 - r - away
    return WasherCover(
        overlap,
        U,
        judge(overlap, U, least, None),
        _share(away, r, od / 2.0 - least),
        od - 2.0 * (least + U + away),
        2.0 * (r + away + least + U),
        shift,
    )


def _share(D: float, r: float, R: float) -> float | None:
    """Of the hole's rim seen from the washer's centre, how much lies within R of it."""
    if r <= D:
        return None
    if D + r <= R:
        return 1.0
    if r - D >= R:
        return 0.0
    return 1.0 - math.acos((R * R + D * D - r * r) / (2.0 * D * R)) / math.pi
