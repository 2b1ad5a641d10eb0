"""What a signature on a control covers, each as the record keeps it."""

from __future__ import annotations

from typing import Any

from core.signoff.canonical import figure
from server.controls import shapes
from server.controls.models import (
    Reading,
    Requirement,
    SenseCheck,
    SourceDecision,
    Surface,
)
from server.controls.naming import named


def surface_value(s: Surface) -> dict[str, Any]:
    """A surface's geometry as signed."""
    fields = ("chord_m", "u_chord_m", "phi_rad", "u_phi_rad", "sweep_rad", "u_sweep_rad")
    more = ("dihedral_rad", "neutral_included_rad", "u_neutral_included_rad")
    return {"name": s.name, "positive": s.positive} | {
        f: figure(getattr(s, f)) for f in (*fields, *more)
    }


def requirement_value(r: Requirement) -> dict[str, Any]:
    """A requirement with its source and revision, as signed."""
    return {
        "name": named(r),
        "asked": r.as_typed,
        "lo": figure(r.lo),
        "hi": figure(r.hi),
        "source": r.source.cited,
        "page": r.page,
    }


def result_value(r: Requirement, result: shapes.ResultShown) -> dict[str, Any]:
    """A computed result with rule and edition, as signed."""
    reason = result["why"]
    return {
        "name": named(r),
        "verdict": result["verdict"],
        "value": figure(result["value"]),
        "U": figure(result["U"]),
        "unit": result["unit"],
        "rule": reason["rule"] if reason else "",
        "edition": str(reason["edition"]) if reason else "",
    }


def reading_value(r: Reading) -> dict[str, Any]:
    """A reading as signed: as typed, how, with what, under which conditions, who and when."""
    was = r.instrument_was
    return {
        "name": f"{r.surface.name}, {r.position.replace('_', ' ')}",
        "as_typed": r.as_typed,
        "value": figure(r.value),
        "unit": r.unit,
        "method": r.method,
        "practice": r.practice,
        "zero": r.zero,
        "sense": str(r.sense),
        "side": None if r.side is None else str(r.side),
        "skin": r.skin,
        "place": r.place,
        "approach": r.approach,
        "instrument": {
            k: was[k] if isinstance(was[k], str) else figure(was[k]) for k in sorted(was)
        },
        "conditions": {
            k: figure(v) if isinstance(v, float) else v for k, v in sorted(r.conditions.items())
        },
        "taken_at": r.taken_at.strftime("%Y-%m-%dT%H:%M:%SZ"),
        "taken_by": r.taken_by.slug,
        "revision": str(r.rev),
    }


def decision_value(d: SourceDecision) -> dict[str, Any]:
    """A decision between sources, as signed."""
    return {
        "chosen": f"requirement/{d.requirement_id}",
        "reason": d.reason,
        "by": d.decided_by.slug,
    }


def sense_value(c: SenseCheck) -> dict[str, Any]:
    """A sense check, as signed."""
    return {
        "name": c.text,
        "right_way": c.right_way,
        "free": c.free,
        "note": c.note,
        "seen_by": c.seen_by.slug,
        "at": c.at.strftime("%Y-%m-%dT%H:%M:%SZ"),
    }
