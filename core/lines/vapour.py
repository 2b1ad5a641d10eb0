"""Does fuel arrive as liquid (`lines.true_vapour_pressure`, `lines.vapour_margin`)?"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.forms import Named
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict, worst
from core.lines.air import isa_pressure
from core.lines.flow import Element, G, checked, lost
from core.lines.fuel_flow import angles, earth_height
from core.lines.tube import point
from core.lines.words import FLUIDS, GUM

PSI = 6894.757293
RANKINE = 1.8
LEAST_RVP_PSI, MOST_RVP_PSI = 2.0, 15.0
COLDEST_K, HOTTEST_K = 255.3, 333.2
SLOPES = {"motor gasoline": 3.0, "aviation gasoline": 2.0}
REID_REL_U = 0.10
API = "API gasoline correlation (EPA AP-42 ch. 7.1)."
HOT = (
    "Hot fuel after standing in the sun or a short stop, altitude, and motor gasoline (higher,"
    " seasonal vapour pressure; ethanol) stop engines at take-off: shade and insulate the line,"
    " no high loop in the cowl, boost pump below the tank outlet; use only fuel that the"
    " engine's and kit's makers allow."
)


@rule(
    "lines.true_vapour_pressure",
    title="Vapour pressure of gasoline",
    purpose="True vapour pressure from Reid's at this temperature.",
    source=API,
    validity="2 to 15 psi, 255.3 to 333.2 K; no ethanol or other oxygenates. Expect ±10 %.",
    caution=HOT,
)
def true_vapour_pressure(
    rvp_Pa: Annotated[float, "Reid vapour pressure."],
    temperature_K: Annotated[float, "Of the fuel."],
    fuel: Annotated[str, "motor gasoline or aviation gasoline."],
) -> Annotated[float, "True vapour pressure.", Named("vapour_Pa")]:
    """The correlation in psi and °R. Refuses other fuels: enter a measured curve."""
    if fuel not in SLOPES:
        raise Refused("fuel", "must be motor gasoline or aviation gasoline without ethanol")
    R = positive(rvp_Pa, "rvp_Pa") / PSI
    if not LEAST_RVP_PSI <= R <= MOST_RVP_PSI:
        raise Refused("rvp_Pa", "outside 2 to 15 psi")
    if not COLDEST_K <= finite(temperature_K, "temperature_K") <= HOTTEST_K:
        raise Refused("temperature_K", "outside 255.3 to 333.2 K (0 to 140 F)")
    T, lg, root = temperature_K * RANKINE, math.log10(R), math.sqrt(SLOPES[fuel])
    log = (
        (0.7553 - 413.0 / T) * root * lg
        - (1.854 - 1042.0 / T) * root
        + (2416.0 / T - 2.013) * lg
        - 8742.0 / T
        + 15.64
    )
    return math.exp(log) * PSI


@dataclass(frozen=True)
class Piece(Element):
    """An element of the line with where it ends and how warm the fuel is there."""

    end_m: Annotated[Sequence[float], "Where it ends."] = ()
    temperature_K: Annotated[float, "Of the fuel there."] = 0.0


@dataclass(frozen=True)
class Point:
    """What is left above boiling at the end of one element."""

    id: Annotated[str, "Of the element."]
    pressure_Pa: Annotated[float, "Absolute."]
    vapour_Pa: Annotated[float, "Of the fuel there."]
    margin_Pa: Annotated[float, "Between them."]
    U_Pa: Annotated[float, "Expanded uncertainty of the vapour pressure."]
    verdict: Annotated[Verdict, "Against what is wanted."]


@dataclass(frozen=True)
class VapourMargin:
    """What is left above boiling along the line."""

    points: Annotated[tuple[Point, ...], "In the order given."]
    least_at: Annotated[str, "Where least is left."]
    least_margin_Pa: Annotated[float, "There."]
    verdict: Annotated[Verdict, "Of the worst point."]


@rule(
    "lines.vapour_margin",
    title="Does the fuel stay liquid?",
    purpose="What is left above boiling at each element, up to the first pump that lifts.",
    source=API + " " + FLUIDS + " " + GUM,
    validity="Elements in order from the tank; split at every high point; pressure altitude.",
    caution=HOT,
)
def vapour_margin(
    elements: Annotated[tuple[Piece, ...], "From the tank to the inlet of the pump."],
    fuel_surface_m: Annotated[Sequence[float], "A point of the fuel's surface."],
    flow_m3_s: Annotated[float, "What the engine takes."],
    density_kg_m3: Annotated[float, "Of the fuel."],
    viscosity_Pa_s: Annotated[float, "Dynamic, of the fuel."],
    altitude_m: Annotated[float, "Pressure altitude."],
    pitch_rad: Annotated[float, "Nose up positive."] = 0.0,
    roll_rad: Annotated[float, "Right wing down positive."] = 0.0,
    vent_pressure_Pa: Annotated[float, "In the tank, over outside."] = 0.0,
    rvp_Pa: Annotated[float | None, "Reid vapour pressure, with the fuel."] = None,
    fuel: Annotated[str | None, "motor gasoline or aviation gasoline."] = None,
    vapour_curve: Annotated[Sequence[Sequence[float]] | None, "Instead: measured [K, Pa]."] = None,
    vapour_rel_U: Annotated[float | None, "Expanded, of the curve, a share of it."] = None,
    margin_wanted_Pa: Annotated[float, "Least margin."] = 0.0,
    return_flow_m3_s: Annotated[float, "What goes back to the tank."] = 0.0,
) -> VapourMargin:
    """p = ISA + vent + ρ g head - losses - ρV²/2 against the vapour pressure, at each end."""
    every = checked(elements)
    flow = not_negative(flow_m3_s, "flow_m3_s") + not_negative(return_flow_m3_s, "return_flow_m3_s")
    rho, mu = positive(density_kg_m3, "density_kg_m3"), positive(viscosity_Pa_s, "viscosity_Pa_s")
    outside, vent = isa_pressure(altitude_m), finite(vent_pressure_Pa, "vent_pressure_Pa")
    pitch, roll = angles(pitch_rad, roll_rad)
    wanted = not_negative(margin_wanted_Pa, "margin_wanted_Pa")
    top = earth_height(point(fuel_surface_m, "fuel_surface_m").tolist(), pitch, roll)
    boiling = _Boiling.of(rvp_Pa, fuel, vapour_curve, vapour_rel_U)
    taken, found = 0.0, []
    for e in every:
        assert isinstance(e, Piece)
        here = lost(e, flow, rho, mu)
        taken += here.loss_Pa
        speed = here.speed_m_s or 0.0
        head = top - earth_height(point(e.end_m, "end_m").tolist(), pitch, roll)
        pressure = outside + vent + rho * G * head - taken - rho * speed**2 / 2.0
        vapour = boiling.at(positive(e.temperature_K, "temperature_K"), e.id)
        left, U = pressure - vapour, boiling.rel_U * vapour
        found.append(Point(e.id, pressure, vapour, left, U, _verdict(left, U, wanted)))
    least = min(found, key=lambda p: p.margin_Pa)
    return VapourMargin(tuple(found), least.id, least.margin_Pa, worst(p.verdict for p in found))


def _verdict(margin: float, U: float, wanted: float) -> Verdict:
    if margin - U >= wanted and margin > 0.0:
        return Verdict.IN
    return Verdict.OUT if margin + U < wanted else Verdict.TOO_CLOSE


@dataclass(frozen=True)
class _Boiling:
    """Vapour pressure over temperature, and its relative expanded uncertainty."""

    rel_U: float
    rvp: float = 0.0
    fuel: str = ""
    curve: tuple[tuple[float, float], ...] = ()

    @classmethod
    def of(
        cls,
        rvp: float | None,
        fuel: str | None,
        curve: Sequence[Sequence[float]] | None,
        rel_U: float | None,
    ) -> _Boiling:
        """By Reid's or by a measured curve, exactly one of them."""
        if (rvp is None) == (curve is None):
            raise Refused("rvp_Pa", "enter Reid's vapour pressure or a measured curve, one of them")
        if rvp is not None:
            if rel_U is not None:
                raise Refused("vapour_rel_U", "belongs to a measured curve")
            if fuel is None:
                raise Refused("fuel", "is needed with Reid's vapour pressure")
            return cls(REID_REL_U, positive(rvp, "rvp_Pa"), fuel)
        if fuel is not None:
            raise Refused("fuel", "belongs to Reid's vapour pressure")
        if rel_U is None:
            raise Refused("vapour_rel_U", "is needed with a measured curve")
        rows = tuple(_row(r) for r in curve or ())
        if len(rows) < 2:
            raise Refused("vapour_curve", "needs at least two points")
        for (t, p), (u, q) in itertools.pairwise(rows):
            if u <= t or q <= p:
                raise Refused("vapour_curve", "must rise in temperature and pressure")
        return cls(not_negative(rel_U, "vapour_rel_U"), curve=rows)

    def at(self, temperature: float, name: str) -> float:
        """Pa; a curve is linear in ln p over 1/T and has no values beyond its ends."""
        if not self.curve:
            return true_vapour_pressure(self.rvp, temperature, self.fuel)
        if not self.curve[0][0] <= temperature <= self.curve[-1][0]:
            raise Refused("vapour_curve", f"does not reach the temperature at {name}")
        for (t, p), (u, q) in zip(self.curve, self.curve[1:], strict=False):
            if temperature <= u:
                share = (1.0 / temperature - 1.0 / t) / (1.0 / u - 1.0 / t)
                return math.exp(math.log(p) + share * math.log(q / p))
        raise AssertionError("a temperature inside a curve lies between two of its points")


def _row(row: Sequence[float]) -> tuple[float, float]:
    if not isinstance(row, (list, tuple)) or len(row) != 2:
        raise Refused("vapour_curve", "each point must be a temperature and a pressure")
    return positive(row[0], "vapour_curve"), positive(row[1], "vapour_curve")
