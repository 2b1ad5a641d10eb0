"""What samples on a grid can miss (`clearance.cell_bound`, `clearance.grid_bound`)."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np

from core.basis.forms import Named, Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.clearance.words import CAUTION

SOURCE = "A gap changes no faster than L: mean of the corners less half of L times the steps."
EVEN_M = 1e-12
TOO_SLOW = "samples differ by more than it allows: the speed bound is wrong"
MOST_AXES = 2


@rule(
    "clearance.cell_bound",
    title="Between the samples of a cell",
    purpose="How small can a gap be between positions that were looked at?",
    source=SOURCE,
    validity="Corners in the order of the controls; L is a bound of the speed.",
    caution=CAUTION,
)
def cell_bound(
    corner_gaps: Annotated[Sequence[float], "At every corner of the cell, m."],
    steps: Annotated[Sequence[float], "Its size for each control."],
    L: Annotated[Sequence[float], "Greatest change of the gap for a unit of each."],
) -> Annotated[float, "Never below this.", Named("value"), Unit("m")]:
    """Lower bound inside the cell, m. Refuses another number of corners, and an L that the
    samples themselves exceed."""
    sizes = [positive(h, "steps") for h in steps]
    speeds = [not_negative(x, "L") for x in L]
    if not 1 <= len(sizes) <= 8 or len(speeds) != len(sizes):
        raise Refused("L", "needs one for each step")
    gaps = [finite(g, "corner_gaps") for g in corner_gaps]
    if len(gaps) != 2 ** len(sizes):
        raise Refused("corner_gaps", f"needs {2 ** len(sizes)}, one for each corner")
    change = sum(h * x for h, x in zip(sizes, speeds, strict=True))
    if max(gaps) - min(gaps) > change + EVEN_M:
        raise Refused("L", TOO_SLOW)
    return sum(gaps) / len(gaps) - change / 2.0


@dataclass(frozen=True)
class GridBound:
    """A grid of samples."""

    least_sample: Annotated[float, "Of all samples.", Unit("m")]
    not_below: Annotated[float, "Nowhere on the grid less.", Unit("m")]


@rule(
    "clearance.grid_bound",
    title="Between the samples of a grid",
    purpose="How small can a gap be anywhere between samples on a grid?",
    source=SOURCE,
    validity="Axes rise; one or two controls.",
    caution=CAUTION,
)
def grid_bound(
    gaps: Annotated[Any, "At every node: numbers, or rows of them for two controls, m."],
    axes: Annotated[Sequence[Sequence[float]], "Positions of each control, rising."],
    L: Annotated[Sequence[float], "Greatest change of the gap for a unit of each."],
) -> GridBound:
    """Least of the cells' bounds. Refuses another shape (`gaps`) and an L that is exceeded."""
    at = [[finite(x, "axes") for x in axis] for axis in axes]
    if not 1 <= len(at) <= MOST_AXES:
        raise Refused("axes", "needs one or two controls")
    if any(len(x) < 2 or any(q <= p for p, q in itertools.pairwise(x)) for x in at):
        raise Refused("axes", "must be two positions or more, rising")
    speeds = [not_negative(x, "L") for x in L]
    if len(speeds) != len(at):
        raise Refused("L", "needs one for each control")
    rows = gaps if len(at) > 1 else [gaps]
    shape = tuple(len(x) for x in at)
    if not isinstance(rows, list) or not all(isinstance(r, list) for r in rows):
        raise Refused("gaps", "must be as many as the positions")
    if {len(r) for r in rows} != {shape[-1]} or (len(at) > 1 and len(rows) != shape[0]):
        raise Refused("gaps", "must be as many as the positions")
    field = np.array([finite(g, "gaps") for r in rows for g in r]).reshape(shape)
    corners = [
        field[tuple(slice(c, n - 1 + c) for c, n in zip(way, shape, strict=True))]
        for way in itertools.product((0, 1), repeat=len(shape))
    ]
    sizes = np.meshgrid(*(np.diff(x) for x in at), indexing="ij")
    change = sum(h * x for h, x in zip(sizes, speeds, strict=True))
    spread = np.maximum.reduce(corners) - np.minimum.reduce(corners)
    if np.any(spread > change + EVEN_M):
        raise Refused("L", TOO_SLOW)
    bound = sum(corners) / len(corners) - change / 2.0
    return GridBound(float(field.min()), float(np.min(bound)))
