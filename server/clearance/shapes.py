"""Clearances as the API answers them. Places in mm."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from itertools import combinations
from typing import Any, TypedDict

from core.basis.refused import Refused
from core.basis.verdicts import Verdict, worst
from core.clearance import figures
from core.clearance.apart import CONFIRM
from core.clearance.checks import layers_told
from core.clearance.pairs import Met, looked, meet, named, pair_key
from core.clearance.rows import ONCE, ROWS, SHAPE, ZONE
from core.clearance.scene import Scene
from core.clearance.standing import pair_check, stands, where
from core.clearance.table import Thing
from core.clearance.words import CAUTION, FITTINGS, SLEEVES, ZONES
from server.aircraft.models import Aircraft
from server.clearance.models import ClearanceRow, PairEvent
from server.clearance.reading import events_of, log_of, moved_to, rows_of, scene_from, scene_of
from server.clearance.steps import said_of
from server.clearance.trade import SUBJECT, TRADE
from server.config.words import Word
from server.kit.showing import CheckShown, check_shown, row_shown
from server.kit.standing import of_subjects
from server.worksheets.shapes import KindShown, kind_shown


class ClearanceRowShown(TypedDict):
    """A row: what was typed."""

    slug: str
    kind: str
    name: str
    version: int
    typed: dict[str, Any]
    source: int | None
    page: str
    said: str


class ThingShown(TypedDict):
    """Something that takes room. lines: at neutral; ends: with each control at either end, mm.
    keep: where a line that is dragged is kept (harness or clearance, its row); empty: not here."""

    key: str
    name: str
    kind: str
    od: float
    lines: list[list[list[float]]]
    ends: list[list[list[float]]]
    moves: bool
    box: bool
    link: str
    keep: str
    row: str


class PairDone(TypedDict):
    """Something done to a pair."""

    id: int
    doing: str
    said: str
    by: str
    at: str
    note: str


class PairShown(TypedDict):
    """Two things that come near. gap, low, rule: mm; null where there is none. at: the position of
    each control there, in words; place: the middle between the nearest points, mm."""

    key: str
    a: str
    b: str
    name: str
    verdict: Word
    state: str
    gap: float | None
    bare: float | None
    low: float | None
    rule: float | None
    rule_said: str
    at: str
    place: list[float]
    moves: bool
    acceptable: bool
    check: CheckShown | None
    events: list[PairDone]
    why: str


class AxisShown(TypedDict):
    """What moves: from and to in words, and by what."""

    name: str
    said: str
    low: str
    high: str
    unsure: list[str]


class LeftShown(TypedDict):
    """Pairs that were not looked at, and why."""

    why: str
    pairs: list[str]


class ZoneShown(TypedDict):
    """A zone as its drawing needs it, mm."""

    slug: str
    name: str
    form: str
    points: list[list[float]]
    radii: list[float]


class ApartShown(TypedDict):
    """A distance in force. row: of the house's own."""

    a: str
    b: str
    mm: float
    condition: str
    source: str
    row: str


class ClearancePage(TypedDict):
    """Clearances of an aircraft: rows, what takes room, near pairs by their margin, the rest."""

    count: int
    results: list[ClearanceRowShown]
    kinds: list[KindShown]
    once: list[str]
    verdict: Word | None
    checks: list[CheckShown]
    things: list[ThingShown]
    pairs: list[PairShown]
    axes: list[AxisShown]
    zones: list[ZoneShown]
    apart: list[ApartShown]
    bodies: list[str]
    left: list[LeftShown]
    far: float
    layers: list[str]
    unsaid: list[str]
    caution: str
    cautions: list[str]


class FrameShown(TypedDict):
    """A pair at one position."""

    said: str
    gap: float
    a: list[list[list[float]]]
    b: list[list[list[float]]]


class ReelShown(TypedDict):
    """A pair through one of what moves it, the others where it is nearest."""

    axis: str
    name: str
    positive: str
    said: str
    frames: list[FrameShown]


class FilmShown(TypedDict):
    """A pair drawn large."""

    pair: PairShown
    worst: FrameShown
    reels: list[ReelShown]
    on_a: list[float]
    on_b: list[float]
    od_a: float
    od_b: float


