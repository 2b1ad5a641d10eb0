"""The equipment ledger: what was added, removed and moved since a weighing (`weight.ledger`)."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date as Day
from typing import Annotated, Literal

from core.basis.forms import ABSENT
from core.basis.propagation import Uncertain, known
from core.basis.refused import Refused, finite, not_negative, positive
from core.weight.words import GUM, STATICS, Moment, rule


@dataclass(frozen=True)
class Base:
    """The last weighing."""

    date: Annotated[Day, "When."]
    mass_kg: Annotated[float, "Empty mass."]
    x_m: Annotated[float, "Its arm."]
    y_m: Annotated[float, "Its lateral arm."] = 0.0
    U_mass_kg: Annotated[float, "Expanded uncertainty of the mass."] = 0.0
    U_x_m: Annotated[float, "Of the arm."] = 0.0
    U_y_m: Annotated[float, "Of the lateral arm."] = 0.0


@dataclass(frozen=True)
class Entry:
    """Something added, removed or moved."""

    date: Annotated[Day, "When."]
    kind: Annotated[Literal["add", "remove", "move"], "What was done."]
    mass_kg: Annotated[float, "Of the thing, above zero."]
    x_m: Annotated[float, "Where it is, or was."]
    y_m: Annotated[float, "Beside the middle."] = 0.0
    x_to_m: Annotated[float | None, "Where a thing that was moved is now."] = None
    y_to_m: Annotated[float | None, "Beside the middle; left out: as before."] = None
    u_mass_kg: Annotated[float, "Standard uncertainty of its mass."] = 0.0
    u_x_m: Annotated[float, "Of each of its arms."] = 0.0


@dataclass(frozen=True)
class Next:
    """The next weighing."""

    mass_kg: Annotated[float, "Empty mass."]
    x_m: Annotated[float, "Its arm."]
    U_mass_kg: Annotated[float, "Expanded uncertainty of the mass."]
    U_x_m: Annotated[float, "Of the arm."]


@dataclass(frozen=True)
class State:
    """The empty aircraft after an entry."""

    mass_kg: Annotated[float, "Empty mass."]
    x_m: Annotated[float, "Its arm."]
    y_m: Annotated[float, "Its lateral arm."]
    moment_kg_m: Annotated[Moment, "About the datum."]
    U_mass_kg: Annotated[float, "Expanded uncertainty of the mass."]
    U_x_m: Annotated[float, "Of the arm."]
    U_y_m: Annotated[float, "Of the lateral arm: only what the weighing brought."]


@dataclass(frozen=True)
class Against:
    """The next weighing against the ledger."""

    mass_difference_kg: Annotated[float, "Weighed less reckoned."]
    En_mass: Annotated[float, "|difference| over both uncertainties."]
    x_difference_m: Annotated[float, "Weighed less reckoned."]
    En_x: Annotated[float, "Of the arm."]
    agrees: Annotated[bool, "Whether neither is above 1."]
    unlisted_moment_kg_m: Annotated[Moment, "What the ledger does not know."]
    single_item_arm_m: Annotated[
        float | None, "Where one forgotten thing would sit; null: the masses agree."
    ]


@dataclass(frozen=True)
class Ledger:
    """After every entry, in the order of their days; then now."""

    rows: Annotated[tuple[State, ...], "After each entry."]
    mass_kg: Annotated[float, "Now."]
    x_m: Annotated[float, "Now."]
    y_m: Annotated[float, "Now."]
    moment_kg_m: Annotated[Moment, "Now."]
    U_mass_kg: Annotated[float, "Now."]
    U_x_m: Annotated[float, "Now."]
    U_y_m: Annotated[float, "Now."]
    compare: Annotated[Against | None, "With the next weighing.", ABSENT] = None


@rule(
    "weight.ledger",
    title="Equipment ledger",
    purpose="Empty weight and balance after what was added, removed and moved.",
    source=f"{STATICS} {GUM}",
    validity="A calculated change is no weighing.",
)
def ledger(
    base: Annotated[Base, "The weighing it begins with."],
    entries: Annotated[tuple[Entry, ...], "In any order."] = (),
    next_weighing: Annotated[Next | None, "To compare with."] = None,
) -> Ledger:
    """kg, m. Refuses a day before the weighing, a mass not above zero, a move to nowhere, and
    entries that leave no mass."""
    rows = [_state(*a) for a in _after(base, entries)]
    now = rows[-1]
    against = None if next_weighing is None else _against(now, next_weighing)
    return Ledger(
        tuple(rows[1:]), now.mass_kg, now.x_m, now.y_m, now.moment_kg_m, now.U_mass_kg,
        now.U_x_m, now.U_y_m, against,
    )  # fmt: skip


def in_order(entries: Sequence[Entry]) -> list[tuple[int, Entry]]:
    """(place as entered, entry) by day; on one day as entered."""
    return sorted(enumerate(entries), key=lambda pair: pair[1].date)


def _after(
    base: Base, entries: Sequence[Entry]
) -> Iterable[tuple[Uncertain, Uncertain, Uncertain]]:
    """Mass, moment and lateral moment of the base, then after each entry."""
    mass = known("mass", positive(base.mass_kg, "base.mass_kg"),
                 not_negative(base.U_mass_kg, "base.U_mass_kg") / 2.0)  # fmt: skip
    x = known("arm", finite(base.x_m, "base.x_m"), not_negative(base.U_x_m, "base.U_x_m") / 2.0)
    y = known("lateral arm", finite(base.y_m, "base.y_m"),
              not_negative(base.U_y_m, "base.U_y_m") / 2.0)  # fmt: skip
    moment, lateral = mass * x, mass * y
    yield mass, moment, lateral
    for n, e in in_order(entries):
        at = f"entries.{n}"
        if e.date < base.date:
            raise Refused(f"{at}.date", "is before the weighing")
        m = known(f"mass {n}", positive(e.mass_kg, f"{at}.mass_kg"),
                  not_negative(e.u_mass_kg, f"{at}.u_mass_kg"))  # fmt: skip
        u = not_negative(e.u_x_m, f"{at}.u_x_m")
        here = known(f"arm {n}", finite(e.x_m, f"{at}.x_m"), u)
        beside = finite(e.y_m, f"{at}.y_m")
        if e.kind == "move":
            if e.x_to_m is None:
                raise Refused(f"{at}.x_to_m", "is needed: where it was moved to")
            there = known(f"new arm {n}", finite(e.x_to_m, f"{at}.x_to_m"), u)
            new = beside if e.y_to_m is None else finite(e.y_to_m, f"{at}.y_to_m")
            moment, lateral = moment + m * (there - here), lateral + m * (new - beside)
        elif e.kind == "add":
            mass, moment, lateral = mass + m, moment + m * here, lateral + m * beside
        else:
            mass, moment, lateral = mass - m, moment - m * here, lateral - m * beside
        if mass.value <= 0.0:
            raise Refused(f"{at}.mass_kg", "leaves no mass")
        yield mass, moment, lateral


def _state(mass: Uncertain, moment: Uncertain, lateral: Uncertain) -> State:
    x, y = moment / mass, lateral / mass
    return State(mass.value, x.value, y.value, moment.value, mass.U, x.U, y.U)


def _against(now: State, w: Next) -> Against:
    positive(w.mass_kg, "next_weighing.mass_kg")
    finite(w.x_m, "next_weighing.x_m")
    both_mass = math.hypot(not_negative(w.U_mass_kg, "next_weighing.U_mass_kg"), now.U_mass_kg)
    both_x = math.hypot(not_negative(w.U_x_m, "next_weighing.U_x_m"), now.U_x_m)
    if both_mass == 0.0:
        raise Refused("next_weighing.U_mass_kg", "neither mass has an uncertainty")
    if both_x == 0.0:
        raise Refused("next_weighing.U_x_m", "neither arm has an uncertainty")
    dm, dx = w.mass_kg - now.mass_kg, w.x_m - now.x_m
    em, ex = abs(dm) / both_mass, abs(dx) / both_x
    unlisted = w.mass_kg * w.x_m - now.moment_kg_m
    hint = unlisted / dm if em > 1.0 else None
    return Against(dm, em, dx, ex, em <= 1.0 and ex <= 1.0, unlisted, hint)
