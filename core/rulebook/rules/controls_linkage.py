"""Rule book: levers and rods that move, their stops, and which half-turns mend them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np

from core.basis.forms import ABSENT, DEG, MM, Named, Unit
from core.basis.refused import Refused, finite
from core.basis.rules import rule
from core.controls.linkage.advising import Aim, Item, advise
from core.controls.linkage.contact import Bench, Stop
from core.controls.linkage.lockup import Lock, first_lock, lockup
from core.controls.linkage.mechanism import Mechanism
from core.controls.linkage.reading import mechanism_from
from core.controls.linkage.rod_ends import RodEnd, RodState, hand_force, rod_states
from core.controls.linkage.solving import Motion, Plan, gear, plan, rates, solve
from core.controls.linkage.stops import TOGETHER, Direction, stops
from core.controls.linkage.twin_sticks import twin_sticks

KINEMATICS = "Plane and spatial four-bar geometry (any machine kinematics text)."
OVER_CENTRE = (
    "Over-centre in flight can jam or reverse a control; keep well clear over the whole range "
    "with stops removed too. Check by hand, full travel."
)
SHOP = (
    "Look closer at a transmission angle under 30° at the driven end, or dead centre within 15° "
    "(shop values, not a standard's)."
)


def numbers_of(thing: Any, field: str, needed: tuple[str, ...]) -> dict[str, Any]:
    """An object with these keys, nulls left out; refuses a missing or misplaced one."""
    if not isinstance(thing, dict):
        raise Refused(field, "must be an object")
    for name in needed:
        if thing.get(name) is None:
            raise Refused(f"{field}.{name}", "is needed")
    return {k: v for k, v in thing.items() if v is not None}


def _per(unit: str) -> tuple[str, float]:
    """The page's suffix for a quantity in rad or m, and how many make one SI unit."""
    return ("_deg", math.degrees(1.0)) if unit == "rad" else ("_mm", 1e3)


def _output_unit(m: Mechanism, name: str) -> str:
    return m.body(m.outputs[name].body).unit


@dataclass(frozen=True)
class Moved:
    """A mechanism, the input that is moved, and how far."""

    mechanism: Annotated[dict[str, Any], "Mechanism file: aircraft axes, m and rad."]
    input: Annotated[str, "The input that is moved."]
    limit: Annotated[float | None, "How far the input is moved each way, at most 180°.", DEG] = None
    limit_m: Annotated[float | None, "The same for an input that slides."] = None
    others: Annotated[dict[str, Any] | None, "Other inputs, held: NAME_deg or NAME_mm."] = None

    @property
    def plan(self) -> Plan:
        """The mechanism, ready to be solved."""
        return plan(mechanism_from(self.mechanism))

    def far(self, p: Plan) -> float:
        """The limit of the input, rad or m."""
        if self.input not in p.mechanism.inputs:
            raise Refused("input", f"{self.input} is not an input of this mechanism")
        turns = p.mechanism.inputs[self.input] == "rad"
        value = self.limit if turns else self.limit_m
        if value is None:
            raise Refused("limit" if turns else "limit_m", "is needed")
        return value

    def held(self, p: Plan) -> dict[str, float]:
        """The other inputs, rad and m."""
        return inputs_from(p, self.others or {}, "others")


@dataclass(frozen=True)
class Stopped:
    """What is looked at while an input is moved, and the stops on the way."""

    output: Annotated[str, "The output that is looked at."]
    stops: Annotated[
        list[Any],
        "{id, body, side: max or min, at_deg (the body's q), kind: surface, input, servo or"
        " actuator, named_first}.",
    ]

    def bench(self, moved: Moved) -> Bench:
        """As the solver takes it."""
        p = moved.plan
        limit = moved.far(p)
        if self.output not in p.mechanism.outputs:
            raise Refused("output", f"{self.output} is not an output of this mechanism")
        others = moved.held(p)
        return Bench(
            p, moved.input, self.output, limit, stops_from(p.mechanism, self.stops), others
        )


MECHANISM = "Mechanism file: aircraft axes, m and rad."
AT = "Inputs as NAME_deg or NAME_mm; absent ones are 0."
BUILT = "Built rod lengths instead of the nominal ones."


def inputs_from(p: Plan, given: dict[str, Any], field: str = "at") -> dict[str, float]:
    """{name_deg or name_mm: value} into rad and m; refuses names that are no input."""
    values = {}
    for key, value in given.items():
        for name, unit in p.mechanism.inputs.items():
            suffix, per_si = _per(unit)
            if key == name + suffix:
                values[name] = finite(value, f"{field}.{key}") / per_si
                break
        else:
            raise Refused(f"{field}.{key}", "names no input")
    return values


