"""Control cables as other runs meet them: where they lie at neutral and at both ends."""

from __future__ import annotations

from collections.abc import Iterable

from core.cables.lever import SIDES
from core.cables.rigging import POSITIONS
from core.runs.beside import CABLE, Beside
from server.cables.keeping import rigged_of
from server.cables.models import Cable, Loop, Support
from server.kit.routed import routes

MOVES = ("at neutral", "at one end of its travel", "at the other end of its travel")


@routes(Loop, Cable, Support)
def cables(aircraft: int) -> Iterable[Beside]:
    """Both cables of each loop."""
    for loop in Loop.objects.filter(aircraft=aircraft).select_related("control"):
        rigged = rigged_of(loop)
        states = [rigged.states[n] for n in (POSITIONS // 2, 0, POSITIONS - 1)]
        for side in SIDES:
            cable = rigged.rigging.cables[side]
            ways = [rigged.way(side, s.driver_rad, s.middle_rad) for s in states]
            yield Beside(
                CABLE,
                f"{loop.control.slug}-{side.lower()}",
                f"{loop.control.name}: {cable.name}",
                cable.data.diameter_m / 2.0,
                tuple(tuple(way) for way in ways),
                moves=MOVES,
                link=f"cables/{loop.control.slug}?part=route",
            )
