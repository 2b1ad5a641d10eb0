"""How far to turn which turnbuckle, and what its threads allow.

`cables.turnbuckle_turns`, `cables.turnbuckle_threads`, `cables.learn_compliance`. Two sides A
and B with equal arms on the driven lever. Source: AC 43.13-1B ch. 7 (three threads).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import OneOf, Unit
from core.basis.refused import Refused, choice, finite, not_negative, positive
from core.basis.rules import rule
from core.cables.words import BOTTOMED, CAUTION, MECHANICS

MODES = ("free", "pinned")
SAME = 1e-9
THREADS_OUTSIDE = 3.0
UNEVEN = 1.0


@dataclass(frozen=True)
class Buckles:
    """Compliance of both sides, m/N, and how far a turn draws in, m (None: no turnbuckle).

    driven_arm_m: what a free lever turns on; pinned levers need none.
    """

    compliance_A_m_per_N: Annotated[float, "Give of side A with its share of the frame."]
    compliance_B_m_per_N: Annotated[float, "Give of side B with its share of the frame."]
    travel_per_turn_A_m: Annotated[
        float | None, "Pitches of both threads together; null: no turnbuckle."
    ]
    travel_per_turn_B_m: Annotated[float | None, "The same for side B."]
    driven_arm_m: Annotated[
        float | None, "Arm on the driven lever, the same on both sides; free levers need it."
    ] = None

    def __post_init__(self) -> None:
        positive(self.compliance_A_m_per_N, "compliance_A_m_per_N")
        positive(self.compliance_B_m_per_N, "compliance_B_m_per_N")
        if self.driven_arm_m is not None:
            positive(self.driven_arm_m, "driven_arm_m")
        for name in ("travel_per_turn_A_m", "travel_per_turn_B_m"):
            if getattr(self, name) is not None:
                positive(getattr(self, name), name)
        if self.travel_per_turn_A_m is None and self.travel_per_turn_B_m is None:
            raise Refused("travel_per_turn_A_m", "neither side has a turnbuckle")

    @property
    def loop_compliance(self) -> float:
        """Of both sides in line, m/N."""
        return self.compliance_A_m_per_N + self.compliance_B_m_per_N

    @property
    def both(self) -> bool:
        """Whether both sides can be turned."""
        return self.travel_per_turn_A_m is not None and self.travel_per_turn_B_m is not None


@dataclass(frozen=True)
class Turns:
    """Turns (+ tightens), exact and rounded; what the rounded ones give. None: no turnbuckle.

    shift_rad: rotation of the driven lever the way side A pulls it.
    """

    turns_A: Annotated[float | None, "Turns on side A, + tightens."]
    turns_B: Annotated[float | None, "Turns on side B, + tightens."]
    rounded_A: Annotated[float | None, "Side A in whole steps."]
    rounded_B: Annotated[float | None, "Side B in whole steps."]
    after_A_N: Annotated[float, "Side A after the rounded turns."]
    after_B_N: Annotated[float, "Side B after the rounded turns."]
    shift_rad: Annotated[float, "What the rounded turns rotate."]


@rule(
    "cables.turnbuckle_turns",
    title="Turns to make",
    purpose="How far to turn which turnbuckle for the target tension with the lever where"
    " it belongs.",
    source=MECHANICS,
    validity="Equal arms on the driven lever. Make half the turns, measure, learn, repeat.",
    caution=CAUTION,
)
def turnbuckle_turns(
    mode: Annotated[str, "free or pinned.", OneOf(("free", "pinned"))],
    target_N: Annotated[float, "Tension wanted."],
    present_A_N: Annotated[float, "Measured on side A."],
    present_B_N: Annotated[float, "Measured on side B."],
    buckles: Buckles,
    recentre_rad: Annotated[float, "Wanted rotation the way side A pulls."] = 0.0,
    step_turns: Annotated[float, "Rounded to; default 0.5.", Unit("turns")] = 0.5,
) -> Turns:
    """The turns that bring both sides to the target, and rotate the driven lever if wanted.

    free: the loop evens out, so that both sides read the same. pinned: both levers held.
    Make half of the turns, measure, learn the compliance, repeat. Refuses slack cables, sides
    that differ in a free loop, recentring where it cannot be done, and a loop left slack.
    """
    choice(mode, MODES, "mode")
    positive(target_N, "target_N")
    for name, value in (("present_A_N", present_A_N), ("present_B_N", present_B_N)):
        if finite(value, name) <= 0:
            raise Refused(
                name,
                "a slack cable has no known length: take up slack until the tension reads, "
                "then measure again",
            )
    finite(recentre_rad, "recentre_rad")
    positive(step_turns, "step_turns")
    if mode == "pinned":
        return _pinned(target_N, (present_A_N, present_B_N), buckles, recentre_rad, step_turns)
    if abs(present_A_N - present_B_N) > SAME:
        raise Refused("present_B_N", "use the mean of both readings on both sides")
    return _free(target_N, present_A_N, buckles, recentre_rad, step_turns)


def _free(target: float, present: float, b: Buckles, recentre: float, step: float) -> Turns:
    if b.driven_arm_m is None:
        raise Refused("driven_arm_m", "is needed where the levers are free to turn")
    if recentre != 0 and not b.both:
        raise Refused("recentre_rad", "one turnbuckle cannot set tension and neutral at once")
    more = target - present
    turn = b.driven_arm_m * recentre
    draw_a = more * b.compliance_A_m_per_N + turn
    draw_b = more * b.compliance_B_m_per_N - turn
    if not b.both:
        draw_a = draw_b = more * b.loop_compliance
    turns_a, rounded_a, drawn_a = _rounded(draw_a, b.travel_per_turn_A_m, step)
    turns_b, rounded_b, drawn_b = _rounded(draw_b, b.travel_per_turn_B_m, step)
    got = (drawn_a + drawn_b) / b.loop_compliance
    after = present + got
    if after <= 0:
        raise Refused("target_N", "after rounding the loop would be slack")
    shift = (drawn_a - got * b.compliance_A_m_per_N) / b.driven_arm_m
    return Turns(turns_a, turns_b, rounded_a, rounded_b, after, after, shift)


def _pinned(
    target: float, present: tuple[float, float], b: Buckles, recentre: float, step: float
) -> Turns:
    if recentre != 0:
        raise Refused("recentre_rad", "pinned levers do not turn")
    if not b.both:
        missing = "A" if b.travel_per_turn_A_m is None else "B"
        raise Refused(
            f"travel_per_turn_{missing}_m", "pinned levers need a turnbuckle on both sides"
        )
    found = []
    sides = (
        (present[0], b.compliance_A_m_per_N, b.travel_per_turn_A_m),
        (present[1], b.compliance_B_m_per_N, b.travel_per_turn_B_m),
    )
    for now, compliance, travel in sides:
        turns, rounded, drawn = _rounded((target - now) * compliance, travel, step)
        after = now + drawn / compliance
        if after <= 0:
            raise Refused("target_N", "after rounding the loop would be slack")
        found.append((turns, rounded, after))
    (ta, ra, fa), (tb, rb, fb) = found
    return Turns(ta, tb, ra, rb, fa, fb, 0.0)


def _rounded(
    draw: float, travel: float | None, step: float
) -> tuple[float | None, float | None, float]:
    """Turns, turns in whole steps (halves upward), and how far those draw in, m."""
    if travel is None:
        return None, None, 0.0
    turns = draw / travel
    rounded = math.floor(turns / step + 0.5) * step
    return turns, rounded, rounded * travel


@dataclass(frozen=True)
class Threads:
    """State of the thread showing at the barrel's ends, before and after turning."""

    before: Annotated[str, "bottomed, out or in, now."]
    after: Annotated[str, "The same after turning."]
    after_threads: Annotated[tuple[float, float], "Threads showing after turning."]
    uneven: Annotated[bool, "Ends differ by over one thread."]
    may_fly: Annotated[bool, "In, safetied and final."]


