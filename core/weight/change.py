"""What a change of equipment does to every loading (`weight.change_effect`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Annotated, Literal

from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.weight.envelope import Envelope
from core.weight.ledger import Base, Entry, ledger
from core.weight.words import CAUTION, GUM, SLACK, STATICS, Moment, rule
from core.weight.worst import Empty, Group, Station, Worst, worst_cases

# The rule has no days: all changes are made at once.
ONE_DAY = date(2000, 1, 1)


@dataclass(frozen=True)
class Change:
    """Something that would be added, removed or moved."""

    kind: Annotated[Literal["add", "remove", "move"], "What would be done."]
    mass_kg: Annotated[float, "Of the thing, above zero."]
    x_m: Annotated[float, "Where it is, or would be."]
    y_m: Annotated[float, "Beside the middle."] = 0.0
    x_to_m: Annotated[float | None, "Where a thing would be moved to."] = None
    y_to_m: Annotated[float | None, "Beside the middle; left out: as before."] = None
    u_mass_kg: Annotated[float, "Standard uncertainty of its mass."] = 0.0
    u_x_m: Annotated[float, "Of each of its arms."] = 0.0


@dataclass(frozen=True)
class Amount:
    """Changed by calculation since the last weighing; or the limit of that."""

    mass_kg: Annotated[float | None, "Added and removed together."] = None
    moment_kg_m: Annotated[Moment | None, "About the empty arm, each without its sign."] = None


@dataclass(frozen=True)
class Stands:
    """The empty aircraft, and the worst that can be flown with it."""

    mass_kg: Annotated[float, "Empty mass."]
    x_m: Annotated[float, "Its arm."]
    y_m: Annotated[float, "Its lateral arm."]
    moment_kg_m: Annotated[Moment, "About the datum."]
    U_mass_kg: Annotated[float, "Expanded uncertainty of the mass."]
    U_x_m: Annotated[float, "Of the arm."]
    forward_margin_m: Annotated[float | None, "Of the worst loading."]
    aft_margin_m: Annotated[float | None, "Of the worst loading."]
    verdict: Annotated[Verdict, "Of every loading."]


@dataclass(frozen=True)
class Difference:
    """After less before."""

    mass_kg: Annotated[float, "Empty mass."]
    x_m: Annotated[float, "Arm."]
    moment_kg_m: Annotated[Moment, "Moment."]
    forward_margin_m: Annotated[float | None, "Null where one of them is."]
    aft_margin_m: Annotated[float | None, "Null where one of them is."]


@dataclass(frozen=True)
class Accumulated:
    """Since the last weighing, with these changes."""

    mass_kg: Annotated[float, "Added and removed."]
    moment_kg_m: Annotated[Moment, "About the empty arm."]


@dataclass(frozen=True)
class Effect:
    """What the changes do."""

    before: Annotated[Stands, "Now."]
    after: Annotated[Stands, "With the changes."]
    change: Annotated[Difference, "After less before."]
    accumulated: Annotated[Accumulated, "Since the last weighing."]
    over: Annotated[tuple[str, ...], "Limits exceeded: mass_kg, moment_kg_m."]
    reweigh_due: Annotated[bool, "Whether a weighing is due."]


@rule(
    "weight.change_effect",
    title="What a change of equipment does",
    purpose="What do these changes do to the empty aircraft and to every loading, and is a weighing"
    " due?",
    source=f"{STATICS} {GUM} The limit of calculated changes is the authority's or the user's.",
    validity="No change cancels another, and no datum matters.",
    caution="A calculated change is no weighing. Major changes, and local rules, may ask for one. "
    + CAUTION,
)
def change_effect(
    empty: Annotated[Empty, "Before the changes."],
    envelope: Annotated[Envelope, "The maker's."],
    max_mass_kg: Annotated[float, "Gross mass."],
    changes: Annotated[tuple[Change, ...], "All that would be changed."],
    reweigh_limit: Annotated[Amount, "At least one of its two."],
    stations: Annotated[tuple[Station, ...], "Seats and lockers."] = (),
    tanks: Annotated[tuple[Station, ...], "Each at any level."] = (),
    groups: Annotated[tuple[Group, ...], "Limits of several together."] = (),
    U_x_m: Annotated[float | None, "Of the loaded aircraft; left out: propagated."] = None,
    accumulated: Annotated[Amount, "Changed by calculation since the last weighing."] = Amount(
        0.0, 0.0
    ),
) -> Effect:
    """kg, m. Refuses no change, a limit that is not above zero, and what the worst cases refuse
    before or after."""
    if not changes:
        raise Refused("changes", "needs at least one")
    limits = _limits(reweigh_limit)
    since = Accumulated(
        not_negative(accumulated.mass_kg or 0.0, "accumulated.mass_kg"),
        not_negative(accumulated.moment_kg_m or 0.0, "accumulated.moment_kg_m"),
    )

    def worst_of(e: Empty) -> Worst:
        return worst_cases(e, envelope, max_mass_kg, stations, tanks, groups, U_x_m)

    before = _stands(empty, worst_of(empty))
    changed = _changed(empty, changes)
    after = _stands(changed, worst_of(changed))
    grown = accumulate(changes, empty.x_m, since)
    over = tuple(
        name for name, limit in limits.items() if getattr(grown, name) > limit * (1.0 + SLACK)
    )
    return Effect(before, after, _difference(before, after), grown, over, bool(over))


def accumulate(changes: Sequence[Change], x_m: float, since: Accumulated) -> Accumulated:
    """With what these add, each without its sign, about an empty arm."""
    mass, moment = since.mass_kg, since.moment_kg_m
    for c in changes:
        if c.kind == "move":
            moment += abs(c.mass_kg * ((c.x_m if c.x_to_m is None else c.x_to_m) - c.x_m))
        else:
            mass += c.mass_kg
            moment += abs(c.mass_kg * (c.x_m - x_m))
    return Accumulated(mass, moment)


def _limits(limit: Amount) -> dict[str, float]:
    found = {}
    for name in ("mass_kg", "moment_kg_m"):
        value = getattr(limit, name)
        if value is not None:
            if finite(value, "reweigh_limit") <= 0.0:
                raise Refused("reweigh_limit", "must be above zero")
            found[name] = float(value)
    if not found:
        raise Refused("reweigh_limit", "give at least one")
    return found


def _changed(empty: Empty, changes: Sequence[Change]) -> Empty:
    """The empty aircraft after the changes, as the ledger has it."""
    base = Base(
        ONE_DAY, empty.mass_kg, empty.x_m, empty.y_m, empty.U_mass_kg or 0.0, empty.U_x_m or 0.0
    )
    entries = tuple(
        Entry(ONE_DAY, c.kind, c.mass_kg, c.x_m, c.y_m, c.x_to_m, c.y_to_m, c.u_mass_kg, c.u_x_m)
        for c in changes
    )
    try:
        found = ledger(base, entries)
    except Refused as refusal:
        field = refusal.field.replace("entries.", "changes.").replace("base.", "empty.")
        raise Refused(field, refusal.reason) from None
    known = empty.U_mass_kg is not None and empty.U_x_m is not None
    return Empty(
        found.mass_kg, found.x_m, found.y_m,
        found.U_mass_kg if known else None, found.U_x_m if known else None,
    )  # fmt: skip


def _stands(e: Empty, w: Worst) -> Stands:
    positive(e.mass_kg, "empty.mass_kg")
    return Stands(
        e.mass_kg, e.x_m, e.y_m, e.mass_kg * e.x_m, e.U_mass_kg or 0.0, e.U_x_m or 0.0,
        w.forward_worst.margin_m if w.forward_worst else None,
        w.aft_worst.margin_m if w.aft_worst else None,
        w.verdict,
    )  # fmt: skip


def _difference(a: Stands, b: Stands) -> Difference:
    def less(x: float | None, y: float | None) -> float | None:
        return None if x is None or y is None or not math.isfinite(x + y) else y - x

    return Difference(
        b.mass_kg - a.mass_kg, b.x_m - a.x_m, b.moment_kg_m - a.moment_kg_m,
        less(a.forward_margin_m, b.forward_margin_m), less(a.aft_margin_m, b.aft_margin_m),
    )  # fmt: skip
