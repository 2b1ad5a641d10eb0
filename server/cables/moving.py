"""Control cables as what moves: over the range of the lever that drives them."""

from __future__ import annotations

from typing import Any

import numpy as np

from core.basis.refused import Refused
from core.cables.lever import SIDES
from core.cables.moving import along_arcs
from core.cables.rigging import Rigged
from core.runs.beside import CABLE
from core.runs.moved import Axis, Beyond, Carrier, Moved, Movement
from server.cables.keeping import rigged_of
from server.cables.models import Cable, Loop, Support
from server.kit.moving import moves

AFTER_LINKAGES = 20
MOST = 1.5


@moves(AFTER_LINKAGES, Loop, Cable, Support)
def cables(aircraft: int, beyond: Beyond, before: Movement) -> Movement:
    """Both cables of each loop, at the nodes of the linkage that drives it; else of its own
    file."""
    found = Movement()
    carriers = {c.id: c for c in before.carriers}
    for loop in Loop.objects.filter(aircraft=aircraft).select_related("control"):
        try:
            rigged = rigged_of(loop)
            body = rigged.rigging.bodies[0]
            carrier = carriers.get(f"{loop.control.slug}/{body}") if body else None
            found += _of(loop, rigged, carrier)
        except Refused as refusal:
            said = f"{loop.control.name}: its cables: {refusal.field} {refusal.reason}"
            found += Movement(unsaid=(said,))
    return found


def _of(loop: Loop, rigged: Rigged, carrier: Carrier | None) -> Movement:
    c = loop.control
    axes: tuple[str, ...] = ()
    own: tuple[Axis, ...] = ()
    if carrier is not None and carrier.axes:
        angles = turned(carrier.turn, rigged.rigging.driver.axis)
        axes = carrier.axes
    else:
        angles = np.array(rigged.angles)
        axis = Axis(
            f"{c.slug}/driver", f"{c.name} lever", "rad", tuple(float(a) for a in angles),
            said="the range of its cables’ file", control=c.slug,
            unsure=(f"travel of {c.name} at its lever",),
        )  # fmt: skip
        own, axes = (axis,), (axis.id,)
    if np.abs(angles).max() > MOST:
        raise Refused("driver", "turns by more than 1.5 rad there")
    moved = tuple(_cable(loop, rigged, side, angles, axes) for side in SIDES)
    return Movement(own, moved)


def turned(turn: Any, axis: Any) -> Any:
    """The angle about an axis of rotations (…, 3, 3), rad."""
    u = np.array(axis, dtype=float)
    skew = np.stack(
        [
            turn[..., 2, 1] - turn[..., 1, 2],
            turn[..., 0, 2] - turn[..., 2, 0],
            turn[..., 1, 0] - turn[..., 0, 1],
        ],
        axis=-1,
    )
    trace = turn[..., 0, 0] + turn[..., 1, 1] + turn[..., 2, 2]
    return np.arctan2(skew @ u / 2.0, (trace - 1.0) / 2.0)


def _cable(loop: Loop, rigged: Rigged, side: str, angles: Any, axes: tuple[str, ...]) -> Moved:
    c, cable = loop.control, rigged.rigging.cables[side]
    ways, bulge = along_arcs(rigged, side, tuple(float(a) for a in angles.ravel()))
    bodies = tuple(f"{c.slug}/{b}" for b in rigged.rigging.bodies if b)
    return Moved(
        CABLE, f"{c.slug}-{side.lower()}", f"{c.name}: {cable.name}",
        cable.data.diameter_m / 2.0 + bulge, axes,
        ways.reshape(*angles.shape, *ways.shape[1:]), bodies, c.slug,
        f"cables/{c.slug}?part=route",
    )  # fmt: skip
