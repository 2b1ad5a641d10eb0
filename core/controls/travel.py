"""Travel of one surface to one position, from sets of readings taken in one or more ways.

A set is the readings of one position with one method, practice and instrument. Each set is
brought to the straight-line form that `verdict` judges: travel = c * mean + offset, with
the contributions of everything else that it rests on (neutral readings, chord, sweep).
Travel is counted positive in the direction that the position asks for: a surface that
moves the wrong way comes out negative.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from core.basis.refused import Refused, choice
from core.basis.uncertainty import Contribution, of_repeats, of_resolution, rectangular
from core.basis.verdicts import Verdict
from core.controls import sources
from core.controls.edge_offset import TrailingEdge, edge_offset
from core.controls.gauge import (
    FACES,
    GaugeReadings,
    SideUnknown,
    at_zero,
    gauge_difference,
    on_face,
    unwrapped,
)
from core.controls.included_angle import Included, included_angle
from core.controls.swept import SweptGauge, swept_gauge
from core.controls.verdict import Judged, Measurement, judge_readings

METHODS = ("gauge_difference", "swept_gauge", "edge_offset", "included_angle")
# Where a position lies: +1 on the trailing-edge-up (or right) side of neutral, -1 below.
POSITIONS = {"neutral": 0, "up_stop": 1, "down_stop": -1, "right_stop": 1, "left_stop": -1}
DOWN_IS_POSITIVE = "trailing_edge_down"
ZEROS = ("level", "fixed surface", "neutral")
# The gauge shows travel itself: it was set to zero at neutral, or on the fixed surface where
# the moving one lies in line with it. Neutral is then judged by itself, from the same zero.
OWN_ZERO = ("fixed surface", "neutral")


@dataclass(frozen=True)
class Surface:
    """What a surface's readings rest on; m and rad, `u_` standard. None: not known."""

    positive: str
    chord: float | None = None
    u_chord: float = 0.0
    phi: float = 0.0
    u_phi: float = 0.0
    sweep: float | None = None
    u_sweep: float = 0.0
    dihedral: float = 0.0
    neutral_included: float | None = None
    u_neutral_included: float = 0.0


@dataclass(frozen=True)
class ReadingSet:
    """Readings of one position taken in one way; rad (`edge_offset`: m).

    `neutral`: this method's readings at neutral, with the same instrument and zero.
    `direction`: +1 where the position lies on the surface's positive side, -1 on the other.
    """

    method: str
    values: tuple[float, ...]
    accuracy: float
    resolution: float
    direction: int = 1
    practice: str = ""
    neutral: tuple[float, ...] = ()
    face: str = "plus_minus_180"
    sense: int = 1
    zero: str = "level"
    side: int | None = None
    neutral_side: int | None = None
    skin: str = ""
    gap: float = 0.0
    arm: float | None = None
    best_accuracy: float = 0.0
    best_resolution: float = 0.0


@dataclass(frozen=True)
class Missing:
    """Why a set cannot be judged yet, and the candidates (rad) if only a side is missing."""

    reason: str
    candidates: tuple[float, float] | None = None


@dataclass(frozen=True)
class Travel:
    """All sets of one position judged; `governing` is the index of the most certain one.

    `disagree`: two ways of measuring differ by more than both their uncertainties.
    """

    sets: tuple[Judged | Missing, ...]
    governing: int | None
    disagree: bool
    verdict: Verdict


def direction(positive: str, position: str) -> int:
    """+1 where this position lies on the surface's positive side, -1 on the other.

    Detents (`detent_1` ...) lie on the positive side. Refuses a position not known.
    """
    if position.startswith("detent_"):
        return 1
    if position not in POSITIONS:
        raise Refused("position", f"{position} is not a position of this surface")
    return POSITIONS[position] * (-1 if positive == DOWN_IS_POSITIVE else 1)


def check_set(s: ReadingSet) -> None:
    """Refuses values that this method or this gauge's face cannot show."""
    choice(s.method, METHODS, "method")
    choice(s.zero, ZEROS, "zero")
    if s.accuracy <= 0.0:
        raise Refused("instrument", "its accuracy is not known: enter the maker's limit")
    if s.method in ("gauge_difference", "swept_gauge"):
        on_face(s.values, s.face, "value")
    elif any(v < 0.0 for v in s.values):
        raise Refused("value", "must not be negative")


