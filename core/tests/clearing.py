"""An aircraft of few things, for what is said of clearances."""

import math

import numpy as np
from hypothesis import strategies as st

from core.clearance.checks import checks_of
from core.clearance.rows import ROWS
from core.clearance.scene import Row, Scene
from core.runs.beside import BUNDLE, TUBE, Beside
from core.runs.moved import Axis, Carrier, Moved, Movement
from core.worksheets.reading import read

seeds = st.integers(0, 10**6)


def row(kind, name, source="", **typed):
    """A row as somebody types it, bare lengths in mm."""
    values, _ = read(ROWS[kind], typed, "mm", lambda *_: None)
    return Row(kind, name.casefold().replace(" ", "-"), name, values, source)


def corners(*points):
    return [dict(zip("xyz", map(str, p), strict=True)) for p in points]


def rotation(axis, angle):
    x, y, z = np.array(axis) / np.linalg.norm(axis)
    k = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    return np.eye(3) + math.sin(angle) * k + (1 - math.cos(angle)) * (k @ k)


WIRE = Beside(BUNDLE, "loom", "Loom", 0.004, (((0, 0, 0.1), (1, 0, 0.1)),), U_m=0.002,
              supports_m=(0.5,))  # fmt: skip
FUEL = Beside(TUBE, "feed", "Feed", 0.005, (((0, 0, 0), (1, 0, 0)),), "fuel")
KEY = "bundle loom|tube feed"
SURE = row("sureness", "Sure", tubes="2", linkages="2", cables="2", shapes="2")


def lever() -> Movement:
    """A rod that swings up by 20 mm per 0.1 rad at its end, and its lever."""
    axis = Axis(
        "elevator/pitch", "Elevator", "rad", tuple(np.linspace(-0.3, 0.4, 33)), said="stops"
    )
    turn = np.array([rotation([0, 1, 0], -q) for q in axis.nodes])
    rod = np.array([[[0.3, 0.2, 0.2], [0.5, 0.2, 0.2 + 0.2 * q]] for q in axis.nodes])
    return Movement(
        (axis,),
        (Moved("control rod", "elevator/aft", "Elevator: aft rod", 0.01, (axis.id,), rod,
               ("elevator/idler",), "elevator"),),
        (Carrier("elevator/idler", "Elevator: idler", (axis.id,), turn, np.zeros((33, 3)),
                 "elevator"),),
    )  # fmt: skip


def scene(*rows, beside=(WIRE, FUEL), moves=None) -> Scene:
    return Scene(tuple(rows), tuple(beside), moves or Movement(), {"elevator": "elevator"})


def said(s, log=None):
    return {c.key: c for c in checks_of(s, log or {})}
