"""A section through the aircraft at a station: which bundles pass there, what lies in each, and
what else passes beside them."""

from __future__ import annotations

from dataclasses import dataclass

from core.basis.refused import finite
from core.runs.beside import at_station
from core.wiring.harness import BUNDLE, Harness, Row
from core.wiring.harness_near import thickness


@dataclass(frozen=True)
class Cut:
    """Something cut through: butt line and water line, m; radius_m: None where it is not known.
    wires: of a bundle, those that lie in it."""

    kind: str
    name: str
    y_m: float
    z_m: float
    radius_m: float | None
    row: str = ""
    link: str = ""
    wires: tuple[Row, ...] = ()


def section(h: Harness, station_m: float) -> list[Cut]:
    """Bundles first, each time they pass; then tubes and control cables, these at neutral."""
    station = finite(station_m, "at")
    found = []
    for b in h.of(BUNDLE):
        wires = tuple(h.wires_in(b))
        thick = thickness(b, wires)
        radius = None if thick is None else thick[1]["diameter_m"] / 2.0
        for y, z in at_station(b.way_m, station):
            found.append(Cut(BUNDLE, b.name, y, z, radius, b.slug, wires=wires))
    for one in h.beside:
        for y, z in at_station(one.ways[0], station):
            found.append(Cut(one.kind, one.name, y, z, one.radius_m, link=one.link))
    return found
