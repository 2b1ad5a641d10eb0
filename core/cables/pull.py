"""Tension from a sideways pull at mid-span: `cables.sideways_pull`, `cables.expected_deflection`.

Exact geometry of the pulled span, with the stretch that the pull itself makes. The cable's
weight is ignored; off centre by εL costs 4ε² (5 % off: 1 %).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated

from scipy.optimize import brentq

from core.basis.forms import Named
from core.basis.refused import Refused, not_negative, positive
from core.basis.rules import rule
from core.cables.words import CAUTION, WHERE

MOST_DEFLECTION = 0.1
MOST_STRETCH_SHARE = 0.10


@dataclass(frozen=True)
class Pulled:
    """Tension before the pull and under it, N; what the small-angle formula would say."""

    tension_N: Annotated[float, "Before the pull."]
    tension_under_pull_N: Annotated[float, "While pulling."]
    small_angle_N: Annotated[float, "What the short formula says."]
    small_angle_error: Annotated[float, "How far that is off, relative."]
    stretch_share: Annotated[float, "What the pull adds, relative."]
    pull_less: Annotated[bool, "The pull stretches it by over a tenth."]
    u_tension_N: Annotated[float, "Standard uncertainty of the tension."]


@rule(
    "cables.sideways_pull",
    title="Tension by a sideways pull",
    purpose="Tension from a spring scale's pull at mid-span and the deflection.",
    source="Statics of a pulled span, with the cable's stretch.",
    validity=f"Deflection up to a tenth of the span; weight ignored. {WHERE}",
    caution=CAUTION,
)
def sideways_pull(
    span_m: Annotated[float, "Between supports."],
    force_N: Annotated[float, "Force at mid-span."],
    deflection_m: Annotated[float, "Sideways movement of the middle."],
    compliance_m_per_N: Annotated[float, "Of what resists the stretch."],
    u_span_m: Annotated[float, "Standard uncertainty."] = 0.0,
    u_force_N: Annotated[float, "Standard uncertainty."] = 0.0,
    u_deflection_m: Annotated[float, "Standard uncertainty."] = 0.0,
    u_compliance_m_per_N: Annotated[float, "Standard uncertainty."] = 0.0,
) -> Pulled:
    """Tension of a cable that a force at mid-span moves sideways by deflection_m.

    compliance_m_per_N: of what resists the stretch; one side with both levers pinned, both
    sides together if one lever is free. Refuses a deflection over a tenth of the span, and
    one that the pull alone explains.
    """
    given = {
        "span_m": positive(span_m, "span_m"),
        "force_N": positive(force_N, "force_N"),
        "deflection_m": positive(deflection_m, "deflection_m"),
        "compliance_m_per_N": positive(compliance_m_per_N, "compliance_m_per_N"),
    }
    us = {
        "span_m": not_negative(u_span_m, "u_span_m"),
        "force_N": not_negative(u_force_N, "u_force_N"),
        "deflection_m": not_negative(u_deflection_m, "u_deflection_m"),
        "compliance_m_per_N": not_negative(u_compliance_m_per_N, "u_compliance_m_per_N"),
    }
    if deflection_m > MOST_DEFLECTION * span_m * (1 + 1e-12):
        raise Refused("deflection_m", "over a tenth of the span; pull less")
    under, tension = _pulled(**given)
    if tension <= 0:
        raise Refused(
            "deflection_m",
            "the pull alone stretches the cable this far: it was slack, or the compliance is wrong",
        )
    shortcut = force_N * span_m / (4.0 * deflection_m)
    share = (under - tension) / tension
    u = math.sqrt(math.fsum((s * us[name]) ** 2 for name, s in _slopes(**given).items()))
    return Pulled(
        tension, under, shortcut, shortcut / tension - 1.0, share, share > MOST_STRETCH_SHARE, u
    )


def _pulled(
    span_m: float, force_N: float, deflection_m: float, compliance_m_per_N: float
) -> tuple[float, float]:
    """Tension while pulling, and before."""
    half = math.sqrt(span_m**2 / 4.0 + deflection_m**2)
    under = force_N * half / (2.0 * deflection_m)
    longer = 2.0 * deflection_m**2 / (half + span_m / 2.0)
    return under, under - longer / compliance_m_per_N


def _slopes(
    span_m: float, force_N: float, deflection_m: float, compliance_m_per_N: float
) -> dict[str, float]:
    """Partial derivatives of the tension before the pull."""
    h, c = deflection_m, compliance_m_per_N
    half = math.sqrt(span_m**2 / 4.0 + h**2)
    longer = 2.0 * h**2 / (half + span_m / 2.0)
    by_half_span = span_m / (4.0 * half)
    return {
        "force_N": half / (2.0 * h),
        "deflection_m": force_N / (2.0 * h) * (h / half - half / h) - 2.0 * h / (half * c),
        "span_m": force_N * by_half_span / (2.0 * h) - (2.0 * by_half_span - 1.0) / c,
        "compliance_m_per_N": longer / c**2,
    }


@rule(
    "cables.expected_deflection",
    title="Deflection to expect",
    purpose="How far a force moves the middle of a span at a given tension.",
    source="Statics of a pulled span, with the cable's stretch.",
    validity="Deflection up to a tenth of the span.",
    caution=CAUTION,
)
def expected_deflection(
    span_m: Annotated[float, "Between supports."],
    force_N: Annotated[float, "Force at mid-span."],
    tension_N: Annotated[float, "Tension."],
    compliance_m_per_N: Annotated[float, "Of what resists the stretch."],
) -> Annotated[float, "Sideways movement of the middle.", Named("deflection_m")]:
    """How far, m, this force moves the middle of the span at this tension.

    Refuses a force that would push it over a tenth of the span.
    """
    positive(span_m, "span_m")
    positive(force_N, "force_N")
    positive(tension_N, "tension_N")
    positive(compliance_m_per_N, "compliance_m_per_N")

    def missing(h: float) -> float:
        return _pulled(span_m, force_N, h, compliance_m_per_N)[1] - tension_N

    most = MOST_DEFLECTION * span_m
    if missing(most) > 0:
        raise Refused("force_N", "would push the cable over a tenth of the span; pull less")
    least = most * 1e-12
    while missing(least) <= 0:
        least /= 2.0
    return _root(missing, least, most)


def _root(f: Callable[[float], float], lo: float, hi: float) -> float:
    return float(brentq(f, lo, hi, xtol=1e-15, rtol=1e-13))
