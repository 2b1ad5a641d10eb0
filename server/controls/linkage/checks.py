"""Checks of a control's parts, kept: rod strength, hinge line, mass balance."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.controls.linkage.contact import at_stops, places
from core.controls.linkage.document import Document
from core.controls.linkage.loads import rod_loads
from core.controls.linkage.solving import solve
from core.rulebook.registry import rule
from core.signoff.canonical import canonical_hash
from server.accounts.models import Person
from server.controls.linkage import shapes
from server.controls.linkage.built import measures
from server.controls.linkage.keeping import document_of
from server.controls.linkage.models import PartCheck
from server.controls.models import Control
from server.kit.showing import why

Typed = dict[str, str]
KINDS = ("rod_strength", "hinge_fraction", "hinge_straightness", "mass_balance")
STEPS = 81


def check(control: Control, kind: str, subject: str, typed: Typed, by: Person) -> PartCheck:
    """Run the rule on what was typed and keep it (one of a kind for each subject).

    Refuses by field what is not understood or cannot be.
    """
    if kind not in KINDS:
        raise Refused("kind", f"must be one of: {', '.join(KINDS)}")
    made = {
        "rod_strength": _strength,
        "hinge_fraction": _fraction,
        "hinge_straightness": _straightness,
        "mass_balance": _balance,
    }[kind]
    inputs = made(control, subject, typed)
    result = rule(f"controls.{kind}").run(inputs)
    row = PartCheck.objects.filter(control=control, kind=kind, subject=subject).first()
    row = row or PartCheck(
        aircraft=control.aircraft, control=control, kind=kind, subject=subject, version=0
    )
    row.typed, row.inputs, row.result = typed, inputs, result
    row.rule, row.edition = f"controls.{kind}", rule(f"controls.{kind}").edition
    row.inputs_hash = canonical_hash(inputs)
    row.verdict = _verdict(kind, typed, result)
    row.version, row.changed_by = row.version + 1, by
    row.save()
    return row


def _verdict(kind: str, typed: Typed, result: dict[str, Any]) -> str:
    if kind == "hinge_fraction":
        return str(result["worst"])
    if kind == "hinge_straightness":
        if not typed.get("limit", "").strip():
            return "not measured"
        limit = parse(typed["limit"], "length", "mm", "limit").si * 1e3
        return "in" if result["max_fit_mm"] <= limit else "out"
    return str(result.get("verdict", "not measured"))


def shown(row: PartCheck) -> shapes.PartCheckShown:
    """A kept check."""
    return shapes.PartCheckShown(
        id=row.pk,
        version=row.version,
        kind=row.kind,
        subject=row.subject,
        typed=row.typed,
        verdict=row.verdict,  # type: ignore[typeddict-item]
        result=row.result,
        said=_said(row.kind, row.result),
        why=why(row.rule, row.inputs, dict.fromkeys(row.inputs, "typed with this check")),
    )


def _said(kind: str, r: dict[str, Any]) -> str:
    if kind == "rod_strength":
        return (
            f"Buckles at {r['critical_N']:.0f} N ({r['regime']}); ultimate load"
            f" {r['ultimate_N']:.0f} N: reserve {r['reserve']:.2f}, needs 1."
        )
    if kind == "hinge_fraction":
        shown = ", ".join(f"{row['fraction']:.3f}" for row in r["rows"])
        return f"Hinge at {shown} of the chord."
    if kind == "hinge_straightness":
        return f"Hinges lie within {r['max_fit_mm']:.2f} mm of one line."
    said = f"Hinge moment {r['moment_Nm']:+.2f} ± {r['U_Nm']:.2f} N·m."
    if "weight_change_kg" in r:
        change = r["weight_change_kg"]
        said += f" {'Add' if change >= 0 else 'Take off'} {abs(change) * 1e3:.0f} g."
    return said


def _subject(control: Control, subject: str) -> None:
    if not control.surfaces.filter(slug=subject).exists():
        raise Refused("subject", "is not a surface of this control")


def _length(typed: Typed, field: str, needed: bool = True) -> float | None:
    """A typed length, mm."""
    if not typed.get(field, "").strip():
        if needed:
            raise Refused(field, "is needed")
        return None
    return parse(typed[field], "length", "mm", field).si * 1e3


def _mass(typed: Typed, field: str, needed: bool = True) -> float | None:
    if not typed.get(field, "").strip():
        if needed:
            raise Refused(field, "is needed")
        return None
    return parse(typed[field], "mass", "kg", field).si


def _moment(typed: Typed, field: str) -> float | None:
    text = typed.get(field, "").strip()
    return parse(text, "torque", "Nm", field).si if text else None


def _number(typed: Typed, field: str) -> float | None:
    text = typed.get(field, "").strip()
    try:
        return float(text) if text else None
    except ValueError:
        raise Refused(field, "must be a number") from None


def _given(values: dict[str, Any]) -> dict[str, Any]:
    return {k: v for k, v in values.items() if v is not None}


def _fraction(control: Control, subject: str, typed: Typed) -> dict[str, Any]:
    _subject(control, subject)
    stations = []
    for i, pair in enumerate(p for p in typed.get("stations", "").split(";") if p.strip()):
        ahead, slash, chord = pair.partition("/")
        if not slash:
            raise Refused(f"stations.{i}", "must be nose to hinge / chord, such as 71 / 352")
        stations.append(
            {
                "ahead_mm": parse(ahead, "length", "mm", f"stations.{i}").si * 1e3,
                "chord_mm": parse(chord, "length", "mm", f"stations.{i}").si * 1e3,
            }
        )
    return _given(
        {
            "stations": stations,
            "lo": _number(typed, "lo"),
            "hi": _number(typed, "hi"),
            "accuracy_mm": _length(typed, "accuracy", False),
        }
    )


def _straightness(control: Control, subject: str, typed: Typed) -> dict[str, Any]:
    _subject(control, subject)
    points = []
    for i, text in enumerate(p for p in typed.get("points", "").split(";") if p.strip()):
        parts = text.replace(",", " ").split()
        if len(parts) != 3:
            raise Refused(f"points.{i}", "must be station, butt line and water line, in mm")
        points.append([parse(p, "length", "mm", f"points.{i}").si * 1e3 for p in parts])
    return {"points_mm": points}


def _balance(control: Control, subject: str, typed: Typed) -> dict[str, Any]:
    _subject(control, subject)
    return _given(
        {
            "scale_kg": _mass(typed, "scale"),
            "tare_kg": _mass(typed, "tare", False),
            "arm_mm": _length(typed, "arm"),
            "surface_mass_kg": _mass(typed, "surface_mass", False),
            "weight_arm_mm": _length(typed, "weight_arm", False),
            "aim_Nm": _moment(typed, "aim"),
            "scale_accuracy_kg": _mass(typed, "scale_accuracy", False),
            "arm_accuracy_mm": _length(typed, "arm_accuracy", False),
            "lo_Nm": _moment(typed, "lo"),
            "hi_Nm": _moment(typed, "hi"),
        }
    )


def _strength(control: Control, subject: str, typed: Typed) -> dict[str, Any]:
    """The rod's load from the pilot's force through the linkage, where it is greatest."""
    mechanism = getattr(control, "mechanism", None)
    if mechanism is None:
        raise Refused("subject", "this control has no linkage yet")
    d = document_of(mechanism)
    if subject not in d.plan.lengths:
        raise Refused("subject", "is not a rod of this linkage")
    si = measures(dict(d.records.get(subject, {})), f"rods.{subject}.record")
    for name in ("od", "wall", "E", "Fcy"):
        if name not in si:
            raise Refused(f"record.{name}", "enter it in the rod's record first")
    force = typed.get("pilot_force", "").strip()
    if not force:
        raise Refused("pilot_force", "is needed, from the certification basis or the maker")
    return _given(
        {
            "od_mm": si["od"] * 1e3,
            "wall_mm": si["wall"] * 1e3,
            "length_mm": d.plan.lengths[subject] * 1e3,
            "E_GPa": si["E"] / 1e9,
            "Fcy_MPa": si["Fcy"] / 1e6,
            "rod_limit_N": greatest_load(d, subject, parse(force, "force", "N", "pilot_force").si),
            "special_factor": _number(typed, "special_factor"),
        }
    )


def greatest_load(d: Document, rod: str, force: float) -> float:
    """The greatest load in a rod, N, between the stops of the first output that it moves."""
    loads: list[float] = []
    for output in d.outputs:
        b = d.bench(output)
        ends = at_stops(b, {}, np.zeros(1, dtype=int), places(b.stops))
        far = [
            b.limit if math.isnan(float(x[0])) else float(x[0])
            for x in (ends.throw_minus, ends.throw_plus)
        ]
        motion = solve(d.plan, {b.input: np.linspace(-far[0], far[1], STEPS)})
        found = np.broadcast_to(np.asarray(rod_loads(motion, b.input, force)[rod]), (STEPS,))
        loads += [float(v) for v in found if math.isfinite(v)]
    if not loads:
        raise Refused("subject", "this rod does not move with the pilot's input")
    return max(loads)
