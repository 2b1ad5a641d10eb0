"""Closures as trades: their own checks, what an arm reaches, bays that nobody described."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from django.db.models import Count, Max, Q

from core.basis.checks import Check
from core.basis.verdicts import Verdict
from core.signoff.closing import not_described
from core.signoff.own import (
    NO_ARM,
    Counted,
    count_state,
    inspection_state,
    inspection_verdict,
    photo_state,
    reach_verdict,
    taken_away,
)
from server.aircraft.models import Aircraft, Bay, Closure, NoneHere, Opening
from server.closing.models import ClosureEvent, ToolCount
from server.closing.reaching import airframe, item
from server.hardware.models import Joint
from server.journal.models import Change
from server.journal.writing import last_work
from server.kit.trade import Judged, Subjects, Trade, declare, trades, whole
from server.record.models import Photo
from server.signoff.models import LedgerEntry, ScopeState
from server.signoff.standing import standing

BAY = "bay:"


# Count, photo, inspection


def _own(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    closures = (
        Closure.objects.filter(aircraft=aircraft)
        .prefetch_related("bays")
        .annotate(turn=Count("events", filter=Q(events__doing="opened")))
    )
    if subjects is not None:
        closures = closures.filter(slug__in=subjects)
    behind = _Behind(aircraft)
    for c in closures:
        yield Judged(c.slug, tuple(behind.of(c)), c.pk)


class _Behind:
    """What the closures' own checks need, read once."""

    def __init__(self, aircraft: int) -> None:
        self.aircraft = aircraft
        self.tools: dict[tuple[int, int], list[Counted]] = defaultdict(list)
        for t in ToolCount.objects.filter(closure__aircraft=aircraft):
            self.tools[t.closure_id, t.turn].append(Counted(t.name, t.went_in, t.came_out))
        photos = Photo.objects.filter(
            aircraft=aircraft, shows="before closing", target__in=("bay", "closure")
        )
        self.photos: dict[tuple[str, str], datetime] = {
            (target, key): last
            for target, key, last in photos.order_by()
            .values_list("target", "target_id")
            .annotate(last=Max("taken_at"))
        }
        self.worked = last_work(aircraft)
        self.signed = standing([aircraft])
        flight = Joint.objects.filter(aircraft=aircraft, bay__isnull=False).exclude(control="")
        self.dual = set(flight.values_list("bay__slug", flat=True))

    def of(self, c: Any) -> Iterable[Check]:
        """A closure's own checks."""
        bays = tuple(b.slug for b in c.bays.all())
        yield self._count(c, bays)
        if c.photo_needed:
            yield from (self._photo(c, bay) for bay in bays)
        if c.inspection_needed:
            yield from (self._inspection(c, bay) for bay in bays)

    def _count(self, c: Any, bays: tuple[str, ...]) -> Check:
        state = count_state(self.tools.get((c.pk, c.turn), []))
        return Check(
            key="count",
            what="Tools and loose objects, item by item",
            said=state,
            verdict=Verdict.IN if state == "in" else Verdict.NOT_MEASURED,
            step="count",
            state=state,
            bays=bays,
            concern=f"count {c.slug}",
            link=f"closures/{c.slug}",
            closure=c.slug,
        )

    def _photo(self, c: Any, bay: str) -> Check:
        taken = (self.photos.get(("bay", bay)), self.photos.get(("closure", c.slug)))
        state = photo_state([t for t in taken if t], self.worked.get(bay))
        return Check(
            key=f"photo {bay}",
            what="Photo before closing",
            said=state,
            verdict=Verdict.IN if state == "present" else Verdict.NOT_MEASURED,
            step="photo",
            state=state,
            bays=(bay,),
            concern=f"photo {c.slug} {bay}",
            link=f"bays/{bay}",
            closure=c.slug,
        )

    def _inspection(self, c: Any, bay: str) -> Check:
        """Two signatures where a flight control's joints lie behind it, else an inspector's."""
        two = bay in self.dual
        state = inspection_state(self.signed.get((self.aircraft, f"{BAY}{bay}"), ""), two)
        what = "Inspection of the bay before closing" + (", two persons" if two else "")
        return Check(
            key=f"inspection {bay}",
            what=what,
            said=state,
            verdict=inspection_verdict(state),
            step="signature",
            state=state,
            bays=(bay,),
            concern=f"signature bay:{bay}",
            link=f"bays/{bay}",
            closure=c.slug,
        )


def _of_scope(row: LedgerEntry | ScopeState) -> Iterable[tuple[int, str]]:
    if row.scope.startswith(BAY):
        yield row.aircraft_id, ""


