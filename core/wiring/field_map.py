"""The error of a compass over a level plane: of all currents and magnets, at many places."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from core.wiring.field import MU_4PI, Current, Dipole
from core.wiring.spans import line

Array = NDArray[np.float64]
LEAST_M = 1e-3


def field_at(places_m: Array, circuits: Sequence[Current], dipoles: Sequence[Dipole]) -> Array:
    """Field at places (N x 3, m), N x 3, T: as `wiring.dc_field` has it at one. Not a number
    within a millimetre of a conductor or a magnet."""
    found = np.zeros_like(places_m)
    for c in circuits:
        for start, end in line(c.points_m):
            found += _piece(places_m, np.array(start), np.array(end)) * c.current_A
    for d in dipoles:
        r = places_m - np.array(d.at_m, float)
        far = np.linalg.norm(r, axis=1, keepdims=True)
        far[far < LEAST_M] = np.nan
        m = np.array(d.moment_Am2, float)
        along = 3.0 * (r @ m)[:, None] / far**5
        found += MU_4PI * (along * r - m / far**3)
    return found


def _piece(at: Array, start: Array, end: Array) -> Array:
    """Biot-Savart of a straight piece that carries an ampere, N x 3, T."""
    a, b, way = at - start, at - end, end - start
    ra, rb = np.linalg.norm(a, axis=1), np.linalg.norm(b, axis=1)
    across = np.cross(a, b)
    square = np.einsum("ij,ij->i", across, across)
    in_line = square <= 1e-24 * (ra * rb) ** 2
    along = np.clip((a @ way) / float(way @ way), 0.0, 1.0)
    near = np.linalg.norm(at - (start + along[:, None] * way), axis=1) < LEAST_M
    with np.errstate(divide="ignore", invalid="ignore"):
        share = MU_4PI * (ra + rb) / (ra * rb * (ra * rb + np.einsum("ij,ij->i", a, b)))
        found = across * share[:, None]
    found[in_line] = 0.0
    found[near] = np.nan
    field: Array = found
    return field


def error_map(
    stations_m: Sequence[float],
    butt_lines_m: Sequence[float],
    water_line_m: float,
    horizontal_T: float,
    circuits: Sequence[Current],
    dipoles: Sequence[Dipole] = (),
) -> Array:
    """Greatest error of any heading, rad, by butt line (rows) and station (columns). As much as a
    right angle where the field is as large as the earth's, and where there is no place."""
    x, y = np.meshgrid(np.asarray(stations_m, float), np.asarray(butt_lines_m, float))
    places = np.stack([x.ravel(), y.ravel(), np.full(x.size, float(water_line_m))], axis=1)
    field = field_at(places, circuits, dipoles)
    share = np.hypot(field[:, 0], field[:, 1]) / horizontal_T
    error: Array = np.arcsin(np.clip(np.nan_to_num(share, nan=1.0), 0.0, 1.0)).reshape(x.shape)
    return error
