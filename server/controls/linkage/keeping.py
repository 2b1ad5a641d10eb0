"""Rows into a mechanism file and back: the file is what is edited, rows are what is kept."""

from __future__ import annotations

from typing import Any

from core.basis.refused import Refused
from core.controls.linkage.document import Document, document_from
from server.accounts.models import Person
from server.controls.linkage.models import Body, Mechanism, Rod, Stop
from server.controls.models import Control
from server.kit import ports

ENGAGED = ("engaged_a", "engaged_b")


def file_of(m: Mechanism) -> dict[str, Any]:
    """The mechanism file of the rows."""
    return {
        "format": "ash-lane mechanism",
        "edition": 1,
        "id": m.slug,
        "inputs": dict(m.inputs),
        "outputs": dict(m.outputs),
        "bodies": [_body(b) for b in m.bodies.all()],
        "rods": [_rod(r) for r in m.rods.all()],
        "stops": [_stop(s) for s in m.stops.all()],
    }


def _body(b: Body) -> dict[str, Any]:
    return {
        "id": b.slug,
        "kind": b.kind,
        **({"pivot": b.pivot_m} if b.kind == "turn" else {}),
        "axis": b.axis,
        **({"carried_by": b.carried_by} if b.carried_by else {}),
        "driven_by": b.driven_by,
        "points": b.points_m,
    }


def _rod(r: Rod) -> dict[str, Any]:
    return {
        "id": r.slug,
        "a": r.a,
        "b": r.b,
        **({} if r.length_m is None else {"length_m": r.length_m}),
        **({"record": r.record} if r.record else {}),
    }


def _stop(s: Stop) -> dict[str, Any]:
    return {
        "id": s.slug,
        "body": s.body,
        "side": s.side,
        "at": s.at,
        "kind": s.kind,
        **({"named_first": True} if s.named_first else {}),
        **({} if s.step is None else {"step": s.step, "least": s.least, "most": s.most}),
    }


def coupled(control: Control, data: dict[str, Any]) -> dict[str, Any]:
    """The file with the curve of each body that is driven through cables; by its ratio where
    the cables are not entered yet."""
    if not isinstance(data, dict) or not isinstance(data.get("bodies"), list):
        return data
    bodies = []
    for b in data["bodies"]:
        d = b.get("driven_by") if isinstance(b, dict) else None
        if isinstance(d, dict) and d.get("through") == "cables":
            curves = (
                told(control, str(d.get("body")), str(b.get("id"))) for told in ports.couplings
            )
            curve = next((c for c in curves if c), None)
            b = b | {"driven_by": d | ({"curve": curve} if curve else {})}
        bodies.append(b)
    return data | {"bodies": bodies}


def document_of(m: Mechanism) -> Document:
    """The rows as the core takes them, driven through the control's cables where it says so."""
    return document_from(coupled(m.control, file_of(m)))


def keep(control: Control, data: dict[str, Any], by: Person, m: Mechanism | None) -> Mechanism:
    """Check a file as a whole and keep it as the control's mechanism, row by row.

    What was turned stays with its rod or stop as long as that is there. Refuses what the
    core refuses, and a surface that this control does not have.
    """
    document = document_from(data)
    check_surfaces(control, document)
    if m is None:
        m = Mechanism(aircraft=control.aircraft, control=control, version=0)
    m.slug = str(data.get("id") or control.slug)[:60]
    # As pairs: the database does not keep the order of an object's names, and the first
    # input is the one that is moved.
    m.inputs, m.outputs = list(data["inputs"].items()), list(data["outputs"].items())
    m.version, m.changed_by = m.version + 1, by
    m.save()
    _sync(m, Body, [_body_row(b) for b in data["bodies"]], by)
    _sync(m, Rod, [_rod_row(r) for r in data.get("rods") or []], by)
    _sync(m, Stop, [_stop_row(s) for s in data.get("stops") or []], by)
    return m


def check_surfaces(control: Control, document: Document) -> None:
    """Refuses an output of a surface that is not this control's, or of a position it has not."""
    slugs = set(control.surfaces.values_list("slug", flat=True))
    for name, use in document.outputs.items():
        if use.surface and use.surface not in slugs:
            raise Refused(f"outputs.{name}.surface", f"{use.surface} is not a surface here")
        for key in ("plus", "minus"):
            position = getattr(use, key)
            if use.surface and position and position not in control.positions:
                said = ", ".join(control.positions)
                raise Refused(f"outputs.{name}.{key}", f"must be one of: {said}")


def _body_row(b: dict[str, Any]) -> dict[str, Any]:
    return {
        "slug": b["id"],
        "kind": b.get("kind", "turn"),
        "pivot_m": b.get("pivot"),
        "axis": b["axis"],
        "carried_by": b.get("carried_by") or "",
        "driven_by": b["driven_by"],
        "points_m": b.get("points") or {},
    }


def _rod_row(r: dict[str, Any]) -> dict[str, Any]:
    return {
        "slug": r["id"],
        "a": r["a"],
        "b": r["b"],
        "length_m": r.get("length_m"),
        "record": r.get("record") or {},
    }


def _stop_row(s: dict[str, Any]) -> dict[str, Any]:
    return {
        "slug": s["id"],
        "body": s["body"],
        "side": s["side"],
        "at": s["at"],
        "kind": s.get("kind") or "surface",
        "named_first": bool(s.get("named_first")),
        "step": s.get("step"),
        "least": int(s.get("least") or 0),
        "most": int(s.get("most") or 0),
    }


def _sync(m: Mechanism, model: Any, wanted: list[dict[str, Any]], by: Person) -> None:
    """Rows as wanted: changed ones saved with a new version, missing ones deleted."""
    there = {row.slug: row for row in model.objects.filter(mechanism=m)}
    for order, values in enumerate(wanted):
        row = there.pop(values["slug"], None)
        if row is None:
            row = model(mechanism=m, aircraft=m.aircraft, version=0)
        values = values | {"order": order}
        if row.pk and all(getattr(row, k) == v for k, v in values.items()):
            continue
        if model is Rod and any(row.record.get(k) != values["record"].get(k) for k in ENGAGED):
            row.recorded_at = row.half_turns
        for key, value in values.items():
            setattr(row, key, value)
        row.version, row.changed_by = row.version + 1, by
        row.save()
    for row in there.values():
        row.delete()
