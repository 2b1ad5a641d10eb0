"""A cable at many positions of its lever, round its pulleys, always with as many corners."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from core.basis.vectors import Vec
from core.cables.loop import loop_sweep
from core.cables.path import Pulley
from core.cables.rigging import Rigged

# An arc round a pulley is this many straights; what they cut off is told.
STRAIGHTS = 8
TURN = 2.0 * math.pi


def along_arcs(rigged: Rigged, side: str, angles: tuple[float, ...]) -> tuple[Any, float]:
    """(positions, corners, 3) m at these angles of the lever (rad), and how far beside them an
    arc may lie, m. Refuses as `loop_sweep`."""
    return rigged.once(("arcs", side, angles), lambda: _along(rigged, side, angles))


def _along(rigged: Rigged, side: str, angles: tuple[float, ...]) -> tuple[Any, float]:
    states = rigged.once(("sweep", angles), lambda: loop_sweep(rigged.loop, angles))
    r, path = rigged.rigging, rigged.laid[side].path
    ways, bulge = [], 0.0
    for s in states:
        start = _plain(r.driver.attachment(side, s.driver_rad))
        end = _plain(r.driven.attachment(side, s.middle_rad))
        way: list[Any] = [start]
        for pulley, (entry, leave) in zip(path.pulleys, path.shape(start, end), strict=True):
            points, off = _arc(pulley, np.array(entry), np.array(leave))
            way.extend(points)
            bulge = max(bulge, off)
        ways.append([*way, end])
    return np.array(ways), bulge


def _plain(p: Any) -> Vec:
    return float(p[0]), float(p[1]), float(p[2])


def _arc(p: Pulley, entry: Any, leave: Any) -> tuple[list[Any], float]:
    """Corners along it, and how far it bulges beside its straights, m."""
    if p.radius_m == 0.0:
        return [entry], 0.0
    u, w, centre = np.array(p.across[0]), np.array(p.across[1]), np.array(p.centre)
    first, last = (math.atan2((q - centre) @ w, (q - centre) @ u) for q in (entry, leave))
    wrap = float(p.wrap(first, last))
    shares = np.linspace(0.0, 1.0, STRAIGHTS + 1)
    at = first + p.sense * wrap * shares
    arc = centre + p.radius_m * (np.cos(at)[:, None] * u + np.sin(at)[:, None] * w)
    off = p.radius_m * (1.0 - math.cos(wrap / STRAIGHTS / 2.0))
    # It enters and leaves a little beside the plane of the pulley where it comes from there.
    arc += ((1.0 - shares)[:, None] * (entry - arc[0])) + shares[:, None] * (leave - arc[-1])
    return list(arc), off
