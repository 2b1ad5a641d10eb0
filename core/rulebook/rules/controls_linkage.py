"""Rule book: levers and rods that move, their stops, and which half-turns mend them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np

from core.basis.forms import ABSENT, DEG, MM, Named, Unit
from core.basis.refused import Refused, finite
from core.basis.rules import rule
from core.controls.linkage.advising import Aim, Item, advise
from core.controls.linkage.lockup import Lock, lockup
from core.controls.linkage.reading import mechanism_from
from core.controls.linkage.rod_ends import hand_force, rod_states
from core.controls.linkage.solving import Motion, gear, plan, rates, solve
from core.controls.linkage.stops import TOGETHER, stops
from core.controls.linkage.twin_sticks import twin_sticks
from core.rulebook.rules.mechanisms import (
    AT,
    BUILT,
    MECHANISM,
    Moved,
    Stopped,
    inputs_from,
    lengths_of,
    locked_of,
    numbers_of,
    output_unit_of,
    per_of,
    rod_of,
    way_of,
)

KINEMATICS = "Plane and spatial four-bar geometry (any machine kinematics text)."
OVER_CENTRE = (
    "Over-centre in flight can jam or reverse a control; keep well clear over the whole range "
    "with stops removed too. Check by hand, full travel."
)
SHOP = (
    "Look closer at a transmission angle under 30° at the driven end, or dead centre within 15° "
    "(shop values, not a standard's)."
)


def _per_mm(motion: Motion, rod: str, output: str) -> dict[str, Any]:
    o = motion.plan.mechanism.outputs[output]
    moved = o.sign * float(rates(motion, {}, {rod: 1.0})[o.body])
    suffix, per = per_of(output_unit_of(motion.plan.mechanism, output))
    return {f"{suffix[1:]}_per_mm": moved * per / 1e3}


def _items(items: list[Any], field: str, name: str, step: str, per: float) -> list[Item]:
    found = []
    for i, item in enumerate(items):
        given = numbers_of(item, f"{field}.{i}", (name, step, "min", "max"))
        for end in ("min", "max"):
            value = finite(given[end], f"{field}.{given[name]}.{end}")
            if value != int(value):
                raise Refused(f"{field}.{given[name]}.{end}", "must be a whole number")
        size = finite(given[step], f"{field}.{given[name]}.{step}") / per
        found.append(Item(str(given[name]), size, int(given["min"]), int(given["max"])))
    return found


@dataclass(frozen=True)
class Placed:
    """A linkage at one position, or where it locked."""

    outputs: Annotated[dict[str, float] | None, "Outputs, ° (mm for slides)."]
    bodies: Annotated[dict[str, float] | None, "Every body's q, ° or mm."]
    gear: Annotated[dict[str, Any] | None, "d output / d input, rad or m."]
    rods: Annotated[dict[str, Any] | None, "Arms, transmission, dead centre, misalignment by rod."]
    hand_force_per_hinge_moment: Annotated[dict[str, Any] | None, "N at the grip per N·m."]
    locked: Annotated[bool | None, "No solution here."]
    rod: Annotated[str | None, "The rod that locks."]
    input: Annotated[str | None, "The input that was moved from 0."]
    lock_at_deg: Annotated[float | None, "Where it locks.", Unit("°")]
    lock_at_mm: Annotated[float | None, "Where it locks, for a slide.", Unit("mm")]


@rule(
    "controls.linkage",
    title="A linkage at one position",
    purpose="Where is every lever, how much does the surface move, and what comes near dead"
    " centre?",
    source=KINEMATICS,
    validity="Rigid bodies and rods, ball joints without play, no friction, no stretch. " + SHOP,
    caution=OVER_CENTRE,
    answers=Placed,
)
def linkage(
    mechanism: Annotated[dict[str, Any], MECHANISM],
    at: Annotated[dict[str, Any], AT],
    lengths_mm: Annotated[dict[str, Any] | None, BUILT] = None,
) -> dict[str, Any]:
    """The linkage solved at one position."""
    p = plan(mechanism_from(mechanism))
    inputs, lengths = inputs_from(p, at), lengths_of(p, lengths_mm)
    motion = solve(p, inputs, lengths)
    if motion.rod_locked() is not None:
        return locked_of(p, inputs, lengths)
    m = p.mechanism
    gears = {name: gear(motion, name) for name in m.inputs}
    forces = {name: hand_force(motion, name, gears[name]) for name in m.inputs}
    return {
        "outputs": {
            o: float(motion.output(o)) * per_of(output_unit_of(m, o))[1] for o in m.outputs
        },
        "bodies": {b.id: float(motion.q[b.id]) * per_of(b.unit)[1] for b in m.bodies},
        "gear": {i: {o: float(v) for o, v in g.items()} for i, g in gears.items()},
        "rods": {name: rod_of(state) for name, state in rod_states(motion).items()},
        "hand_force_per_hinge_moment": {
            i: {o: float(v) for o, v in f.items()} for i, f in forces.items() if f
        },
    }


@dataclass(frozen=True)
class Locks:
    """Where it locks, each way."""

    plus: Annotated[dict[str, Any] | None, "{input_deg, rod} in the positive direction, or null."]
    minus: Annotated[dict[str, Any] | None, "{input_deg, rod} in the negative direction, or null."]


@rule(
    "controls.lockup",
    title="Where a linkage locks",
    purpose="How far can the input go each way before a rod cannot follow?",
    source=KINEMATICS,
    validity="Steps of 1/720 of the limit, then bisection.",
    caution=OVER_CENTRE,
)
def locks(moved: Moved) -> Locks:
    """`lockup` as the page has it."""
    p = moved.plan
    others = moved.held(p)
    suffix, per = per_of(p.mechanism.inputs.get(moved.input, "rad"))

    def shown(lock: Lock | None) -> dict[str, Any] | None:
        return None if lock is None else {f"input{suffix}": lock.input * per, "rod": lock.rod}

    plus, minus = lockup(p, moved.input, moved.far(p), others)
    return Locks(shown(plus), shown(minus))


@dataclass(frozen=True)
class Sticks:
    """How parallel two joined sticks stand."""

    neutral_difference: Annotated[float, "Second stick with the first upright.", DEG]
    max_difference: Annotated[float, "Greatest difference over the range.", DEG]
    at_min: Annotated[float, "Second stick at the low end.", DEG]
    at_max: Annotated[float, "Second stick at the high end.", DEG]
    travel_ratio: Annotated[float, "Travel of the second over that of the first."]
    parallel: Annotated[bool, "Within the tolerance over the whole range."]


@rule(
    "controls.twin_sticks",
    title="Two sticks joined by a link",
    purpose="Do both sticks stand parallel over the whole range?",
    source=KINEMATICS,
    validity="Parallel axes, plane case, sampled every degree. Equal arms and a link as long as"
    " the gap agree exactly; unequal arms cannot be mended by the link.",
)
def sticks(
    arm1: Annotated[float, "Pivot to lower end, first stick.", MM],
    arm2: Annotated[float, "Pivot to lower end, second stick.", MM],
    pivot_gap: Annotated[float, "Between the pivots.", MM],
    link: Annotated[float, "Length of the link between ball centres.", MM],
    range: Annotated[tuple[float, ...], "Range of the first stick: [below 0, above 0].", DEG],
    tol: Annotated[float, "Greatest difference taken as parallel.", DEG],
) -> Sticks:
    """`twin_sticks` as the page has it."""
    if len(range) != 2:
        raise Refused("range", "must be two numbers: from below 0 to above 0")
    t = twin_sticks(arm1, arm2, pivot_gap, link, range[0], range[1], tol)
    ends = (t.neutral_difference, t.max_difference, t.at_min, t.at_max)
    return Sticks(*ends, t.travel_ratio, t.parallel)


@dataclass(frozen=True)
class Met:
    """The stops met each way."""

    plus: Annotated[dict[str, Any] | None, "First stop, input, output, margins of the others."]
    minus: Annotated[dict[str, Any] | None, "The same in the other direction."]
    findings: Annotated[tuple[str, ...], "What is wrong."]
    turned: Annotated[
        float | None, "Input throw plus against minus.", Named("throw_difference"), DEG, ABSENT
    ] = None
    slid: Annotated[
        float | None, "The same for a slide.", Named("throw_difference"), MM, ABSENT
    ] = None


@rule(
    "controls.stops",
    title="Which stop is met first",
    purpose="Is the right stop met first each way, and by how much?",
    source="14 CFR 23.675 (stops for every movable surface; wear and slack must not change"
    " travel).",
    validity="Rigid linkage: stretch under load is not counted. Follow the maker on which is"
    " first.",
    caution="A servo that meets its own stop first can jam the control; check with the servo"
    " disconnected and connected, by hand, full travel.",
)
def met(
    moved: Moved,
    stopped: Stopped,
    lengths_mm: Annotated[dict[str, Any] | None, BUILT] = None,
    servo_margin: Annotated[float, "Least margin of a servo's stop (default 0).", DEG] = 0.0,
    together: Annotated[
        float, "Margin too small to say which is first (default 0.1°).", DEG
    ] = TOGETHER,
    throw_tol: Annotated[float | None, "Greatest difference between both throws.", DEG] = None,
) -> Met:
    """`stops` as the page has it."""
    b = stopped.bench(moved)
    found = stops(b, lengths_of(b.plan, lengths_mm), servo_margin, together, throw_tol)
    turns = b.plan.mechanism.inputs[b.input] == "rad"
    thrown = found.throw_difference if throw_tol is not None else None
    return Met(
        way_of(b, found.plus),
        way_of(b, found.minus),
        tuple(found.findings),
        thrown if turns else None,
        None if turns else thrown,
    )


@dataclass(frozen=True)
class PerMillimetre:
    """What a millimetre of a rod moves."""

    deg_per_mm: Annotated[float | None, "d output / d length, all else held.", Unit("°/mm")]
    mm_per_mm: Annotated[float | None, "The same for a slide.", Unit("mm/mm")]


@rule(
    "controls.rod_sensitivity",
    title="What a rod's length does",
    purpose="How much does the surface move for each millimetre of this rod?",
    source=KINEMATICS,
    validity="The slope at this position.",
    answers=PerMillimetre,
)
def sensitivity(
    mechanism: Annotated[dict[str, Any], MECHANISM],
    rod: Annotated[str, "The rod."],
    at: Annotated[dict[str, Any], AT],
    output: Annotated[str, "The output that is looked at."],
) -> dict[str, Any]:
    """The slope of an output over a rod's length."""
    p = plan(mechanism_from(mechanism))
    m = p.mechanism
    if output not in m.outputs:
        raise Refused("output", f"{output} is not an output of this mechanism")
    if rod not in p.lengths:
        raise Refused("rod", f"{rod} is not a rod of this mechanism")
    motion = solve(p, inputs_from(p, at))
    if (locked := motion.rod_locked()) is not None:
        raise Refused("at", f"rod {locked} locks up before this position")
    return _per_mm(motion, rod, output)


