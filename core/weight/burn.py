"""The centre of gravity while fuel burns (`weight.burn_track`).

Mass and moment fall in a straight line with the fuel burned, so the arm moves along a hyperbola.
Each step is cut where it meets a corner mass or an edge; between two cuts it lies on one side.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Literal

from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.weight.envelope import Envelope, Line, Outline, outline
from core.weight.words import SLACK, STATICS, rule

Side = Literal["forward", "aft", "heavy", "light"]


@dataclass(frozen=True)
class FuelIn:
    """A tank at take-off."""

    name: Annotated[str, "Which."]
    mass_kg: Annotated[float, "Fuel in it."]
    x_m: Annotated[float, "Its arm."]


@dataclass(frozen=True)
class Step:
    """A leg of the burn."""

    shares: Annotated[dict[str, float], "Of what is burned, by tank; together 1."]
    burn_kg: Annotated[float | None, "How much; null: until the first of these is empty."] = None


@dataclass(frozen=True)
class Crossing:
    """Where the track crosses the outline."""

    kind: Annotated[Literal["exit", "entry"], "Out of it or into it."]
    side: Annotated[Side, "Of the part outside."]
    burned_kg: Annotated[float, "Fuel burned until there."]
    mass_kg: Annotated[float, "Of the aircraft there."]
    x_m: Annotated[float, "Its arm there."]


@dataclass(frozen=True)
class Shrunk:
    """The same against the envelope made smaller by U."""

    start_inside: Annotated[bool, "At take-off."]
    end_inside: Annotated[bool, "At the end."]
    crossings: Annotated[tuple[Crossing, ...], "In order."]


@dataclass(frozen=True)
class Track:
    """From take-off to the end."""

    start_inside: Annotated[bool, "At take-off."]
    end_inside: Annotated[bool, "At the end."]
    end_mass_kg: Annotated[float, "Of the aircraft."]
    end_x_m: Annotated[float, "Its arm."]
    crossings: Annotated[tuple[Crossing, ...], "In order."]
    shrunk: Annotated[Shrunk, "With the uncertainty."]
    verdict: Annotated[Verdict, "Of the whole track."]


@dataclass(frozen=True)
class Leg:
    """A step in numbers: mass and moment at its start, what burns, at which arm."""

    burned: float
    mass: float
    moment: float
    burn: float
    x: float

    def at(self, z: float) -> tuple[float, float]:
        """(mass, arm) after z kg of this leg."""
        m = self.mass - z
        return m, (self.moment - self.x * z) / m


@rule(
    "weight.burn_track",
    title="The centre of gravity while fuel burns",
    purpose="Does it leave the envelope as fuel burns, where, and with how much fuel left?",
    source=STATICS,
    validity="Tanks whose arm does not change with their contents.",
)
def burn_track(
    mass_kg: Annotated[float, "Of the aircraft at take-off."],
    x_m: Annotated[float, "Its arm at take-off."],
    tanks: Annotated[tuple[FuelIn, ...], "At take-off."],
    steps: Annotated[tuple[Step, ...], "In their order."],
    envelope: Annotated[Envelope, "The maker's."],
    U_x_m: Annotated[float, "Expanded uncertainty of the arm of the loaded aircraft."] = 0.0,
) -> Track:
    """kg, m. Refuses an unknown tank, shares that are not 1 together, burning more than is in, and
    fuel that is not below the whole mass."""
    o, u = outline(envelope), not_negative(U_x_m, "U_x_m")
    found = legs(mass_kg, x_m, tanks, steps)
    end = found[-1].at(found[-1].burn) if found else (mass_kg, x_m)
    start = (mass_kg, x_m)
    inner = o.moved(u)
    crossings, shrunk = _crossings(o, found, start), _crossings(inner, found, start)
    inside = Shrunk(inner.holds(*start), inner.holds(*end), shrunk)
    if inside.start_inside and not shrunk:
        verdict = Verdict.IN
    else:
        outer = o.moved(-u)
        beyond = not outer.holds(*start) or bool(_crossings(outer, found, start))
        verdict = Verdict.OUT if beyond else Verdict.TOO_CLOSE
    return Track(o.holds(*start), o.holds(*end), *end, crossings, inside, verdict)


def legs(mass_kg: float, x_m: float, tanks: Sequence[FuelIn], steps: Sequence[Step]) -> list[Leg]:
    """Each step with what burns in it."""
    left = _tanks(tanks)
    mass = positive(mass_kg, "mass_kg")
    if math.fsum(left.values()) >= mass:
        raise Refused("tanks", "hold no less than the whole aircraft weighs")
    arms = {t.name: t.x_m for t in tanks}
    moment, burned, found = mass * finite(x_m, "x_m"), 0.0, []
    for n, step in enumerate(steps):
        shares = _shares(step, left, f"steps.{n}")
        enough = min(left[t] / s for t, s in shares.items())
        burn = enough
        if step.burn_kg is not None:
            burn = not_negative(step.burn_kg, f"steps.{n}.burn_kg")
            if burn > enough * (1.0 + SLACK) + SLACK:
                raise Refused(f"steps.{n}.burn_kg", "is more than is in these tanks")
        x = math.fsum(arms[t] * s for t, s in shares.items())
        found.append(Leg(burned, mass, moment, burn, x))
        for t, s in shares.items():
            left[t] = max(0.0, left[t] - burn * s)
        burned, mass, moment = burned + burn, mass - burn, moment - x * burn
    return found


def _tanks(tanks: Sequence[FuelIn]) -> dict[str, float]:
    found: dict[str, float] = {}
    for n, t in enumerate(tanks):
        if t.name in found:
            raise Refused(f"tanks.{n}.name", "is there twice")
        found[t.name] = not_negative(t.mass_kg, f"tanks.{n}.mass_kg")
        finite(t.x_m, f"tanks.{n}.x_m")
    return found


def _shares(step: Step, tanks: Mapping[str, float], at: str) -> dict[str, float]:
    for name, share in step.shares.items():
        if name not in tanks:
            raise Refused(f"{at}.shares", f"{name} is not a tank here")
        not_negative(share, f"{at}.shares")
    if abs(math.fsum(step.shares.values()) - 1.0) > 1e-9:
        raise Refused(f"{at}.shares", "must be 1 together")
    return {t: s for t, s in step.shares.items() if s > 0.0}


def _crossings(
    o: Outline, found: Sequence[Leg], start: tuple[float, float]
) -> tuple[Crossing, ...]:
    """Where the state changes between inside and outside, along all legs."""
    inside = o.holds(*start)
    side: Side = "aft" if inside else _side(o, *start)
    crossings = []
    for leg in found:
        cuts = sorted({0.0, leg.burn, *_meets(o, leg)})
        for a, b in pairwise(cuts):
            middle = leg.at((a + b) / 2.0)
            if b - a <= SLACK * max(1.0, leg.mass) and len(cuts) > 2:
                continue
            now = _within(o, *middle)
            if not now:
                beyond = _side(o, *middle)
            if now != inside:
                m, x = leg.at(a)
                kind: Literal["exit", "entry"] = "entry" if now else "exit"
                crossings.append(Crossing(kind, side if now else beyond, leg.burned + a, m, x))
                inside = now
            if not now:
                side = beyond
    return tuple(crossings)


def _within(o: Outline, mass: float, x: float) -> bool:
    """Inside, between two cuts: the rounding of a point that runs along an edge is inside."""
    return o.holds(mass, x)


def _side(o: Outline, mass: float, x: float) -> Side:
    limits = o.limits(mass)
    if limits is None:
        return "heavy" if mass > o.highest else "light"
    return "forward" if x < limits[0] else "aft"


def _meets(o: Outline, leg: Leg) -> Iterable[float]:
    """Fuel burned in this leg where it meets a corner mass or an edge."""
    for m in o.masses:
        z = leg.mass - m
        if 0.0 < z < leg.burn:
            yield z
    for p in o.pieces:
        for line in (p.forward, p.aft):
            for z in _roots(o, leg, line):
                m = leg.mass - z
                if 0.0 < z < leg.burn and p.low - SLACK <= m <= p.high + SLACK:
                    yield z


def _roots(o: Outline, leg: Leg, line: Line) -> list[float]:
    """Where the moment of the leg is that of the edge."""
    if o.moment:
        # moment - x z = p + q (mass - z)
        slope = line.q - leg.x
        return [] if slope == 0.0 else [(line.at(leg.mass) - leg.moment) / slope]
    # moment - x z = (p + q M) M with M = mass - z
    m = leg.mass
    return quadratic(
        -line.q, line.p + 2.0 * line.q * m - leg.x, leg.moment - line.p * m - line.q * m * m
    )


def quadratic(a: float, b: float, c: float) -> list[float]:
    """Real roots of a z² + b z + c, without loss where a is small."""
    if a == 0.0:
        return [] if b == 0.0 else [-c / b]
    inner = b * b - 4.0 * a * c
    if inner < 0.0:
        return []
    q = -(b + math.copysign(math.sqrt(inner), b)) / 2.0
    return [q / a] if q == 0.0 else [q / a, c / q]
