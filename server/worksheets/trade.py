"""Worksheets as a trade: the checks of each sheet, in the bays that it stands in."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from server.aircraft.models import Bay
from server.kit.placing import boxes_of, with_editions
from server.kit.removing import also_stands, counted
from server.kit.signed import Signed, can_be_signed
from server.kit.trade import Judged, Subjects, Trade, declare, whole
from server.worksheets.models import Worksheet
from server.worksheets.working import bays_of, cites, kept, limits_told, told


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    rows = Worksheet.objects.filter(aircraft=aircraft).select_related("aircraft", "source")
    if subjects is not None:
        rows = rows.filter(slug__in=subjects)
    every = tuple(b.id for b in boxes_of(aircraft)) if rows else ()
    for w in rows:
        bays = bays_of(w, every)
        yield Judged(w.slug, tuple(_placed(w, c, bays) for c in with_editions(_checks(w))), w.pk)


def _checks(w: Worksheet) -> Iterable[Check]:
    try:
        return kept(w).checks
    except Refused as refusal:
        # What it was worked from is otherwise now, or is gone.
        said = f"Cannot be worked out any more: {refusal.field} {refusal.reason}."
        return [Check("sheet", w.of.title, said, Verdict.NOT_MEASURED, part=w.kind)]


def _placed(w: Worksheet, c: Check, bays: tuple[str, ...]) -> Check:
    concern = f"worksheet {w.slug} {c.key}"
    return replace(c, bays=bays, concern=concern, link=w.link, about=w.name)


WORKSHEETS = declare(
    Trade(
        "worksheets",
        36,
        _judge,
        {Worksheet: lambda x: [(x.aircraft_id, x.slug)], Bay: whole},
    )
)


def about(aircraft: int, kind: str, address: str) -> Iterable[tuple[int, str]]:
    """The sheets that are about something, or a part of it (`rudder/pedal`): to be judged anew
    when it changes."""
    for w in Worksheet.objects.filter(aircraft=aircraft):
        if _names(w, kind, address):
            yield aircraft, w.slug


def _names(w: Worksheet, kind: str, address: str) -> bool:
    return any(a.partition("/")[0] == address for a in cites(w, kind))


@also_stands
def _stands(kind: str, row: Any) -> Iterable[str]:
    """Sheets that name a bay, or are about something that goes."""
    slug = getattr(row, "slug", None)
    if slug is None:
        return
    sheets = Worksheet.objects.filter(aircraft=row.aircraft_id)
    if isinstance(row, Bay):
        found = sheets.filter(bays__contains=[slug]).count()
    else:
        found = sum(1 for w in sheets if _names(w, kind, slug))
    yield from counted(found, "worksheet")


can_be_signed(Signed("worksheet", Worksheet, "worksheets", lambda w: told(w) | limits_told(w)))
