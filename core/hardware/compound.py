"""Sealants, glues and threadlockers: may this tin be used, and has the joint cured?

All times are the maker's, entered by the user as [K, s] with rising temperature and times
that do not rise. Between points ln t is linear in K; outside them there is no answer.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule

Points = Sequence[Sequence[float]]
OUTSIDE = "outside the maker's data"
MARGIN = 0.25
SLACK_K = 1e-9


@dataclass(frozen=True)
class MayUse:
    """The decision; the pot life and the time needed, s; when to stop and what would fit, s."""

    decision: Annotated[
        str,
        "use, expired, stored too warm, gelled: throw away, will gel before you finish, too close.",
    ]
    pot_life_s: Annotated[float | None, "At this temperature."] = None
    needed_s: Annotated[float | None, "Mixed time and work with margin."] = None
    stop_after_s: Annotated[float | None, "Pot life left."] = None
    work_that_fits_s: Annotated[float | None, "The work that would still fit."] = None


@dataclass(frozen=True)
class Tin:
    """A tin or tube: days as ordinal numbers, temperatures in K."""

    expiry_day: Annotated[int, "Last day, as an ordinal number."]
    opened_day: Annotated[int | None, "Day of opening."] = None
    life_open_days: Annotated[int | None, "Days it keeps once opened."] = None
    storage_max_K: Annotated[float | None, "Warmest storage allowed."] = None
    stored_K: Annotated[float | None, "Warmest it was stored."] = None
    pot_points: Annotated[Points, "The maker's [K, s]; none for a one-part compound."] = ()


@rule(
    "hardware.may_use",
    title="May this compound be used?",
    purpose="Is the tin good, and will it last for this work?",
    source="The maker's data sheet only; none is shipped.",
    validity="Between the maker's points; a larger mixed mass gels sooner than the card.",
    caution="Old or overheated sealant on fuel and threadlocker on controls: throw it away.",
)
def may_use(
    tin: Tin,
    today_day: Annotated[int, "Today."],
    temperature_K: Annotated[float | None, "While working."] = None,
    mixed_ago_s: Annotated[float, "Since mixing."] = 0.0,
    work_s: Annotated[float, "Work left."] = 0.0,
    u_work_s: Annotated[float, "Standard uncertainty of it."] = 0.0,
    margin: Annotated[float, "Share added to the work (default 0.25)."] = MARGIN,
    u_temperature_K: Annotated[float, "Standard uncertainty of the temperature."] = 0.0,
) -> MayUse:
    """May this tin be used today, and will it last for this work?

    work_s: what is left to do, s, with standard uncertainty u_work_s; temperature_K while
    working, with u_temperature_K; margin: added share. Good through its last day. Refuses a
    day of opening in the future, an opened tin without its life, points out of order, and a
    temperature outside the maker's data.
    """
    if tin.opened_day is not None:
        if tin.opened_day > today_day:
            raise Refused("opened_day", "lies in the future")
        if tin.life_open_days is None:
            raise Refused("life_open_days", "is needed when it has been opened")
    if today_day > tin.expiry_day:
        return MayUse("expired")
    life = 0.0 if tin.life_open_days is None else not_negative(tin.life_open_days, "life_open_days")
    if tin.opened_day is not None and today_day > tin.opened_day + life:
        return MayUse("expired")
    if _too_warm(tin):
        return MayUse("stored too warm")
    if not tin.pot_points:
        return MayUse("use")
    return _in_the_pot(tin, temperature_K, mixed_ago_s, work_s, u_work_s, margin, u_temperature_K)


def _too_warm(tin: Tin) -> bool:
    if tin.storage_max_K is None or tin.stored_K is None:
        return False
    return positive(tin.stored_K, "stored_K") > positive(tin.storage_max_K, "storage_max_K")


def _in_the_pot(
    tin: Tin,
    temperature_K: float | None,
    mixed_ago_s: float,
    work_s: float,
    u_work_s: float,
    margin: float,
    u_temperature_K: float,
) -> MayUse:
    points = _checked(tin.pot_points, "pot_points")
    if temperature_K is None:
        raise Refused("temperature_K", "is needed for a mixed compound")
    mixed = not_negative(mixed_ago_s, "mixed_ago_s")
    share = 1.0 + not_negative(margin, "margin")
    needed = mixed + not_negative(work_s, "work_s") * share
    spread = 2.0 * not_negative(u_work_s, "u_work_s")
    pot = _time(points, positive(temperature_K, "temperature_K"), "temperature_K")
    left = max(0.0, pot - mixed)
    decision = "use"
    if mixed >= pot:
        decision = "gelled: throw away"
    elif needed > pot:
        decision = "will gel before you finish"
    else:
        warm = temperature_K + 2.0 * not_negative(u_temperature_K, "u_temperature_K")
        beyond = warm > points[-1][0]
        if beyond or needed + spread > _time(points, warm, "temperature_K"):
            decision = "too close"
    return MayUse(decision, pot, needed, left, left / share)


@dataclass(frozen=True)
class Cure:
    """Share of the cure, and when it was ready, s (None: not yet)."""

    share: Annotated[float, "Share of the cure reached."]
    ready_after_s: Annotated[float | None, "When it was ready; null: not yet."]


@rule(
    "hardware.cure_ready",
    title="Has it cured?",
    purpose="When is it cured enough to torque, close or fill?",
    source="The maker's data sheet only; none is shipped.",
    validity="Between the maker's points.",
    edition=2,
    caution="Some compounds that got too cold at the start never reach full strength: follow the "
    "maker's data sheet.",
)
def cure_ready(
    cure_points: Annotated[Points, "The maker's [K, s]."],
    history: Annotated[Sequence[Sequence[float | None]], "Pieces [duration s or null, K]."],
) -> Cure:
    """Share of the cure, and when it was ready, s from the start (None: not yet).

    history: pieces [duration s, K] in order; the last may be open-ended (None). Ready when
    the sum of duration / cure time reaches 1. A piece colder than the maker's coldest row
    counts zero while the clock runs on. Refuses points out of order, a temperature above the
    warmest row, and an open end before the last piece, naming the piece.
    """
    points = _checked(cure_points, "cure_points")
    done, elapsed = 0.0, 0.0
    for i, piece in enumerate(history):
        field = f"history[{i}]"
        if len(piece) != 2 or piece[1] is None:
            raise Refused(field, "must be a duration and a temperature")
        cold = finite(piece[1], field) < points[0][0] - SLACK_K
        needed = math.inf if cold else _time(points, piece[1], field)
        duration = piece[0]
        if duration is None:
            if i != len(history) - 1:
                raise Refused(field, "only the last piece may be open-ended")
            if cold:
                return Cure(done, None)
            duration = math.inf
        else:
            not_negative(duration, field)
        gained = 0.0 if cold else duration / needed
        if done + gained >= 1.0 - 1e-12:
            return Cure(1.0, elapsed + (1.0 - done) * needed)
        done, elapsed = done + gained, elapsed + duration
    return Cure(done, None)


def _checked(points: Points, field: str) -> list[tuple[float, float]]:
    rows = []
    for p in points:
        if len(p) != 2:
            raise Refused(field, "each point is a temperature and a time")
        rows.append((positive(p[0], field), positive(p[1], field)))
    if not rows:
        raise Refused(field, "needs the maker's points")
    for (k0, t0), (k1, t1) in itertools.pairwise(rows):
        if k1 <= k0:
            raise Refused(field, "temperatures must rise")
        if t1 > t0:
            raise Refused(field, "a warmer point cannot take longer")
    return rows


def _time(points: Sequence[tuple[float, float]], temperature_K: float, field: str) -> float:
    """The maker's time, s, at this temperature; refused outside the points."""
    if not points[0][0] - SLACK_K <= temperature_K <= points[-1][0] + SLACK_K:
        raise Refused(field, OUTSIDE)
    for (k0, t0), (k1, t1) in itertools.pairwise(points):
        if temperature_K <= k1:
            share = max(0.0, (temperature_K - k0) / (k1 - k0))
            return math.exp(math.log(t0) + share * (math.log(t1) - math.log(t0)))
    return points[-1][1]
