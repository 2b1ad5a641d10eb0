"""Rule book: what is made for a control: cards to print, holes in an arm, rods that carry load."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import MM, MM2, Unit
from core.basis.refused import Refused
from core.basis.rules import rule
from core.basis.verdicts import Verdict
from core.controls.hinge import Fraction, hinge_fraction
from core.controls.rod_strength import Strength, Tube, rod_load, rod_strength
from core.controls.template import Card, Point, calibration_square, template
from core.controls.words import FLUTTER

ON_PAPER = Unit("mm", 1e3)


@dataclass(frozen=True)
class Outline:
    """The card's outline, with what the page asks to compare."""

    moving_end: Annotated[Point, "End of the moving arm at the skin.", ON_PAPER]
    moving_outer: Annotated[Point, "Its outer corner.", ON_PAPER]
    outer_apex: Annotated[Point, "Outer corner over the hinge.", ON_PAPER]
    fixed_outer: Annotated[Point, "Outer corner of the fixed arm.", ON_PAPER]
    fixed_end: Annotated[Point, "End of the fixed arm at the skin.", ON_PAPER]
    notch_fixed: Annotated[Point, "Where the notch begins on the fixed arm.", ON_PAPER]
    notch_moving: Annotated[Point, "Where it ends on the moving arm.", ON_PAPER]
    arc_segments: Annotated[int, "Chords of the notch's arc."]
    vertex_count: Annotated[int, "Corners of the outline."]
    area: Annotated[float, "Area of the card.", MM2]
    contact_fixed: Annotated[float, "Straight edge left on the fixed skin.", MM]
    contact_moving: Annotated[float, "Straight edge left on the moving skin.", MM]
    bbox: Annotated[Point, "Width and height.", MM]
    label_at: Annotated[Point, "Where the label stands.", ON_PAPER]
    square: Annotated[tuple[Point, ...], "Corners of the calibration square.", ON_PAPER]


@rule(
    "controls.template",
    title="Cut-out template for an included angle",
    purpose="The outline of a card that shows one included angle across the hinge gap.",
    source="Plane geometry.",
    validity="Flat skins; the card stands square to the hinge line.",
    caution="Measure the printed square before cutting: printers scale.",
)
def outline(card: Card) -> Outline:
    """`template` as the page has it."""
    t = template(card)
    ends = (t.moving_end, t.moving_outer, t.outer_apex, t.fixed_outer, t.fixed_end)
    return Outline(
        *ends,
        *(t.notch[0], t.notch[-1], t.arc_segments, len(t.ring), t.area),
        *(t.contact_fixed, t.contact_moving, t.bbox, t.label_at, calibration_square()),
    )


@dataclass(frozen=True)
class Station:
    """One station along the span."""

    ahead: Annotated[float, "Nose to hinge.", MM]
    chord: Annotated[float, "Nose to trailing edge.", MM]


@dataclass(frozen=True)
class Fractions:
    """The hinge's place on the chord at each station."""

    rows: Annotated[tuple[Fraction, ...], "Fraction, overhang, U and verdict by station."]
    worst: Annotated[Verdict, "The worst verdict."]


@rule(
    "controls.hinge_fraction",
    title="Hinge position on the chord",
    purpose="Does the hinge lie where the maker wants it, at every station?",
    source="Plane geometry; JCGM 106:2012, 8.3 for the verdict.",
    validity="Square to the hinge line.",
    caution=FLUTTER,
)
def fractions(
    stations: Annotated[tuple[Station, ...], "{ahead_mm nose to hinge, chord_mm}, by station."],
    lo: Annotated[float | None, "Least fraction."] = None,
    hi: Annotated[float | None, "Greatest fraction."] = None,
    accuracy: Annotated[float, "Half-width of each length.", MM] = 0.0,
) -> Fractions:
    """`hinge_fraction` as the page has it."""
    rows, worst = hinge_fraction([(s.ahead, s.chord) for s in stations], lo, hi, accuracy)
    return Fractions(rows, worst)


@dataclass(frozen=True)
class Load:
    """The rod's limit load, or the pilot's force that makes it."""

    rod_limit_N: Annotated[float | None, "Limit load in the rod."] = None
    pilot_force_N: Annotated[float | None, "Pilot's limit force at the grip."] = None
    grip_arm: Annotated[float | None, "Grip to the stick's axis.", MM] = None
    rod_arm: Annotated[float | None, "Least arm of the rod on that lever.", MM] = None

    @property
    def limit_N(self) -> float:
        """The load. Refuses both ways at once, and a force without its arms."""
        given = (self.pilot_force_N, self.grip_arm, self.rod_arm)
        if self.rod_limit_N is not None:
            if any(v is not None for v in given):
                raise Refused(
                    "rod_limit_N", "give either the rod's load or the pilot's force with arms"
                )
            return self.rod_limit_N
        force, grip, rod = given
        for name, value in (("pilot_force_N", force), ("grip_arm", grip), ("rod_arm", rod)):
            if value is None:
                raise Refused(name, "is needed, or give rod_limit_N")
        assert force is not None and grip is not None and rod is not None
        return rod_load(force, grip, rod)


@rule(
    "controls.rod_strength",
    title="Will a rod buckle",
    purpose="Does the rod carry the pilot's limit load without buckling?",
    source="Euler and Johnson columns; 14 CFR 23.303 (factor 1.5, old amendment); pilot forces from"
    " the certification basis (14 CFR 23.397 or the rule that applies).",
    validity="Not covered: bent or dented rods, off-centre ends, rod-end and bolt strength, ends"
    " thinner than the tube, joint wear factors (14 CFR 23.693), vibration.",
    caution="A rod that buckles disconnects the surface; this check does not replace the maker's"
    " stress data.",
)
def strength(
    tube: Tube,
    load: Load,
    ultimate_factor: Annotated[float, "1.5 or more (default 1.5)."] = 1.5,
    special_factor: Annotated[float, "1 or more (default 1)."] = 1.0,
) -> Strength:
    """`rod_strength`, from the rod's load or the pilot's force."""
    return rod_strength(tube, load.limit_N, ultimate_factor, special_factor)
