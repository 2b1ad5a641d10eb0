"""What must be slid on before an end is pressed, sleeves, and the proof load.

`cables.slide_on_order`, `cables.sleeve_check`, `cables.proof_load`. Source of the proof load:
AC 43.13-1B ch. 7 (60 % of breaking strength). Press counts, gauge limits, hold time and
permitted set are the user's.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Annotated

from core.basis.forms import Named
from core.basis.refused import Refused, choice, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict, judge, verdict_of, worst
from core.cables.words import CAUTION

ENDS = ("A", "B")
WHIP = "A cable that lets go under load whips: guard it, stand aside."
FRACTION, MOST_FRACTION = 0.60, 0.80


@dataclass(frozen=True)
class Step:
    """Sliding an item on from an end, or pressing the end."""

    do: str
    end: str
    item: str = ""


@dataclass(frozen=True)
class Threaded:
    """Can all still come on in order, are all on, what is missing, and why not."""

    possible: Annotated[bool, "All can still be on in the end."]
    complete: Annotated[bool, "All are on, in order."]
    missing: Annotated[tuple[str, ...], "What is not on."]
    why: Annotated[str, "Why it is not in."]


@dataclass
class _Cable:
    """The items on a cable from A to B, and which ends are pressed."""

    on: list[str] = field(default_factory=list)
    pressed: set[str] = field(default_factory=set)


@rule(
    "cables.slide_on_order",
    title="What goes on before an end is pressed",
    purpose="Whether everything is on the cable in order, or can still come on.",
    source="Geometry of bores and fittings.",
    validity="Items that cannot be opened.",
    caution=CAUTION,
)
def slide_on_order(
    required: Annotated[Sequence[str], "In order from end A to end B."],
    bores_m: Annotated[Mapping[str, float], "Bore of each item."],
    ends_m: Annotated[Mapping[str, float], "Outer size of the fitting at A and B."],
    steps: Annotated[Sequence[Step], "{do: slide, item, end} or {do: press, end}."],
) -> Threaded:
    """What is on the cable after these steps, and whether the rest can still come on.

    required: in order from end A to end B. bores_m: of each item; ends_m: outer size of the
    fitting at A and B. Refuses an item that does not pass a pressed end, and anything twice.
    """
    bores = _sizes(required, bores_m, ends_m, steps)
    cable = _Cable()
    for i, step in enumerate(steps):
        _do(cable, step, f"steps[{i}]", bores, ends_m)
    missing = tuple(r for r in required if r not in cable.on)
    both = len(cable.pressed) == 2
    on = [c for c in cable.on if c in required]
    if on != [r for r in required if r in cable.on]:
        why = "wrong order on the cable: take them off and begin again"
        if both:
            why = "wrong order on the cable, and both ends are pressed"
        return Threaded(not both, False, missing, why)
    if both:
        for item in missing:
            if not _can_enter(item, required, cable, bores, ends_m):
                return Threaded(False, False, missing, f"{item} can no longer be put on")
    return Threaded(True, not missing, missing, "")


def _sizes(
    required: Sequence[str],
    bores: Mapping[str, float],
    ends: Mapping[str, float],
    steps: Sequence[Step],
) -> dict[str, float]:
    if len(set(required)) != len(required):
        raise Refused("required", "names an item twice")
    used = [*required, *(s.item for s in steps if s.do == "slide")]
    for end in ENDS:
        if end in ends:
            positive(ends[end], f"ends_m.{end}")
        elif used:
            raise Refused("ends_m", f"needs the size of end {end}")
    for name in used:
        if name not in bores:
            raise Refused("bores_m", f"needs the bore of {name}")
    return {name: positive(bore, f"bores_m.{name}") for name, bore in bores.items()}


def _do(
    cable: _Cable, step: Step, at: str, bores: Mapping[str, float], ends: Mapping[str, float]
) -> None:
    choice(step.do, ("slide", "press"), f"{at}.do")
    choice(step.end, ENDS, f"{at}.end")
    if step.do == "press":
        if step.end in cable.pressed:
            raise Refused(at, f"end {step.end} is pressed already")
        cable.pressed.add(step.end)
        return
    if step.item in cable.on:
        raise Refused(at, f"{step.item} is on the cable already")
    if step.end in cable.pressed and bores[step.item] < ends[step.end]:
        raise Refused(at, f"{step.item} does not pass end {step.end}, which is pressed")
    cable.on.insert(0 if step.end == "A" else len(cable.on), step.item)


def _can_enter(
    item: str,
    required: Sequence[str],
    cable: _Cable,
    bores: Mapping[str, float],
    ends: Mapping[str, float],
) -> bool:
    """Whether a missing item still passes a pressed end, with nothing in its way."""
    place = list(required).index(item)
    before = [r for r in required[:place] if r in cable.on]
    after = [r for r in required[place + 1 :] if r in cable.on]
    by_a = bores[item] >= ends["A"] and not before
    by_b = bores[item] >= ends["B"] and not after
    return by_a or by_b


@dataclass(frozen=True)
class Sleeve:
    """Verdicts on thimble (`deviation` is accepted), presses and dimension, and overall."""

    thimble: Annotated[str, "A thimble is in the eye."]
    presses: Annotated[str, "How many were made."]
    dimension: Annotated[str, "Verdict of the size."]
    verdict: Annotated[str, "In, out, too close or not measured."]


@rule(
    "cables.sleeve_check",
    title="Oval compression sleeve",
    purpose="Thimble or a recorded deviation, count of presses, go/no-go size.",
    source="The tool maker's gauge and press count (entered by the user).",
    validity="Without a thimble only where the maker's drawing says so.",
    caution=CAUTION,
)
def sleeve_check(
    thimble: Annotated[bool, "A thimble is in the eye."],
    presses: Annotated[int, "How many were made."],
    presses_required: Annotated[int, "How many the tool's maker asks."],
    after_m: Annotated[Sequence[float], "Size after each press."],
    go_max_m: Annotated[float, "The tool maker's."],
    go_min_m: Annotated[float | None, "Least size, if any."] = None,
    u_m: Annotated[float, "Standard uncertainty."] = 0.0,
    deviation_source: Annotated[str, "Document that allows none."] = "",
    deviation_reason: Annotated[str, "Why there is none."] = "",
) -> Sleeve:
    """An oval compression sleeve: thimble, count of presses, size after each press, m.

    Without a thimble only where the maker's drawing says so: source and reason are both
    recorded. Refuses counts below zero and limits the wrong way round.
    """
    for name, count in (("presses", presses), ("presses_required", presses_required)):
        if isinstance(count, bool) or count != int(count) or count < 0:
            raise Refused(name, "must be a whole number, not negative")
    if presses_required < 1:
        raise Refused("presses_required", "must be at least 1")
    positive(go_max_m, "go_max_m")
    if go_min_m is not None and positive(go_min_m, "go_min_m") > go_max_m:
        raise Refused("go_min_m", "is more than go_max_m")
    U = 2.0 * not_negative(u_m, "u_m")
    told = bool(deviation_source.strip()) and bool(deviation_reason.strip())
    eye = "in" if thimble else ("deviation" if told else "out")
    counted = "in" if presses >= presses_required and len(after_m) >= presses_required else "out"
    sizes = [
        judge(positive(m, f"after_m.{i}"), U, go_min_m, go_max_m) for i, m in enumerate(after_m)
    ]
    dimension = worst(sizes).value
    words = ["in" if eye == "deviation" else eye, counted, dimension]
    return Sleeve(eye, counted, dimension, worst(verdict_of(w) for w in words).value)


@dataclass(frozen=True)
class Proof:
    """A proof-load test: verdicts of force, time, set and slip; the stiffness it showed, N."""

    required_N: Annotated[float, "What the load must reach."]
    force: Annotated[str, "Verdict of the load."]
    time: Annotated[str, "Verdict of the time."]
    set_m: Annotated[float, "How much longer it stays."]
    set_verdict: Annotated[str, "Verdict of the set.", Named("set")]
    slip: Annotated[str, "Verdict of the slip."]
    ae_N: Annotated[float, "Axial stiffness."]
    verdict: Annotated[str, "In, out, too close or not measured."]


@dataclass(frozen=True)
class ProofLimits:
    """What the user's source asks: hold s, permitted set m, slip m, share of breaking strength."""

    hold_required_s: Annotated[float | None, "None is shipped: enter your source's."]
    set_limit_m: Annotated[float | None, "None is shipped: enter your source's."]
    slip_limit_m: Annotated[float, "Default 0."] = 0.0
    fraction: Annotated[float, "Default 0.60."] = FRACTION


