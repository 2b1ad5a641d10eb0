"""Rule book: levers and rods that move, their stops, and which half-turns mend them."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from core.basis.refused import Refused, finite
from core.controls.linkage.advising import Aim, Item, advise
from core.controls.linkage.contact import Bench, Stop
from core.controls.linkage.lockup import Lock, first_lock, lockup
from core.controls.linkage.mechanism import Mechanism
from core.controls.linkage.reading import mechanism_from
from core.controls.linkage.rod_ends import RodEnd, RodState, hand_force, rod_states
from core.controls.linkage.solving import Motion, Plan, gear, plan, rates, solve
from core.controls.linkage.stops import TOGETHER, Direction, stops
from core.controls.linkage.twin_sticks import twin_sticks
from core.rulebook.fields import Field
from core.rulebook.rules.entry import Entry
from core.rulebook.rules.hardware_bolts import numbers_of

KINEMATICS = "Plane and spatial four-bar geometry (any machine kinematics text)."
OVER_CENTRE = (
    "Over-centre in flight can jam or reverse a control; keep well clear over the whole range "
    "with stops removed too. Check by hand, full travel."
)
SHOP = (
    "Look closer at a transmission angle under 30° at the driven end, or dead centre within 15° "
    "(shop values, not a standard's)."
)


def _per(unit: str) -> tuple[str, float]:
    """The page's suffix for a quantity in rad or m, and how many make one SI unit."""
    return ("_deg", math.degrees(1.0)) if unit == "rad" else ("_mm", 1e3)


def _output_unit(m: Mechanism, name: str) -> str:
    return m.body(m.outputs[name].body).unit


def _plan(x: dict[str, Any]) -> Plan:
    return plan(mechanism_from(x["mechanism"]))


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
            raise Refused(f"lengths.{name}", "names no rod")
        lengths[name] = finite(value, f"lengths.{name}") / 1e3
        if lengths[name] <= 0:
            raise Refused(f"lengths.{name}", "must be greater than zero")
    return lengths


def _limit(p: Plan, x: dict[str, Any]) -> float:
    name = x["input"]
    if name not in p.mechanism.inputs:
        raise Refused("input", f"{name} is not an input of this mechanism")
    field = "limit" if p.mechanism.inputs[name] == "rad" else "limit_m"
    if field not in x:
        raise Refused(field, "is needed")
    return float(x[field])


def _linkage(x: dict[str, Any]) -> dict[str, Any]:
    p = _plan(x)
    at, lengths = inputs_from(p, x["at"]), _lengths(p, x.get("lengths"))
    motion = solve(p, at, lengths)
    if motion.rod_locked() is not None:
        return _locked(p, at, lengths)
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


def _lockup(x: dict[str, Any]) -> dict[str, Any]:
    p = _plan(x)
    others = inputs_from(p, x.get("others") or {}, "others")
    suffix, per = _per(p.mechanism.inputs.get(x["input"], "rad"))

    def shown(lock: Lock | None) -> dict[str, Any] | None:
        return None if lock is None else {f"input{suffix}": lock.input * per, "rod": lock.rod}

    plus, minus = lockup(p, x["input"], _limit(p, x), others)
    return {"plus": shown(plus), "minus": shown(minus)}


def _twin(x: dict[str, Any]) -> dict[str, Any]:
    if len(x["range"]) != 2:
        raise Refused("range", "must be two numbers: from below 0 to above 0")
    low, high = x["range"]
    t = twin_sticks(x["arm1"], x["arm2"], x["pivot_gap"], x["link"], low, high, x["tol"])
    return {
        "neutral_difference_deg": t.neutral_difference,
        "max_difference_deg": t.max_difference,
        "at_min_deg": t.at_min,
        "at_max_deg": t.at_max,
        "travel_ratio": t.travel_ratio,
        "parallel": t.parallel,
    }


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


def _bench(x: dict[str, Any]) -> Bench:
    p = _plan(x)
    limit = _limit(p, x)
    if x["output"] not in p.mechanism.outputs:
        raise Refused("output", f"{x['output']} is not an output of this mechanism")
    others = inputs_from(p, x.get("others") or {}, "others")
    stops_ = stops_from(p.mechanism, x["stops"])
    return Bench(p, x["input"], x["output"], limit, stops_, others)


