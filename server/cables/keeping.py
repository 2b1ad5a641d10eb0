"""Rows into a cables file and back: the file is what is edited, rows are what is kept."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from core.cables.document import Rigging
from core.cables.judging_holes import refuse_holes
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from server.accounts.models import Person
from server.cables.models import Cable, Loop, Support
from server.controls.models import Control

MORE = ("frame_compliance", "gap", "band_share", "crossing_source")
CABLE = (
    "name",
    "construction",
    "material",
    "diameter_in",
    "figures",
    "turnbuckle",
    "ends",
    "slide_on",
    "fittings",
    "holes",
    "edge_gap",
)
EMPTY: dict[str, Any] = {"name": "", "figures": {}, "ends": {}, "slide_on": [], "fittings": []}


def file_of(loop: Loop) -> dict[str, Any]:
    """The cables file of the rows."""
    return {
        "format": "ash-lane cables",
        "edition": 1,
        "id": loop.slug,
        "name": loop.name,
        "driver": loop.driver,
        "driven": loop.driven,
        "sides": {c.side: _side(c) for c in loop.sides.prefetch_related("supports")},
        "target": loop.target,
        "airframe": loop.airframe,
        **loop.more,
    }


def _side(c: Cable) -> dict[str, Any]:
    given = {k: getattr(c, k) for k in CABLE if getattr(c, k) not in (None, "", {}, [])}
    if c.holes == []:
        given["holes"] = []  # It goes through none, as somebody said.
    supports = [
        {"id": s.slug, "kind": s.kind, "centre": s.centre_m, **s.more} for s in c.supports.all()
    ]
    return given | {"supports": supports}


def rigging_of(loop: Loop) -> Rigging:
    """The rows as the core takes them."""
    return rigged_of(loop).rigging


def rigged_of(loop: Loop) -> Rigged:
    """The rows worked out. Of one file once: what was solved of it is solved for all who ask."""
    return _rigged(json.dumps(file_of(loop), sort_keys=True))


@lru_cache(maxsize=64)
def _rigged(file: str) -> Rigged:
    return Rigged(rigging_from(json.loads(file)))


def keep(control: Control, data: dict[str, Any], by: Person, loop: Loop | None) -> Loop:
    """Check a file as a whole and keep it as the control's cables, row by row.

    What was turned stays with its side; a new count of the thread showing begins anew.
    Refuses what the core refuses.
    """
    rigged = Rigged(rigging_from(data))
    rigged.nearest()
    refuse_holes(rigged)
    if loop is None:
        loop = Loop(aircraft=control.aircraft, control=control, version=0)
    loop.slug = str(data.get("id") or control.slug)[:60]
    loop.name = str(data.get("name") or "")[:80]
    loop.driver, loop.driven = data["driver"], data["driven"]
    loop.target, loop.airframe = data.get("target"), data.get("airframe") or []
    loop.more = {k: data[k] for k in MORE if data.get(k) is not None}
    loop.version, loop.changed_by = loop.version + 1, by
    loop.save()
    for side, given in data["sides"].items():
        _keep_side(loop, side, given, by)
    return loop


def _keep_side(loop: Loop, side: str, given: dict[str, Any], by: Person) -> None:
    cable = Cable.objects.filter(loop=loop, side=side).first()
    cable = cable or Cable(loop=loop, aircraft=loop.aircraft, side=side, version=0)
    before = (cable.turnbuckle or {}).get("showing")
    wanted = {k: given.get(k, EMPTY.get(k)) for k in CABLE}
    if not cable.pk or any(getattr(cable, k) != v for k, v in wanted.items()):
        for k, v in wanted.items():
            setattr(cable, k, v)
        if (cable.turnbuckle or {}).get("showing") != before:
            cable.counted_at = cable.turns
        cable.version, cable.changed_by = cable.version + 1, by
        cable.save()
    there = {s.slug: s for s in cable.supports.all()}
    for order, s in enumerate(given.get("supports") or []):
        row = there.pop(s["id"], None) or Support(
            cable=cable, aircraft=loop.aircraft, slug=s["id"], version=0
        )
        more = {k: v for k, v in s.items() if k not in ("id", "kind", "centre")}
        now = (order, s["kind"], s["centre"], more)
        if row.pk and (row.order, row.kind, row.centre_m, row.more) == now:
            continue
        row.order, row.kind, row.centre_m, row.more = now
        row.version, row.changed_by = row.version + 1, by
        row.save()
    for gone in there.values():
        gone.delete()