@rule(
    "cables.turnbuckle_threads",
    title="Thread showing",
    purpose="Whether a turnbuckle is bottomed, or shows too much thread, before and after turning.",
    source="AC 43.13-1B ch. 7 (no more than three threads outside the barrel).",
    validity="Threads counted outside the barrel.",
    caution=BOTTOMED,
)
def turnbuckle_threads(
    showing: Annotated[Sequence[float], "Threads outside, both ends."],
    turns: Annotated[float, "Turns, + tightens."],
    limit: Annotated[float, "Default 3.", Unit("threads")] = THREADS_OUTSIDE,
    safetied: Annotated[bool, "Its lock is on."] = False,
    final: Annotated[bool, "Set for good; default true."] = True,
) -> Threads:
    """Thread showing outside the barrel, in threads, before and after turns (+ tightens).

    bottomed: cannot be tightened; out: too many outside; else in. May fly when in, safetied
    and final. Refuses negative counts and one end only. Source: AC 43.13-1B ch. 7.
    """
    if len(showing) != 2:
        raise Refused("showing", "needs both ends")
    for i, s in enumerate(showing):
        not_negative(s, f"showing.{i}")
    finite(turns, "turns")
    positive(limit, "limit")
    after = (showing[0] - turns, showing[1] - turns)
    state = _thread_state(after, limit)
    return Threads(
        _thread_state(showing, limit),
        state,
        after,
        abs(after[0] - after[1]) > UNEVEN + SAME,
        state == "in" and safetied and final,
    )


