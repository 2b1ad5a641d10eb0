"""The project's own mechanism file: a mechanism with its stops, what its outputs are, records.

Plain JSON, m and rad, aircraft axes. Everything of the mechanism itself may stand alone; what
is added here is optional: `limit` and `detents` of inputs, `surface`, `plus` and `minus` of
outputs (the position that the input's direction leads to), `stops`, `record` of rods.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from core.basis.refused import Refused, finite, positive
from core.controls.linkage.contact import SIDES, STOP_KINDS, Bench, Stop, check
from core.controls.linkage.mechanism import KINDS, UNITS, Mechanism
from core.controls.linkage.reading import mechanism_from, mechanism_to
from core.controls.linkage.solving import Plan, plan, rates, solve

FORMAT = "ash-lane mechanism"
EDITION = 1
# How far an input is looked at each way where the file does not say, rad and m.
LIMITS = {"rad": 1.0471975511965976, "m": 0.2}
MOST_BODIES = 60
OUTPUT_WORDS = ("surface", "plus", "minus", "input")
RECORD = (
    "turned",
    "hands",
    "pitch_a",
    "pitch_b",
    "thread_dia",
    "engaged_a",
    "engaged_b",
    "min_engaged",
    "hole_depth",
    "hole_dia",
    "max_engaged",
    "u",
    "built",
    "od",
    "wall",
    "E",
    "Fcy",
    "jam_torque",
    "clocking",
)


@dataclass(frozen=True)
class InputUse:
    """An input: what positive means, how far it is looked at, and its set positions.

    throw_tol: greatest difference between both throws, None where they need not be equal.
    """

    unit: str
    positive: str = ""
    limit: float = LIMITS["rad"]
    detents: Mapping[str, float] = field(default_factory=dict)
    throw_tol: float | None = None


@dataclass(frozen=True)
class OutputUse:
    """An output: its surface, and the positions at the stops each way of the input.

    input: which one is moved for it; empty: the first that moves it.
    """

    surface: str = ""
    plus: str = ""
    minus: str = ""
    input: str = ""


@dataclass(frozen=True)
class StopUse:
    """A stop and, if it can be turned, its step of q per half-turn from `least` to `most`."""

    stop: Stop
    step: float | None = None
    least: int = 0
    most: int = 0


@dataclass(frozen=True)
class Document:
    """A mechanism file, checked as a whole and ready to be solved."""

    plan: Plan
    inputs: Mapping[str, InputUse]
    outputs: Mapping[str, OutputUse]
    stops: tuple[StopUse, ...]
    records: Mapping[str, Mapping[str, str]]

    @property
    def mechanism(self) -> Mechanism:
        """The mechanism itself."""
        return self.plan.mechanism

    def input_of(self, output: str) -> str:
        """The input that is moved for this output: as named, else the first that moves it.

        Refuses an output that no input moves.
        """
        if self.outputs[output].input:
            return self.outputs[output].input
        at_rest = solve(self.plan, {})
        body = self.mechanism.outputs[output].body
        for name in self.mechanism.inputs:
            if abs(float(rates(at_rest, {name: 1.0}, {})[body])) > 1e-9:
                return name
        raise Refused(f"outputs.{output}", "is moved by no input")

    def bench(self, output: str, others: Mapping[str, float] | None = None) -> Bench:
        """The output with the input that moves it and every stop."""
        if output not in self.mechanism.outputs:
            raise Refused("output", f"{output} is not an output of this mechanism")
        name = self.input_of(output)
        held = {k: v for k, v in (others or {}).items() if k != name}
        stops = tuple(s.stop for s in self.stops)
        return Bench(self.plan, name, output, self.inputs[name].limit, stops, held)


def document_from(data: Any) -> Document:
    """Read and check a mechanism file. Every refusal names the member and the reason."""
    if not isinstance(data, dict):
        raise Refused("mechanism", "must be an object")
    if data.get("format", FORMAT) != FORMAT:
        raise Refused("format", f"must be {FORMAT}")
    if data.get("edition", EDITION) != EDITION:
        raise Refused("edition", f"must be {EDITION}")
    for group in ("bodies", "rods", "stops"):
        if isinstance(data.get(group), list) and len(data[group]) > MOST_BODIES:
            raise Refused(group, f"must be at most {MOST_BODIES}")
    mechanism = mechanism_from(data)
    inputs = {n: _input(n, u, data["inputs"][n]) for n, u in mechanism.inputs.items()}
    outputs = {
        name: OutputUse(*(_word(data["outputs"][name], k) for k in OUTPUT_WORDS))
        for name in mechanism.outputs
    }
    for name, use in outputs.items():
        if use.input and use.input not in inputs:
            raise Refused(f"outputs.{name}.input", f"{use.input} is not an input")
    stops = tuple(_stop(s, i) for i, s in enumerate(data.get("stops") or []))
    records = {
        r["id"]: _record(r["record"], f"rods.{r['id']}.record")
        for r in data.get("rods") or []
        if r.get("record")
    }
    document = Document(plan(mechanism), inputs, outputs, stops, records)
    for name in outputs:
        check(document.bench(name))
    return document


def document_to(d: Document) -> dict[str, Any]:
    """The file's content; `document_from` of it gives the same document."""
    out = mechanism_to(d.mechanism)
    for name, use in d.inputs.items():
        out["inputs"][name] |= {"positive": use.positive, "limit": use.limit}
        if use.detents:
            out["inputs"][name]["detents"] = dict(use.detents)
        if use.throw_tol is not None:
            out["inputs"][name]["throw_tol"] = use.throw_tol
    for name, o in d.outputs.items():
        words = {k: getattr(o, k) for k in OUTPUT_WORDS}
        out["outputs"][name] |= {k: v for k, v in words.items() if v}
    for rod in out["rods"]:
        if rod["id"] in d.records:
            rod["record"] = dict(d.records[rod["id"]])
    out["stops"] = [_stop_to(s) for s in d.stops]
    return {"format": FORMAT, "edition": EDITION} | out


