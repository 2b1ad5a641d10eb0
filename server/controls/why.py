"""Why this number: the rule behind a set's result with the very inputs that gave it."""

from __future__ import annotations

import math
from typing import Any

from core.basis.uncertainty import of_repeats, of_resolution, rectangular
from core.controls.travel import OWN_ZERO, Missing
from core.controls.verdict import Judged, Measurement
from server.controls import shapes
from server.controls.models import Requirement, Surface
from server.controls.sets import RowSet
from server.kit.showing import Why, why

DEG = math.degrees(1.0)

SURFACE = "the surface's measures"
OF_THE_SURFACE = {
    "chord_mm",
    "u_chord_mm",
    "phi_deg",
    "u_phi_deg",
    "sweep_deg",
    "u_sweep_deg",
    "dihedral_deg",
    "positive",
    "neutral_u_deg",
}


def shown_set(
    s: RowSet, form: Measurement | Missing, judged: Judged | Missing, r: Requirement
) -> shapes.SetShown:
    """A set with its result, for the sheet."""
    known = judged if isinstance(judged, Judged) else None
    missing = judged if isinstance(judged, Missing) else None
    surface = r.surface
    assert surface is not None
    return shapes.SetShown(
        method=s.core.method,  # type: ignore[typeddict-item]
        practice=s.core.practice,
        instrument=s.rows[0].instrument_was["name"],
        zero=s.core.zero,
        servo=s.servo,
        unit="mm" if s.is_length else "°",
        readings=[row.pk or 0 for row in s.rows],
        n=len(s.rows),
        value_deg=known.y * DEG if known else None,
        u_deg=known.combined.u * DEG if known else None,
        U_deg=known.combined.U * DEG if known else None,
        k=known.combined.k if known else None,
        verdict=known.verdict.value if known else "not measured",
        missing=missing.reason if missing else "",
        candidates_deg=[c * DEG for c in (missing.candidates or ())] if missing else [],
        why=verdict_why(s, form, r) if isinstance(form, Measurement) else None,
        method_why=method_why(surface, s) if known and r.kind == "travel" else None,
    )


def verdict_why(s: RowSet, m: Measurement, r: Requirement) -> Why:
    """`controls.verdict` in degrees (readings in mm where a ruler was used)."""
    per = 1e3 if s.is_length else DEG
    read_in = "mm" if s.is_length else "°"
    return why(
        "controls.verdict",
        {
            "lo": None if r.lo is None else r.lo * DEG,
            "hi": None if r.hi is None else r.hi * DEG,
            "readings": [v * per for v in m.readings],
            "accuracy": m.accuracy * per,
            "resolution": m.resolution * per,
            "sensitivity": m.sensitivity * DEG / per,
            "offset": m.offset * DEG,
            "other": [{"u": p.u * DEG, "nu": p.nu, "name": p.name} for p in m.other],
            "best_accuracy": m.best_accuracy * per,
            "best_resolution": m.best_resolution * per,
        },
        _origins(s, r),
        {"": "°", "lo": "°", "hi": "°", "offset": "°", "other": "°"}
        | dict.fromkeys(
            ("readings", "accuracy", "resolution", "best_accuracy", "best_resolution"), read_in
        ),
    )


def _origins(s: RowSet, r: Requirement) -> dict[str, str]:
    """Where each input of a verdict came from, in words."""
    page = f", {r.page}" if r.page else ""
    cited = f"{r.source.cited}{page}: {r.as_typed}"
    typed, _, instrument = _read(s)
    way = f"worked out from the way of measuring ({s.core.method.replace('_', ' ')})"
    return {
        "lo": cited,
        "hi": cited,
        "readings": typed,
        "accuracy": instrument,
        "resolution": instrument,
        "sensitivity": way,
        "offset": way,
        "other": "the surface's measures, and the readings at neutral",
        "best_accuracy": "the most accurate instrument of this aircraft",
        "best_resolution": "the same instrument",
    }


