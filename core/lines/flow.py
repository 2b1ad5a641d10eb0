"""Flow through tubes, hoses and fittings (`lines.friction_factor`, `lines.pressure_drop`,
`lines.line_compare`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.forms import Named
from core.basis.refused import Refused, finite, not_negative, positive
from core.lines.words import FLOW_TEST, FLUIDS

LAMINAR_TO, TURBULENT_FROM = 2000.0, 4000.0
AT_LAMINAR = 64.0 / LAMINAR_TO
ROUGHEST = 0.05
G = 9.80665


@rule(
    "lines.friction_factor",
    title="Friction factor of a tube",
    purpose="Darcy's friction factor over Reynolds number and roughness.",
    source=FLUIDS,
    validity="Round tubes; between Reynolds 2000 and 4000 the true drop may differ by a third.",
)
def friction_factor(
    Re: Annotated[float, "Reynolds number."],
    eD: Annotated[float, "Roughness over bore, 0 to 0.05."] = 0.0,
) -> Annotated[float, "Darcy's.", Named("f")]:
    """64/Re to 2000, Colebrook-White from 4000, a straight line between: continuous.

    Refuses a roughness outside 0 to 0.05.
    """
    speed, rough = positive(Re, "Re"), finite(eD, "eD")
    if not 0.0 <= rough <= ROUGHEST:
        raise Refused("eD", "must be from 0 to 0.05")
    if speed <= LAMINAR_TO:
        return 64.0 / speed
    if speed >= TURBULENT_FROM:
        return _colebrook(speed, rough)
    share = (speed - LAMINAR_TO) / (TURBULENT_FROM - LAMINAR_TO)
    return AT_LAMINAR + share * (_colebrook(TURBULENT_FROM, rough) - AT_LAMINAR)


def _colebrook(Re: float, eD: float) -> float:
    """1/√f = -2 lg(eD/3.7 + 2.51/(Re √f)), by Newton on x = 1/√f."""
    x = -2.0 * math.log10(eD / 3.7 + 5.74 / Re**0.9)
    for _ in range(50):
        inside = eD / 3.7 + 2.51 * x / Re
        miss = x + 2.0 * math.log10(inside)
        step = miss / (1.0 + 2.0 * 2.51 / (Re * inside * math.log(10.0)))
        x -= step
        if abs(step) < 1e-14 * abs(x):
            break
    return 1.0 / (x * x)


def regime(Re: float) -> str:
    """laminar, transition or turbulent."""
    if Re <= LAMINAR_TO:
        return "laminar"
    return "turbulent" if Re >= TURBULENT_FROM else "transition"


@dataclass(frozen=True)
class Element:
    """A piece of line, a fitting, or a thing with a measured drop."""

    id: Annotated[str, "Its name."]
    bore_m: Annotated[float | None, "Inside diameter."] = None
    length_m: Annotated[float, "Of straight and bent tube."] = 0.0
    k: Annotated[float, "Loss coefficient, of the speed in its bore."] = 0.0
    roughness_m: Annotated[float, "Of its wall."] = 0.0
    dp_ref_Pa: Annotated[float | None, "Measured drop."] = None
    q_ref_m3_s: Annotated[float | None, "At this flow."] = None


def checked(elements: Sequence[Element]) -> Sequence[Element]:
    """The elements. Refuses one without bore and drop, and a wall rougher than 5 % of the bore."""
    if not elements:
        raise Refused("elements", "needs at least one")
    if len({e.id for e in elements}) < len(elements):
        raise Refused("elements", "two of them have the same name")
    for e in elements:
        if e.bore_m is None and e.dp_ref_Pa is None:
            raise Refused("elements", f"{e.id}: enter its bore, or a measured drop")
        not_negative(e.length_m, "length_m")
        not_negative(e.k, "k")
        not_negative(e.roughness_m, "roughness_m")
        if e.bore_m is not None:
            if e.roughness_m > ROUGHEST * positive(e.bore_m, "bore_m"):
                raise Refused("roughness_m", f"{e.id}: over 5 % of the bore")
        elif e.length_m or e.k or e.roughness_m:
            raise Refused("bore_m", f"{e.id}: is needed with a length or a loss coefficient")
        if (e.dp_ref_Pa is None) != (e.q_ref_m3_s is None):
            missing = "q_ref_m3_s" if e.q_ref_m3_s is None else "dp_ref_Pa"
            raise Refused(missing, f"{e.id}: a measured drop needs its flow")
        if e.dp_ref_Pa is not None and e.q_ref_m3_s is not None:
            not_negative(e.dp_ref_Pa, "dp_ref_Pa")
            positive(e.q_ref_m3_s, "q_ref_m3_s")
    return elements


@dataclass(frozen=True)
class Lost:
    """What one element takes."""

    id: Annotated[str, "Its name."]
    loss_Pa: Annotated[float, "Pressure lost."]
    speed_m_s: Annotated[float | None, "In its bore."]
    Re: Annotated[float | None, "Reynolds number."]
    regime: Annotated[str | None, "laminar, transition or turbulent."]


def lost(e: Element, flow: float, density: float, viscosity: float) -> Lost:
    """(f L/d + K) ρ V²/2 + dp_ref (Q/Q_ref)², Pa; the flow in m³/s, above or at zero."""
    measured = 0.0
    if e.dp_ref_Pa is not None and e.q_ref_m3_s is not None:
        measured = e.dp_ref_Pa * (flow / e.q_ref_m3_s) ** 2
    if e.bore_m is None or flow == 0.0:
        return Lost(e.id, measured, None if e.bore_m is None else 0.0, None, None)
    speed = flow / (math.pi * e.bore_m**2 / 4.0)
    Re = density * speed * e.bore_m / viscosity
    f = friction_factor(Re, e.roughness_m / e.bore_m)
    loss = (f * e.length_m / e.bore_m + e.k) * density * speed**2 / 2.0
    return Lost(e.id, loss + measured, speed, Re, regime(Re))


@dataclass(frozen=True)
class Drop:
    """The drop along a line."""

    elements: Annotated[tuple[Lost, ...], "In the order given."]
    total_Pa: Annotated[float, "Of all."]


@rule(
    "lines.pressure_drop",
    title="Pressure lost along a line",
    purpose="What each piece of a fuel line takes at this flow.",
    source=FLUIDS + " Measured drops grow with the square of the flow.",
    validity="Full round bores; between Reynolds 2000 and 4000 the true drop may differ by a"
    " third. A line that ends in a float bowl carries exit K = 1.",
    caution=FLOW_TEST,
)
def pressure_drop(
    elements: Annotated[tuple[Element, ...], "In their order."],
    flow_m3_s: Annotated[float, "Flow."],
    density_kg_m3: Annotated[float, "Of the fluid."],
    viscosity_Pa_s: Annotated[float, "Dynamic, of the fluid."],
) -> Drop:
    """Loss, speed, Reynolds number and regime of each. Refuses a flow of zero."""
    flow = positive(flow_m3_s, "flow_m3_s")
    rho, mu = positive(density_kg_m3, "density_kg_m3"), positive(viscosity_Pa_s, "viscosity_Pa_s")
    each = tuple(lost(e, flow, rho, mu) for e in checked(elements))
    return Drop(each, math.fsum(e.loss_Pa for e in each))


@dataclass(frozen=True)
class Candidate:
    """A material or size of line that could be used."""

    id: Annotated[str, "Its name."]
    bore_m: Annotated[float, "Inside diameter."]
    od_m: Annotated[float, "Outside diameter."]
    dry_kg_per_m: Annotated[float, "Of the empty line."]
    min_radius_m: Annotated[float, "Least bend radius."]
    fittings_kg: Annotated[float, "Both end fittings."] = 0.0
    price: Annotated[float | None, "Of one, with fittings."] = None
    life_months: Annotated[float | None, "The maker's life; null: none."] = None
    k: Annotated[float, "Loss coefficient of bends and ends."] = 0.0
    roughness_m: Annotated[float, "Of its wall."] = 0.0


@dataclass(frozen=True)
class Compared:
    """One candidate beside the others."""

    id: Annotated[str, "Its name."]
    wet_kg: Annotated[float, "Full of the fluid, with fittings."]
    od_m: Annotated[float, "Outside diameter."]
    min_radius_m: Annotated[float, "Least bend radius."]
    loss_Pa: Annotated[float, "Pressure lost at this flow."]
    speed_m_s: Annotated[float, "Of the fluid."]
    fits: Annotated[int, "How many are fitted until the horizon."]
    cost: Annotated[float | None, "Of all of them; null without a price."]


@dataclass(frozen=True)
class Comparison:
    """All candidates side by side."""

    candidates: Annotated[tuple[Compared, ...], "In the order given."]


@rule(
    "lines.line_compare",
    title="Which hose or tube?",
    purpose="Weight, loss, bend radius and cost of several lines side by side.",
    source=FLUIDS,
    validity="One line of one length; lives and prices are the user's.",
    caution=FLOW_TEST,
)
def line_compare(
    candidates: Annotated[tuple[Candidate, ...], "What could be used."],
    length_m: Annotated[float, "Of the line."],
    flow_m3_s: Annotated[float, "Flow."],
    density_kg_m3: Annotated[float, "Of the fluid."],
    viscosity_Pa_s: Annotated[float, "Dynamic, of the fluid."],
    horizon_months: Annotated[float, "How far ahead costs are counted."],
) -> Comparison:
    """Each candidate. Refuses an outside diameter that is not above the bore."""
    long, flow = positive(length_m, "length_m"), positive(flow_m3_s, "flow_m3_s")
    rho, mu = positive(density_kg_m3, "density_kg_m3"), positive(viscosity_Pa_s, "viscosity_Pa_s")
    horizon = positive(horizon_months, "horizon_months")
    if not candidates:
        raise Refused("candidates", "needs at least one")
    if len({c.id for c in candidates}) < len(candidates):
        raise Refused("candidates", "two of them have the same name")
    found = []
    for c in candidates:
        bore = positive(c.bore_m, "bore_m")
        if positive(c.od_m, "od_m") <= bore:
            raise Refused("od_m", f"{c.id}: must be above the bore")
        dry = positive(c.dry_kg_per_m, "dry_kg_per_m")
        radius = positive(c.min_radius_m, "min_radius_m")
        ends = not_negative(c.fittings_kg, "fittings_kg")
        element = Element(c.id, bore, long, c.k, c.roughness_m)
        (one,) = pressure_drop((element,), flow, rho, mu).elements
        life = None if c.life_months is None else positive(c.life_months, "life_months")
        fits = 1 if life is None else math.ceil(horizon / life - 1e-9)
        price = None if c.price is None else not_negative(c.price, "price")
        wet = (dry + rho * math.pi * bore**2 / 4.0) * long + ends
        found.append(
            Compared(
                c.id,
                wet,
                c.od_m,
                radius,
                one.loss_Pa,
                one.speed_m_s or 0.0,
                fits,
                None if price is None else fits * price,
            )
        )
    return Comparison(tuple(found))
