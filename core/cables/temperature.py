"""The tension to set at today's temperature, from a maker's chart or one reference point.

`cables.chart_tension`, `cables.tension_at_temperature`, `cables.tension_curve`. The model: one
uniform temperature, small strain, cable free to move over its pulleys. Sun on one skin is not
this case.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Unit
from core.basis.refused import Refused, finite, not_negative, positive, within
from core.basis.rules import rule
from core.cables.words import MECHANICS, SOAK

COLDEST_K, HOTTEST_K = 213.15, 343.15
CURVE_LOW_K, CURVE_HIGH_K = 243.15, 323.15
MOST_POINTS = 500
LEAST_ALPHA, MOST_ALPHA = -5e-6, 60e-6
FIT = 0.05
NO_SLOPE = 1e-12


@rule(
    "cables.chart_tension",
    title="Tension from the maker's chart",
    purpose="Linear between the points of a chart over temperature.",
    source="The maker's chart; linear interpolation.",
    validity="Inside the chart only.",
    caution=SOAK,
)
def chart_tension(
    points: Annotated[Sequence[Sequence[float]], "[K, N] pairs, temperatures rising."],
    temperature_K: Annotated[float, "Temperature, 213.15 to 343.15."],
) -> Annotated[float, "Tension.", Unit("N")]:
    """The maker's tension, N, at a temperature, linear between [K, N] points.

    Refuses fewer than two points, temperatures that do not rise, and one outside the chart.
    """
    if len(points) < 2:
        raise Refused("points", "needs at least two points")
    for i, p in enumerate(points):
        if not isinstance(p, (list, tuple)) or len(p) != 2:
            raise Refused(f"points.{i}", "must be a pair [K, N]")
        finite(p[0], f"points.{i}")
        not_negative(p[1], f"points.{i}")
    for i in range(1, len(points)):
        if points[i][0] <= points[i - 1][0]:
            raise Refused("points", "temperatures must rise")
    t = finite(temperature_K, "temperature_K")
    if not points[0][0] <= t <= points[-1][0]:
        raise Refused("temperature_K", "outside the maker's chart")
    i = next(i for i in range(1, len(points)) if t <= points[i][0])
    (k0, n0), (k1, n1) = points[i - 1], points[i]
    return n0 + (n1 - n0) * (t - k0) / (k1 - k0)


@dataclass(frozen=True)
class Segment:
    """A piece along the run: length m, expansion per K and its standard uncertainty."""

    length_m: float
    alpha_per_K: float
    u_alpha_per_K: float = 0.0


@dataclass(frozen=True)
class Line:
    """A cable rigged at a reference temperature, and the airframe that carries it.

    cable_length_m: the cable only. fittings: turnbuckles, terminals, links in its line, taken
    as rigid. frame_compliance_m_per_N: how far the two ends give per newton.
    """

    tension_ref_N: Annotated[float, "Tension at the reference temperature."]
    temperature_ref_K: Annotated[float, "Reference temperature, 213.15 to 343.15."]
    cable_length_m: Annotated[float, "Of the cable only."]
    ae_N: Annotated[float, "Axial stiffness."]
    cable_alpha_per_K: Annotated[float, "Expansion of the cable."]
    airframe: Annotated[
        tuple[Segment, ...], "Pieces along the run {length_m, alpha_per_K, u_alpha_per_K}."
    ]
    fittings: Annotated[
        tuple[Segment, ...], "The same for turnbuckles, terminals, links (taken as rigid)."
    ] = ()
    frame_compliance_m_per_N: Annotated[float, "How far the two ends give; 0: rigid."] = 0.0
    u_tension_ref_N: Annotated[float, "Standard uncertainty."] = 0.0
    u_ae_N: Annotated[float, "Standard uncertainty."] = 0.0
    u_cable_alpha_per_K: Annotated[float, "Standard uncertainty."] = 0.0
    u_temperature_K: Annotated[float, "Standard uncertainty."] = 0.0

    def __post_init__(self) -> None:
        positive(self.tension_ref_N, "tension_ref_N")
        _temperature(self.temperature_ref_K, "temperature_ref_K")
        positive(self.cable_length_m, "cable_length_m")
        positive(self.ae_N, "ae_N")
        _alpha(self.cable_alpha_per_K, "cable_alpha_per_K")
        not_negative(self.frame_compliance_m_per_N, "frame_compliance_m_per_N")
        for name in ("u_tension_ref_N", "u_ae_N", "u_cable_alpha_per_K", "u_temperature_K"):
            not_negative(getattr(self, name), name)
        if not self.airframe:
            raise Refused("airframe", "needs at least one segment")
        for field in ("airframe", "fittings"):
            for i, s in enumerate(getattr(self, field)):
                positive(s.length_m, f"{field}.{i}.length_m")
                _alpha(s.alpha_per_K, f"{field}.{i}.alpha_per_K")
                not_negative(s.u_alpha_per_K, f"{field}.{i}.u_alpha_per_K")
        run = math.fsum(s.length_m for s in self.airframe)
        rigid = math.fsum(s.length_m for s in self.fittings)
        if abs(run - rigid - self.cable_length_m) > FIT * run:
            raise Refused("airframe", "segments must add up to cable plus fittings within 5 %")

    @property
    def stiffness_N_per_m(self) -> float:
        """Of cable and frame together."""
        return 1.0 / (self.cable_length_m / self.ae_N + self.frame_compliance_m_per_N)

    @property
    def gap_m_per_K(self) -> float:
        """How much more the airframe grows per kelvin than the cable and its fittings."""
        return (
            math.fsum(a.length_m * a.alpha_per_K for a in self.airframe)
            - self.cable_length_m * self.cable_alpha_per_K
            - math.fsum(f.length_m * f.alpha_per_K for f in self.fittings)
        )


@dataclass(frozen=True)
class Tension:
    """Tension, N, at a temperature. Slack: it would be zero or less; may_be_slack: within 2u."""

    tension_N: Annotated[float, "Tension."]
    slack: Annotated[bool, "It would be zero or less."]
    may_be_slack: Annotated[bool, "Zero lies within twice the uncertainty."]
    slope_N_per_K: Annotated[float, "Change with temperature."]
    slack_temperature_K: Annotated[float | None, "Where it goes slack; null: never."]
    u_tension_N: Annotated[float, "Standard uncertainty of the tension."]
    stiffness_N_per_m: Annotated[float, "Of cable and frame together."]


@rule(
    "cables.tension_at_temperature",
    title="Tension at a temperature",
    purpose="What a cable set at one temperature has at another, in this airframe.",
    source=MECHANICS,
    validity="One uniform temperature (hours in the shade), small strain, cable free to"
    " move over its "
    "pulleys. Sun on one skin is not this case.",
    caution=SOAK,
)
def tension_at_temperature(
    line: Line, temperature_K: Annotated[float, "Temperature, 213.15 to 343.15."]
) -> Tension:
    """The tension that the cable has when all has stood at this temperature.

    A slack cable cannot push: its tension is 0 and it is flagged. Refuses temperatures
    outside 213.15 to 343.15 K.
    """
    _temperature(temperature_K, "temperature_K")
    k, gap = line.stiffness_N_per_m, line.gap_m_per_K
    slope = k * gap
    warmer = temperature_K - line.temperature_ref_K
    unclipped = line.tension_ref_N + slope * warmer
    soft = k * (line.cable_length_m / line.ae_N) * (line.u_ae_N / line.ae_N)
    grown = (line.cable_length_m * line.u_cable_alpha_per_K) ** 2 + math.fsum(
        (s.length_m * s.u_alpha_per_K) ** 2 for s in (*line.airframe, *line.fittings)
    )
    u = math.sqrt(
        line.u_tension_ref_N**2
        + (slope * warmer * soft) ** 2
        + (k * warmer) ** 2 * grown
        + (slope * line.u_temperature_K) ** 2
    )
    flat = abs(slope) <= NO_SLOPE
    return Tension(
        max(0.0, unclipped),
        unclipped <= 0,
        unclipped - 2.0 * u <= 0,
        slope,
        None if flat else line.temperature_ref_K - line.tension_ref_N / slope,
        u,
        k,
    )


@dataclass(frozen=True)
class Curve:
    """Points [K, N], and how far both ends differ from the reference tension, N."""

    curve: Annotated[tuple[tuple[float, float], ...], "[K, N] points."]
    extra_at_hi_N: Annotated[float, "Warm end, more than the reference."]
    extra_at_lo_N: Annotated[float, "Cold end, more than the reference."]


@rule(
    "cables.tension_curve",
    title="Tension over temperature",
    purpose="The curve to rig by, and what both ends add to the brackets' load.",
    source=MECHANICS,
    validity="As tension_at_temperature.",
    caution=SOAK,
)
def tension_curve(
    line: Line,
    lo_K: Annotated[float, "Default 243.15."] = CURVE_LOW_K,
    hi_K: Annotated[float, "Default 323.15."] = CURVE_HIGH_K,
    n: Annotated[int, "How many points; default 17."] = 17,
) -> Curve:
    """n evenly spaced points of the tension over temperature. Slack is 0.

    Refuses fewer than two points and temperatures the wrong way round.
    """
    if not 2 <= n <= MOST_POINTS:
        raise Refused("n", f"needs at least two points, at most {MOST_POINTS}")
    _temperature(lo_K, "lo_K")
    _temperature(hi_K, "hi_K")
    if hi_K <= lo_K:
        raise Refused("hi_K", "must be greater than lo_K")
    at = [lo_K + (hi_K - lo_K) * i / (n - 1) for i in range(n - 1)] + [hi_K]
    points = tuple((t, tension_at_temperature(line, t).tension_N) for t in at)
    ref = line.tension_ref_N
    return Curve(points, points[-1][1] - ref, points[0][1] - ref)


def _temperature(value: float, field: str) -> float:
    return within(value, COLDEST_K, HOTTEST_K, field, "within 213.15 to 343.15 K (-60 to 70 °C)")


def _alpha(value: float, field: str) -> float:
    return within(value, LEAST_ALPHA, MOST_ALPHA, field, "within -5e-6 to 60e-6 per K")