def _stop_to(use: StopUse) -> dict[str, Any]:
    s = use.stop
    out: dict[str, Any] = {
        "id": s.id,
        "body": s.body,
        "side": s.side,
        "at": s.at,
        "kind": s.kind,
    }
    if s.named_first:
        out["named_first"] = True
    if use.step is not None:
        out |= {"step": use.step, "least": use.least, "most": use.most}
    return out


def _input(name: str, unit: str, data: dict[str, Any]) -> InputUse:
    at = f"inputs.{name}"
    limit, throw = data.get("limit"), data.get("throw_tol")
    detents = data.get("detents") or {}
    if not isinstance(detents, dict):
        raise Refused(f"{at}.detents", "must be an object of positions and values")
    return InputUse(
        unit=unit,
        positive=str(data.get("positive") or ""),
        limit=LIMITS[unit] if limit is None else positive(limit, f"{at}.limit"),
        detents={str(k): finite(v, f"{at}.detents.{k}") for k, v in detents.items()},
        throw_tol=None if throw is None else positive(throw, f"{at}.throw_tol"),
    )


def _word(data: dict[str, Any], key: str) -> str:
    return str(data.get(key) or "")


def _stop(data: Any, index: int) -> StopUse:
    if not isinstance(data, dict) or not str(data.get("id") or "").strip():
        raise Refused(f"stops.{index}", "needs an id")
    at = f"stops.{data['id']}"
    for key in ("body", "side", "at"):
        if data.get(key) is None:
            raise Refused(f"{at}.{key}", "is needed")
    stop = Stop(
        id=str(data["id"]),
        body=str(data["body"]),
        side=str(data["side"]),
        at=finite(data["at"], f"{at}.at"),
        kind=str(data.get("kind") or "surface"),
        named_first=bool(data.get("named_first", False)),
    )
    if data.get("step") is None:
        return StopUse(stop)
    step = finite(data["step"], f"{at}.step")
    if step == 0.0:
        raise Refused(f"{at}.step", "a step of zero changes nothing")
    turns = [finite(data.get(k, 0), f"{at}.{k}") for k in ("least", "most")]
    if any(t != int(t) for t in turns) or turns[0] > turns[1]:
        raise Refused(f"{at}.least", "must be whole half-turns, least not above most")
    return StopUse(stop, step, int(turns[0]), int(turns[1]))


