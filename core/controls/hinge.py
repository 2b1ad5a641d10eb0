"""Hinge line and mass balance of a surface. **Flutter**: limits come from the maker only.

Source: plane geometry, statics; 14 CFR 23.629 and 23.659 as reading. "In" here is no
statement about flutter speed.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.forms import ABSENT, MM, Named
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.uncertainty import rectangular
from core.basis.verdicts import Verdict, judge
from core.controls.words import FLUTTER

G = 9.80665
# The order of the page: out, too close, in.
WORST = (Verdict.OUT, Verdict.TOO_CLOSE, Verdict.IN)


@dataclass(frozen=True)
class Fraction:
    """At one station: hinge position over chord, overhang ahead over chord behind, U."""

    fraction: Annotated[float, "Hinge position over chord."]
    overhang: Annotated[float, "Ahead of the hinge over behind it."]
    U: Annotated[float, "Expanded uncertainty of the fraction."]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]


def hinge_fraction(
    stations: Sequence[tuple[float, float]],
    lo: float | None = None,
    hi: float | None = None,
    accuracy: float = 0.0,
) -> tuple[tuple[Fraction, ...], Verdict]:
    """Nose-to-hinge over chord at each station, and the worst verdict.

    stations: (nose to hinge, nose to trailing edge), m. accuracy: half-width of each length,
    m. Refuses no stations and a hinge at or behind the trailing edge.
    """
    if not stations:
        raise Refused("stations", "needs at least one")
    u = rectangular(not_negative(accuracy, "accuracy"))
    rows = []
    for i, (ahead, chord) in enumerate(stations):
        at = f"stations.{i}"
        not_negative(ahead, f"{at}.ahead")
        positive(chord, f"{at}.chord")
        if ahead >= chord:
            raise Refused(f"{at}.ahead", "the hinge must lie ahead of the trailing edge")
        U = 2.0 * math.hypot(u / chord, ahead * u / chord**2)
        f = ahead / chord
        rows.append(Fraction(f, ahead / (chord - ahead), U, judge(f, U, lo, hi)))
    found = {r.verdict for r in rows}
    return tuple(rows), next(v for v in WORST if v in found)


@dataclass(frozen=True)
class Straightness:
    """Distances of each point, m, from the best line and from the line of the two ends."""

    fit_deviation: Annotated[tuple[float, ...], "Off the best line.", MM]
    max_fit: Annotated[float, "The greatest.", MM]
    off_end_line: Annotated[tuple[float, ...], "Off the line through the first and the last.", MM]
    max_off: Annotated[float, "The greatest.", MM]


@rule(
    "controls.hinge_straightness",
    title="Are the hinges in one line",
    purpose="How far does each hinge point lie off the line of all, and off the line of the ends?",
    source="Total least squares (first principal direction through the mean).",
    validity="Bearing play decides the limit: yours.",
    caution=FLUTTER,
)
def hinge_straightness(
    points: Annotated[Sequence[Sequence[float]], "Three or more [x, y, z], in order.", MM],
) -> Straightness:
    """How far hinge points, m, in order, lie off one line (total least squares).

    Refuses fewer than three, points that are not three numbers, and first and last at one
    place.
    """
    if len(points) < 3:
        raise Refused("points", "needs at least three")
    for i, p in enumerate(points):
        if len(p) != 3:
            raise Refused(f"points.{i}", "must be three numbers")
        for v in p:
            finite(v, f"points.{i}")
    at = np.array(points, dtype=float)
    whole = at[-1] - at[0]
    if np.linalg.norm(whole) < 1e-9:
        raise Refused("points", "the first and the last are at one place")
    centred = at - at.mean(axis=0)
    along = np.linalg.svd(centred)[2][0]
    fit = np.linalg.norm(centred - np.outer(centred @ along, along), axis=1)
    ends = whole / np.linalg.norm(whole)
    off = np.linalg.norm(at - at[0] - np.outer((at - at[0]) @ ends, ends), axis=1)
    off[0] = off[-1] = 0.0
    return Straightness(
        tuple(fit.tolist()), float(fit.max()), tuple(off.tolist()), float(off.max())
    )


@dataclass(frozen=True)
class Weighing:
    """A surface on its hinge, chord level, trailing edge on a scale: kg, m (half-widths)."""

    scale: Annotated[float, "Scale under the trailing edge.", Named("scale_kg")]
    arm: Annotated[float, "Scale behind the hinge.", MM]
    tare: Annotated[
        float, "What stands on the scale besides (negative: held down).", Named("tare_kg")
    ] = 0.0
    surface_mass: Annotated[float | None, "Mass of the surface.", Named("surface_mass_kg")] = None
    scale_accuracy: Annotated[float, "Half-width of the scale.", Named("scale_accuracy_kg")] = 0.0
    arm_accuracy: Annotated[float, "Half-width of the arm.", MM] = 0.0


@dataclass(frozen=True)
class Balance:
    """Moment, N m (+ trailing-edge heavy) with U; centre of mass aft of the hinge, m; weight
    to add (negative: take off), kg; None where not asked."""

    moment: Annotated[float, "Hinge moment, + trailing-edge heavy.", Named("moment_Nm")]
    U: Annotated[float, "Expanded uncertainty.", Named("U_Nm")]
    verdict: Annotated[Verdict | None, "In, out, too close or not measured.", ABSENT]
    cg_aft: Annotated[float | None, "Centre of mass aft of the hinge.", MM, ABSENT]
    weight_change: Annotated[
        float | None, "Weight to add (negative: take off).", Named("weight_change_kg"), ABSENT
    ]


@rule(
    "controls.mass_balance",
    title="Mass balance of a surface",
    purpose="How heavy is the trailing edge, and what weight brings it to the aim?",
    source="Statics; g = 9.80665 m/s² (exact by definition).",
    validity="Weigh with paint, tabs, rod and fittings as flown; hinge friction under the scale's"
    " resolution; chord level within 5°.",
    caution=FLUTTER,
)
def mass_balance(
    w: Weighing,
    weight_arm: Annotated[float | None, "Balance weight ahead of the hinge.", MM] = None,
    aim: Annotated[
        float | None, "Hinge moment to reach, + trailing-edge heavy.", Named("aim_Nm")
    ] = None,
    lo: Annotated[float | None, "Low limit, the maker's.", Named("lo_Nm")] = None,
    hi: Annotated[float | None, "High limit, the maker's.", Named("hi_Nm")] = None,
) -> Balance:
    """Hinge moment of a weighed surface, and the balance weight that brings it to the aim.

    weight_arm: ahead of the hinge, m. aim, lo, hi: N m, from the maker. Refuses an arm or a
    mass that is not positive, an aim without the weight's arm, and the reverse.
    """
    finite(w.scale, "scale_kg")
    finite(w.tare, "tare_kg")
    positive(w.arm, "arm")
    net = w.scale - w.tare
    moment = net * G * w.arm
    u = G * math.hypot(
        w.arm * rectangular(not_negative(w.scale_accuracy, "scale_accuracy_kg")),
        net * rectangular(not_negative(w.arm_accuracy, "arm_accuracy")),
    )
    cg = None
    if w.surface_mass is not None:
        cg = net * w.arm / positive(w.surface_mass, "surface_mass_kg")
    change = None
    if aim is not None or weight_arm is not None:
        if weight_arm is None:
            raise Refused("weight_arm", "is needed with an aim")
        if aim is None:
            raise Refused("aim_Nm", "is needed with the weight's arm")
        change = (moment - finite(aim, "aim_Nm")) / (G * positive(weight_arm, "weight_arm"))
    verdict = None if lo is None and hi is None else judge(moment, 2.0 * u, lo, hi)
    return Balance(moment, 2.0 * u, verdict, cg, change)