def _stops(x: dict[str, Any]) -> dict[str, Any]:
    b = _bench(x)
    found = stops(
        b,
        _lengths(b.plan, x.get("lengths")),
        x.get("servo_margin", 0.0),
        x.get("together", TOGETHER),
        x.get("throw_tol"),
    )
    out: dict[str, Any] = {
        "plus": _way(b, found.plus),
        "minus": _way(b, found.minus),
        "findings": list(found.findings),
    }
    if "throw_tol" in x:
        suffix, _ = _per(b.plan.mechanism.inputs[b.input])
        out[f"throw_difference{suffix}"] = found.throw_difference
    return out


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


def _sensitivity(x: dict[str, Any]) -> dict[str, Any]:
    p = _plan(x)
    m = p.mechanism
    if x["output"] not in m.outputs:
        raise Refused("output", f"{x['output']} is not an output of this mechanism")
    if x["rod"] not in p.lengths:
        raise Refused("rod", f"{x['rod']} is not a rod of this mechanism")
    motion = solve(p, inputs_from(p, x["at"]))
    if (locked := motion.rod_locked()) is not None:
        raise Refused("at", f"rod {locked} locks up before this position")
    return _per_mm(motion, x["rod"], x["output"])


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


def _advise(x: dict[str, Any]) -> dict[str, Any]:
    b = _bench(x)
    m = b.plan.mechanism
    _, per_out = _per(_output_unit(m, b.output))
    _, per_in = _per(m.inputs[b.input])

    def per(key: str) -> float:
        return per_in if key.startswith("throw") else per_out

    measured = {
        k: finite(v, f"measured.{k}") / per(k) for k, v in x["measured"].items() if v is not None
    }
    required = {}
    for k, pair in x["required"].items():
        if not isinstance(pair, list) or len(pair) != 2:
            raise Refused(f"required.{k}", "must be two limits")
        lo, hi = (None if v is None else finite(v, f"required.{k}") / per(k) for v in pair)
        required[k] = (lo, hi)
    rods = _items(x.get("rods") or [], "rods", "rod", "step_mm", 1e3)
    turned = []
    for item in x.get("adjustable_stops") or []:
        body = next((s.body for s in b.stops if s.id == (item or {}).get("stop")), None)
        suffix, size = _per(m.body(body).unit if body in {y.id for y in m.bodies} else "rad")
        turned += _items([item], "adjustable_stops", "stop", f"step{suffix}", size)
    a = advise(b, Aim(measured, required, x.get("U", 0.0)), rods, turned, x.get("max_items", 3))
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


MECHANISM = Field("mechanism", "object", "Mechanism file: aircraft axes, m and rad.", True)
AT = Field("at", "object", "Inputs as NAME_deg or NAME_mm; absent ones are 0.", True)
LENGTHS = Field("lengths_mm", "object", "Built rod lengths instead of the nominal ones.")
INPUT = Field("input", "text", "The input that is moved.", True)
OUTPUT = Field("output", "text", "The output that is looked at.", True)
LIMIT = (
    Field("limit_deg", doc="How far the input is moved each way, at most 180°."),
    Field("limit_m", doc="The same for an input that slides."),
)
OTHERS = Field("others", "object", "Other inputs, held: NAME_deg or NAME_mm.")
STOPS = Field(
    "stops",
    "list",
    "{id, body, side: max or min, at_deg (the body's q), kind: surface, input, servo or"
    " actuator, named_first}.",
    True,
)

