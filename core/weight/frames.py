"""Per cent of the mean chord, another datum, and how level it stands
(`weight.percent_mac`, `weight.datum_shift`, `weight.level_angle`)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import ABSENT, Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.weight.envelope import Envelope
from core.weight.words import GUM, STATICS, Moment, rule


@dataclass(frozen=True)
class OnChord:
    """An arm on the mean aerodynamic chord."""

    percent: Annotated[float | None, "Of the chord.", Unit("%"), ABSENT] = None
    x_m: Annotated[float | None, "Aft of the datum.", ABSENT] = None


@rule(
    "weight.percent_mac",
    title="Per cent of the mean chord",
    purpose="An arm as per cent of the mean aerodynamic chord, and back.",
    source="Definition.",
    validity="Leading edge and length of the mean chord are the maker's.",
)
def percent_mac(
    lemac_m: Annotated[float, "Leading edge of the mean chord."],
    mac_m: Annotated[float, "Its length."],
    x_m: Annotated[float | None, "The arm."] = None,
    percent: Annotated[float | None, "Or per cent of the chord.", Unit("%")] = None,
) -> OnChord:
    """Refuses a chord of no length, and both or neither of arm and per cent."""
    edge, chord = finite(lemac_m, "lemac_m"), positive(mac_m, "mac_m")
    if (x_m is None) == (percent is None):
        raise Refused("x_m", "give an arm or a per cent, one of them")
    if x_m is not None:
        return OnChord(percent=(finite(x_m, "x_m") - edge) / chord * 100.0)
    return OnChord(x_m=edge + chord * finite(percent or 0.0, "percent") / 100.0)


@dataclass(frozen=True)
class Shifted:
    """Against the new datum."""

    x_m: Annotated[float, "The arm."]
    moment_kg_m: Annotated[Moment, "The moment."]
    points: Annotated[tuple[tuple[float, float], ...], "Corners of the envelope.", Unit("")]


@rule(
    "weight.datum_shift",
    title="Another datum",
    purpose="Weight, balance and envelope against another datum.",
    source=STATICS,
    validity="No verdict and no margin may change.",
)
def datum_shift(
    mass_kg: Annotated[float, "Of the aircraft."],
    x_m: Annotated[float, "Its arm."],
    new_datum_at_m: Annotated[float, "Where the new datum lies, in old arms."],
    envelope: Annotated[Envelope | None, "The maker's."] = None,
) -> Shifted:
    """x - d; a corner of moment and mass becomes moment - d mass."""
    m, d = positive(mass_kg, "mass_kg"), finite(new_datum_at_m, "new_datum_at_m")
    x = finite(x_m, "x_m") - d
    points = envelope.points if envelope else ()
    in_moment = envelope is not None and envelope.plane == "moment"
    moved = tuple((a - d * (mass if in_moment else 1.0), mass) for a, mass in points)
    return Shifted(x, m * x, moved)


@dataclass(frozen=True)
class Level:
    """How far from level."""

    angle_rad: Annotated[float, "Nose up, or right wing down, is positive by its inputs."]
    u_rad: Annotated[float, "Standard uncertainty."]


@rule(
    "weight.level_angle",
    title="How level it stands",
    purpose="Pitch or roll from two points along the levelling line.",
    source=GUM,
    validity="A straight levelling line.",
)
def level_angle(
    rise_m: Annotated[float, "How much higher the forward (for roll: the left) point is."],
    spacing_m: Annotated[float, "Between the two points."],
    u_rise_m: Annotated[float, "Standard uncertainty of the rise."] = 0.0,
    u_spacing_m: Annotated[float, "Of the spacing."] = 0.0,
    reference_rad: Annotated[float, "Slope of the line when the aircraft is level."] = 0.0,
) -> Level:
    """asin(rise/spacing) - reference. Refuses a rise that is not below the spacing."""
    long, rise = positive(spacing_m, "spacing_m"), finite(rise_m, "rise_m")
    if abs(rise) >= long:
        raise Refused("rise_m", "must be less than the spacing")
    slope = math.asin(rise / long)
    by_rise = not_negative(u_rise_m, "u_rise_m") / (long * math.cos(slope))
    by_long = rise * not_negative(u_spacing_m, "u_spacing_m") / (long**2 * math.cos(slope))
    return Level(slope - finite(reference_rad, "reference_rad"), math.hypot(by_rise, by_long))
