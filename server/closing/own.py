"""What belongs to a closure alone: its tool count, its photo, its inspection, its reach."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from django.db.models import Count, Max, Q

from core.basis.verdicts import Verdict
from core.clearance.reach import Reach
from core.signoff.closing import Concern
from server.aircraft.models import Aircraft, Closure
from server.closing.models import ToolCount
from server.closing.reaching import Airframe, airframe, item
from server.hardware.models import Joint
from server.journal.writing import last_work
from server.record.models import Photo
from server.signoff.standing import standing

WORST_FIRST = ("now", "by opening", "lost", "never")


@dataclass(frozen=True)
class Behind:
    """Everything needed for the closures' own concerns, read once for an aircraft."""

    frame: Airframe
    closures: list[Closure]
    bays: dict[str, list[str]]
    turns: dict[int, int]
    tools: dict[int, list[ToolCount]]
    photos: dict[tuple[str, str], datetime]
    worked: dict[str, datetime]
    signed: dict[tuple[int, str], str]
    access: list[Joint]
    dual: set[str]


def gather(aircraft: Aircraft) -> Behind:
    """In a bounded number of queries."""
    closures = list(
        Closure.objects.filter(aircraft=aircraft)
        .prefetch_related("bays")
        .annotate(turn=Count("events", filter=Q(events__doing="opened")))
    )
    tools: dict[int, list[ToolCount]] = defaultdict(list)
    for t in ToolCount.objects.filter(closure__aircraft=aircraft):
        tools[t.closure_id].append(t)
    photos = {
        (p["target"], p["target_id"]): p["last"]
        for p in Photo.objects.filter(
            aircraft=aircraft, shows="before closing", target__in=("bay", "closure")
        )
        .values("target", "target_id")
        .annotate(last=Max("taken_at"))
        .order_by()
    }
    flight = Joint.objects.filter(aircraft=aircraft, bay__isnull=False).exclude(control="")
    return Behind(
        frame=airframe(aircraft),
        closures=closures,
        bays={c.slug: [b.slug for b in c.bays.all()] for c in closures},
        turns={c.pk: c.turn for c in closures},  # type: ignore[attr-defined]
        tools=tools,
        photos=photos,
        worked=last_work(aircraft.pk),
        signed=standing([aircraft.pk]),
        access=list(
            Joint.objects.filter(
                aircraft=aircraft, needs_access=True, point_m__isnull=False
            ).select_related("bay")
        ),
        dual=set(flight.values_list("bay__slug", flat=True)),
    )


def own_concerns(b: Behind) -> list[Concern]:
    """All closures' own concerns."""
    before = _before(b)
    return [c for closure in b.closures for c in _of(b, closure, before)]


def _of(b: Behind, c: Closure, before: dict[str, Reach]) -> Iterable[Concern]:
    yield _count(b, c)
    if c.photo_needed:
        for bay in b.bays[c.slug]:
            yield _photo(b, c, bay)
    if c.inspection_needed:
        for bay in b.bays[c.slug]:
            yield _inspection(b, c, bay)
    yield from _reaches(b, c, before)


def count_state(rows: list[ToolCount]) -> str:
    """in, or what is still inside; not counted without a row."""
    if not rows:
        return "not counted"
    inside = [f"{t.name} ({t.went_in - t.came_out})" for t in rows if t.went_in != t.came_out]
    return f"inside: {', '.join(inside)}" if inside else "in"


def _count(b: Behind, c: Closure) -> Concern:
    rows = [t for t in b.tools.get(c.pk, []) if t.turn == b.turns[c.pk]]
    state = count_state(rows)
    return Concern(
        id=f"count {c.slug}",
        subject="Tools and loose objects, item by item",
        bays=tuple(b.bays[c.slug]),
        step="count",
        state=state,
        verdict=Verdict.IN if state == "in" else Verdict.NOT_MEASURED,
        link=f"closures/{c.slug}",
        closure=c.slug,
    )


def _photo(b: Behind, c: Closure, bay: str) -> Concern:
    taken = [t for t in (b.photos.get(("bay", bay)), b.photos.get(("closure", c.slug))) if t]
    state = "missing"
    if taken:
        worked = b.worked.get(bay)
        state = "present" if worked is None or max(taken) >= worked else "older than the last work"
    return Concern(
        id=f"photo {c.slug} {bay}",
        subject="Photo before closing",
        bays=(bay,),
        step="photo",
        state=state,
        verdict=Verdict.IN if state == "present" else Verdict.NOT_MEASURED,
        link=f"bays/{bay}",
        closure=c.slug,
    )


def _inspection(b: Behind, c: Closure, bay: str) -> Concern:
    """Two signatures where a flight control's joints lie behind it, else an inspector's."""
    state = b.signed.get((c.aircraft_id, f"bay:{bay}"), "not inspected")
    if state == "inspected" and bay not in b.dual:
        state = "fresh"
    verdict = {"fresh": Verdict.IN, "stale": Verdict.STALE}.get(state, Verdict.NOT_MEASURED)
    return Concern(
        id=f"signature bay:{bay}",
        subject="Inspection of the bay before closing" + (", two persons" if bay in b.dual else ""),
        bays=(bay,),
        step="signature",
        state=state,
        verdict=verdict,
        link=f"bays/{bay}",
        closure=c.slug,
    )


def _before(b: Behind) -> dict[str, Reach]:
    if not (b.access and b.frame.has_arm):
        return {}
    return b.frame.reach([item(j.slug, j.point_m or [], j.two_hands) for j in b.access])


def _reaches(b: Behind, c: Closure, before: dict[str, Reach]) -> Iterable[Concern]:
    """Items that need access later: those behind, and those that this closing takes away."""
    if not b.access:
        return
    inside = set(b.bays[c.slug])
    if not b.frame.has_arm:
        for j in b.access:
            if j.bay and j.bay.slug in inside:
                yield _reach(c, j, "not measured: enter your arm under Airframe")
        return
    if c.slug not in b.frame.of_closure:
        return
    after = b.frame.reach([item(j.slug, j.point_m or [], j.two_hands) for j in b.access], [c.slug])
    for j in b.access:
        was, now = before[j.slug].status, after[j.slug].status
        worse = WORST_FIRST.index(now) > WORST_FIRST.index(was)
        if worse or (j.bay and j.bay.slug in inside):
            yield _reach(c, j, now)


def _reach(c: Closure, j: Joint, state: str) -> Concern:
    fine = state in ("now", "by opening")
    return Concern(
        id=f"reach {j.slug}",
        subject=f"{j.name}: must be reached later",
        bays=(j.bay.slug,) if j.bay else (),
        step="reach",
        state=state,
        verdict=Verdict.IN if fine else Verdict.OUT,
        link=f"joints?joint={j.slug}",
        closure=c.slug,
    )