def _lengths(p: Plan, given: dict[str, Any] | None) -> dict[str, float]:
    lengths = {}
    for name, value in (given or {}).items():
        if name not in p.lengths:
            raise Refused(f"lengths_mm.{name}", "names no rod")
        lengths[name] = finite(value, f"lengths_mm.{name}") / 1e3
        if lengths[name] <= 0:
            raise Refused(f"lengths_mm.{name}", "must be greater than zero")
    return lengths


def _locked(p: Plan, at: dict[str, float], lengths: dict[str, float]) -> dict[str, Any]:
    """No solution: the input with the largest value is moved from 0, the others held."""
    name = max(at, key=lambda n: abs(at[n])) if at else next(iter(p.mechanism.inputs))
    others = {k: v for k, v in at.items() if k != name}
    lock = first_lock(p, name, at.get(name, 0.0), others, lengths)
    assert lock is not None
    suffix, per = _per(p.mechanism.inputs[name])
    return {"locked": True, "rod": lock.rod, "input": name, f"lock_at{suffix}": lock.input * per}


def _rod(s: RodState) -> dict[str, Any]:
    out: dict[str, Any] = {}
    for side, end in (("a", s.a), ("b", s.b)):
        out |= _rod_end(side, end)
    if s.twist is not None:
        out["twist_deg"] = math.degrees(float(s.twist))
    if s.to_dead_centre is not None:
        out["to_dead_centre_deg"] = math.degrees(float(s.to_dead_centre))
    return out


def _rod_end(side: str, end: RodEnd) -> dict[str, Any]:
    arm = float(end.arm)
    out = {f"arm_{side}_mm": arm * 1e3} if end.turns else {f"lead_{side}": arm}
    out[f"transmission_{side}_deg"] = math.degrees(float(end.transmission))
    for name, value in (("misalign", end.misalign), ("cone_left", end.cone_left)):
        if value is not None:
            out[f"{name}_{side}_deg"] = math.degrees(float(value))
    return out


def stops_from(m: Mechanism, items: list[Any]) -> tuple[Stop, ...]:
    """Stops from plain data: `at_deg` on a body that turns, `at_mm` on one that slides."""
    found = []
    for i, item in enumerate(items):
        given = numbers_of(item, f"stops.{i}", ("id", "body", "side"))
        at = f"stops.{given['id']}"
        unit = next((b.unit for b in m.bodies if b.id == given["body"]), "rad")
        suffix, per = _per(unit)
        if f"at{suffix}" not in given:
            raise Refused(f"{at}.at{suffix}", "is needed")
        found.append(
            Stop(
                id=str(given["id"]),
                body=str(given["body"]),
                side=str(given["side"]),
                at=finite(given[f"at{suffix}"], f"{at}.at{suffix}") / per,
                kind=str(given.get("kind", "surface")),
                named_first=bool(given.get("named_first", False)),
            )
        )
    return tuple(found)


def _way(b: Bench, way: Direction | None) -> dict[str, Any] | None:
    if way is None:
        return None
    m = b.plan.mechanism
    (si, pi), (so, po) = _per(m.inputs[b.input]), _per(_output_unit(m, b.output))
    return {
        "first": way.first,
        f"input{si}": way.input * pi,
        f"output{so}": way.output * po,
        f"margins{so}": {k: v * po for k, v in way.margins.items()},
        "not_reached": list(way.not_reached),
    }


def _per_mm(motion: Motion, rod: str, output: str) -> dict[str, Any]:
    o = motion.plan.mechanism.outputs[output]
    moved = o.sign * float(rates(motion, {}, {rod: 1.0})[o.body])
    suffix, per = _per(_output_unit(motion.plan.mechanism, output))
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
    inputs, lengths = inputs_from(p, at), _lengths(p, lengths_mm)
    motion = solve(p, inputs, lengths)
    if motion.rod_locked() is not None:
        return _locked(p, inputs, lengths)
    m = p.mechanism
    gears = {name: gear(motion, name) for name in m.inputs}
    forces = {name: hand_force(motion, name, gears[name]) for name in m.inputs}
    return {
        "outputs": {o: float(motion.output(o)) * _per(_output_unit(m, o))[1] for o in m.outputs},
        "bodies": {b.id: float(motion.q[b.id]) * _per(b.unit)[1] for b in m.bodies},
        "gear": {i: {o: float(v) for o, v in g.items()} for i, g in gears.items()},
        "rods": {name: _rod(state) for name, state in rod_states(motion).items()},
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
    suffix, per = _per(p.mechanism.inputs.get(moved.input, "rad"))

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
    found = stops(b, _lengths(b.plan, lengths_mm), servo_margin, together, throw_tol)
    turns = b.plan.mechanism.inputs[b.input] == "rad"
    thrown = found.throw_difference if throw_tol is not None else None
    return Met(
        _way(b, found.plus),
        _way(b, found.minus),
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
    _, per_out = _per(_output_unit(m, b.output))
    _, per_in = _per(m.inputs[b.input])

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
        suffix, size = _per(m.body(body).unit if body in {y.id for y in m.bodies} else "rad")
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
