"""One loading: ramp, take-off, landing, no fuel (`weight.loading_case`)."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated

from core.basis.forms import ABSENT, Unit
from core.basis.propagation import Uncertain, known, total
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict, worst
from core.weight.envelope import Envelope, outline, place
from core.weight.fuel import REFERENCE_C, density, fits
from core.weight.words import GUM, SLACK, STATICS, MassFraction, Moment, rule
from core.weight.worst import Group


@dataclass(frozen=True)
class EmptyState:
    """The empty aircraft."""

    mass_kg: Annotated[float, "Empty mass."]
    x_m: Annotated[float, "Its arm."]
    y_m: Annotated[float, "Its lateral arm."] = 0.0
    U_mass_kg: Annotated[float, "Expanded uncertainty of the mass."] = 0.0
    U_x_m: Annotated[float, "Of the arm."] = 0.0


@dataclass(frozen=True)
class Load:
    """Somebody or something on board."""

    name: Annotated[str, "Its station."]
    mass_kg: Annotated[float, "Not below zero."]
    x_m: Annotated[float, "Its arm."]
    y_m: Annotated[float, "Beside the middle."] = 0.0
    u_mass_kg: Annotated[float, "Standard uncertainty of it."] = 0.0
    u_x_m: Annotated[float, "Of the arm."] = 0.0
    max_kg: Annotated[float | None, "The station's limit."] = None


@dataclass(frozen=True)
class Tank:
    """Usable fuel in a tank; what is unusable is in the empty mass."""

    name: Annotated[str, "Which."]
    volume_m3: Annotated[float, "On the ramp."]
    capacity_m3: Annotated[float, "Usable."]
    taxi_m3: Annotated[float, "Burned before take-off."] = 0.0
    burn_m3: Annotated[float, "Burned from take-off to landing."] = 0.0
    x_m: Annotated[float | None, "Its arm."] = None
    y_m: Annotated[float, "Beside the middle."] = 0.0
    u_rel: Annotated[MassFraction, "Standard uncertainty of the ramp's fuel, a share."] = 0.0
    table: Annotated[
        tuple[tuple[float, float], ...], "Or its arm by contents: m³ and m, rising.", Unit("")
    ] = ()


@dataclass(frozen=True)
class Fuel:
    """The fuel, as entered."""

    density_ref_kg_m3: Annotated[float, "At the reference temperature."]
    t_ref_C: Annotated[float, "Of the density."] = REFERENCE_C
    t_C: Annotated[float, "Of the fuel."] = REFERENCE_C
    expansion_per_K: Annotated[float, "Of the volume."] = 0.0


@dataclass(frozen=True)
class MassLimits:
    """Greatest masses."""

    ramp: Annotated[float | None, "On the ramp.", Unit("kg")] = None
    takeoff: Annotated[float | None, "At take-off.", Unit("kg")] = None
    landing: Annotated[float | None, "At landing.", Unit("kg")] = None
    zero_fuel: Annotated[float | None, "Without fuel.", Unit("kg")] = None


@dataclass(frozen=True)
class Standing:
    """The aircraft in one state."""

    mass_kg: Annotated[float, "With all that is on board."]
    x_m: Annotated[float, "Its arm."]
    y_m: Annotated[float, "Its lateral arm."]
    moment_kg_m: Annotated[Moment, "About the datum."]
    U_mass_kg: Annotated[float, "Expanded uncertainty of the mass."]
    U_x_m: Annotated[float, "Of the arm."]
    verdict: Annotated[Verdict | None, "Against the envelope and the limits.", ABSENT] = None
    forward_margin_m: Annotated[float | None, "Null outside the envelope's masses."] = None
    aft_margin_m: Annotated[float | None, "Null outside the envelope's masses."] = None


@dataclass(frozen=True)
class Exceeded:
    """A limit that is exceeded."""

    limit: Annotated[str, "Which."]
    over_kg: Annotated[float, "By how much."]


@dataclass(frozen=True)
class Loading:
    """In all its states."""

    ramp: Annotated[Standing, "With all fuel."]
    takeoff: Annotated[Standing, "Less what taxiing burns."]
    landing: Annotated[Standing, "Less what the flight burns."]
    zero_fuel: Annotated[Standing, "Without fuel."]
    exceeded: Annotated[tuple[Exceeded, ...], "Every limit that is exceeded."]
    verdict: Annotated[Verdict | None, "The worst of it; null without an envelope.", ABSENT] = None


@rule(
    "weight.loading_case",
    title="A loading",
    purpose="Weight and balance of one loading on the ramp, at take-off, at landing and without"
    " fuel.",
    source=f"{STATICS} {GUM}",
    validity="Volumes are usable fuel. A loading over gross is reckoned and shown.",
)
def loading_case(
    empty: Annotated[EmptyState, "As weighed, with what changed since."],
    loads: Annotated[tuple[Load, ...], "On board."] = (),
    tanks: Annotated[tuple[Tank, ...], "With their fuel."] = (),
    fuel: Annotated[Fuel | None, "Needed with tanks."] = None,
    limits: Annotated[MassLimits, "Greatest masses."] = MassLimits(),
    groups: Annotated[tuple[Group, ...], "Limits of several together."] = (),
    envelope: Annotated[Envelope | None, "The maker's."] = None,
) -> Loading:
    """kg, m. Refuses a negative load, more fuel than a tank holds, burning more than is in, and a
    limit that is not above zero."""
    rho = _density(tanks, fuel)
    mass = known("empty mass", positive(empty.mass_kg, "empty.mass_kg"),
                 not_negative(empty.U_mass_kg, "empty.U_mass_kg") / 2.0)  # fmt: skip
    arm = known("empty arm", finite(empty.x_m, "empty.x_m"),
                not_negative(empty.U_x_m, "empty.U_x_m") / 2.0)  # fmt: skip
    masses, moments = [mass], [mass * arm]
    lateral = empty.mass_kg * finite(empty.y_m, "empty.y_m")
    for n, x in enumerate(loads):
        m, at = _load(n, x)
        masses.append(m)
        moments.append(m * at)
        lateral += x.mass_kg * x.y_m
    on_board = (masses, moments, lateral)
    states = {
        "ramp": _state(on_board, tanks, [t.volume_m3 for t in tanks], rho),
        "takeoff": _state(on_board, tanks, [t.volume_m3 - t.taxi_m3 for t in tanks], rho),
        "landing": _state(
            on_board, tanks, [t.volume_m3 - t.taxi_m3 - t.burn_m3 for t in tanks], rho
        ),
        "zero_fuel": _state(on_board, tanks, None, rho),
    }
    exceeded = list(_exceeded(loads, tanks, rho, states, limits, groups))
    over = {e.limit for e in exceeded}
    always = bool(over - {"ramp", "takeoff", "landing", "zero_fuel"})
    judged = {
        name: s if name == "ramp" else _judged(s, envelope, always or name in over)
        for name, s in states.items()
    }
    verdict = None
    if envelope is not None:
        verdict = worst(s.verdict for s in judged.values() if s.verdict)
        if exceeded:
            verdict = Verdict.OUT
    return Loading(**judged, exceeded=tuple(exceeded), verdict=verdict)


def _density(tanks: Sequence[Tank], fuel: Fuel | None) -> float:
    if fuel is None:
        if tanks:
            raise Refused("fuel", "is needed: there are tanks")
        return 0.0
    return density(fuel.density_ref_kg_m3, fuel.t_C, fuel.t_ref_C, fuel.expansion_per_K, "fuel.")


def _load(n: int, x: Load) -> tuple[Uncertain, Uncertain]:
    at = f"loads.{n}"
    if x.max_kg is not None:
        not_negative(x.max_kg, f"{at}.max_kg")
    finite(x.y_m, f"{at}.y_m")
    return (
        known(f"load {n}", not_negative(x.mass_kg, f"{at}.mass_kg"),
              not_negative(x.u_mass_kg, f"{at}.u_mass_kg")),
        known(f"arm {n}", finite(x.x_m, f"{at}.x_m"), not_negative(x.u_x_m, f"{at}.u_x_m")),
    )  # fmt: skip


def _state(
    on_board: tuple[list[Uncertain], list[Uncertain], float],
    tanks: Sequence[Tank],
    volumes: Sequence[float] | None,
    rho: float,
) -> Standing:
    """With these volumes in the tanks; None: no fuel, and nothing uncertain of it."""
    masses, moments, lateral = list(on_board[0]), list(on_board[1]), on_board[2]
    for n, t in enumerate(tanks):
        _check_tank(n, t)
        if volumes is None:
            continue
        volume = max(0.0, volumes[n])
        u = t.u_rel * t.volume_m3 * rho
        m = known(f"fuel {n}", volume * rho, u)
        masses.append(m)
        moments.append(m * _arm(n, t, volume))
        lateral += volume * rho * t.y_m
    mass, moment = total(masses), total(moments)
    x = moment / mass
    return Standing(mass.value, x.value, lateral / mass.value, moment.value, mass.U, x.U)


def _check_tank(n: int, t: Tank) -> None:
    at = f"tanks.{n}"
    fits(not_negative(t.volume_m3, f"{at}.volume_m3"), t.capacity_m3, f"{at}.volume_m3",
         f"{at}.capacity_m3")  # fmt: skip
    not_negative(t.u_rel, f"{at}.u_rel")
    finite(t.y_m, f"{at}.y_m")
    burned = not_negative(t.taxi_m3, f"{at}.taxi_m3") + not_negative(t.burn_m3, f"{at}.burn_m3")
    if burned > t.volume_m3 * (1.0 + SLACK):
        raise Refused(f"{at}.burn_m3", "taxi and flight burn more than the tank holds")


def _arm(n: int, t: Tank, volume: float) -> float:
    """Its arm at a volume: by the table, moment over volume in straight lines."""
    if not t.table:
        if t.x_m is None:
            raise Refused(f"tanks.{n}.x_m", "is needed, or its arm by contents")
        return finite(t.x_m, f"tanks.{n}.x_m")
    at = f"tanks.{n}.table"
    if any(b[0] <= a[0] for a, b in pairwise(t.table)):
        raise Refused(at, "must rise")
    for (va, xa), (vb, xb) in pairwise(t.table):
        if va * (1.0 - SLACK) <= volume <= vb * (1.0 + SLACK):
            moment = va * xa + (vb * xb - va * xa) * (volume - va) / (vb - va)
            return moment / volume if volume > 0.0 else xa
    raise Refused(at, f"says nothing of {volume * 1e3:g} l")


def _judged(s: Standing, envelope: Envelope | None, over: bool) -> Standing:
    if envelope is None:
        return s
    found = place(outline(envelope), s.mass_kg, s.x_m, s.U_mass_kg, s.U_x_m)
    return Standing(
        s.mass_kg, s.x_m, s.y_m, s.moment_kg_m, s.U_mass_kg, s.U_x_m,
        Verdict.OUT if over else found.verdict, found.forward_margin_m, found.aft_margin_m,
    )  # fmt: skip


def _exceeded(
    loads: Sequence[Load],
    tanks: Sequence[Tank],
    rho: float,
    states: dict[str, Standing],
    limits: MassLimits,
    groups: Sequence[Group],
) -> Iterable[Exceeded]:
    for x in loads:
        if x.max_kg is not None and x.mass_kg > x.max_kg * (1.0 + SLACK):
            yield Exceeded(x.name, x.mass_kg - x.max_kg)
    for name, s in states.items():
        limit = getattr(limits, name)
        if limit is not None and s.mass_kg > positive(limit, f"limits.{name}") * (1.0 + SLACK):
            yield Exceeded(name, s.mass_kg - limit)
    held = {x.name: 0.0 for x in loads} | {t.name: t.volume_m3 * rho for t in tanks}
    for x in loads:
        held[x.name] += x.mass_kg
    for n, g in enumerate(groups):
        unknown = [name for name in g.names if name not in held]
        if unknown:
            raise Refused(f"groups.{n}.names", f"{unknown[0]} is not on board")
        most = not_negative(g.max_kg, f"groups.{n}.max_kg")
        mass = math.fsum(held[name] for name in set(g.names))
        if mass > most * (1.0 + SLACK):
            yield Exceeded(g.name or "+".join(g.names), mass - most)
