"""Aircraft as the API shows them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal, TypedDict

from django.db.models import Prefetch

from core.basis.verdicts import Verdict, worst
from server.aircraft.access import MAY, may
from server.aircraft.models import Aircraft, Bay, Member

Word = Literal["in", "out", "too close", "not measured", "stale", "accepted"]
Role = Literal["owner", "helper", "counselor", "reader"]


class ClosureShown(TypedDict):
    """A closure of a bay."""

    name: str
    permanent: bool
    above: bool
    closed: bool


class BayShown(TypedDict):
    """A bay: its range, m, what closes it, and its worst verdict with the count behind it."""

    slug: str
    name: str
    part: Literal["fuselage", "left wing", "right wing", "fin"]
    start_m: float
    end_m: float
    closures: list[ClosureShown]
    verdict: Word
    judged: int


class Outline(TypedDict):
    """Side profile, lists of [station, water line], m."""

    top: list[list[float]]
    bottom: list[list[float]]
    fin: list[list[float]]


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


class AircraftShown(TypedDict):
    """One aircraft: geometry, members, and what you may do."""

    slug: str
    name: str
    summary: str
    datum: str
    outline: Outline
    bays: list[BayShown]
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
        role=who.role,
        owner=owner,
        verdicts=dict(verdicts),
    )


def aircraft_shown(who: Member, by_bay: Mapping[int, list[Verdict]]) -> AircraftShown:
    """One aircraft; `by_bay`: verdicts of what lies in each bay, by the bay's key."""
    a: Aircraft = who.aircraft
    bays = a.bays.prefetch_related(Prefetch("closures"))
    doings = sorted({d for role in MAY.values() for d in role})
    return AircraftShown(
        slug=a.slug,
        name=a.name,
        summary=a.summary,
        datum=a.datum,
        outline=a.outline,
        bays=[_bay(b, by_bay.get(b.pk, [])) for b in bays],
        members=[
            MemberShown(
                person=m.person.slug,
                name=m.person.name,
                role=m.role,
                second_inspector=m.second_inspector,
            )
            for m in a.members.select_related("person").order_by("id")
        ],
        role=who.role,
        may=[d for d in doings if may(who, d)],
    )


def _bay(bay: Bay, verdicts: list[Verdict]) -> BayShown:
    return BayShown(
        slug=bay.slug,
        name=bay.name,
        part=bay.part,
        start_m=bay.start_m,
        end_m=bay.end_m,
        closures=[
            ClosureShown(name=c.name, permanent=c.permanent, above=c.above, closed=c.closed)
            for c in bay.closures.all()
        ],
        verdict=worst(verdicts).value,
        judged=len(verdicts),
    )