@dataclass(frozen=True)
class Advised:
    """The half-turns that mend it."""

    found: Annotated[bool, "Whether there is one."]
    guarded: Annotated[bool | None, "Inside by U; else inside, but too close."]
    changes: Annotated[dict[str, Any] | None, "Half-turns by id, + longer or + q."]
    predicted_deg: Annotated[dict[str, Any] | None, "What should be read after it."]
    worst_margin_deg: Annotated[float | None, "Least distance to a limit.", Unit("°")]


@rule(
    "controls.advise",
    title="Which half-turns bring it inside",
    purpose="What is the smallest set of half-turns that mends neutral and travel?",
    source=KINEMATICS,
    validity="Prediction: measured + model changed - model unchanged, each at its first stop.",
    caution="A trial move: always measure again after turning. Check thread engagement first.",
    answers=Advised,
)
def advised(
    moved: Moved,
    stopped: Stopped,
    measured_deg: Annotated[dict[str, Any], "neutral, plus, minus; throw_plus, throw_minus."],
    required_deg: Annotated[dict[str, Any], "[low, high] by the same names."],
    U: Annotated[float, "Expanded uncertainty of the readings.", DEG] = 0.0,
    rods: Annotated[tuple[Any, ...], "{rod, step_mm per half-turn, min, max}."] = (),
    adjustable_stops: Annotated[tuple[Any, ...], "{stop, step_deg per half-turn, min, max}."] = (),
    max_items: Annotated[int, "At most so many items are turned (default 3)."] = 3,
) -> dict[str, Any]:
    """`advise` as the page has it."""
    b = stopped.bench(moved)
    m = b.plan.mechanism
    _, per_out = per_of(output_unit_of(m, b.output))
    _, per_in = per_of(m.inputs[b.input])

    def per(key: str) -> float:
        return per_in if key.startswith("throw") else per_out

    measured = {
        k: finite(v, f"measured_deg.{k}") / per(k) for k, v in measured_deg.items() if v is not None
    }
    required = {}
    for k, pair in required_deg.items():
        if not isinstance(pair, list) or len(pair) != 2:
            raise Refused(f"required_deg.{k}", "must be two limits")
        lo, hi = (None if v is None else finite(v, f"required_deg.{k}") / per(k) for v in pair)
        required[k] = (lo, hi)
    turned = []
    for item in adjustable_stops:
        body = next((s.body for s in b.stops if s.id == (item or {}).get("stop")), None)
        suffix, size = per_of(m.body(body).unit if body in {y.id for y in m.bodies} else "rad")
        turned += _items([item], "adjustable_stops", "stop", f"step{suffix}", size)
    turnable = _items(list(rods), "rods", "rod", "step_mm", 1e3)
    a = advise(b, Aim(measured, required, U), turnable, turned, max_items)
    if not a.found:
        return {"found": False}
    assert a.predicted is not None and a.worst_margin is not None
    return {
        "found": True,
        "guarded": a.guarded,
        "changes": dict(a.changes or {}),
        "predicted_deg": {k: v * per(k) for k, v in a.predicted.items()},
        "worst_margin_deg": a.worst_margin * per_out if np.isfinite(a.worst_margin) else None,
    }
