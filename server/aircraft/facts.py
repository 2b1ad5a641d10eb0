"""Aircraft as the API shows them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Literal, TypedDict

from core.aircraft.bays import gaps
from core.runs.bays import overlapping
from core.signoff.closing import Concern, Lot
from server.aircraft.access import MAY, may
from server.aircraft.models import Aircraft, Bay, Closure, Member, Opening
from server.aircraft.strip import standing
from server.config.words import Word

Role = Literal["owner", "helper", "counselor", "reader"]


class ClosureShown(TypedDict):
    """A closure: what it closes, and whether it is closed, open, or ready to close."""

    slug: str
    version: int
    name: str
    permanent: bool
    above: bool
    closed: bool
    ready: bool
    bays: list[str]
    planned_on: str
    inspection_needed: bool
    photo_needed: bool


class BayShown(TypedDict):
    """A bay: its box, m, its worst verdict, how much is open in it, its loose ends."""

    slug: str
    version: int
    name: str
    part: Literal["fuselage", "left wing", "right wing", "left tail", "right tail", "fin"]
    x_m: list[float]
    y_m: list[float]
    z_m: list[float]
    start_m: float
    end_m: float
    verdict: Word
    concerns: int
    open: int
    loose_ends: int


class OpeningShown(TypedDict):
    """An opening that an arm can pass; `bay_b` empty: outside."""

    slug: str
    version: int
    name: str
    bay_a: str
    bay_b: str
    closure: str
    lo_m: list[float]
    hi_m: list[float]
    width_m: float


class Outline(TypedDict):
    """Side profile [station, water line] and plan [station, half width], m."""

    top: list[list[float]]
    bottom: list[list[float]]
    fin: list[list[float]]
    plan: list[list[float]]


class MemberShown(TypedDict):
    """Someone who works on the aircraft."""

    person: str
    name: str
    role: Role
    second_inspector: bool


class AircraftRow(TypedDict):
    """An aircraft in the list."""

    slug: str
    name: str
    summary: str
    role: Role
    owner: str
    verdicts: dict[str, int]


class GapShown(TypedDict):
    """A stretch between two bays of a part that lies in none, mm."""

    before: str
    after: str
    mm: float


class AircraftShown(TypedDict):
    """One aircraft: geometry, members, and what you may do."""

    slug: str
    version: int
    name: str
    summary: str
    datum: str
    length_unit: Literal["mm", "in"]
    arm_mm: float | None
    arm_width_mm: float | None
    hours_run: float
    facts: dict[str, Any]
    outline: Outline
    bays: list[BayShown]
    closures: list[ClosureShown]
    openings: list[OpeningShown]
    overlaps: list[list[str]]
    gaps: list[GapShown]
    loose_ends: int
    members: list[MemberShown]
    role: Role
    may: list[str]


def aircraft_row(who: Member, owner: str, verdicts: Mapping[str, int]) -> AircraftRow:
    """The aircraft in the list; `verdicts` counts its requirements by verdict."""
    a = who.aircraft
    return AircraftRow(
        slug=a.slug,
        name=a.name,
        summary=a.summary,
        role=who.role,  # type: ignore[typeddict-item]
        owner=owner,
        verdicts=dict(verdicts),
    )


def aircraft_shown(
    who: Member, lot: Lot, ready: set[str], closures: Sequence[Closure]
) -> AircraftShown:
    """One aircraft; `lot`: all concerns; `ready`: closures whose gate lets them be closed;
    `closures`: all of them with their bays in `behind`.
    """
    a: Aircraft = who.aircraft
    bays = list(a.bays.all())
    openings = Opening.objects.filter(aircraft=a).select_related("bay_a", "bay_b", "closure")
    doings = sorted({d for role in MAY.values() for d in role})
    return AircraftShown(
        slug=a.slug,
        version=a.version,
        name=a.name,
        summary=a.summary,
        datum=a.datum,
        length_unit=a.length_unit,  # type: ignore[typeddict-item]
        arm_mm=None if a.arm_m is None else a.arm_m * 1e3,
        arm_width_mm=None if a.arm_width_m is None else a.arm_width_m * 1e3,
        hours_run=a.hours_run,
        facts=a.facts,
        outline=Outline(**{k: a.outline.get(k, []) for k in ("top", "bottom", "fin", "plan")}),  # type: ignore[typeddict-item]
        bays=[bay_shown(b, lot.in_bay(b.slug)) for b in bays],
        closures=[closure_shown(c, list(c.behind), c.slug in ready) for c in closures],  # type: ignore[attr-defined]
        openings=[opening_shown(o) for o in openings],
        overlaps=[list(pair) for pair in overlapping([b.box for b in bays])],
        gaps=[
            GapShown(before=before, after=after, mm=round(m * 1e3, 1))
            for before, after, m in gaps({b.slug: (b.part, b.limits) for b in bays})
        ],
        loose_ends=sum(c.step == "loose end" for c in lot.concerns),
        members=[
            MemberShown(
                person=m.person.slug,
                name=m.person.name,
                role=m.role,  # type: ignore[typeddict-item]
                second_inspector=m.second_inspector,
            )
            for m in a.members.select_related("person").order_by("id")
        ],
        role=who.role,  # type: ignore[typeddict-item]
        may=[d for d in doings if may(who, d)],
    )


def bay_shown(bay: Bay, here: list[Concern]) -> BayShown:
    """A bay with its standing."""
    stands = standing(here)
    start, end = bay.along
    return BayShown(
        slug=bay.slug,
        version=bay.version,
        name=bay.name,
        part=bay.part,  # type: ignore[typeddict-item]
        x_m=[bay.x0_m, bay.x1_m],
        y_m=[bay.y0_m, bay.y1_m],
        z_m=[bay.z0_m, bay.z1_m],
        start_m=start,
        end_m=end,
        verdict=stands["verdict"],  # type: ignore[typeddict-item]
        concerns=stands["concerns"],
        open=stands["open"],
        loose_ends=stands["loose_ends"],
    )


def closure_shown(c: Closure, bays: list[str], ready: bool) -> ClosureShown:
    """A closure with the bays that it opens."""
    return ClosureShown(
        slug=c.slug,
        version=c.version,
        name=c.name,
        permanent=c.permanent,
        above=c.above,
        closed=c.closed,
        ready=ready and not c.closed,
        bays=bays,
        planned_on=c.planned_on.isoformat() if c.planned_on else "",
        inspection_needed=c.inspection_needed,
        photo_needed=c.photo_needed,
    )


def opening_shown(o: Opening) -> OpeningShown:
    """An opening."""
    return OpeningShown(
        slug=o.slug,
        version=o.version,
        name=o.name,
        bay_a=o.bay_a.slug,
        bay_b=o.bay_b.slug if o.bay_b else "",
        closure=o.closure.slug if o.closure else "",
        lo_m=o.lo_m,
        hi_m=o.hi_m,
        width_m=o.width_m,
    )
