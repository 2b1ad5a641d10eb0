"""Levers of linkages, offered to worksheets of every trade: what moves a hose, a wire, a tab."""

from __future__ import annotations

from collections.abc import Iterable
from math import degrees

from core.controls.linkage.turning import levers, turns
from core.worksheets.things import Turning
from server.controls.linkage.built import lengths_of, stops_of
from server.controls.linkage.keeping import document_of
from server.controls.linkage.models import Body, Mechanism, Rod, Stop
from server.kit.trade import watch
from server.worksheets.trade import about
from server.worksheets.working import Offer, offer


def _listed(aircraft: int) -> Iterable[tuple[str, str]]:
    for m in Mechanism.objects.filter(aircraft=aircraft).select_related("control"):
        for b in levers(document_of(m)):
            yield f"{m.control.slug}/{b.id}", f"{m.control.name}: {b.id.replace('_', ' ')}"


def _find(aircraft: int, address: str) -> Turning | None:
    control, _, body = address.partition("/")
    m = Mechanism.objects.filter(aircraft=aircraft, control__slug=control).first()
    if m is None:
        return None
    d = document_of(m)
    if body not in {b.id for b in levers(d)}:
        return None
    low, high = turns(d, body, lengths_of(m, d), stops_of(m))
    name = f"{m.control.name}: {body.replace('_', ' ')}"
    said = f"{degrees(low):.1f}° to {degrees(high):.1f}° by its linkage, stop to stop"
    return Turning(name, low, high, said)


offer("turning", Offer("control", _find, _listed))
watch("worksheets", Mechanism, lambda m: about(m.aircraft_id, "control", m.control.slug))
for model in (Body, Rod, Stop):
    watch("worksheets", model, lambda x: about(x.aircraft_id, "control", x.mechanism.control.slug))
