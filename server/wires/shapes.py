"""The harness as the API answers it."""

from __future__ import annotations

from typing import Any, TypedDict

from core.basis.verdicts import Verdict, worst
from core.wiring.finishing import STEPS
from core.wiring.first_power import first_power
from core.wiring.harness import (
    BUNDLE,
    BUS,
    CIRCUIT,
    CONNECTOR,
    ROWS,
    STEP_WORDS,
    WIRE,
    Harness,
    Row,
)
from core.wiring.harness_checks import what_is_out
from core.wiring.section import section
from core.wiring.words import CAUTION, FIRST_POWER
from server.aircraft.models import Aircraft
from server.config.words import Word
from server.kit.models import Check
from server.kit.placing import boxes_of
from server.kit.records import held
from server.kit.showing import CheckShown, row_shown
from server.kit.standing import of_subjects
from server.wires.models import HarnessRow
from server.wires.reading import events_of, harness_from, rows_of
from server.wires.steps import step_said
from server.wires.trade import TRADE, bays_of
from server.worksheets.shapes import KindShown, kind_shown


class StepShown(TypedDict):
    """Something done to a row, with who and when."""

    id: int
    doing: str
    said: str
    by: str
    at: str
    note: str


class ProgressShown(TypedDict):
    """How much of some wires is done; percent: 100 only where nothing is open."""

    percent: int
    open: int
    wires: int


class PinShown(TypedDict):
    """A pin: the wire that ends there and how far that end is done; "" where none does."""

    pin: str
    wire: str
    state: str


class BlockerShown(TypedDict):
    """What stands in the way of the first power: of which row, in words."""

    row: str
    said: str


class PowerStepShown(TypedDict):
    """A breaker in its order, A: what it should draw more, what it drew; None: it is not in."""

    breaker: str
    circuits: list[str]
    low: float
    high: float
    total: float
    read: float | None
    rise: float | None
    u: float | None
    verdict: Word


class PowerShown(TypedDict):
    """The first power of a bus. next: the breaker that comes now, "" while something stands in
    the way or once all are in."""

    blockers: list[BlockerShown]
    steps: list[PowerStepShown]
    stay_out: list[str]
    next: str
    done: bool
    caution: str


class RowShown(TypedDict):
    """A row of the harness: what was typed, how it stands, what follows from the others."""

    slug: str
    kind: str
    name: str
    version: int
    typed: dict[str, Any]
    source: int | None
    page: str
    verdict: Word | None
    checks: list[CheckShown]
    bays: list[str]
    done: list[str]
    missing: list[str]
    length_m: float | None
    events: list[StepShown]
    progress: ProgressShown | None
    wires: list[str]
    pins: list[PinShown]
    power: PowerShown | None


class StepKind(TypedDict):
    """A step of a wire in words."""

    value: str
    word: str


class HarnessPage(TypedDict):
    """The harness of an aircraft, and the kinds of rows there are."""

    count: int
    results: list[RowShown]
    kinds: list[KindShown]
    steps: list[StepKind]
    progress: ProgressShown | None
    caution: str


class CutWire(TypedDict):
    """A wire in a bundle that is cut; od_mm: null where nobody said it."""

    slug: str
    name: str
    od_mm: float | None


class CutShown(TypedDict):
    """Something cut through at a station: butt line, water line and half its thickness, mm."""

    kind: str
    name: str
    row: str
    link: str
    y_mm: float
    z_mm: float
    radius_mm: float | None
    wires: list[CutWire]


class SectionShown(TypedDict):
    """A section through the aircraft at a station, mm."""

    station_mm: float
    cuts: list[CutShown]


def section_shown(h: Harness, station_m: float) -> SectionShown:
    """Of the harness and what passes beside it."""
    return SectionShown(
        station_mm=station_m * 1e3,
        cuts=[
            CutShown(
                kind=c.kind,
                name=c.name,
                row=c.row,
                link=c.link,
                y_mm=c.y_m * 1e3,
                z_mm=c.z_m * 1e3,
                radius_mm=None if c.radius_m is None else c.radius_m * 1e3,
                wires=[CutWire(slug=w.slug, name=w.name, od_mm=_mm(w)) for w in c.wires],
            )
            for c in section(h, station_m)
        ],
    )


def _mm(w: Row) -> float | None:
    return w.values["od_m"] * 1e3 if "od_m" in w.values else None


