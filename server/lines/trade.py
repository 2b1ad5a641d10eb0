"""Lines as a trade: each tube's bends and supports, in the bays that it passes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import replace
from datetime import datetime

import core.lines.sheets  # noqa: F401  (its kinds are declared)
from core.basis.checks import Check
from core.lines.judging import judge
from core.lines.line import Line
from core.lines.tested import leak_check
from server.aircraft.models import Bay
from server.kit.placing import boxes_of, with_editions
from server.kit.signed import Signed, can_be_signed
from server.kit.trade import Judged, Subjects, Trade, declare, watch, whole
from server.lines.entering import figures_told, line_of, told
from server.lines.models import LineEvent
from server.lines.testing import done_of
from server.runs.models import Run
from server.runs.places import bays_of_run
from server.worksheets.trade import about
from server.worksheets.working import Offer, offer


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    rows = Run.objects.filter(aircraft=aircraft).select_related("source")
    done: dict[int, list[LineEvent]] = defaultdict(list)
    for e in LineEvent.objects.filter(run__in=rows).select_related("by").order_by("id"):
        done[e.run_id].append(e)
    if subjects is not None:
        rows = rows.filter(slug__in=subjects)
    boxes = boxes_of(aircraft)
    for r in rows:
        bays = bays_of_run(r, boxes)
        checks = with_editions([*judge(line_of(r)), *_leaks(r, done[r.pk])])
        yield Judged(r.slug, tuple(_listed(r, c, bays) for c in checks), r.pk)


def _leaks(r: Run, events: list[LineEvent]) -> Iterable[Check]:
    found = leak_check(r.service, done_of(events))
    if found is not None:
        yield found


def _listed(r: Run, c: Check, bays: tuple[str, ...]) -> Check:
    link = f"lines?line={r.slug}"
    return replace(c, bays=bays, concern=f"line {r.slug} {c.key}", link=link, about=r.name)


LINES = declare(
    Trade(
        "lines",
        35,
        _judge,
        {
            Run: lambda x: [(x.aircraft_id, x.slug)],
            LineEvent: lambda x: [(x.aircraft_id, x.run.slug)],
            Bay: whole,
        },
    )
)


def _line(aircraft: int, slug: str) -> Line | None:
    found = Run.objects.select_related("source").filter(aircraft=aircraft, slug=slug).first()
    return None if found is None else line_of(found)


def _bays_of(aircraft: int, slug: str) -> tuple[str, ...]:
    found = Run.objects.filter(aircraft=aircraft, slug=slug).first()
    return () if found is None else bays_of_run(found, boxes_of(aircraft))


def _lines(aircraft: int) -> list[tuple[str, str]]:
    return list(Run.objects.filter(aircraft=aircraft).values_list("slug", "name"))


# Worksheets about a tube: found by its address, judged anew when it changes.
offer("lines", Offer("line", _line, _lines, _bays_of))
watch("worksheets", Run, lambda r: about(r.aircraft_id, "line", r.slug))


def _worked(r: Run) -> Iterable[tuple[str, datetime]]:
    yield from LineEvent.objects.filter(run=r).values_list("by__slug", "at")


can_be_signed(Signed("line", Run, "lines", lambda r: told(r) | figures_told(r), _worked))
