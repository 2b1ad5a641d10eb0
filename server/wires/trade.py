"""The harness as a trade: circuits, connectors, bundles, buses, each in the bays it passes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.runs.bays import Box
from core.wiring.harness import BUNDLE, BUS, CIRCUIT, CONNECTOR, WIRE, Harness, Row
from core.wiring.harness_checks import judged
from server.aircraft.models import Aircraft, Bay
from server.kit.placing import bay_at, boxes_of, passed, with_editions
from server.kit.removing import also_stands, counted
from server.kit.routed import reads_routes
from server.kit.signed import Signed, can_be_signed
from server.kit.trade import Judged, Subjects, Trade, declare, whole
from server.wires.models import HarnessRow, WireEvent
from server.wires.reading import harness_of

TRADE = "harness"
KINDS = (CIRCUIT, CONNECTOR, BUNDLE, BUS)


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    rows = HarnessRow.objects.filter(aircraft=aircraft, kind__in=KINDS)
    if subjects is not None:
        rows = rows.filter(slug__in=subjects)
    keys = dict(rows.values_list("slug", "pk"))
    if not keys:
        return
    h, boxes = harness_of(Aircraft.objects.get(pk=aircraft)), boxes_of(aircraft)
    for row in (r for r in h.rows if r.slug in keys):
        checks = with_editions(_checks(h, row))
        listed = tuple(_listed(h, row, c, boxes) for c in checks)
        yield Judged(row.slug, listed, keys[row.slug])


def _checks(h: Harness, row: Row) -> Iterable[Check]:
    try:
        return judged(h, row)
    except Refused as refusal:
        # Something that it stands on is otherwise now.
        said = f"Cannot be judged any more: {refusal.field} {refusal.reason}."
        return [Check(row.slug, row.name, said, Verdict.NOT_MEASURED)]


def _listed(h: Harness, row: Row, c: Check, boxes: Sequence[Box]) -> Check:
    bays = bays_of(h, row, boxes)
    what, _, slug = c.key.partition(" ")
    if what in ("wire", "test", "ends", "at", "made", "odd"):
        wire = next((w for w in h.of(WIRE) if w.slug == slug), None)
        bays = (bays_of(h, wire, boxes, bays) if wire else None) or bays
    link = f"wires?part=harness&row={row.slug}"
    about = "" if c.what.startswith(row.name) else row.name
    concern = f"harness {row.slug} {c.key}"
    return replace(c, bays=bays, concern=concern, link=link, about=about)


def bays_of(
    h: Harness, row: Row, boxes: Sequence[Box], otherwise: tuple[str, ...] = ()
) -> tuple[str, ...]:
    """Where a row lies: along its bundles, or at its place; where nobody said that, anywhere."""
    found: tuple[str, ...] = ()
    if row.kind == BUNDLE:
        found = passed([row.way_m] if row.way_m else [], boxes)
    elif row.kind == WIRE:
        found = passed([b.way_m for b in h.bundles_of(row) if b.way_m], boxes)
    elif row.kind == BUS:
        at = row.values.get("point_m")
        found = bay_at(at, boxes) if at else ()
    elif row.kind == CIRCUIT:
        found = _of_wires(h, h.wires_of(row), boxes)
    else:
        at = row.values.get("point_m")
        ends = [w for w, _, _ in h.wires_at(row)]
        found = bay_at(at, boxes) if at else _of_wires(h, ends, boxes)
    return found or otherwise or tuple(b.id for b in boxes)


def _of_wires(h: Harness, wires: Iterable[Row], boxes: Sequence[Box]) -> tuple[str, ...]:
    ways = [b.way_m for w in wires for b in h.bundles_of(w) if b.way_m]
    return passed(ways, boxes)


HARNESS = declare(
    Trade(TRADE, 37, _judge, {HarnessRow: whole, WireEvent: whole, Bay: whole}),
)


reads_routes(TRADE)


def names(r: HarnessRow) -> dict[str, list[str]]:
    """What a row names of others, by their kind, in small letters."""
    typed: Mapping[str, Any] = r.typed
    ends = [str(typed.get(k, "")).rpartition(".")[0] for k in ("from", "to")]
    found = {
        CIRCUIT: [str(typed.get("circuit", ""))],
        BUS: [str(typed.get("bus", ""))],
        BUNDLE: [b.strip() for b in str(typed.get("bundles", "")).split(";")],
        CONNECTOR: ends if r.kind == WIRE else [str(typed.get("mate", ""))],
    }
    return {k: [n.casefold() for n in rows if n] for k, rows in found.items()}


def naming(r: HarnessRow) -> list[HarnessRow]:
    """The rows that name this one."""
    others = HarnessRow.objects.filter(aircraft=r.aircraft_id).exclude(pk=r.pk)
    low = r.name.casefold()
    return [x for x in others if low in names(x).get(r.kind, ())]


@also_stands
def _named(kind: str, row: Any) -> Iterable[str]:
    """Wires and mates that name what goes."""
    if isinstance(row, HarnessRow):
        yield from counted(len(naming(row)), "row of the harness", "rows of the harness")


def _covered(r: HarnessRow) -> dict[str, str]:
    """A circuit with each of its wires and what was done to it."""
    h = harness_of(r.aircraft)
    row = next(x for x in h.rows if x.slug == r.slug)
    rows = {x.slug: x for x in HarnessRow.objects.filter(aircraft=r.aircraft_id, kind=WIRE)}
    wires = {
        w.name: "; ".join([*(f"{k}: {v}" for k, v in rows[w.slug].told().items() if v), *h.done(w)])
        for w in h.wires_of(row)
    }
    return r.told() | r.limits_told() | wires


def _worked(r: HarnessRow) -> Iterable[tuple[str, datetime]]:
    low = r.name.casefold()
    wires = [w for w in HarnessRow.objects.filter(aircraft=r.aircraft_id, kind=WIRE)
             if low in names(w)[CIRCUIT]]  # fmt: skip
    yield from WireEvent.objects.filter(row__in=wires).values_list("by__slug", "at")
    for w in wires:
        yield from w.history.values_list("changed_by__slug", "changed_at")


can_be_signed(
    Signed(
        "circuit", HarnessRow, TRADE, _covered, _worked, only={"kind": CIRCUIT}, told_as=("wire",)
    )
)
