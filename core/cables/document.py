"""The project's own cables file: a loop of two cables, its levers, supports, fittings, target.

Plain JSON, m and rad, aircraft axes. What people type with a unit (target tension, its band,
its temperature) stays as typed. Side A pulls the driven lever one way, side B the other.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from core.basis.reference import table
from core.basis.refused import Refused
from core.basis.vectors import Vec
from core.cables.cable import (
    CableData,
)
from core.cables.lever import Lever
from core.cables.path import Pulley
from core.cables.temperature import Segment, chart_tension
from core.runs.holes import Hole

FORMAT = "ash-lane cables"
EDITION = 1
KINDS = ("pulley", "fairlead", "guide")
END_KINDS = (
    "fork terminal",
    "eye terminal",
    "threaded terminal",
    "sleeve with thimble",
    "sleeve without thimble",
    "shackle",
)
STEEL = {
    "galvanised": "carbon or low-alloy steel",
    "corrosion-resistant": "austenitic corrosion-resistant steel",
}
OWN = "own figures"
MADE_BY = ("supplier", "builder")
PINS = ("nut and cotter", "cotter only", "none")
NOT_SAID = "not said"
# Ends that a clevis pin holds.
PINNED = ("fork terminal", "eye terminal", "shackle")
MOST_SUPPORTS = 30
MOST_FITTINGS = 12
MOST_HOLES = 40
CABLE_WORDS = (
    "name",
    "construction",
    "diameter_in",
    "material",
    "figures",
    "supports",
    "fittings",
    "turnbuckle",
    "ends",
    "slide_on",
    "holes",
    "edge_gap",
)
SUPPORT_WORDS = (
    "id",
    "kind",
    "centre",
    "axis",
    "radius",
    "sense",
    "length",
    "bank",
    "place",
    "groove_radius",
    "flange_radius",
    "rim_width",
    "misalignment_limit",
    "ratio_min",
    "guard",
    "guard_gap",
)
TARGET_WORDS = ("tension", "at", "minus", "plus", "u", "same", "chart", "source", "page")


@dataclass(frozen=True)
class Support:
    """A pulley, fairlead or guide on a cable's way, from driver to driven.

    `half_m`: half its length along the cable. `bank`, `place`: which stack, and its place in it.
    """

    id: str
    kind: str
    pulley: Pulley
    half_m: float = 0.01
    bank: str = ""
    place: int = 0
    groove_radius_m: float | None = None
    flange_radius_m: float | None = None
    rim_width_m: float | None = None
    misalignment_limit_rad: float | None = None
    ratio_min: float | None = None
    guard: str = "not looked"
    guard_gap_m: float | None = None

    @property
    def centre(self) -> Vec:
        """Where it is, m."""
        return self.pulley.centre


@dataclass(frozen=True)
class Fitting:
    """What moves with the cable: its stations at neutral, m, and its radius where it was said."""

    id: str
    kind: str
    low_m: float
    high_m: float
    radius_m: float | None = None


@dataclass(frozen=True)
class Turnbuckle:
    """Thread pitches of both ends, m, thread showing as first counted, and its limit."""

    pitches_m: tuple[float, float]
    showing: tuple[float, float]
    limit: float

    @property
    def travel_per_turn_m(self) -> float:
        """How far a turn draws both ends in."""
        return self.pitches_m[0] + self.pitches_m[1]


@dataclass(frozen=True)
class End:
    """An end: what it is, its outer size, m, who made it, and what keeps its pin.

    `pin`: none, cotter only, nut and cotter; `pin_source`: where the maker allows it. What
    nobody said of kind, maker or pin is "not said", and a size that nobody said is None.
    """

    kind: str
    size_m: float | None
    made_by: str = NOT_SAID
    pin: str = NOT_SAID
    pin_source: str = ""

    @property
    def open(self) -> tuple[str, ...]:
        """What nobody said of it yet, in words."""
        asked = (
            ("what it is", self.kind == NOT_SAID),
            ("who made it", self.made_by == NOT_SAID),
            ("what keeps its pin", self.kind in PINNED and self.pin == NOT_SAID),
        )
        return tuple(word for word, missing in asked if missing)


@dataclass(frozen=True)
class Item:
    """What slides onto the cable before an end is pressed, with its bore, m."""

    name: str
    bore_m: float


@dataclass(frozen=True)
class Cable:
    """One side of the loop. holes: None until somebody said what it goes through; edge_gap_m:
    to a bare edge that needs no guard, where the maker gives one."""

    side: str
    name: str
    construction: str
    material: str
    data: CableData
    figures_source: str
    supports: tuple[Support, ...]
    fittings: tuple[Fitting, ...]
    turnbuckle: Turnbuckle | None
    ends: Mapping[str, End]
    slide_on: tuple[Item, ...]
    holes: tuple[Hole, ...] | None = None
    edge_gap_m: float | None = None

    @property
    def pulleys(self) -> tuple[Pulley, ...]:
        """The supports as the path takes them."""
        return tuple(s.pulley for s in self.supports)


@dataclass(frozen=True)
class Target:
    """What the maker asks: N at K, its band, its standard uncertainty; or a chart [K, N].

    `unit`: lbf or N, as the tension was typed: it is shown back in that.
    """

    tension_N: float
    temperature_K: float
    minus_N: float
    plus_N: float
    u_N: float
    same: bool
    chart: tuple[tuple[float, float], ...]
    unit: str = "lbf"

    def charted(self, temperature_K: float) -> float | None:
        """The maker's own figure at a temperature; None: by the model of thermal growth."""
        if self.same:
            return self.tension_N
        return chart_tension(self.chart, temperature_K) if self.chart else None


@dataclass(frozen=True)
class Rigging:
    """A cables file, checked as a whole. `positive`: what the pilot does for positive angles of
    the driver, as the sense check names it; empty: not said."""

    name: str
    driver: Lever
    driven: Lever
    bodies: tuple[str, str]
    range_rad: tuple[float, float]
    positive: str
    cables: Mapping[str, Cable]
    target: Target | None
    airframe: tuple[Segment, ...]
    frame_compliance_m_per_N: float
    gap_m: float
    band_share: float
    crossing_source: str

    @property
    def cable_alpha(self) -> Segment:
        """Expansion of the cable (side A's material), with length 1."""
        return expansion(STEEL[self.cables["A"].material], 1.0)


def expansion(material: str, length_m: float) -> Segment:
    """A piece of a shipped material; refuses one that is not shipped."""
    rows = table("expansion")["rows"]
    if material not in rows:
        raise Refused("material", f"must be one of: {', '.join(rows)}, {OWN}")
    row = rows[material]
    return Segment(length_m, row["alpha"] * 1e-6, row["u"] * 1e-6)