def _thread_state(showing: Sequence[float], limit: float) -> str:
    if any(s < -SAME for s in showing):
        return "bottomed"
    return "out" if any(s > limit + SAME for s in showing) else "in"


@dataclass(frozen=True)
class Learnt:
    """Compliance of the whole loop, m/N, and its standard uncertainty."""

    loop_compliance_m_per_N: Annotated[float, "Of both sides together."]
    u_m_per_N: Annotated[float, "Its standard uncertainty."]


@rule(
    "cables.learn_compliance",
    title="Learn the loop's compliance",
    purpose="What the loop gives per newton, from turns made and tension before and after.",
    source=MECHANICS,
    validity="Taut before and after; a change well above the uncertainty.",
    caution=CAUTION,
)
def learn_compliance(
    turns_A: Annotated[float, "Made on side A, + tightens."],
    turns_B: Annotated[float, "Made on side B, + tightens."],
    travel_per_turn_A_m: Annotated[
        float | None, "Pitches of both threads together; null: no turnbuckle."
    ],
    travel_per_turn_B_m: Annotated[float | None, "The same for side B."],
    before_N: Annotated[float, "Tension before."],
    after_N: Annotated[float, "Tension after."],
    u_tension_N: Annotated[float, "Standard uncertainty of the tension."] = 0.0,
) -> Learnt:
    """What the loop gives per newton, from turns made and the tension before and after.

    Refuses a change the wrong way round, or too small against the uncertainty.
    """
    drawn = 0.0
    for side, turns, travel in (
        ("A", turns_A, travel_per_turn_A_m),
        ("B", turns_B, travel_per_turn_B_m),
    ):
        finite(turns, f"turns_{side}")
        if travel is not None:
            drawn += turns * positive(travel, f"travel_per_turn_{side}_m")
        elif turns != 0:
            raise Refused(f"turns_{side}", "this side has no turnbuckle")
    if drawn == 0:
        raise Refused("turns_A", "nothing was drawn in or let out")
    positive(before_N, "before_N")
    change = positive(after_N, "after_N") - before_N
    not_negative(u_tension_N, "u_tension_N")
    if change * drawn <= 0:
        raise Refused("after_N", "the tension did not change the way it was turned")
    if abs(change) < 4.0 * math.sqrt(2.0) * u_tension_N:
        raise Refused("after_N", "the change is too small against the uncertainty")
    compliance = drawn / change
    return Learnt(compliance, compliance * math.sqrt(2.0) * u_tension_N / abs(change))
