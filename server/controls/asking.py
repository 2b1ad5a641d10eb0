"""Requirements, geometry and documents from what was typed."""

from __future__ import annotations

import math
from typing import Any

from django.utils.text import slugify

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.basis.verdicts import limits
from core.controls.verdict import range_of
from server.aircraft.models import Aircraft, Source
from server.controls.models import Requirement, Surface

MOST = math.radians(90.0)


def set_limits(r: Requirement, given: dict[str, Any]) -> None:
    """Put the typed limits on a requirement. Refuses what cannot be, by field."""

    def angle(field: str) -> float | None:
        return parse(given[field], "angle", "deg", field).si if given[field].strip() else None

    values = {f: angle(f) for f in ("nominal", "plus", "minus", "lo", "hi")}
    nominal, plus, minus = values["nominal"], values["plus"], values["minus"]
    if nominal is not None:
        for field, value in (("plus", plus), ("minus", minus)):
            if value is None or value < 0:
                raise Refused(field, "give the tolerance, zero or more")
        assert plus is not None and minus is not None
        r.lo, r.hi = range_of(nominal, plus, minus)
        r.as_typed = f"{given['nominal']} +{given['plus']} -{given['minus']}"
    else:
        limits(values["lo"], values["hi"])
        r.lo, r.hi = values["lo"], values["hi"]
        r.as_typed = f"{given['lo'] or 'open'} to {given['hi'] or 'open'}"
    if any(v is not None and abs(v) > MOST for v in (r.lo, r.hi)):
        raise Refused("hi" if nominal is None else "nominal", "no surface travels over 90 degrees")


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
