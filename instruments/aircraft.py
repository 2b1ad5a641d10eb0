"""The simulated aircraft behind the stand-ins: its mechanisms as they were really built.

The drawing's mechanism with hidden errors: rods too long, holes drilled a little off, stops
not quite where they belong, play. Nobody can ask for them; half-turns that were recorded act
on them.
"""

from __future__ import annotations

import copy
import json
import math
from functools import lru_cache
from pathlib import Path
from typing import Any

from core.basis.refused import Refused
from core.controls.linkage.document import Document, document_from
from core.controls.linkage.surface_travel import reached
from instruments.cables import PLACES, straight

MECHANISMS = Path(__file__).parent.parent / "demo" / "mechanisms"

# By mechanism: rod length errors and hole errors in m, stop errors in degrees of the body, and
# which way the level shows positive deflection (+1: trailing edge up).
BUILT: dict[str, dict[str, Any]] = {
    "fenlark-elevator": {
        "rods": {"aft": 0.00013},
        "stops": {"elevator_up": -0.58, "elevator_down": -0.68},
        "play": 0.05,
    },
    "fenlark-ailerons": {
        "rods": {"rod_left": -0.0006, "rod_right": 0.00007},
        "holes": {"crank_left": {"out": [0.002623, 0.002317, 0.0]}},
        "play": 0.05,
    },
    "fenlark-trim": {
        "rods": {"trim_rod": 0.00003},
        "stops": {"servo_up": -0.2, "servo_down": -0.3},
        "shows": -1,
        "play": 0.1,
    },
    "fenlark-flaps": {
        "rods": {"flap_rod_left": 0.0002, "flap_rod_right": -0.0001},
        "shows": -1,
        "play": 0.05,
    },
    "moorhen-mixer": {"rods": {"lift_left": 0.0006, "lift_right": -0.0003}, "play": 0.08},
}
# Controls without a mechanism yet: true angles, degrees.
PLAIN = {
    "moorhen": {"elevator": {"neutral": -0.2, "up_stop": 24.4, "down_stop": -20.6}},
}
Rig = dict[str, dict[str, float]]


@lru_cache(maxsize=1)
def _surfaces() -> dict[tuple[str, str], tuple[str, str]]:
    """(aircraft, surface) -> (mechanism, output)."""
    found = {}
    for path in MECHANISMS.glob("*.json"):
        data = json.loads(path.read_text(encoding="utf-8"))
        for output, use in data["outputs"].items():
            if use.get("surface"):
                found[path.stem.split("-")[0], use["surface"]] = (path.stem, output)
    return found


@lru_cache(maxsize=64)
def _built(name: str, rods: tuple[tuple[str, float], ...]) -> Document:
    """The mechanism as built, with these changes of rod length, m."""
    data = json.loads((MECHANISMS / f"{name}.json").read_text(encoding="utf-8"))
    nominal = document_from(data).plan.lengths
    errors, turned = BUILT[name].get("rods", {}), dict(rods)
    data = copy.deepcopy(data)
    for rod in data["rods"]:
        rod["length_m"] = nominal[rod["id"]] + errors.get(rod["id"], 0) + turned.get(rod["id"], 0)
    for body in data["bodies"]:
        for point, error in BUILT[name].get("holes", {}).get(body["id"], {}).items():
            at = body["points"][point]
            body["points"][point] = [a + e for a, e in zip(at, error, strict=True)]
    return document_from(data)


def play(aircraft: str, surface: str) -> float:
    """Whole free play of a surface, degrees."""
    name, _ = _surfaces().get((aircraft, surface), ("", ""))
    return float(BUILT.get(name, {}).get("play", 0.0))


def mechanism_of(aircraft: str, surface: str) -> str | None:
    """The mechanism that moves a surface, or the cables that do."""
    if (aircraft, surface) in PLACES:
        return f"{PLACES[aircraft, surface]}-cables"
    return _surfaces().get((aircraft, surface), (None, ""))[0]


def true_angle(aircraft: str, surface: str, position: str, rig: Rig | None = None) -> float | None:
    """The angle at a position, degrees, trailing edge up +, without play; None: no such place.

    rig: recorded changes: `rods` in m, `stops` in rad or m of their body.
    """
    if position == "straight":
        return straight(aircraft, surface, (rig or {}).get("cables", {}))
    plain = PLAIN.get(aircraft, {}).get(surface, {}).get(position)
    name, output = _surfaces().get((aircraft, surface), ("", ""))
    if plain is not None or name not in BUILT:
        return plain
    changes = rig or {}
    try:
        d = _built(name, tuple(sorted(changes.get("rods", {}).items())))
        stops = {s.stop.id: s.stop.at for s in d.stops}
        for stop, error in BUILT[name].get("stops", {}).items():
            stops[stop] += math.radians(error)
        for stop, turned in changes.get("stops", {}).items():
            stops[stop] = stops.get(stop, 0.0) + turned
        found = {r.position: r.value for r in reached(d, output, stops_at=stops)}
    except Refused:
        return None
    value = found.get(position)
    return None if value is None else BUILT[name].get("shows", 1) * math.degrees(value)