def _read(s: RowSet) -> tuple[str, str, str]:
    """What was typed, by whom and when, and with what."""
    by = ", ".join(dict.fromkeys(f"{x.taken_by.name} {x.taken_at:%Y-%m-%d}" for x in s.rows))
    typed = "; ".join(row.as_typed for row in s.rows)
    return f"typed {typed}; {by}", by, f"{s.rows[0].instrument_was['name']}, as entered"


def method_why(surface: Surface, s: RowSet) -> Why | None:
    """The rule of the way of measuring, without limits."""
    by = {
        "gauge_difference": _gauge,
        "swept_gauge": _swept,
        "edge_offset": _edge,
        "included_angle": _included,
    }
    inputs = by[s.core.method](surface, s)
    typed, by_whom, instrument = _read(s)
    # Without a reading at neutral the surface's own angle stands for it.
    start = "the readings at neutral" if s.core.neutral else SURFACE
    known = dict.fromkeys(("readings_deg", "reading_deg", "offset_mm", "included_deg"), typed)
    known |= dict.fromkeys(("accuracy_deg", "resolution_deg"), instrument)
    known |= dict.fromkeys(("u_reading_deg", "u_offset_mm"), f"{instrument}, and the spread")
    known |= dict.fromkeys(("neutral_deg", "neutral_included_deg", "u_neutral_deg"), start)
    said = f"said with the reading; {by_whom}"
    where = {k: SURFACE if k in OF_THE_SURFACE else known.get(k, said) for k in inputs}
    return why(f"controls.{s.core.method}", inputs, where)


def _u_reading(values: tuple[float, ...], s: RowSet) -> float:
    repeats = of_repeats(values)
    return math.hypot(
        rectangular(s.core.accuracy),
        of_resolution(s.core.resolution),
        repeats.u if repeats else 0.0,
    )


def _gauge(surface: Surface, s: RowSet) -> dict[str, Any]:
    c = s.core
    zeroed = c.zero in OWN_ZERO
    return {
        "face": c.face,
        "readings_deg": [v * DEG for v in c.values],
        "neutral_deg": None if zeroed else [v * DEG for v in c.neutral],
        "sense": c.sense,
        "side": c.side,
        "neutral_side": c.neutral_side,
        "zeroed": zeroed,
        "accuracy_deg": c.accuracy * DEG,
        "resolution_deg": c.resolution * DEG,
    }


def _swept(surface: Surface, s: RowSet) -> dict[str, Any]:
    c = s.core
    start = c.neutral if c.zero not in OWN_ZERO else ()
    return {
        "sweep_deg": (surface.sweep_rad or 0.0) * DEG,
        "dihedral_deg": surface.dihedral_rad * DEG,
        "neutral_deg": c.sense * sum(start) / len(start) * DEG if start else None,
        "reading_deg": c.sense * sum(c.values) / len(c.values) * DEG,
        "practice": c.practice,
        "u_reading_deg": _u_reading(c.values, s) * DEG,
        "u_neutral_deg": _u_reading(start, s) * DEG if start else None,
        "u_sweep_deg": surface.u_sweep_rad * DEG,
    }


def _edge(surface: Surface, s: RowSet) -> dict[str, Any]:
    c = s.core
    return {
        "chord_mm": (surface.chord_m or 0.0) * 1e3,
        "offset_mm": sum(c.values) / len(c.values) * 1e3,
        "practice": c.practice,
        "phi_deg": c.direction * surface.phi_rad * DEG,
        "u_offset_mm": _u_reading(c.values, s) * 1e3,
        "u_chord_mm": surface.u_chord_m * 1e3,
        "u_phi_deg": surface.u_phi_rad * DEG,
    }


def _included(surface: Surface, s: RowSet) -> dict[str, Any]:
    c = s.core
    start = sum(c.neutral) / len(c.neutral) if c.neutral else surface.neutral_included_rad
    return {
        "positive": surface.positive,
        "skin": c.skin,
        "neutral_included_deg": (start or 0.0) * DEG,
        "included_deg": sum(c.values) / len(c.values) * DEG,
        "accuracy_deg": c.accuracy * DEG,
        "neutral_u_deg": surface.u_neutral_included_rad * DEG,
        "gap_mm": c.gap * 1e3 if c.gap else None,
        "arm_mm": c.arm * 1e3 if c.arm else None,
    }