def progress_shown(h: Harness, wires: list[Row]) -> ProgressShown | None:
    """As the screen takes it."""
    found = h.progress(wires)
    if found is None:
        return None
    return ProgressShown(percent=found["shown"], open=len(found["open"]), wires=len(wires))


def page(aircraft: Aircraft) -> HarnessPage:
    """All rows, each as it stands."""
    rows, events = rows_of(aircraft.pk), events_of(aircraft.pk)
    h = harness_from(aircraft, rows, events)
    wrong = what_is_out(h) if h.of(BUS) else {}
    kept = of_subjects(aircraft.pk, TRADE, [r.slug for r in rows])
    by, boxes = {x.slug: x for x in h.rows}, boxes_of(aircraft.pk)
    found = [
        _row(h, r, by[r.slug], _checks(h, by[r.slug], kept), events.get(r.pk, []), boxes, wrong)
        for r in rows
    ]
    return HarnessPage(
        count=len(found),
        results=found,
        kinds=[kind_shown(k) for k in ROWS.values()],
        steps=[StepKind(value=s, word=STEP_WORDS[s]) for s in STEPS],
        progress=progress_shown(h, h.of(WIRE)),
        caution=CAUTION,
    )


def _checks(h: Harness, row: Row, kept: dict[str, list[Check]]) -> list[Check]:
    """Its own; a wire's are among its circuit's."""
    if row.kind != WIRE:
        return kept.get(row.slug, [])
    circuit = h.named(CIRCUIT, row.values["circuit"])
    mine = kept.get(circuit.slug, []) if circuit else []
    return [c for c in mine if c.key.partition(" ")[2] == row.slug]


def _row(
    h: Harness, r: HarnessRow, row: Row, checks: list[Check], events: Any, boxes: Any,
    wrong: dict[str, str],
) -> RowShown:  # fmt: skip
    wires: list[Row] = []
    if row.kind == CIRCUIT:
        wires = h.wires_of(row)
    elif row.kind == BUNDLE:
        wires = h.wires_in(row)
    elif row.kind == CONNECTOR:
        wires = list({w.slug: w for w, _, _ in h.wires_at(row)}.values())
    return RowShown(
        slug=r.slug,
        kind=r.kind,
        name=r.name,
        version=r.version,
        typed=dict(r.typed),
        source=r.source_id,
        page=r.page,
        verdict=worst(Verdict(c.verdict) for c in checks).value if checks else None,
        checks=[row_shown(c) for c in checks],
        bays=list(bays_of(h, row, boxes)),
        done=list(h.done(row)),
        missing=list(h.missing(row)) if row.kind == WIRE else [],
        length_m=h.length_m(row) if row.kind == WIRE else None,
        events=[_event(e) for e in reversed(held(events))],
        progress=progress_shown(h, wires),
        wires=[w.slug for w in wires],
        pins=_pins(h, row) if row.kind == CONNECTOR else [],
        power=power_shown(h, row, wrong) if row.kind == BUS else None,
    )


def _event(e: Any) -> StepShown:
    return StepShown(
        id=e.pk, doing=e.doing, said=step_said(e), by=e.by.name, at=e.at.isoformat(), note=e.note
    )


def power_shown(h: Harness, bus: Row, wrong: dict[str, str]) -> PowerShown:
    """How far the first power is."""
    found = first_power(h, bus, wrong)
    return PowerShown(
        blockers=[BlockerShown(row=b.row, said=b.said) for b in found.blockers],
        steps=[
            PowerStepShown(
                breaker=s.breaker,
                circuits=list(s.circuits),
                low=s.low_A,
                high=s.high_A,
                total=s.total_A,
                read=s.read_A,
                rise=s.rise_A,
                u=s.rise_U_A,
                verdict=s.verdict.value,
            )
            for s in found.steps
        ],
        stay_out=list(found.stay_out),
        next=found.now.breaker if found.now else "",
        done=found.done,
        caution=FIRST_POWER.strip(),
    )


def _pins(h: Harness, connector: Row) -> list[PinShown]:
    return [PinShown(pin=p, wire=w, state=x) for p, w, x in h.pin_states(connector)]


def shown(aircraft: Aircraft, slug: str) -> RowShown:
    """One row as it stands."""
    return next(r for r in page(aircraft)["results"] if r["slug"] == slug)