def suits(surface: Surface, s: ReadingSet, neutral: bool = False) -> None:
    """Refuses a way of measuring that cannot work on this surface or at neutral."""
    check_set(s)
    upright = surface.positive == "trailing_edge_right"
    if upright and s.method == "gauge_difference" and s.zero == "level":
        raise Refused(
            "method", "a gauge read against level does not work on a hinge line that stands up"
        )
    if neutral and s.method == "edge_offset":
        raise Refused("method", "an offset is measured from neutral: there is none at neutral")


def measurement(surface: Surface, s: ReadingSet) -> Measurement | Missing:
    """The set in straight-line form, travel in rad; Missing when something it needs is."""
    check_set(s)
    forms = {
        "gauge_difference": _by_gauge,
        "swept_gauge": _by_swept_gauge,
        "edge_offset": _by_edge_offset,
        "included_angle": _by_included_angle,
    }
    form = forms[s.method](surface, s)
    if isinstance(form, Missing):
        return form
    return _with_instrument(form, s)


def neutral_alignment(s: ReadingSet) -> Measurement | Missing:
    """Neutral against the fixed surface: the gauge was set to zero there, or laid there."""
    check_set(s)
    if s.method != "gauge_difference" or s.zero != "fixed surface":
        return Missing(
            "To judge neutral, set the gauge to zero on the fixed surface and read the"
            " moving one in line with it"
        )
    form = Measurement(
        unwrapped(s.values, s.face),
        sensitivity=float(s.sense),
        other=_rounded_at_zero(s, 1.0),
    )
    return _with_instrument(form, s)


def _rounded_at_zero(s: ReadingSet, slope: float) -> tuple[Contribution, ...]:
    """Zeroing the gauge rounded once more, by this much of the travel."""
    part = at_zero(s.resolution)
    return (replace(part, u=slope * part.u),) if part.u > 0.0 else ()


def _with_instrument(form: Measurement, s: ReadingSet) -> Measurement:
    return replace(
        form,
        accuracy=s.accuracy,
        resolution=s.resolution,
        best_accuracy=s.best_accuracy,
        best_resolution=s.best_resolution,
    )


def with_best(surface: Surface, s: ReadingSet, lo: float | None, hi: float | None) -> float | None:
    """U, rad, had the whole set (neutral too) been read with the best instrument at hand.

    None when this was the best, or when the set cannot be judged.
    """
    if not 0.0 < s.best_accuracy < s.accuracy:
        return None
    resolution = s.best_resolution or s.resolution
    form = measurement(surface, replace(s, accuracy=s.best_accuracy, resolution=resolution))
    if isinstance(form, Missing):
        return None
    # The better instrument's spread is not known yet: it is left out of the forecast.
    form = replace(form, readings=(_mean(form.readings),))
    calm = tuple(p for p in form.other if not p.name.startswith("repeats"))
    judged = judge_readings(replace(form, other=calm), lo, hi)
    return None if judged is None else judged.combined.U


def judge_sets(
    forms: Sequence[Measurement | Missing], lo: float | None, hi: float | None
) -> Travel:
    """Judge every set against [lo, hi], rad, and let the most certain one speak.

    Where two ways of measuring differ by more than their uncertainties together, the
    verdict is too close whatever each says: one of them is wrong.
    """
    judged = tuple(
        form
        if isinstance(form, Missing)
        else judge_readings(form, lo, hi) or Missing("No reading yet")
        for form in forms
    )
    known = [(i, j) for i, j in enumerate(judged) if isinstance(j, Judged)]
    if not known:
        return Travel(judged, None, False, Verdict.NOT_MEASURED)
    index, best = min(known, key=lambda pair: pair[1].combined.U)
    disagree = any(abs(j.y - best.y) > math.hypot(j.combined.U, best.combined.U) for _, j in known)
    verdict = Verdict.TOO_CLOSE if disagree else best.verdict
    return Travel(judged, index, disagree, verdict)


def judge_conflict(
    travel: Travel, ranges: Sequence[sources.Range], decision: sources.Decision | None = None
) -> sources.Compared:
    """The position's travel by each of the sources that disagree on it."""
    judged = None if travel.governing is None else travel.sets[travel.governing]
    if isinstance(judged, Judged):
        return sources.compare(ranges, y=judged.y, U=judged.combined.U, decision=decision)
    return sources.compare(ranges, decision=decision)


