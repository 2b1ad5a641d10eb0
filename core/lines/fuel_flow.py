"""Does enough fuel arrive (`lines.fuel_flow`)?"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from scipy.optimize import brentq

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.lines.flow import Element, G, checked, lost
from core.lines.tube import point
from core.lines.words import FLOW_TEST, FLUIDS, PART_23

FACTOR = {"gravity": 1.5, "pump": 1.25}
MOST_FLOW = 1.0


def earth_height(p: Sequence[float], pitch: float, roll: float) -> float:
    """Height of a body point, m: pitch positive nose up, roll positive right wing down."""
    x, y, z = p
    upright = z * math.cos(roll) - y * math.sin(roll)
    return upright * math.cos(pitch) - x * math.sin(pitch)


@dataclass(frozen=True)
class Attitude:
    """How the aircraft lies, rad; with a fuel surface of its own where that moves."""

    pitch_rad: Annotated[float, "Nose up positive."] = 0.0
    roll_rad: Annotated[float, "Right wing down positive."] = 0.0
    fuel_surface_m: Annotated[Sequence[float] | None, "Surface in this attitude."] = None


def angles(pitch: float, roll: float) -> tuple[float, float]:
    """Pitch and roll inside ±90°."""
    for name, value in (("pitch_rad", pitch), ("roll_rad", roll)):
        if abs(finite(value, name)) >= math.pi / 2:
            raise Refused(name, "must be inside ±90°")
    return float(pitch), float(roll)


@dataclass(frozen=True)
class Flowing:
    """The flow in one attitude."""

    head_m: Annotated[float, "Of the surface above the outlet."]
    flow_m3_s: Annotated[float, "That arrives."]
    limited_by: Annotated[str | None, "end of pump curve, or null."]


@dataclass(frozen=True)
class FuelFlow:
    """What arrives against what is required."""

    required_m3_s: Annotated[float, "With the factor of its feed, and what returns."]
    attitudes: Annotated[tuple[Flowing, ...], "In the order given."]
    worst: Annotated[int, "Attitude of least flow, from 0."]
    achieved_m3_s: Annotated[float, "In the worst attitude."]
    margin: Annotated[float, "Achieved over required, less one."]
    verdict: Annotated[Verdict, "In where enough arrives."]


@rule(
    "lines.fuel_flow",
    title="Does enough fuel arrive?",
    purpose="Flow from one tank in each attitude, against what the engine needs.",
    source=FLUIDS + f" Factors 1.5 and 1.25: {PART_23}, 23.955.",
    validity="One tank feeding; between Reynolds 2000 and 4000 losses may differ by a third.",
    caution=FLOW_TEST,
)
def fuel_flow(
    elements: Annotated[tuple[Element, ...], "From the tank to the engine."],
    takeoff_flow_m3_s: Annotated[float, "What the engine takes at take-off."],
    feed: Annotated[Literal["gravity", "pump"], "How it is fed."],
    fuel_surface_m: Annotated[
        Sequence[float], "A point of the surface, at unusable fuel plus what the test needs."
    ],
    outlet_m: Annotated[Sequence[float], "Where the line ends."],
    attitudes: Annotated[tuple[Attitude, ...], "Those it must feed in."],
    density_kg_m3: Annotated[float, "Of the fuel."],
    viscosity_Pa_s: Annotated[float, "Dynamic, of the fuel."],
    inlet_pressure_needed_Pa: Annotated[float, "Where the line ends."] = 0.0,
    vent_pressure_Pa: Annotated[float, "In the tank, over outside."] = 0.0,
    pump_curve: Annotated[
        Sequence[Sequence[float]] | None, "[flow m³/s, rise Pa] from flow 0."
    ] = None,
    return_flow_m3_s: Annotated[float, "What goes back to the tank."] = 0.0,
) -> FuelFlow:
    """Least flow of all attitudes against the required one. Refuses a pump curve that rises."""
    every = checked(elements)
    back = not_negative(return_flow_m3_s, "return_flow_m3_s")
    takeoff = positive(takeoff_flow_m3_s, "takeoff_flow_m3_s")
    if feed not in FACTOR:
        raise Refused("feed", "must be gravity or pump")
    required = FACTOR[feed] * takeoff + back
    rho, mu = positive(density_kg_m3, "density_kg_m3"), positive(viscosity_Pa_s, "viscosity_Pa_s")
    surface, outlet = point(fuel_surface_m, "fuel_surface_m"), point(outlet_m, "outlet_m")
    needed = finite(inlet_pressure_needed_Pa, "inlet_pressure_needed_Pa")
    vent = finite(vent_pressure_Pa, "vent_pressure_Pa")
    curve = None if pump_curve is None else _curve(pump_curve)
    if not attitudes:
        raise Refused("attitudes", "needs at least one")
    found = []
    for a in attitudes:
        pitch, roll = angles(a.pitch_rad, a.roll_rad)
        own = a.fuel_surface_m
        top = surface if own is None else point(own, "fuel_surface_m")
        head = earth_height(top.tolist(), pitch, roll) - earth_height(outlet.tolist(), pitch, roll)
        flow, limited = _flow(every, rho * G * head + vent - needed, curve, rho, mu)
        found.append(Flowing(head, flow, limited))
    worst = min(range(len(found)), key=lambda i: found[i].flow_m3_s)
    achieved = found[worst].flow_m3_s
    verdict = Verdict.IN if achieved >= required * (1.0 - 1e-9) else Verdict.OUT
    return FuelFlow(required, tuple(found), worst, achieved, achieved / required - 1.0, verdict)


def _curve(given: Sequence[Sequence[float]]) -> list[tuple[float, float]]:
    rows = []
    for row in given:
        if not isinstance(row, (list, tuple)) or len(row) != 2:
            raise Refused("pump_curve", "each point must be a flow and a rise")
        rows.append((finite(row[0], "pump_curve"), finite(row[1], "pump_curve")))
    if len(rows) < 2 or rows[0][0] != 0.0:
        raise Refused("pump_curve", "needs two points or more, the first at no flow")
    for (q, p), (r, s) in itertools.pairwise(rows):
        if r <= q:
            raise Refused("pump_curve", "flows must rise")
        if s > p:
            raise Refused("pump_curve", "the rise must not grow with the flow")
    return rows


def _rise(curve: list[tuple[float, float]], q: float) -> float:
    """Of the pump at a flow, Pa; linear between its points."""
    for (a, p), (b, s) in itertools.pairwise(curve):
        if q <= b:
            return p + (s - p) * (q - a) / (b - a)
    return curve[-1][1]


def _flow(
    elements: Sequence[Element],
    drive: float,
    curve: list[tuple[float, float]] | None,
    rho: float,
    mu: float,
) -> tuple[float, str | None]:
    """The flow at which drive and losses meet; 0 where nothing drives."""

    def left(q: float) -> float:
        losses = math.fsum(lost(e, q, rho, mu).loss_Pa for e in elements)
        return drive + (_rise(curve, q) if curve else 0.0) - losses

    if left(0.0) <= 0.0:
        return 0.0, None
    if curve is not None:
        most = curve[-1][0]
        if left(most) > 0.0:
            return most, "end of pump curve"
    else:
        most = 1e-6
        while left(most) > 0.0:
            most *= 4.0
            if most > MOST_FLOW:
                raise Refused("elements", "take no pressure: nothing limits the flow")
    return float(brentq(left, 0.0, most, xtol=1e-18, rtol=1e-13)), None
