"""Linkages as what they move, for whoever must keep clear of them."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.controls.linkage.document import document_from
from core.controls.linkage.moving import Linked, Travelled, movement_of
from core.runs.moved import Beyond, Movement
from server.controls.farthest import TRAVEL, wanted_of
from server.controls.linkage.built import lengths_of, stops_of
from server.controls.linkage.keeping import coupled, file_of
from server.controls.linkage.models import Body, Mechanism, Rod, Stop
from server.controls.models import Assessment, Requirement, Surface
from server.kit.moving import moves

FIRST = 10


@moves(FIRST, Mechanism, Body, Rod, Stop, Requirement, Surface)
def linkages(aircraft: int, beyond: Beyond, before: Movement) -> Movement:
    """Every linkage over the range that counts."""
    found = Movement()
    rows = Mechanism.objects.filter(aircraft=aircraft).select_related("control")
    results = dict(
        Assessment.objects.filter(
            requirement__control__aircraft=aircraft, requirement__kind__in=TRAVEL
        ).values_list("requirement", "result")
    )
    for m in rows.prefetch_related("bodies", "rods", "stops"):
        found += _one(m, beyond, results)
    return found


def _one(m: Mechanism, beyond: Beyond, results: dict[int, Any]) -> Movement:
    c = m.control
    data = coupled(c, file_of(m))
    try:
        d = document_from(data)
        asked = Requirement.objects.filter(control=c, kind__in=TRAVEL).select_related("surface")
        od = {
            r.slug: parse(r.record["od"], "length", "mm", "od").si
            for r in m.rods.all() if r.record.get("od")
        }  # fmt: skip
        given = {
            "control": c.slug, "name": c.name, "file": data,
            "wanted": wanted_of(asked, results), "lengths": lengths_of(m, d),
            "stops": stops_of(m), "od": od,
            "names": dict(c.surfaces.values_list("slug", "name")),
            "stretch": beyond.stretch.get(c.slug, 0.0),
            "settled": sorted(i for control, i in beyond.settled if control == c.slug),
        }  # fmt: skip
        return _solved(json.dumps(given))
    except Refused as refusal:
        return Movement(unsaid=(f"{c.name}: its linkage: {refusal.field} {refusal.reason}",))


@lru_cache(maxsize=64)
def _solved(given: str) -> Movement:
    g = json.loads(given)
    wanted = {tuple(k.split("|")): Travelled(*v) for k, v in g["wanted"].items()}
    control = g["control"]
    linked = Linked(
        control, g["name"], document_from(g["file"]), wanted, g["lengths"], g["stops"], g["od"],
        g["names"], f"controls/{control}/linkage",
    )  # fmt: skip
    settled = frozenset((control, name) for name in g["settled"])
    return movement_of(linked, Beyond({control: g["stretch"]}, settled))