@rule(
    "cables.proof_load",
    title="Proof load",
    purpose="60 % of breaking strength held, without slip, set within limits; stiffness measured.",
    source="AC 43.13-1B ch. 7 (60 %); hold time and permitted set: the user's source.",
    validity="At most 80 % of the breaking strength.",
    caution=WHIP,
)
def proof_load(
    breaking_N: Annotated[float, "Breaking strength."],
    applied_N: Annotated[float, "Load applied."],
    held_s: Annotated[float, "How long."],
    length_before_m: Annotated[float, "Before the load."],
    length_loaded_m: Annotated[float, "Under the load."],
    length_after_m: Annotated[float, "After the load."],
    mark_slip_m: Annotated[float, "Slip of the paint marks."],
    limits: ProofLimits,
    preload_N: Annotated[float, "Load at which the first and last lengths are taken."] = 0.0,
    u_force_N: Annotated[float, "Standard uncertainty."] = 0.0,
    u_length_m: Annotated[float, "Standard uncertainty of the length."] = 0.0,
) -> Proof:
    """Did a finished cable hold its proof load, without slip or set? Lengths m, forces N.

    Refuses over 80 % of the breaking strength, a missing hold time or set limit, and lengths
    in the wrong order.
    """
    strength = positive(breaking_N, "breaking_N")
    if not 0 < finite(limits.fraction, "fraction") <= MOST_FRACTION:
        raise Refused("fraction", "must be greater than 0 and at most 0.8")
    if positive(applied_N, "applied_N") > MOST_FRACTION * strength:
        raise Refused("applied_N", "over 80 % of the breaking strength: scrap the cable")
    if limits.hold_required_s is None:
        raise Refused("hold_required_s", "is needed: enter the time your source asks")
    if limits.set_limit_m is None:
        raise Refused("set_limit_m", "is needed: enter the set your source permits")
    not_negative(limits.hold_required_s, "hold_required_s")
    not_negative(limits.set_limit_m, "set_limit_m")
    not_negative(limits.slip_limit_m, "slip_limit_m")
    not_negative(held_s, "held_s")
    not_negative(mark_slip_m, "mark_slip_m")
    if not_negative(preload_N, "preload_N") >= applied_N:
        raise Refused("preload_N", "must be less than applied_N")
    positive(length_before_m, "length_before_m")
    if finite(length_loaded_m, "length_loaded_m") <= finite(length_after_m, "length_after_m"):
        raise Refused("length_loaded_m", "must be greater than length_after_m")
    if length_after_m < length_before_m:
        raise Refused("length_after_m", "is shorter than before: measure again")
    force_U = 2.0 * not_negative(u_force_N, "u_force_N")
    set_U = 2.0 * math.sqrt(2.0) * not_negative(u_length_m, "u_length_m")
    need, grown = limits.fraction * strength, length_after_m - length_before_m
    parts = (
        judge(applied_N, force_U, need, None),
        Verdict.IN if held_s >= limits.hold_required_s else Verdict.OUT,
        judge(grown, set_U, None, limits.set_limit_m),
        Verdict.IN if mark_slip_m <= limits.slip_limit_m else Verdict.OUT,
    )
    stretched = length_loaded_m - length_after_m
    ae = length_before_m * (applied_N - preload_N) / stretched
    force, time, set_, slip = (p.value for p in parts)
    return Proof(need, force, time, grown, set_, slip, ae, worst(parts).value)
