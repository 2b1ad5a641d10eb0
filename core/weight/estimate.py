"""Weight and balance from the parts, before weighing (`weight.estimate`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from core.basis.forms import Named
from core.basis.refused import Refused, finite, not_negative, positive
from core.weight.words import GUM, STATICS, MassFraction, Moment, rule

KNOWN = ("measured", "maker", "guessed")
Known = Literal["measured", "maker", "guessed"]
MOST_NEXT = 3


@dataclass(frozen=True)
class Part:
    """A part of the aircraft."""

    name: Annotated[str, "Which."]
    mass_kg: Annotated[float, "Its mass, above zero."]
    x_m: Annotated[float, "Its arm."]
    known: Annotated[Known, Named("class"), "How it is known."]
    u_mass_kg: Annotated[float | None, "Its own standard uncertainty."] = None
    u_x_m: Annotated[float | None, "Of its arm."] = None


@dataclass(frozen=True)
class Class:
    """How sure what is known in this way is."""

    u_mass_rel: Annotated[MassFraction | None, "Share of the mass."] = None
    u_x_m: Annotated[float | None, "Of an arm."] = None


@dataclass(frozen=True)
class WeighNext:
    """A part worth weighing, with what is known once it and those before it are weighed."""

    name: Annotated[str, "Which."]
    U_mass_kg: Annotated[float, "Then."]
    U_x_m: Annotated[float, "Then."]


@dataclass(frozen=True)
class Estimate:
    """Of the empty aircraft."""

    mass_kg: Annotated[float, "Of all parts."]
    moment_kg_m: Annotated[Moment, "About the datum."]
    x_m: Annotated[float, "The arm."]
    U_mass_kg: Annotated[float, "Expanded uncertainty."]
    U_moment_kg_m: Annotated[Moment, "Of the moment."]
    U_x_m: Annotated[float, "Of the arm."]
    share: Annotated[dict[str, float], "Of the mass, by how it is known."]
    weigh_next: Annotated[tuple[WeighNext, ...], "The parts that teach the most, best first."]


@rule(
    "weight.estimate",
    title="Estimate before weighing",
    purpose="What do the parts add up to, how sure is that, and which to weigh next?",
    source=f"{STATICS} {GUM}",
    validity="All inputs independent. Guesses often all err the same way; this U does not know"
    " that.",
)
def estimate(
    parts: Annotated[tuple[Part, ...], "All of the empty aircraft."],
    classes: Annotated[dict[str, Class], "measured, maker, guessed: how sure each is."],
    u_weigh_kg: Annotated[float, "Standard uncertainty of weighing a part."],
    by: Annotated[Literal["mass", "arm"], "What to know better."] = "mass",
) -> Estimate:
    """kg, m. Refuses no part, a name twice, and a part of which nobody said how sure it is."""
    weigh = not_negative(u_weigh_kg, "u_weigh_kg")
    sure = [_sure(n, p, classes) for n, p in enumerate(parts)]
    _refuse(parts, classes)
    mass = math.fsum(p.mass_kg for p in parts)
    moment = math.fsum(p.mass_kg * p.x_m for p in parts)
    x = moment / mass
    of_mass = {p.name: um for p, (um, _) in zip(parts, sure, strict=True)}
    of_arm = {p.name: p.mass_kg * ux for p, (_, ux) in zip(parts, sure, strict=True)}
    share = {k: math.fsum(p.mass_kg for p in parts if p.known == k) / mass for k in KNOWN}

    def gain(p: Part) -> float:
        less = of_mass[p.name] ** 2 - weigh**2
        return less if by == "mass" else less * (p.x_m - x) ** 2

    worth = [p for p in parts if p.known != "measured" and gain(p) > 0.0]
    chosen = sorted(worth, key=lambda p: (-gain(p), p.name))[:MOST_NEXT]
    U_moment = 2.0 * math.hypot(*(of_mass[p.name] * p.x_m for p in parts), *of_arm.values())
    first = _spread(parts, mass, x, of_mass, of_arm)
    following = []
    for p in chosen:
        of_mass[p.name] = weigh
        following.append(WeighNext(p.name, *_spread(parts, mass, x, of_mass, of_arm)))
    return Estimate(mass, moment, x, first[0], U_moment, first[1], share, tuple(following))


def _spread(
    parts: Sequence[Part],
    mass: float,
    x: float,
    of_mass: dict[str, float],
    of_arm: dict[str, float],
) -> tuple[float, float]:
    """Expanded uncertainties of mass and arm."""
    arm = (of_mass[p.name] * (p.x_m - x) / mass for p in parts)
    return (
        2.0 * math.hypot(*of_mass.values()),
        2.0 * math.hypot(*arm, *(v / mass for v in of_arm.values())),
    )


def _sure(n: int, p: Part, classes: dict[str, Class]) -> tuple[float, float]:
    """Standard uncertainties of a part's mass and arm."""
    at, known = f"parts.{n}", classes.get(p.known, Class())
    mass = positive(p.mass_kg, f"{at}.mass_kg")
    finite(p.x_m, f"{at}.x_m")
    um = p.u_mass_kg
    if um is None:
        if known.u_mass_rel is None:
            raise Refused(f"{at}.u_mass_kg", f"is needed: nobody said how sure {p.known} is")
        um = mass * not_negative(known.u_mass_rel, f"classes.{p.known}.u_mass_rel")
    ux = p.u_x_m
    if ux is None:
        if known.u_x_m is None:
            raise Refused(f"{at}.u_x_m", f"is needed: nobody said how sure {p.known} is")
        ux = not_negative(known.u_x_m, f"classes.{p.known}.u_x_m")
    return not_negative(um, f"{at}.u_mass_kg"), not_negative(ux, f"{at}.u_x_m")


def _refuse(parts: Sequence[Part], classes: dict[str, Class]) -> None:
    if not parts:
        raise Refused("parts", "needs at least one")
    names = [p.name for p in parts]
    for n, name in enumerate(names):
        if name in names[:n]:
            raise Refused(f"parts.{n}.name", "is there twice")
    for name in classes:
        if name not in KNOWN:
            raise Refused(f"classes.{name}", "must be one of: " + ", ".join(KNOWN))
