"""Bundles as other runs meet them."""

from __future__ import annotations

from collections.abc import Iterable

from core.basis.refused import Refused
from core.runs import beside
from core.runs.beside import Beside
from core.wiring.harness import BUNDLE, Harness
from core.wiring.harness_near import thickness
from server.kit.routed import routes
from server.wires.models import HarnessRow
from server.wires.reading import row_of, rows_of


@routes(HarnessRow)
def bundles(aircraft: int) -> Iterable[Beside]:
    """Those whose way is entered, as thick as their wires make them."""
    kept = rows_of(aircraft)
    h = Harness(tuple(row_of(r) for r in kept))
    for b in h.of(BUNDLE):
        if not b.way_m:
            continue
        try:
            thick = thickness(b, h.wires_in(b))
        except Refused:
            thick = None
        v = b.values
        yield Beside(
            beside.BUNDLE,
            b.slug,
            b.name,
            None if thick is None else thick[1]["diameter_m"] / 2.0,
            (tuple(tuple(p) for p in b.way_m),),
            link=f"wires?part=harness&row={b.slug}",
            U_m=v.get("way_U_m"),
            supports_m=tuple(v.get("supports_m", ())),
            held_to=tuple(v.get("held_to", ())),
            guarded=tuple(v.get("guarded", ())),
        )
