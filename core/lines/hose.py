"""Hoses: long enough, not twisted, in life (`lines.hose_length`, `lines.hose_twist`,
`lines.hose_due`, `lines.line_compare` is beside the flow)."""

from __future__ import annotations

import calendar
from dataclasses import dataclass
from datetime import date
from typing import Annotated

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict, judge
from core.lines.words import CHAPTER_9, GUM, HOSE

SLACK_MIN, SLACK_MAX = 0.05, 0.08
ROUNDING = 1e-9


@dataclass(frozen=True)
class HoseLength:
    """How long a hose must be, m, and what its slack says."""

    shortest_m: Annotated[float, "Least length."]
    longest_m: Annotated[float, "Greatest length."]
    slack: Annotated[float | None, "Share of the hose that is more than its route."]
    finding: Annotated[
        str | None, "shorter_than_route, too_little_slack, much_slack or none; null: no hose yet."
    ]


@rule(
    "lines.hose_length",
    title="Length of a hose",
    purpose="How long must the hose be for its route, or is this one long enough?",
    source=CHAPTER_9 + " Slack 5 to 8 % of its length.",
    validity="Ends that stand still. A hose changes length under pressure: never taut.",
    caution=HOSE,
)
def hose_length(
    route_length_m: Annotated[float, "Along its route."],
    hose_length_m: Annotated[float | None, "Of the hose that is there."] = None,
    slack_min: Annotated[float, "Least slack, a share of the hose."] = SLACK_MIN,
    slack_max: Annotated[float, "Greatest slack."] = SLACK_MAX,
) -> HoseLength:
    """Shortest and longest, and the finding on a hose. Refuses slack that is no share."""
    route = positive(route_length_m, "route_length_m")
    if not 0.0 <= finite(slack_min, "slack_min") < 1.0:
        raise Refused("slack_min", "must be from 0 to below 1")
    if not slack_min <= finite(slack_max, "slack_max") < 1.0:
        raise Refused("slack_max", "must be from the least slack to below 1")
    shortest, longest = route / (1.0 - slack_min), route / (1.0 - slack_max)
    if hose_length_m is None:
        return HoseLength(shortest, longest, None, None)
    slack = (positive(hose_length_m, "hose_length_m") - route) / hose_length_m
    finding = "none"
    if slack < 0.0:
        finding = "shorter_than_route"
    elif slack < slack_min - ROUNDING:
        finding = "too_little_slack"
    elif slack > slack_max + ROUNDING:
        finding = "much_slack"
    return HoseLength(shortest, longest, slack, finding)


@dataclass(frozen=True)
class HoseTwist:
    """How far a hose is twisted for each metre, rad/m."""

    twist_rad_per_m: Annotated[float, "Of the lay line."]
    verdict: Annotated[Verdict, "Against the maker's limit."]


@rule(
    "lines.hose_twist",
    title="Is the hose twisted?",
    purpose="How far does its lay line turn, against the maker's limit?",
    source=GUM + " The limit is the maker's.",
    validity="A straight look along the lay line of the free length.",
    caution="A pressurised hose untwists and slackens its nut. " + HOSE,
)
def hose_twist(
    lay_line_turn_rad: Annotated[float, "How far the lay line turns from end to end."],
    free_length_m: Annotated[float, "Between the fittings."],
    limit_rad_per_m: Annotated[float, "The maker's limit."],
    u_turn_rad: Annotated[float, "Standard uncertainty of the turn."] = 0.0,
) -> HoseTwist:
    """|turn| / length against the limit; U = 2 u / length."""
    long = positive(free_length_m, "free_length_m")
    limit = positive(limit_rad_per_m, "limit_rad_per_m")
    twist = abs(finite(lay_line_turn_rad, "lay_line_turn_rad")) / long
    U = 2.0 * not_negative(u_turn_rad, "u_turn_rad") / long
    return HoseTwist(twist, judge(twist, U, None, limit))


@dataclass(frozen=True)
class HoseDue:
    """When a hose must go, and how long that is."""

    due: Annotated[date | None, "Last day; null: on condition."]
    basis: Annotated[str | None, "cure or install: which life ends first."]
    days_left: Annotated[int | None, "Negative past it."]
    status: Annotated[str, "in life, due soon, past life or on condition."]


def after_months(day: date, months: int) -> date:
    """So many months later; a day past the month's end is its last day."""
    year, month = divmod(day.year * 12 + day.month - 1 + months, 12)
    return date(year, month + 1, min(day.day, calendar.monthrange(year, month + 1)[1]))


@rule(
    "lines.hose_due",
    title="How long may the hose stay?",
    purpose="When does the maker's life end, from its cure or from the day it went in?",
    source="The hose maker's data.",
    validity="Lives in whole months; a day past the month's end becomes its last day.",
    caution=HOSE,
)
def hose_due(
    today: Annotated[date, "Today."],
    cure_date: Annotated[date | None, "Printed on the hose."] = None,
    install_date: Annotated[date | None, "When it went in."] = None,
    life_from_cure_months: Annotated[float | None, "The maker's life from cure."] = None,
    life_from_install_months: Annotated[float | None, "The maker's life once in."] = None,
    warn_days: Annotated[int, "How early to warn."] = 90,
) -> HoseDue:
    """The earlier end governs; on a tie that from cure. Refuses a life without its date."""
    for name, day in (("cure_date", cure_date), ("install_date", install_date)):
        if day is not None and day > today:
            raise Refused(name, "is in the future")
    if cure_date and install_date and install_date < cure_date:
        raise Refused("install_date", "is before its cure")
    not_negative(warn_days, "warn_days")
    ends: list[tuple[date, str]] = []
    for basis, day, life in (
        ("cure", cure_date, life_from_cure_months),
        ("install", install_date, life_from_install_months),
    ):
        if life is None:
            continue
        months = positive(life, f"life_from_{basis}_months")
        if months != int(months):
            raise Refused(f"life_from_{basis}_months", "must be a whole number of months")
        if months > 1200:
            raise Refused(f"life_from_{basis}_months", "is longer than any hose lives")
        if day is None:
            raise Refused(f"{basis}_date", "is needed: a life counts from it")
        ends.append((after_months(day, int(months)), basis))
    if not ends:
        return HoseDue(None, None, None, "on condition")
    due, basis = min(ends, key=lambda e: e[0])
    left = (due - today).days
    status = "past life" if left < 0 else "due soon" if left <= warn_days else "in life"
    return HoseDue(due, basis, left, status)