def _record(data: Any, at: str) -> dict[str, str]:
    if not isinstance(data, dict):
        raise Refused(at, "must be an object")
    for key, value in data.items():
        if key not in RECORD:
            raise Refused(f"{at}.{key}", "is not known here")
        if not isinstance(value, str) or len(value) > 40:
            raise Refused(f"{at}.{key}", "must be a short text with its unit, as typed")
    return {k: v.strip() for k, v in data.items() if v.strip()}


def schema() -> dict[str, Any]:
    """The published JSON Schema of the file."""
    vector = {"type": "array", "items": {"type": "number"}, "minItems": 3, "maxItems": 3}
    text = {"type": "string"}
    number = {"type": "number"}
    end = {
        "type": "object",
        "required": ["body", "point"],
        "additionalProperties": False,
        "properties": {"body": text, "point": text, "bore": vector, "cone_rad": number},
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Ash Lane mechanism file",
        "description": "Aircraft axes (x aft, y right, z up), m and rad, in the reference "
        "position, where every body's q is 0.",
        "type": "object",
        "required": ["inputs", "bodies", "outputs"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": FORMAT},
            "edition": {"const": EDITION},
            "id": text,
            "inputs": _named(
                {
                    "unit": {"enum": list(UNITS)},
                    "positive": text,
                    "limit": number,
                    "throw_tol": number,
                    "detents": {"type": "object", "additionalProperties": number},
                },
                ["unit"],
            ),
            "outputs": _named(
                {
                    "body": text,
                    "sign": {"enum": [1, -1]},
                    "surface": text,
                    "plus": text,
                    "minus": text,
                    "input": text,
                },
                ["body"],
            ),
            "bodies": _listed(
                {
                    "id": text,
                    "kind": {"enum": list(KINDS)},
                    "pivot": vector,
                    "axis": vector,
                    "carried_by": text,
                    "driven_by": {
                        "oneOf": [
                            _object({"input": text, "ratio": number}, ["input"]),
                            _object({"rod": text}, ["rod"]),
                            _object(
                                {
                                    "body": text,
                                    "ratio": number,
                                    "offset": number,
                                    "through": {"enum": ["cables"]},
                                    "curve": {"type": "array", "items": {"type": "array"}},
                                },
                                ["body", "ratio"],
                            ),
                        ]
                    },
                    "points": {"type": "object", "additionalProperties": vector},
                },
                ["id", "axis", "driven_by"],
            ),
            "rods": _listed(
                {
                    "id": text,
                    "a": end,
                    "b": end,
                    "length_m": number,
                    "record": {
                        "type": "object",
                        "additionalProperties": False,
                        "properties": dict.fromkeys(RECORD, text),
                    },
                },
                ["id", "a", "b"],
            ),
            "stops": _listed(
                {
                    "id": text,
                    "body": text,
                    "side": {"enum": list(SIDES)},
                    "at": number,
                    "kind": {"enum": list(STOP_KINDS)},
                    "named_first": {"type": "boolean"},
                    "step": number,
                    "least": {"type": "integer"},
                    "most": {"type": "integer"},
                },
                ["id", "body", "side", "at"],
            ),
        },
    }


def _named(properties: dict[str, Any], required: list[str]) -> dict[str, Any]:
    one = _object(properties, required)
    return {"type": "object", "additionalProperties": one}


def _listed(properties: dict[str, Any], required: list[str]) -> dict[str, Any]:
    one = _object(properties, required)
    return {"type": "array", "items": one}


def _object(properties: dict[str, Any], required: list[str]) -> dict[str, Any]:
    return {
        "type": "object",
        "properties": properties,
        "required": required,
        "additionalProperties": False,
    }
