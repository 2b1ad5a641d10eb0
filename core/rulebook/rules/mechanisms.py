"""How the pages of linkages write mechanisms, stops and what is moved."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Any

from core.basis.forms import DEG
from core.basis.refused import Refused, finite
from core.controls.linkage.contact import Bench, Stop
from core.controls.linkage.lockup import first_lock
from core.controls.linkage.mechanism import Mechanism
from core.controls.linkage.reading import mechanism_from
from core.controls.linkage.rod_ends import RodEnd, RodState
from core.controls.linkage.solving import Plan, plan
from core.controls.linkage.stops import Direction


def numbers_of(thing: Any, field: str, needed: tuple[str, ...]) -> dict[str, Any]:
    """An object with these keys, nulls left out; refuses a missing or misplaced one."""
    if not isinstance(thing, dict):
        raise Refused(field, "must be an object")
    for name in needed:
        if thing.get(name) is None:
            raise Refused(f"{field}.{name}", "is needed")
    return {k: v for k, v in thing.items() if v is not None}


def per_of(unit: str) -> tuple[str, float]:
    """The page's suffix for a quantity in rad or m, and how many make one SI unit."""
    return ("_deg", math.degrees(1.0)) if unit == "rad" else ("_mm", 1e3)


def output_unit_of(m: Mechanism, name: str) -> str:
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
            suffix, per_si = per_of(unit)
            if key == name + suffix:
                values[name] = finite(value, f"{field}.{key}") / per_si
                break
        else:
            raise Refused(f"{field}.{key}", "names no input")
    return values


def lengths_of(p: Plan, given: dict[str, Any] | None) -> dict[str, float]:
    lengths = {}
    for name, value in (given or {}).items():
        if name not in p.lengths:
            raise Refused(f"lengths_mm.{name}", "names no rod")
        lengths[name] = finite(value, f"lengths_mm.{name}") / 1e3
        if lengths[name] <= 0:
            raise Refused(f"lengths_mm.{name}", "must be greater than zero")
    return lengths


def locked_of(p: Plan, at: dict[str, float], lengths: dict[str, float]) -> dict[str, Any]:
    """No solution: the input with the largest value is moved from 0, the others held."""
    name = max(at, key=lambda n: abs(at[n])) if at else next(iter(p.mechanism.inputs))
    others = {k: v for k, v in at.items() if k != name}
    lock = first_lock(p, name, at.get(name, 0.0), others, lengths)
    assert lock is not None
    suffix, per = per_of(p.mechanism.inputs[name])
    return {"locked": True, "rod": lock.rod, "input": name, f"lock_at{suffix}": lock.input * per}


def rod_of(s: RodState) -> dict[str, Any]:
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
        suffix, per = per_of(unit)
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


def way_of(b: Bench, way: Direction | None) -> dict[str, Any] | None:
    if way is None:
        return None
    m = b.plan.mechanism
    (si, pi), (so, po) = per_of(m.inputs[b.input]), per_of(output_unit_of(m, b.output))
    return {
        "first": way.first,
        f"input{si}": way.input * pi,
        f"output{so}": way.output * po,
        f"margins{so}": {k: v * po for k, v in way.margins.items()},
        "not_reached": list(way.not_reached),
    }
