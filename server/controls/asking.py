"""Requirements, geometry and documents from what was typed."""

from __future__ import annotations

import math
from typing import Any

from django.utils.text import slugify

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.basis.verdicts import limits
from core.controls.asking import both_sides, stands_on
from core.controls.verdict import range_of
from server.aircraft.models import Aircraft, Source
from server.controls.models import Control, Requirement, Surface

MOST = math.radians(90.0)


def set_place(r: Requirement, control: Control, given: dict[str, Any]) -> None:
    """Put surface and position on a requirement. Refuses what its kind cannot be asked at."""
    positions = set(control.positions)
    r.surface, r.position = None, ""
    if r.kind != "symmetry":
        r.surface = control.surfaces.filter(slug=given["surface"]).first()
        if r.surface is None:
            raise Refused("surface", "is not a surface of this control")
    elif given["surface"]:
        raise Refused("surface", "is asked of both sides: leave it empty")
    elif not both_sides([s.side for s in control.surfaces.all()]):
        raise Refused("kind", "needs a left and a right surface")
    if r.kind in ("neutral", "repeatability"):
        r.position = "neutral"
    elif r.kind != "ratio":
        r.position = given["position"]
        if r.position == "neutral":
            raise Refused("position", "neutral is no travel: ask for its alignment instead")
    needed = stands_on(r.kind, r.position)
    if not needed <= positions:
        field = "kind" if r.kind in ("ratio", "neutral", "repeatability") else "position"
        missing = ", ".join(sorted(needed - positions)).replace("_", " ") or "none"
        raise Refused(field, f"{missing} is not a position of this control")


def set_limits(r: Requirement, given: dict[str, Any]) -> None:
    """Put the typed limits on a requirement. Refuses what cannot be, by field."""

    def value(field: str) -> float | None:
        if not given[field].strip():
            return None
        if r.kind == "ratio":
            return parse(given[field], "number", "1", field).si
        return parse(given[field], "angle", "deg", field).si

    values = {f: value(f) for f in ("nominal", "plus", "minus", "lo", "hi")}
    r.no_tolerance = bool(given.get("no_tolerance"))
    if r.kind in ("symmetry", "repeatability"):
        _at_most(r, given, values)
    elif r.no_tolerance:
        _without_tolerance(r, given, values)
    elif values["nominal"] is not None:
        nominal, plus, minus = values["nominal"], values["plus"], values["minus"]
        for field, tolerance in (("plus", plus), ("minus", minus)):
            if tolerance is None or tolerance < 0:
                raise Refused(field, "give the tolerance, zero or more")
        assert plus is not None and minus is not None
        r.lo, r.hi = range_of(nominal, plus, minus)
        r.as_typed = f"{given['nominal']} +{given['plus']} -{given['minus']}"
    else:
        limits(values["lo"], values["hi"])
        r.lo, r.hi = values["lo"], values["hi"]
        r.as_typed = f"{given['lo'] or 'open'} to {given['hi'] or 'open'}"
    if r.kind == "ratio":
        if any(v is not None and v <= 0 for v in (r.lo, r.hi)):
            raise Refused("lo" if values["nominal"] is None else "nominal", "must be above zero")
    elif any(v is not None and abs(v) > MOST for v in (r.lo, r.hi)):
        field = "hi" if values["nominal"] is None else "nominal"
        raise Refused(field, "no surface travels over 90 degrees")


def _at_most(r: Requirement, given: dict[str, Any], values: dict[str, float | None]) -> None:
    """How far two things may differ: one number, either way."""
    for field in ("nominal", "plus", "minus"):
        if values[field] is not None:
            raise Refused(field, "is not asked here: give how far they may differ")
    most, lo = values["hi"], values["lo"]
    if most is None or most <= 0:
        raise Refused("hi", "give how far they may differ, more than zero")
    if lo is not None and lo != -most:
        raise Refused("lo", "must be as far the other way, or left empty")
    if r.no_tolerance:
        raise Refused("no_tolerance", "this is a tolerance itself")
    r.lo, r.hi, r.as_typed = -most, most, f"± {given['hi']}"


def _without_tolerance(
    r: Requirement, given: dict[str, Any], values: dict[str, float | None]
) -> None:
    """The document gives a figure and no tolerance: never In by it, until one is entered."""
    if values["nominal"] is None:
        raise Refused("nominal", "give the figure that the document asks")
    for field in ("plus", "minus", "lo", "hi"):
        if values[field] is not None:
            raise Refused(field, "is a tolerance, and none is said to be given")
    r.lo = r.hi = values["nominal"]
    r.as_typed = f"{given['nominal']}, no tolerance given"


def set_source(r: Requirement, aircraft: Aircraft, given: dict[str, Any]) -> None:
    """Cite a document of this aircraft."""
    source = Source.objects.filter(aircraft=aircraft, pk=given["source"]).first()
    if source is None:
        raise Refused("source", "is not a document of this aircraft")
    r.source, r.page = source, given["page"]


def set_geometry(s: Surface, given: dict[str, Any]) -> None:
    """Put the typed geometry on a surface. Refuses what cannot be, by field."""

    def length(field: str) -> float | None:
        return parse(given[field], "length", "mm", field).si if given[field].strip() else None

    def angle(field: str, low: float, high: float) -> float | None:
        if not given[field].strip():
            return None
        value = parse(given[field], "angle", "deg", field).si
        if not math.radians(low) <= value <= math.radians(high):
            raise Refused(field, f"must be from {low:g} to {high:g} degrees")
        return value

    chord, u_chord = length("chord"), length("u_chord")
    if chord is not None and chord <= 0:
        raise Refused("chord", "must be greater than zero")
    if u_chord is not None and u_chord < 0:
        raise Refused("u_chord", "must not be negative")
    s.chord_m, s.chord_typed, s.u_chord_m = chord, given["chord"], u_chord or 0.0
    s.phi_rad = angle("phi", -45, 45) or 0.0
    s.sweep_rad = angle("sweep", -60, 60)
    s.dihedral_rad = angle("dihedral", -30, 30) or 0.0
    s.neutral_included_rad = angle("neutral_included", 90, 270)
    for field in ("u_phi", "u_sweep", "u_neutral_included"):
        setattr(s, f"{field}_rad", angle(field, 0, 10) or 0.0)


def new_source(aircraft: Aircraft, given: dict[str, Any]) -> Source:
    """A document, not yet saved; refuses one that is there already."""
    slug = slugify(f"{given['title']}-{given['revision']}")[:50]
    if not slug:
        raise Refused("title", "must have letters or figures")
    if Source.objects.filter(aircraft=aircraft, slug=slug).exists():
        raise Refused("title", "is there already, in this revision")
    return Source(aircraft=aircraft, slug=slug, **given)
