"""Joints and stock from what was typed: understood, checked, warned about, kept."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any

from core.basis.quantities import INCH, parse, parse_many, parse_range
from core.basis.refused import Refused
from core.hardware.stack import layers
from core.rulebook.registry import rule
from core.runs.bays import bays_of
from server.aircraft.models import Aircraft, Bay, Source
from server.hardware.models import Compound, Joint, StockItem

OUTSIDE = "This place lies outside all bays: it is kept, and listed under none."
PLAIN = (
    "name",
    "part",
    "turned",
    "rotating",
    "loss_prevents_safe_flight",
    "device",
    "insert",
    "torque_page",
    "witness_needed",
    "photo_needed",
    "needs_access",
    "two_hands",
    "retorque_at_hours",
)


def length(text: str, field: str, unit: str) -> float:
    """A typed length, m, greater than zero."""
    value = parse(text, "length", unit, field).si
    if value <= 0:
        raise Refused(field, "must be greater than zero")
    return value


def put_joint(j: Joint, given: dict[str, Any]) -> list[str]:
    """Put what was typed on a joint; refuses by field; returns warnings."""
    a = j.aircraft
    for field in PLAIN:
        setattr(j, field, given[field])
    if not j.name.strip():
        raise Refused("name", "is needed")
    warnings = _place(j, given)
    if given["control"] and not _controls(a).filter(slug=given["control"]).exists():
        raise Refused("control", "is not a control of this aircraft")
    j.control = given["control"]
    _stack(j, given)
    _torque(j, given)
    j.compound = _one(Compound, a, given["compound"], "compound")
    temperature = given["temperature_max"]
    j.temperature_max_k = (
        parse(temperature, "temperature", "C", "temperature_max").si if temperature else None
    )
    j.fit = fit_inputs(given["fit"], a.length_unit) if given["fit"] else None
    j.metals = dict(given["metals"]) if given["metals"] else None
    if j.metals:
        rule("hardware.galvanic").run(j.metals)
    return warnings


def _controls(a: Aircraft) -> Any:
    return a.controls


def _one(model: Any, a: Aircraft, key: int | None, field: str) -> Any:
    if key is None:
        return None
    found = model.objects.filter(aircraft=a, pk=key).first()
    if found is None:
        raise Refused(field, "is not one of this aircraft's")
    return found


def _place(j: Joint, given: dict[str, Any]) -> list[str]:
    """Bay and point; a point decides the bay if none was named."""
    a = j.aircraft
    unit = a.length_unit
    axes = ("station", "butt_line", "water_line")
    typed = [given[x] for x in axes]
    if any(typed) and not all(typed):
        missing = next(x for x in axes if not given[x])
        raise Refused(missing, "is needed with the other two")
    j.point_m = [parse(given[x], "length", unit, x).si for x in axes] if all(typed) else None
    bays = list(Bay.objects.filter(aircraft=a))
    named = next((b for b in bays if b.slug == given["bay"]), None)
    if given["bay"] and named is None:
        raise Refused("bay", "is not a bay of this aircraft")
    j.bay = named
    if j.point_m is None:
        return [] if named else ["No bay and no place: it is kept, and listed under none."]
    inside = bays_of(j.point_m, [b.box for b in bays])
    if not inside:
        return [OUTSIDE]
    if named is None:
        j.bay = next(b for b in bays if b.slug == inside[0])
        return []
    if named.slug not in inside:
        return [f"This place does not lie in {named.name}, but in {', '.join(inside)}."]
    return []


def _stack(j: Joint, given: dict[str, Any]) -> None:
    unit = j.aircraft.length_unit
    j.stack = [asdict(layer) for layer in layers(given["layers"], unit)]
    j.stack_tol_m = length(given["stack_tol"], "stack_tol", unit) if given["stack_tol"] else 0.0
    j.bolt = _stocked(j.aircraft, given["bolt"], "bolt")
    j.nut = _stocked(j.aircraft, given["nut"], "nut")
    j.head_washers_m = _washers(given["head_washers"], "head_washers", unit)
    j.nut_washers_m = _washers(given["nut_washers"], "nut_washers", unit)


def _stocked(a: Aircraft, key: int | None, kind: str) -> StockItem | None:
    found: StockItem | None = _one(StockItem, a, key, kind)
    if found is not None and found.kind != kind:
        raise Refused(kind, f"is a {found.kind}")
    return found


def _washers(text: str, field: str, unit: str) -> list[float]:
    if not text.strip():
        return []
    values = [q.si for q in parse_many(text, "length", unit, field)]
    if any(v <= 0 for v in values):
        raise Refused(field, "must be greater than zero")
    return values


def _torque(j: Joint, given: dict[str, Any]) -> None:
    j.torque_source = _one(Source, j.aircraft, given["torque_source"], "torque_source")
    j.torque_typed, j.torque_low_nm, j.torque_high_nm = "", None, None
    if given["torque"]:
        asked = parse_range(given["torque"], "torque", "Nm", "torque")
        if asked.lo <= 0:
            raise Refused("torque", "must be greater than zero")
        j.torque_typed, j.torque_low_nm, j.torque_high_nm = asked.as_typed, asked.lo, asked.hi
    j.drag_nm = parse(given["drag"], "torque", "Nm", "drag").si if given["drag"] else 0.0
    if j.drag_nm < 0:
        raise Refused("drag", "must not be negative")


def fit_inputs(given: dict[str, Any], unit: str) -> dict[str, Any]:
    """The typed diameters and `hardware.fit`'s inputs; refuses under the typed names."""
    inputs: dict[str, Any] = {"need": given["need"]}
    for typed, name in (("hole", "hole_m"), ("shaft", "shaft_m")):
        inputs[name] = [q.si for q in parse_many(given[typed], "length", unit, typed)]
    for typed, name in (
        ("u_hole", "u_hole_m"),
        ("u_shaft", "u_shaft_m"),
        ("clear_min", "clear_min_m"),
        ("clear_max", "clear_max_m"),
    ):
        if given.get(typed):
            inputs[name] = parse(given[typed], "length", unit, typed).si
        elif typed in ("u_hole", "u_shaft"):
            raise Refused(typed, "is needed: how well was it measured (standard uncertainty)?")
    try:
        rule("hardware.fit").run(inputs)
    except Refused as refusal:
        raise Refused(refusal.field.removesuffix("_m"), refusal.reason) from None
    return {"typed": dict(given), "inputs": inputs}