ENTRIES = (
    Entry(
        "controls.linkage",
        "A linkage at one position",
        "Where is every lever, how much does the surface move, and what comes near dead centre?",
        (MECHANISM, AT, LENGTHS),
        (
            Field("outputs", "object", "Outputs, ° (mm for slides)."),
            Field("bodies", "object", "Every body's q, ° or mm."),
            Field("gear", "object", "d output / d input, rad or m."),
            Field("rods", "object", "Arms, transmission, dead centre, misalignment by rod."),
            Field("hand_force_per_hinge_moment", "object", "N at the grip per N·m."),
            Field("locked", "flag", "No solution here."),
            Field("rod", "text", "The rod that locks."),
            Field("input", "text", "The input that was moved from 0."),
            Field("lock_at_deg", unit="°", scale=1.0, doc="Where it locks."),
            Field("lock_at_mm", unit="mm", scale=1.0, doc="Where it locks, for a slide."),
        ),
        _linkage,
        KINEMATICS,
        "Rigid bodies and rods, ball joints without play, no friction, no stretch. " + SHOP,
        OVER_CENTRE,
    ),
    Entry(
        "controls.lockup",
        "Where a linkage locks",
        "How far can the input go each way before a rod cannot follow?",
        (MECHANISM, INPUT, *LIMIT, OTHERS),
        (
            Field("plus", "object", "{input_deg, rod} in the positive direction, or null."),
            Field("minus", "object", "{input_deg, rod} in the negative direction, or null."),
        ),
        _lockup,
        KINEMATICS,
        "Steps of 1/720 of the limit, then bisection.",
        OVER_CENTRE,
    ),
    Entry(
        "controls.twin_sticks",
        "Two sticks joined by a link",
        "Do both sticks stand parallel over the whole range?",
        (
            Field("arm1_mm", doc="Pivot to lower end, first stick.", required=True),
            Field("arm2_mm", doc="Pivot to lower end, second stick.", required=True),
            Field("pivot_gap_mm", doc="Between the pivots.", required=True),
            Field("link_mm", doc="Length of the link between ball centres.", required=True),
            Field("range_deg", "numbers", "Range of the first stick: [below 0, above 0].", True),
            Field("tol_deg", doc="Greatest difference taken as parallel.", required=True),
        ),
        (
            Field("neutral_difference_deg", doc="Second stick with the first upright."),
            Field("max_difference_deg", doc="Greatest difference over the range."),
            Field("at_min_deg", doc="Second stick at the low end."),
            Field("at_max_deg", doc="Second stick at the high end."),
            Field("travel_ratio", doc="Travel of the second over that of the first."),
            Field("parallel", "flag", "Within the tolerance over the whole range."),
        ),
        _twin,
        KINEMATICS,
        "Parallel axes, plane case, sampled every degree. Equal arms and a link as long as the"
        " gap agree exactly; unequal arms cannot be mended by the link.",
    ),
    Entry(
        "controls.stops",
        "Which stop is met first",
        "Is the right stop met first each way, and by how much?",
        (
            MECHANISM,
            INPUT,
            OUTPUT,
            *LIMIT,
            STOPS,
            OTHERS,
            LENGTHS,
            Field("servo_margin_deg", doc="Least margin of a servo's stop (default 0)."),
            Field("together_deg", doc="Margin too small to say which is first (default 0.1°)."),
            Field("throw_tol_deg", doc="Greatest difference between both throws."),
        ),
        (
            Field("plus", "object", "First stop, input, output, margins of the others."),
            Field("minus", "object", "The same in the other direction."),
            Field("throw_difference_deg", doc="Input throw plus against minus."),
            Field("throw_difference_mm", doc="The same for a slide."),
            Field("findings", "list", "What is wrong."),
        ),
        _stops,
        "14 CFR 23.675 (stops for every movable surface; wear and slack must not change travel).",
        "Rigid linkage: stretch under load is not counted. Follow the maker on which is first.",
        "A servo that meets its own stop first can jam the control; check with the servo"
        " disconnected and connected, by hand, full travel.",
    ),
    Entry(
        "controls.rod_sensitivity",
        "What a rod's length does",
        "How much does the surface move for each millimetre of this rod?",
        (MECHANISM, Field("rod", "text", "The rod.", True), AT, OUTPUT),
        (
            Field("deg_per_mm", unit="°/mm", scale=1.0, doc="d output / d length, all else held."),
            Field("mm_per_mm", unit="mm/mm", scale=1.0, doc="The same for a slide."),
        ),
        _sensitivity,
        KINEMATICS,
        "The slope at this position.",
    ),
    Entry(
        "controls.advise",
        "Which half-turns bring it inside",
        "What is the smallest set of half-turns that mends neutral and travel?",
        (
            MECHANISM,
            INPUT,
            OUTPUT,
            *LIMIT,
            STOPS,
            OTHERS,
            Field("measured_deg", "object", "neutral, plus, minus; throw_plus, throw_minus.", True),
            Field("required_deg", "object", "[low, high] by the same names.", True),
            Field("U_deg", doc="Expanded uncertainty of the readings."),
            Field("rods", "list", "{rod, step_mm per half-turn, min, max}."),
            Field("adjustable_stops", "list", "{stop, step_deg per half-turn, min, max}."),
            Field("max_items", "integer", "At most so many items are turned (default 3)."),
        ),
        (
            Field("found", "flag", "Whether there is one."),
            Field("guarded", "flag", "Inside by U; else inside, but too close."),
            Field("changes", "object", "Half-turns by id, + longer or + q."),
            Field("predicted_deg", "object", "What should be read after it."),
            Field("worst_margin_deg", unit="°", scale=1.0, doc="Least distance to a limit."),
        ),
        _advise,
        KINEMATICS,
        "Prediction: measured + model changed - model unchanged, each at its first stop.",
        "A trial move: always measure again after turning. Check thread engagement first.",
    ),
)
