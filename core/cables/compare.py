"""Do several ways of measuring one tension agree? `cables.compare_readings`."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.refused import Refused, finite, positive
from core.basis.rules import rule
from core.cables.words import CAUTION


@dataclass(frozen=True)
class Compared:
    """Whether all agree, how far the worst pair is apart (1: at U), and their mean if so."""

    agree: Annotated[bool, "All pairs lie within their uncertainty."]
    worst_ratio: Annotated[float, "1: apart by their expanded uncertainty."]
    tension_N: Annotated[float | None, "Tension."]
    u_tension_N: Annotated[float | None, "Standard uncertainty of the tension."]


@rule(
    "cables.compare_readings",
    title="Do the methods agree?",
    purpose="Whether several ways of measuring one tension agree, and their weighted mean.",
    source="JCGM 100:2008; weighted mean with 1/u².",
    validity="At least two, each with its uncertainty.",
    caution=CAUTION,
)
def compare_readings(
    readings: Annotated[Sequence[Sequence[float]], "[N, u N] of each."],
) -> Compared:
    """Compare [N, u N] of several methods; the mean is weighted with 1/u².

    Refuses fewer than two, and an uncertainty that is not positive.
    """
    if len(readings) < 2:
        raise Refused("readings", "needs at least two")
    for i, pair in enumerate(readings):
        if not isinstance(pair, (list, tuple)) or len(pair) != 2:
            raise Refused(f"readings.{i}", "must be a pair [tension, u]")
        finite(pair[0], f"readings.{i}")
        positive(pair[1], f"readings.{i}")
    worst = max(
        abs(t1 - t2) / (2.0 * math.hypot(u1, u2))
        for (t1, u1), (t2, u2) in itertools.combinations(readings, 2)
    )
    if worst > 1.0:
        return Compared(False, worst, None, None)
    weights = [1.0 / u**2 for _, u in readings]
    whole = math.fsum(weights)
    mean = math.fsum(w * r[0] for w, r in zip(weights, readings, strict=True)) / whole
    return Compared(True, worst, mean, 1.0 / math.sqrt(whole))
