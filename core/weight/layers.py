"""Fuel in layers of one arm each, and the order in which tanks are burned."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from core.basis.refused import Refused

STEPS_M3 = 1e-12


def layers_of(tank: Mapping[str, Any], rho: float) -> list[dict[str, Any]]:
    """The fuel of a tank at take-off as layers of one arm each, the topmost first: between two
    lines of its table the moment is straight, so what burns there has one arm."""
    volume, name = tank["volume_m3"] - tank.get("taxi_m3", 0.0), tank["name"]
    table = tank.get("table")
    if not table:
        return [{"name": name, "mass_kg": volume * rho, "x_m": tank["x_m"]}]
    found: list[dict[str, Any]] = []
    below = (0.0, 0.0)
    for v, x in table:
        top = min(v, volume)
        if top > below[0] + STEPS_M3:
            arm = (v * x - below[1]) / (v - below[0])
            label = f"{name}, layer {len(found) + 1}"
            found.append({"name": label, "mass_kg": (top - below[0]) * rho, "x_m": arm})
        below = (v, v * x)
    return found[::-1]


def through(
    layers: Mapping[str, list[dict[str, Any]]], steps: Sequence[Mapping[str, Any]]
) -> list[dict[str, Any]]:
    """Steps of tanks as steps of their layers: a new one where a layer is burned."""
    left = {t: [[x["name"], x["mass_kg"]] for x in found] for t, found in layers.items()}
    out = []
    for step in steps:
        shares = {t: s for t, s in step["shares"].items() if s > 0.0}
        if all(len(layers[t]) == 1 for t in shares):
            out.append(
                dict(step) | {"shares": {layers[t][0]["name"]: s for t, s in shares.items()}}
            )
            for t, s in shares.items():
                left[t][0][1] -= s * step.get("burn_kg", 0.0)
            continue
        whole = min(sum(m for _, m in left[t]) / s for t, s in shares.items())
        burn = step.get("burn_kg", whole)
        while burn > 1e-9 and all(left[t] for t in shares):
            z = min(burn, *(left[t][0][1] / s for t, s in shares.items()))
            out.append({"shares": {left[t][0][0]: s for t, s in shares.items()}, "burn_kg": z})
            burn -= z
            for t, s in shares.items():
                left[t][0][1] -= s * z
                if left[t][0][1] <= 1e-9 and len(left[t]) > 1:
                    left[t].pop(0)
            if z <= 0.0:
                break
    return out


def shared(words: str, at: str) -> tuple[str, float]:
    """`Left tank 0.5`: a name and its share; a name alone is all of it."""
    name, _, part = words.rpartition(" ")
    try:
        found = float(part.replace(",", "."))
    except ValueError:
        return words.strip(), 1.0
    if not name or not math.isfinite(found):
        raise Refused("order", f"{at}: write each tank and its share, as Main tank 0.5")
    return name.strip(), found
