"""A rod's length by turning it, and how far its ends are in.

Both kinds of thread pitch in m. 1/4-28 thread: pitch 25.4/28 mm. Source: thread geometry;
engagement of 1.5 thread diameters is common shop practice, only a default.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import MM, OneOf
from core.basis.refused import Refused, choice, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict, judge
from core.controls.words import THREAD

TURNED = ("tube", "end_a", "end_b")
HANDS = ("opposite", "same")
DEFAULT_ENGAGEMENT = 1.5
SLACK = 1e-9


@dataclass(frozen=True)
class RodStep:
    """Change of length and of the engaged thread at each end, m."""

    length_change: Annotated[float, "Change of length.", MM]
    engaged_change_a: Annotated[float, "Change of engaged thread at end a.", MM]
    engaged_change_b: Annotated[float, "Change of engaged thread at end b.", MM]


@rule(
    "controls.rod_step",
    title="Turning a rod",
    purpose="What do half-turns do to the length and to the thread engaged at each end?",
    source=THREAD,
    validity="Half-turns only, so that the eye lines up.",
    caution="Check both ends after every turn of the tube; jam nuts tight and marked.",
)
def rod_step(
    pitch_a: Annotated[float, "Thread pitch at end a.", MM],
    pitch_b: Annotated[float, "Thread pitch at end b.", MM],
    turned: Annotated[str, "What is turned.", OneOf(("tube", "end_a", "end_b"))],
    half_turns: Annotated[int, "Half-turns, + lengthens."],
    hands: Annotated[
        str | None, "Of the two threads, for the tube.", OneOf(("opposite", "same"))
    ] = None,
) -> RodStep:
    """What half-turns do (+ lengthens): of the tube between held rod ends, or of one end.

    pitches, m. hands: of the two threads, needed for the tube. Only half-turns of an end,
    so that its eye lines up. Refuses a pitch that is not positive and part turns.
    """
    positive(pitch_a, "pitch_a")
    positive(pitch_b, "pitch_b")
    choice(turned, TURNED, "turned")
    if isinstance(half_turns, bool) or half_turns != int(half_turns):
        raise Refused("half_turns", "must be a whole number")
    a, b = pitch_a * half_turns / 2.0, pitch_b * half_turns / 2.0
    if turned == "end_a":
        return RodStep(a, 0.0 - a, 0.0)
    if turned == "end_b":
        return RodStep(b, 0.0, 0.0 - b)
    if hands is None:
        raise Refused("hands", "is needed when the tube is turned")
    if choice(hands, HANDS, "hands") == "same":
        b = 0.0 - b
    return RodStep(a + b, 0.0 - a, 0.0 - b)


@dataclass(frozen=True)
class Engagement:
    """Thread in a rod end, m; whole half-turns still allowed each way, and to mend it."""

    required: Annotated[float, "Least engagement.", MM]
    set_by: Annotated[str, "What sets it."]
    margin: Annotated[float, "Least distance to a limit, negative outside.", MM]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]
    half_turns_out: Annotated[int, "Half-turns out still allowed."]
    half_turns_in: Annotated[int | None, "Half-turns in still allowed."]
    half_turns_to_mend: Annotated[int, "Half-turns in that mend it."]


@rule(
    "controls.engagement",
    title="Thread in a rod end",
    purpose="Is enough thread in, and how far may the end still be turned?",
    source="Engagement of 1.5 thread diameters: common shop practice, only a default.",
    validity="A wire must not pass the inspection hole.",
    caution="A rod end that is not in far enough can pull out in flight.",
)
def engagement(
    engaged: Annotated[float, "Thread engaged.", MM],
    pitch: Annotated[float, "Thread pitch.", MM],
    thread_dia: Annotated[float, "Thread diameter.", MM],
    min_engaged: Annotated[float | None, "The maker's minimum (default 1.5 diameters).", MM] = None,
    hole_depth: Annotated[
        float | None, "Centre of the inspection hole from the insert's face.", MM
    ] = None,
    hole_dia: Annotated[float | None, "Diameter of the inspection hole.", MM] = None,
    max_engaged: Annotated[
        float | None, "Where the thread bottoms or the jam nut meets.", MM
    ] = None,
    U: Annotated[float, "Expanded uncertainty of the engaged length.", MM] = 0.0,
) -> Engagement:
    """Is enough thread in, and how far may the end still be turned?

    All m. min_engaged: the maker's, else 1.5 diameters. hole_depth: centre of the inspection
    hole from the insert's face; the hole must be blocked whole. max_engaged: where the thread
    bottoms or the jam nut meets. U: of the engaged length. Refuses parts that cannot go
    together (maximum below what is required).
    """
    not_negative(engaged, "engaged")
    positive(pitch, "pitch")
    positive(thread_dia, "thread_dia")
    not_negative(U, "U")
    required = DEFAULT_ENGAGEMENT * thread_dia
    if min_engaged is not None:
        required = positive(min_engaged, "min_engaged")
    set_by = "minimum engagement"
    if hole_depth is not None:
        if hole_dia is None:
            raise Refused("hole_dia", "is needed with the depth of the hole")
        blocked = positive(hole_depth, "hole_depth") + positive(hole_dia, "hole_dia") / 2.0
        if blocked > required:
            required, set_by = blocked, "inspection hole"
    if max_engaged is not None and positive(max_engaged, "max_engaged") < required - 1e-12:
        raise Refused(
            "max_engaged", "is less than the engagement needed: this pair of parts cannot be used"
        )
    half = pitch / 2.0

    def whole(length: float) -> int:
        return max(0, math.floor(length / half + SLACK))

    return Engagement(
        required=required,
        set_by=set_by,
        margin=min(engaged - required, math.inf if max_engaged is None else max_engaged - engaged),
        verdict=judge(engaged, U, required, max_engaged),
        half_turns_out=whole(engaged - U - required),
        half_turns_in=None if max_engaged is None else whole(max_engaged - U - engaged),
        half_turns_to_mend=max(0, math.ceil((required + U - engaged) / half - SLACK)),
    )