class MovedPair(TypedDict):
    """A pair of a line that was moved and not kept: before and after."""

    key: str
    name: str
    gap: float | None
    rule: float | None
    verdict: Word
    said: str
    was: float | None
    was_verdict: Word | None


class MovedShown(TypedDict):
    """What moving a line would change."""

    lines: list[list[list[float]]]
    pairs: list[MovedPair]


def _mm(metres: float | None) -> float | None:
    return None if metres is None else round(metres * 1e3, 2)


def page(aircraft: Aircraft) -> ClearancePage:
    """All of it."""
    kept = rows_of(aircraft.pk)
    scene = scene_from(aircraft, kept)
    events = events_of(aircraft.pk)
    found = looked(scene)
    checks = [row_shown(c) for c in of_subjects(aircraft.pk, TRADE, [SUBJECT]).get(SUBJECT, [])]
    log = log_of(events)
    pairs = [pair_shown(scene, m, events.get(m.key, ()), log.get(m.key, ())) for m in found.met]
    return ClearancePage(
        count=len(kept),
        results=[_row(r) for r in kept],
        kinds=[kind_shown(k) for k in ROWS.values()],
        once=list(ONCE),
        verdict=worst(Verdict(c["verdict"]) for c in checks).value if checks else None,
        checks=checks,
        things=[thing_shown(scene, t) for t in scene.things],
        pairs=pairs,
        axes=[
            AxisShown(
                name=a.name, said=a.said, unsure=list(a.unsure),
                low=a.words(a.nodes[0]).removeprefix(a.name).strip(),
                high=a.words(a.nodes[-1]).removeprefix(a.name).strip(),
            )
            for a in scene.axes.values()
        ],
        zones=[z for z in (_zone(r) for r in scene.of(ZONE)) if z is not None],
        apart=[
            ApartShown(
                a=r.a, b=r.b, mm=r.least_m * 1e3, condition=r.condition,
                source=r.source if r.row else f"{r.source}; {CONFIRM}", row=r.row,
            )
            for r in scene.rules
        ],
        bodies=scene.bodies,
        left=[LeftShown(why=x.why, pairs=list(x.pairs)) for x in found.left],
        far=found.far_m * 1e3,
        layers=layers_told(found),
        unsaid=list(scene.movement.unsaid),
        caution=CAUTION,
        cautions=[ZONES, FITTINGS, SLEEVES],
    )  # fmt: skip


def _row(r: ClearanceRow) -> ClearanceRowShown:
    return ClearanceRowShown(
        slug=r.slug, kind=r.kind, name=r.name, version=r.version, typed=dict(r.typed),
        source=r.source_id, page=r.page, said=r.cited,
    )  # fmt: skip


def _zone(r: Any) -> ZoneShown | None:
    v = r.values
    names = ("centre_m", "half_m") if v["form"] == "box" else ("from_m", "to_m")
    if not all(n in v for n in names):
        return None
    radii = [v.get("radius_m", 0.0), v.get("radius_to_m", v.get("radius_m", 0.0))]
    return ZoneShown(
        slug=r.slug, name=r.name, form=v["form"],
        points=[[x * 1e3 for x in v[n]] for n in names], radii=[x * 1e3 for x in radii],
    )  # fmt: skip


def thing_shown(scene: Scene, t: Thing) -> ThingShown:
    """As its drawing needs it."""
    what, _, slug = t.key.partition(" ")
    keep = {"bundle": "harness", SHAPE: "clearance"}.get(what, "")
    return ThingShown(
        key=t.key,
        name=t.name,
        kind=t.kind,
        od=round(2e3 * t.radius_m, 2),
        lines=figures.at_rest(scene, t),
        ends=figures.ends_of(scene, t) if t.axes else [],
        moves=bool(t.axes),
        box=t.half is not None,
        link=t.link,
        keep="" if t.half is not None or t.axes else keep,
        row=t.row or slug,
    )