def _by_gauge(surface: Surface, s: ReadingSet) -> Measurement | Missing:
    zeroed = s.zero in OWN_ZERO
    if not zeroed and not s.neutral:
        return Missing("Read neutral with the same gauge and zero")
    result = gauge_difference(
        GaugeReadings(
            s.face,
            s.values,
            () if zeroed else s.neutral,
            s.sense,
            s.side,
            s.neutral_side,
            zeroed,
            s.accuracy,
            s.resolution,
        )
    )
    if isinstance(result, SideUnknown):
        return Missing("Say which side of level the gauge showed", result.candidates)
    turn = (s.side or 1) if FACES[s.face].period is None else 1
    readings = tuple(turn * v for v in unwrapped(s.values, s.face))
    slope = float(s.direction * s.sense)
    travel = s.direction * result.value
    others = tuple(p for p in result.parts if p.name.endswith("neutral"))
    return _line(readings, slope, travel, others)


def _by_swept_gauge(surface: Surface, s: ReadingSet) -> Measurement | Missing:
    if surface.sweep is None:
        return Missing("Enter the sweep of the hinge line")
    zeroed = s.zero in OWN_ZERO
    if not zeroed and not s.neutral:
        return Missing("Read neutral with the same gauge and zero")
    readings = tuple(s.sense * v for v in unwrapped(s.values, s.face))
    start = () if zeroed else tuple(s.sense * v for v in unwrapped(s.neutral, s.face))
    result = swept_gauge(
        SweptGauge(
            surface.sweep,
            _mean(readings),
            s.practice,
            surface.dihedral,
            _mean(start) if start else 0.0,
            u_sweep=surface.u_sweep,
        )
    )
    slope = abs(result.per_neutral)
    others = [p for p in result.deflection.parts if p.name == "sweep"]
    if start:
        others.append(Contribution(slope * rectangular(s.accuracy), None, "accuracy, neutral"))
        others.append(
            Contribution(slope * of_resolution(s.resolution), None, "resolution, neutral")
        )
        repeats = of_repeats(start)
        if repeats:
            others.append(Contribution(slope * repeats.u, repeats.nu, "repeats, neutral"))
    else:
        others.extend(_rounded_at_zero(s, slope))
    travel = s.direction * result.deflection.value
    return _line(readings, s.direction * result.per_reading, travel, tuple(others))


def _by_edge_offset(surface: Surface, s: ReadingSet) -> Measurement | Missing:
    if surface.chord is None:
        return Missing("Enter the chord from hinge axis to trailing edge")
    phi = s.direction * surface.phi
    result = edge_offset(TrailingEdge(surface.chord, s.practice, phi), _mean(s.values))
    others = (
        Contribution(abs(result.per_chord) * surface.u_chord, None, "chord"),
        Contribution(abs(result.per_phi) * surface.u_phi, None, "phi"),
    )
    return _line(s.values, result.per_offset, result.deflection.value, others)


def _by_included_angle(surface: Surface, s: ReadingSet) -> Measurement | Missing:
    start, u_start = surface.neutral_included, surface.u_neutral_included
    repeats: Contribution | None = None
    others: list[Contribution] = []
    if s.neutral:
        start, u_start = _mean(s.neutral), 0.0
        others.append(Contribution(rectangular(s.accuracy), None, "accuracy, neutral"))
        others.append(Contribution(of_resolution(s.resolution), None, "resolution, neutral"))
        repeats = of_repeats(s.neutral, "repeats, neutral")
    if start is None:
        return Missing("Read the included angle at neutral, or enter the drawing's")
    skins = Included(surface.positive, s.skin, start)
    result = included_angle(skins, _mean(s.values))
    rock = math.atan(s.gap / s.arm) if s.gap and s.arm else 0.0
    others.append(Contribution(u_start, None, "neutral angle"))
    others.append(Contribution(rectangular(rock), None, "gap"))
    others.extend([repeats] if repeats else [])
    slope = float(s.direction * skins.opens)
    return _line(s.values, slope, s.direction * result.value, tuple(others))


def _line(
    readings: tuple[float, ...], slope: float, travel: float, others: tuple[Contribution, ...]
) -> Measurement:
    """Straight line through the mean of the readings and the travel found there."""
    kept = tuple(p for p in others if p.u > 0.0)
    offset = travel - slope * _mean(readings)
    return Measurement(readings, sensitivity=slope, offset=offset, other=kept)


def _mean(values: Sequence[float]) -> float:
    return math.fsum(values) / len(values)
