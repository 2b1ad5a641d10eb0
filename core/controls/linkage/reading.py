"""Mechanism files: plain data (m, rad) into a mechanism, and back.

Every refusal names the member: `bodies.crank.axis`, `rods.aft.a`.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable
from typing import Any

from core.basis.refused import Refused, finite
from core.controls.linkage.curve import points_from
from core.controls.linkage.mechanism import (
    KINDS,
    ORIGIN,
    UNITS,
    Body,
    ByBody,
    ByInput,
    ByRod,
    Driver,
    End,
    Mechanism,
    Output,
    Rod,
    Vector,
    ordered,
    unit,
)

# The names that each part of the file may hold; "*" stands for any member.
KEYS: dict[tuple[str, ...], tuple[str, ...]] = {
    (): ("format", "edition", "id", "inputs", "outputs", "bodies", "rods", "stops"),
    ("inputs", "*"): ("unit", "positive", "limit", "throw_tol", "detents"),
    ("outputs", "*"): ("body", "sign", "surface", "plus", "minus", "input"),
    ("bodies", "*"): ("id", "kind", "pivot", "axis", "carried_by", "driven_by", "points"),
    ("rods", "*"): ("id", "a", "b", "length_m", "record"),
    ("rods", "*", "a"): ("body", "point", "bore", "cone_rad"),
    ("rods", "*", "b"): ("body", "point", "bore", "cone_rad"),
    ("stops", "*"): (
        "id", "body", "side", "at", "kind", "named_first", "step", "least", "most",
    ),
}  # fmt: skip
DRIVERS = {
    "input": ("input", "ratio"),
    "rod": ("rod",),
    "body": ("body", "ratio", "offset", "through", "curve"),
}


def mechanism_from(data: Any) -> Mechanism:
    """A mechanism from its file's content, checked as a whole.

    Refuses what is missing, not a number, not known here, or cannot be (see
    `mechanism.ordered`).
    """
    top = _object(data, "mechanism")
    _refuse_unknown(top)
    inputs: dict[str, str] = {}
    for name, spec in _object(top.get("inputs"), "inputs").items():
        word = _object(spec, f"inputs.{name}").get("unit")
        if word not in UNITS:
            raise Refused(f"inputs.{name}.unit", "must be rad or m")
        inputs[name] = word
    if not inputs:
        raise Refused("inputs", "needs at least one")
    bodies = tuple(_body(b, i) for i, b in enumerate(_list(top.get("bodies"), "bodies")))
    if not bodies:
        raise Refused("bodies", "needs at least one")
    rods = tuple(_rod(r, i) for i, r in enumerate(_list(top.get("rods") or [], "rods")))
    outputs = {
        str(name): Output(
            _text(_object(o, f"outputs.{name}").get("body"), f"outputs.{name}.body"),
            o.get("sign", 1),
        )
        for name, o in _object(top.get("outputs") or {}, "outputs").items()
    }
    mechanism = Mechanism(str(top.get("id") or ""), inputs, bodies, rods, outputs)
    ordered(mechanism)
    return mechanism


def mechanism_to(m: Mechanism) -> dict[str, Any]:
    """The mechanism as its file's content."""
    return {
        "id": m.id,
        "inputs": {name: {"unit": u} for name, u in m.inputs.items()},
        "outputs": {name: {"body": o.body, "sign": o.sign} for name, o in m.outputs.items()},
        "bodies": [_body_to(b) for b in m.bodies],
        "rods": [_rod_to(r) for r in m.rods],
    }


def _body_to(b: Body) -> dict[str, Any]:
    d = b.driven_by
    driver: dict[str, Any]
    if isinstance(d, ByInput):
        driver = {"input": d.input, "ratio": d.ratio}
    elif isinstance(d, ByRod):
        driver = {"rod": d.rod}
    else:
        driver = {"body": d.body, "ratio": d.ratio, "offset": d.offset}
        driver |= {"through": d.through} if d.through else {}
        driver |= {"curve": [list(p) for p in d.curve]} if d.curve else {}
    return {
        "id": b.id,
        "kind": b.kind,
        **({"pivot": list(b.pivot)} if b.kind == "turn" else {}),
        "axis": list(b.axis),
        **({"carried_by": b.carried_by} if b.carried_by else {}),
        "driven_by": driver,
        "points": {name: list(p) for name, p in b.points.items()},
    }


def _rod_to(r: Rod) -> dict[str, Any]:
    out: dict[str, Any] = {"id": r.id, "a": _end_to(r.a), "b": _end_to(r.b)}
    return out | ({"length_m": r.length} if r.length is not None else {})


def _end_to(e: End) -> dict[str, Any]:
    out: dict[str, Any] = {"body": e.body, "point": e.point}
    if e.bore is not None:
        out["bore"] = list(e.bore)
    return out | ({"cone_rad": e.cone} if e.cone is not None else {})


