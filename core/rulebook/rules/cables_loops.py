"""Rule book: loops of cable between levers, and what moves along them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import OneOf, Unit
from core.basis.refused import Refused
from core.basis.rules import rule
from core.basis.vectors import Vec
from core.cables.item import item_travel
from core.cables.lever import Lever
from core.cables.loop import CAUTION, RANGE, Loop, Side, loop_solve
from core.cables.path import Pulley
from core.cables.words import STATICS

# A refusal deep in a loop is named by the page under these short names.
SHORT = ("sense", "radius_m", "axis", "centre")


@dataclass(frozen=True)
class LeverIn:
    """A lever by its pivot, axis and the points where both cables hold."""

    pivot: Vec
    axis: Vec
    A: Vec
    B: Vec

    def made(self, at: str) -> Lever:
        """The lever itself; refusals under this path."""
        try:
            return Lever(self.pivot, self.axis, self.A, self.B)
        except Refused as refusal:
            raise Refused(f"{at}.{refusal.field}", refusal.reason) from None


@dataclass(frozen=True)
class PulleyIn:
    """A pulley, or a point the cable runs through."""

    centre: Vec
    axis: Vec = (0.0, 0.0, 1.0)
    radius_m: float = 0.0
    sense: int = 1


@dataclass(frozen=True)
class SideIn:
    """One side of the loop."""

    compliance_m_per_N: float
    tension_N: float
    pulleys: tuple[PulleyIn, ...] = ()


@dataclass(frozen=True)
class SidesIn:
    """Both sides."""

    A: SideIn
    B: SideIn


@dataclass(frozen=True)
class LoopIn:
    """Two levers and both sides between them."""

    driver: LeverIn
    driven: LeverIn
    sides: SidesIn


def _pulleys(given: tuple[PulleyIn, ...], at: str) -> tuple[Pulley, ...]:
    found = []
    for i, p in enumerate(given):
        try:
            found.append(Pulley(p.centre, p.axis, p.radius_m, p.sense))
        except Refused as refusal:
            raise Refused(f"{at}.{i}.{refusal.field}", refusal.reason) from None
    return tuple(found)


def _loop(given: LoopIn) -> Loop:
    sides = {
        name: Side(_pulleys(s.pulleys, f"sides.{name}.pulleys"), s.compliance_m_per_N, s.tension_N)
        for name, s in (("A", given.sides.A), ("B", given.sides.B))
    }
    return Loop(given.driver.made("driver"), given.driven.made("driven"), sides)


def _short(refusal: Refused) -> Refused:
    where, _, tail = refusal.field.rpartition(".")
    return Refused(tail, f"{refusal.reason} ({where})") if tail in SHORT else refusal


@dataclass(frozen=True)
class Solved:
    """Where the driven lever stands, and what both sides pull."""

    status: Annotated[str, "taut, slack A, slack B or both slack."]
    driven_rad: Annotated[float | None, "Where the driven lever stands."]
    driven_low_rad: Annotated[float | None, "Both slack: free from here,"]
    driven_high_rad: Annotated[float | None, "to here."]
    tension_A_N: Annotated[float, "Side A."]
    tension_B_N: Annotated[float, "Side B."]
    driver_moment_Nm: Annotated[float, "To hold the driver."]


@rule(
    "cables.loop_solve",
    title="A loop of cable between two levers",
    purpose="Where the driven lever stands, and what both sides pull.",
    source=STATICS,
    validity="Frictionless; elastic sides; stable equilibrium followed from neutral.",
    caution=CAUTION,
)
def solved(
    loop: Annotated[
        LoopIn,
        "{driver, driven: {pivot, axis, A, B}, sides: {A, B: {pulleys: [{centre, axis, "
        "radius_m, sense}], compliance_m_per_N, tension_N}}}.",
    ],
    driver_rad: Annotated[float, "Within ±1.5."],
    hinge_moment_Nm: Annotated[float, "By the surface on the driven lever."] = 0.0,
    driven_range_rad: Annotated[tuple[float, ...], "Default -1.2 to 1.2."] = RANGE,
    guess_rad: Annotated[float | None, "Default: followed from neutral."] = None,
) -> Solved:
    """`loop_solve` as the page has it."""
    try:
        s = loop_solve(_loop(loop), driver_rad, hinge_moment_Nm, driven_range_rad, guess_rad)
    except Refused as refusal:
        raise _short(refusal) from None
    return Solved(
        *(s.status, s.driven_rad, s.driven_low_rad, s.driven_high_rad),
        *(s.tension_A_N, s.tension_B_N, s.driver_moment_Nm),
    )


@dataclass(frozen=True)
class Moves:
    """How far a fitting moves, both ways."""

    low_m: Annotated[float, "Farthest towards this lever."]
    high_m: Annotated[float, "Positive away from this lever."]


@rule(
    "cables.item_travel",
    title="How far a fitting moves",
    purpose="Movement along the route of what is fixed to the cable.",
    source="Geometry of the path.",
    validity="Stretch of the cable ignored.",
)
def moves(
    lever: Annotated[LeverIn, "{pivot, axis, A, B}."],
    side: Annotated[str, "Which side of the lever.", OneOf(("A", "B"))],
    far_point: Annotated[Vec, "A fixed point of the route beyond the item."],
    angles: Annotated[tuple[float, ...], "Of the lever.", Unit("rad")],
    pulleys: Annotated[tuple[PulleyIn, ...], "Between lever and item."] = (),
) -> Moves:
    """`item_travel` as the page has it."""
    try:
        low, high = item_travel(
            lever.made("lever"), side, _pulleys(pulleys, "pulleys"), far_point, angles
        )
    except Refused as refusal:
        raise _short(refusal) from None
    return Moves(low, high)
