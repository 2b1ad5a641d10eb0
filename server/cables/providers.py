"""What cables tell the lane, the linkage that goes through them, and the stand-ins' hand."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Iterable
from datetime import date
from functools import lru_cache
from typing import Any

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.cables.document import rigging_from
from core.cables.rigging import Rigged
from core.clearance.bays import bays_of
from core.signoff.closing import Concern
from server.aircraft.concerns import Told, register
from server.aircraft.models import Bay
from server.cables.keeping import file_of, rigging_of
from server.cables.models import Cable, CableEvent, Loop
from server.cables.standing import held
from server.controls.linkage.keeping import couples
from server.controls.models import Control
from server.instruments.reading import rigs


@register("cables")
def cable_concerns(aircraft: list[int]) -> Iterable[Told]:
    """Each check of a loop, in the bay where it is; those of the whole loop in all its bays."""
    loops = list(Loop.objects.filter(aircraft__in=aircraft).select_related("control"))
    if not loops:
        return
    boxes: dict[int, list[Any]] = defaultdict(list)
    for bay in Bay.objects.filter(aircraft__in=aircraft):
        boxes[bay.aircraft_id].append(bay.box)
    due = _overdue([x.pk for x in loops])
    for loop in loops:
        places = {c["key"]: _bays(c["at_m"], boxes[loop.aircraft_id]) for c in loop.judged}
        whole = tuple(dict.fromkeys(b for found in places.values() for b in found))
        for c in loop.judged:
            state, verdict = c["state"], Verdict(c["verdict"])
            if c["key"] in due.get(loop.pk, ()):
                state, verdict = "due", Verdict.TOO_CLOSE
            yield (
                loop.aircraft_id,
                Concern(
                    id=f"cable {loop.pk} {c['key']}",
                    subject=f"{loop.control.name}, {c['what']}",
                    bays=places[c["key"]] or whole,
                    step=c["step"],
                    state=state,
                    verdict=verdict,
                    link=f"cables/{loop.control.slug}?part={_part(c['part'])}",
                ),
            )


def _part(part: str) -> str:
    return part if part in ("route", "ends") else "tension"


def _bays(at: Any, boxes: list[Any]) -> tuple[str, ...]:
    return bays_of(at, boxes)[:1] if at else ()


def _overdue(loops: list[int]) -> dict[int, set[str]]:
    """Inspections past their date, by loop."""
    found: dict[int, set[str]] = defaultdict(set)
    last: dict[tuple[int, str], CableEvent] = {}
    rows = CableEvent.objects.filter(loop__in=loops, doing__in=("inspected", "undone"))
    for e in held(rows.order_by("at", "id")):
        last[e.loop_id, e.side] = e
    for (loop, side), e in last.items():
        if e.data.get("next_due") and e.data["next_due"] < date.today().isoformat():
            found[loop].add(f"inspection {side}")
    return found


@couples
def coupling(control: Control, driver: str, driven: str) -> list[list[float]] | None:
    """What a body drives through this control's cables: [its q, the driven q], from the loop."""
    loop = Loop.objects.filter(control=control).first()
    if loop is None:
        return None
    if (loop.driver.get("body"), loop.driven.get("body")) != (driver, driven):
        return None
    return _curve(json.dumps(file_of(loop), sort_keys=True))


@lru_cache(maxsize=64)
def _curve(file: str) -> list[list[float]] | None:
    """The coupling of a cables file: each is solved once."""
    try:
        return Rigged(rigging_from(json.loads(file))).curve()
    except Refused:
        return None


@rigs
def turned(aircraft: str, place: str) -> tuple[str, dict[str, Any]] | None:
    """How far each side was drawn in, m, for the control (or a surface) of that name."""
    rows = Loop.objects.filter(aircraft__slug=aircraft).select_related("control")
    loop = rows.filter(control__slug=place).first()
    loop = loop or rows.filter(control__surfaces__slug=place).first()
    if loop is None:
        return None
    rigging = rigging_of(loop)
    drawn = {}
    for cable in Cable.objects.filter(loop=loop):
        buckle = rigging.cables[cable.side].turnbuckle
        drawn[cable.side] = cable.turns * buckle.travel_per_turn_m if buckle else 0.0
    return f"{loop.slug}-cables", {"cables": drawn}