def _of_flight_joint(j: Joint) -> Iterable[tuple[int, str]]:
    if j.control:
        yield j.aircraft_id, ""


def _of_work(c: Change) -> Iterable[tuple[int, str]]:
    if c.work and c.bays:
        yield c.aircraft_id, ""


def _of_photo(p: Photo) -> Iterable[tuple[int, str]]:
    if p.target in ("bay", "closure"):
        yield p.aircraft_id, ""


CLOSING = declare(
    Trade(
        "closing",
        80,
        _own,
        {
            Closure: lambda x: [(x.aircraft_id, x.slug)],
            Closure.bays.through: lambda x: [(x.aircraft_id, x.slug)],
            ToolCount: lambda x: [(x.closure.aircraft_id, x.closure.slug)],
            ClosureEvent: lambda x: [(x.closure.aircraft_id, x.closure.slug)],
            Photo: _of_photo,
            Change: _of_work,
            LedgerEntry: _of_scope,
            ScopeState: _of_scope,
            Joint: _of_flight_joint,
            Bay: whole,
        },
    )
)


# Reach


def _reaches(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    """Items that need access later: those behind, and those that a closing takes away."""
    joints = Joint.objects.filter(aircraft=aircraft, needs_access=True, point_m__isnull=False)
    access = list(joints.select_related("bay"))
    if not access:
        return
    frame = airframe(Aircraft.objects.get(pk=aircraft))
    items = [item(j.slug, j.point_m or [], j.two_hands) for j in access]
    before = frame.reach(items) if frame.has_arm else {}
    for c in Closure.objects.filter(aircraft=aircraft).prefetch_related("bays"):
        inside = {b.slug for b in c.bays.all()}
        behind = [j for j in access if j.bay and j.bay.slug in inside]
        if not frame.has_arm:
            checks = [_reach(c, j, NO_ARM) for j in behind]
        elif c.slug in frame.of_closure:
            after = frame.reach(items, [c.slug])
            checks = [
                _reach(c, j, after[j.slug].status)
                for j in access
                if j in behind or taken_away(before[j.slug].status, after[j.slug].status)
            ]
        else:
            checks = []
        yield Judged(c.slug, tuple(checks), c.pk)


def _reach(c: Closure, j: Joint, state: str) -> Check:
    return Check(
        key=f"reach {j.slug}",
        what=f"{j.name}: must be reached later",
        said=state,
        verdict=reach_verdict(state),
        step="reach",
        state=state,
        bays=(j.bay.slug,) if j.bay else (),
        concern=f"reach {j.slug}",
        link=f"joints?joint={j.slug}",
        closure=c.slug,
    )


def _of_reached(j: Joint) -> Iterable[tuple[int, str]]:
    if j.needs_access or j.history.filter(needs_access=True).exists():
        yield j.aircraft_id, ""


REACH = declare(
    Trade(
        "reach",
        85,
        _reaches,
        {
            Closure: whole,
            Closure.bays.through: whole,
            Opening: whole,
            Bay: whole,
            Aircraft: lambda x: [(x.pk, "")],
            Joint: _of_reached,
        },
    )
)


# Bays that nobody described


def must_describe() -> list[str]:
    """The trades that must know every bay."""
    return [t.name for t in trades().values() if t.knows]


def known(aircraft: int) -> dict[str, set[str]]:
    """The bays that each trade knows something of, or that a person said hold none."""
    found = {t.name: set(t.knows(aircraft)) for t in trades().values() if t.knows}
    said = NoneHere.objects.filter(bay__aircraft=aircraft)
    for bay, name in said.values_list("bay__slug", "capability"):
        found.get(name, set()).add(bay)
    return found


def unknown_to(aircraft: int, bay: str) -> list[str]:
    """The trades that know nothing of this bay."""
    return [name for name, bays in known(aircraft).items() if bay not in bays]


def _undescribed(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    bays = list(Bay.objects.filter(aircraft=aircraft).values_list("slug", flat=True))
    by_bay: dict[str, list[Check]] = {b: [] for b in bays}
    for c in not_described(bays, known(aircraft)):
        by_bay[c.bays[0]].append(c)
    for order, (bay, checks) in enumerate(by_bay.items()):
        yield Judged(bay, tuple(checks), order)


def _of_none(n: NoneHere) -> Iterable[tuple[int, str]]:
    yield n.bay.aircraft_id, ""


BAYS = declare(Trade("bays", 90, _undescribed, {Bay: whole, NoneHere: _of_none}))
