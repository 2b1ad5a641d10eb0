"""Steps done to a wire, a circuit or a bus: what was read, by the fields of the form."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any

from core.basis.quantities import parse
from core.basis.refused import Refused, not_negative
from core.wiring.first_power import made_of
from core.wiring.harness import INSULATED, POLARITY, PUT_IN, STEP_WORDS, Harness, Row
from core.wiring.harness_checks import continuity_said, insulation_said
from core.wiring.harness_entry import may_go_in, steps_allowed
from core.worksheets.kinds import run
from server.accounts.models import Person
from server.kit.records import held
from server.wires.models import HarnessRow, WireEvent
from server.wires.reading import harness_of, row_of

RULE, TESTED = "wiring.continuity", "tested"
# What each step reads: the form's field -> (the name it is kept under, dimension, unit).
READ: dict[str, dict[str, tuple[str, str, str]]] = {
    TESTED: {
        "measured": ("measured_ohm", "resistance", "ohm"),
        "u": ("U_ohm", "resistance", "ohm"),
        "leads": ("leads_ohm", "resistance", "ohm"),
        "contacts": ("contacts_ohm_max", "resistance", "ohm"),
        "temperature": ("t_C", "temperature", "C"),
    },
    INSULATED: {
        "measured": ("measured_ohm", "resistance", "Mohm"),
        "u": ("U_rel", "number", "%"),
    },
    POLARITY: {"measured": ("measured_V", "voltage", "V")},
    PUT_IN: {"measured": ("measured_A", "current", "A"), "u": ("U_A", "current", "A")},
}
FIELDS = ("measured", "u", "leads", "contacts", "temperature")
NAMES = {name: field for field, (name, _, _) in READ[TESTED].items()}
SIGNED = ("measured_V", "t_C")


def inputs_of(r: HarnessRow, h: Harness, given: Mapping[str, Any]) -> dict[str, Any]:
    """What a step read, under the names it is kept by. Refuses by the form's fields."""
    doing = given["doing"]
    asked = READ.get(doing, {})
    for field in (f for f in FIELDS if f not in asked and given[f].strip()):
        raise Refused(field, "does not belong to this step")
    for field, only in (("breaker", PUT_IN), ("over", INSULATED)):
        if given[field] and doing != only:
            raise Refused(field, "does not belong to this step")
    if not asked:
        return {}
    if not given["measured"].strip():
        raise Refused("measured", "is needed: what the meter reads")
    found = _of_wire(r, h) if doing == TESTED else {}
    for field, (name, kind, unit) in asked.items():
        if given[field].strip():
            found[name] = _read(given[field], name, kind, unit, field)
    if given["over"]:
        found["over_range"] = True
    if doing == INSULATED:
        found["of"] = made_of(h, _here(h, r))
    if doing == PUT_IN:
        found["breaker"] = given["breaker"].strip()
    return found


def _read(text: str, name: str, kind: str, unit: str, field: str) -> float:
    if unit == "%":
        return not_negative(parse(text.replace("%", ""), "number", "1", field).si, field) / 100.0
    value = parse(text, kind, unit, field).si
    if name == "t_C":
        return value - 273.15
    return value if name in SIGNED else not_negative(value, field)


def _of_wire(r: HarnessRow, h: Harness) -> dict[str, Any]:
    wire = _here(h, r)
    length = h.length_m(wire)
    if "awg" not in wire.values or length is None:
        raise Refused("measured", "its gauge and its length must be known first: enter them")
    return {"awg": wire.values["awg"], "length_m": length}


def worked(inputs: Mapping[str, Any]) -> dict[str, Any]:
    """What the rule says of a continuity test. Refuses by the form's fields."""
    try:
        return run(RULE, inputs)
    except Refused as refusal:
        raise Refused(NAMES.get(refusal.field, refusal.field), refusal.reason) from None


def record(r: HarnessRow, given: Mapping[str, Any], by: Person) -> WireEvent:
    """Keep one step done to a locked row."""
    h = harness_of(r.aircraft)
    row = row_of(r, r.events.order_by("id"))
    doing = given["doing"]
    again = doing == TESTED and TESTED in row.done
    if not again:
        steps_allowed(row, doing)
    inputs = inputs_of(r, h, given)
    if doing == PUT_IN:
        may_go_in(h, _here(h, r), inputs["breaker"])
    return WireEvent.objects.create(
        aircraft=r.aircraft,
        row=r,
        doing=doing,
        typed={k: given[k] for k in FIELDS if given[k].strip()},
        rule=RULE if doing == TESTED else "",
        inputs=inputs,
        result=worked(inputs) if doing == TESTED else {},
        by=by,
        at=datetime.now(UTC),
        note=given["note"],
    )


def _here(h: Harness, r: HarnessRow) -> Row:
    return next(x for x in h.rows if x.slug == r.slug)


def step_said(e: WireEvent) -> str:
    """A step in words, with what was read."""
    word = STEP_WORDS[e.doing]
    if e.doing == TESTED:
        return f"{word}: {continuity_said(e.inputs, e.result)}"
    if e.doing == INSULATED:
        return f"{word}: {insulation_said(e.inputs)}"
    if e.doing == POLARITY:
        return f"{word}: {e.inputs['measured_V']:.1f} V"
    if e.doing == PUT_IN:
        return f"{e.inputs['breaker']} put in: {e.inputs['measured_A']:.2f} A in all"
    return word


def last_of(r: HarnessRow) -> WireEvent | None:
    """The last thing done that holds."""
    standing = held(r.events.order_by("id"))
    return standing[-1] if standing else None
