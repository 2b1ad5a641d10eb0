"""The lever or pedals that drive a cable loop, offered to worksheets of every trade."""

from __future__ import annotations

from collections.abc import Iterable
from math import degrees

from core.worksheets.things import Turning
from server.cables.keeping import rigging_of
from server.cables.models import Loop
from server.kit.trade import watch
from server.worksheets.trade import about
from server.worksheets.working import Offer, offer

DRIVER = "cable driver"


def _listed(aircraft: int) -> Iterable[tuple[str, str]]:
    for loop in Loop.objects.filter(aircraft=aircraft).select_related("control"):
        yield f"{loop.control.slug}/{DRIVER}", f"{loop.control.name}: what drives its cables"


def _find(aircraft: int, address: str) -> Turning | None:
    control, _, what = address.partition("/")
    rows = Loop.objects.filter(aircraft=aircraft, control__slug=control)
    loop = rows.select_related("control").first()
    if loop is None or what != DRIVER:
        return None
    low, high = rigging_of(loop).range_rad
    said = f"{degrees(low):.1f}° to {degrees(high):.1f}°, the travel entered for its cables"
    return Turning(f"{loop.control.name}: what drives its cables", low, high, said)


offer("turning", Offer("control", _find, _listed))
watch("worksheets", Loop, lambda x: about(x.aircraft_id, "control", x.control.slug))