def pair_shown(
    scene: Scene, m: Met, events: Iterable[PairEvent] = (), log: Sequence[Any] = ()
) -> PairShown:
    """A pair as it stands."""
    near = m.near
    one = pair_check(scene, m, log) if near else None
    # In force: as drawn, or as measured where that is surer.
    now = stands(scene, m, log) if near else None
    gap, low = (now.inputs[n] - m.motion_m if now else None for n in ("gap_best", "gap_low"))
    return PairShown(
        key=m.key, a=m.a.name, b=m.b.name, name=m.name,
        verdict=one.verdict.value if one else "not measured", state=one.word if one else "",
        gap=_mm(gap), bare=_mm(near.bare_m) if near else None, low=_mm(low),
        rule=_mm(m.rule.least_m) if m.rule else None,
        rule_said=m.rule.words if m.rule else "",
        at=where(scene, m) if near else "",
        place=[round(x * 1e3, 1) for x in m.place] if near else [],
        moves=bool(m.a.axes or m.b.axes), acceptable=bool(now and now.may_be_accepted),
        check=check_shown(one) if one else None,
        events=[_done(e) for e in reversed(list(events))], why=m.why,
    )  # fmt: skip


def _done(e: PairEvent) -> PairDone:
    return PairDone(
        id=e.pk, doing=e.doing, said=said_of(e), by=e.by.name, at=e.at.isoformat(), note=e.note
    )


def shown(aircraft: Aircraft, slug: str) -> ClearanceRowShown:
    """One row as it stands."""
    return _row(next(r for r in rows_of(aircraft.pk) if r.slug == slug))


def _by_key(scene: Scene, key: str) -> Met:
    """A pair by its key, near or not. Refuses what is none."""
    both = next((p for p in combinations(scene.things, 2) if pair_key(*p) == key), None)
    if both is None:
        raise Refused("pair", "is no pair of what takes room here")
    return meet(scene, *both)


def pair_now(aircraft: Aircraft, key: str) -> PairShown:
    """A pair as it stands, near or not."""
    scene = scene_of(aircraft)
    m = _by_key(scene, key)
    events = events_of(aircraft.pk)
    return pair_shown(scene, m, events.get(m.key, ()), log_of(events).get(m.key, ()))


def film_shown(aircraft: Aircraft, key: str) -> FilmShown:
    """A pair through its positions."""
    scene = scene_of(aircraft)
    m = _by_key(scene, key)
    if m.near is None:
        raise Refused("pair", f"is not worked out: {m.why}")
    events = events_of(aircraft.pk)
    log = log_of(events).get(m.key, ())
    found = figures.film(scene, m)
    return FilmShown(
        pair=pair_shown(scene, m, events.get(m.key, ()), log),
        worst=found["worst"], reels=found["reels"], on_a=found["on_a"], on_b=found["on_b"],
        od_a=found["od_a"], od_b=found["od_b"],
    )  # fmt: skip


def moved_shown(aircraft: Aircraft, name: str, points: Sequence[Sequence[float]]) -> MovedShown:
    """What it would change if a line lay there. Refuses what is no line that stands still."""
    before = scene_of(aircraft)
    line = before.thing(name)
    if line is None or line.half is not None or line.axes:
        raise Refused("thing", "is no line that stands still here")
    after = moved_to(before, line.name, points)
    t = named(after, line.name, "thing")
    log = log_of(events_of(aircraft.pk))
    was = {m.key: m for m in looked(before, [t.key]).met}
    now = {m.key: m for m in looked(after, [t.key]).met}
    keys = list(dict.fromkeys((*now, *was)))
    return MovedShown(
        lines=figures.at_rest(after, t),
        pairs=[_moved_pair(before, after, was.get(k), now.get(k), log) for k in keys],
    )


def _moved_pair(
    before: Scene, after: Scene, was: Met | None, now: Met | None, log: Mapping[str, Any]
) -> MovedPair:
    m = now or was
    assert m is not None
    one = pair_check(after, now, log.get(m.key, ())) if now and now.near else None
    old = pair_check(before, was, log.get(m.key, ())) if was and was.near else None
    return MovedPair(
        key=m.key, name=m.name,
        gap=_mm(now.near.gap_m) if now and now.near else None,
        rule=_mm(m.rule.least_m) if m.rule else None,
        verdict=one.verdict.value if one else Verdict.IN.value if now is None else "not measured",
        said=one.said if one else "Far away now.",
        was=_mm(was.near.gap_m) if was and was.near else None,
        was_verdict=old.verdict.value if old else None,
    )  # fmt: skip