def put_stock(s: StockItem, given: dict[str, Any]) -> None:
    """Put what was typed on a stock item."""
    unit = s.aircraft.length_unit
    s.kind, s.name, s.thread = given["kind"], given["name"], given["thread"]
    s.typed = {k: v for k, v in given.items() if v not in ("", None)}
    if s.kind == "washer":
        s.data = {"thickness_m": length(given["thickness"], "thickness", unit)}
    elif s.kind == "nut":
        s.data = _nut(given, unit)
    else:
        s.data = _bolt(given, unit)


def _bolt(given: dict[str, Any], unit: str) -> dict[str, Any]:
    data: dict[str, Any] = {
        "grip_m": length(given["grip"], "grip", unit),
        "length_m": length(given["length"], "length", unit),
        "pitch_m": _pitch(given, unit),
        "drilled": given["drilled"],
    }
    if data["length_m"] <= data["grip_m"]:
        raise Refused("length", "must be greater than the grip")
    if given["drilled"]:
        data["hole_from_head_m"] = length(given["hole_from_head"], "hole_from_head", unit)
    return data


def _pitch(given: dict[str, Any], unit: str) -> float:
    if given["pitch"]:
        return length(given["pitch"], "pitch", unit)
    try:
        per_inch = float(given["threads_per_inch"])
    except ValueError:
        raise Refused("threads_per_inch", "give threads per inch, or the pitch") from None
    if not (math.isfinite(per_inch) and per_inch > 0):
        raise Refused("threads_per_inch", "must be greater than zero")
    return INCH / per_inch


def _nut(given: dict[str, Any], unit: str) -> dict[str, Any]:
    if not given["nut_kind"]:
        raise Refused("nut_kind", "say what kind of nut it is")
    data: dict[str, Any] = {
        "kind": given["nut_kind"],
        "height_m": length(given["height"], "height", unit),
    }
    if given["counterbore"]:
        data["counterbore_m"] = length(given["counterbore"], "counterbore", unit)
    if given["nut_kind"] == "castellated":
        for field in ("slot_depth", "pin_diameter"):
            data[f"{field}_m"] = length(given[field], field, unit)
        if data["slot_depth_m"] < data["pin_diameter_m"]:
            raise Refused("slot_depth", "the slot is shallower than the pin")
    return data