def _body(data: Any, index: int) -> Body:
    b = _object(data, f"bodies.{index}")
    name = _text(b.get("id"), f"bodies.{index}.id")
    at = f"bodies.{name}"
    kind = b.get("kind", "turn")
    if kind not in KINDS:
        raise Refused(f"{at}.kind", "must be turn or slide")
    points = _object(b.get("points") or {}, f"{at}.points")
    carrier = b.get("carried_by")
    return Body(
        id=name,
        kind=kind,
        axis=unit(_vector(b.get("axis"), f"{at}.axis"), f"{at}.axis"),
        driven_by=_driver(b.get("driven_by"), f"{at}.driven_by"),
        pivot=_vector(b.get("pivot"), f"{at}.pivot") if kind == "turn" else ORIGIN,
        points={str(p): _vector(v, f"{at}.points.{p}") for p, v in points.items()},
        carried_by=None if carrier is None else _text(carrier, f"{at}.carried_by"),
    )


def _driver(data: Any, at: str) -> Driver:
    d = _object(data, at)
    kinds = [k for k in ("input", "rod", "body") if d.get(k) is not None]
    if len(kinds) != 1:
        raise Refused(at, "needs exactly one of input, rod or body")
    _only(d, DRIVERS[kinds[0]], at)
    name = _text(d[kinds[0]], at)
    if kinds[0] == "rod":
        return ByRod(name)
    ratio = finite(d.get("ratio", 1.0), f"{at}.ratio")
    if kinds[0] == "input":
        return ByInput(name, ratio)
    if "ratio" not in d:
        raise Refused(f"{at}.ratio", "is needed")
    through = d.get("through") or ""
    if through not in ("", "cables"):
        raise Refused(f"{at}.through", "must be cables, or left out")
    curve = points_from(d["curve"], f"{at}.curve") if d.get("curve") else ()
    return ByBody(name, ratio, finite(d.get("offset", 0.0), f"{at}.offset"), through, curve)


def _rod(data: Any, index: int) -> Rod:
    r = _object(data, f"rods.{index}")
    name = _text(r.get("id"), f"rods.{index}.id")
    at = f"rods.{name}"
    length = r.get("length_m")
    return Rod(
        id=name,
        a=_end(r.get("a"), f"{at}.a"),
        b=_end(r.get("b"), f"{at}.b"),
        length=None if length is None else finite(length, f"{at}.length_m"),
    )


def _end(data: Any, at: str) -> End:
    e = _object(data, at)
    bore, cone = e.get("bore"), e.get("cone_rad")
    return End(
        body=_text(e.get("body"), f"{at}.body"),
        point=_text(e.get("point"), f"{at}.point"),
        bore=None if bore is None else unit(_vector(bore, f"{at}.bore"), f"{at}.bore"),
        cone=None if cone is None else finite(cone, f"{at}.cone_rad"),
    )


def _refuse_unknown(data: Any, path: tuple[str, ...] = (), at: str = "") -> None:
    """A misspelt name is told, not passed over."""
    if path in KEYS:
        _only(data, KEYS[path], at)
    for key in {p[len(path)] for p in KEYS if len(p) > len(path) and p[: len(path)] == path}:
        for name, part in _members(data, key):
            _refuse_unknown(part, (*path, key), f"{at}.{name}" if at else name)


def _members(data: Any, key: str) -> Iterable[tuple[str, Any]]:
    """The part of that name, or every member of a list or an object, with its own name."""
    if isinstance(data, dict):
        return data.items() if key == "*" else [(key, data[key])] if key in data else []
    if isinstance(data, list):
        return [(_name(x, i), x) for i, x in enumerate(data)]
    return []


def _name(member: Any, index: int) -> str:
    return str(member.get("id") or index) if isinstance(member, dict) else str(index)


def _only(data: Any, known: Collection[str], at: str) -> None:
    for key in data if isinstance(data, dict) else ():
        if key not in known:
            raise Refused(f"{at}.{key}" if at else str(key), "is not known here")


def _object(data: Any, at: str) -> dict[str, Any]:
    if not isinstance(data, dict):
        raise Refused(at, "must be an object" if data is not None else "is needed")
    return data


def _list(data: Any, at: str) -> list[Any]:
    if not isinstance(data, list):
        raise Refused(at, "must be a list" if data is not None else "is needed")
    return data


def _text(data: Any, at: str) -> str:
    if not isinstance(data, str) or not data.strip():
        raise Refused(at, "is needed")
    return data


def _vector(data: Any, at: str) -> Vector:
    if not isinstance(data, (list, tuple)) or len(data) != 3:
        raise Refused(at, "must be three numbers: station aft, butt line right, water line up")
    x, y, z = (finite(v, at) for v in data)
    return (x, y, z)
