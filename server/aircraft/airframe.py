"""Making an aircraft from a described template, and changing its bays, closures, openings.

Lengths are typed, in any unit; a bare number is in the aircraft's own unit.
"""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils.text import slugify
from rest_framework import serializers

from core.aircraft.bays import AXES, checked_limits
from core.aircraft.template import ENGINES, GEARS, TAILS, WINGS, Described, airframe
from core.basis.quantities import parse, whole
from core.basis.refused import Refused
from server.accounts.models import Person
from server.aircraft.models import Aircraft, Bay, Closure, Member, Opening
from server.aircraft.slugs import anywhere
from server.config.forms import Form
from server.config.text import Text, text

SNAP_M = 0.001
LIMIT_FIELDS = ("x0", "x1", "y0", "y1", "z0", "z1")


class NewAircraftIn(Form):
    """A few words about a new aircraft."""

    name = Text(max_length=80)
    engine = serializers.ChoiceField(choices=ENGINES)
    wing = serializers.ChoiceField(choices=WINGS)
    gear = serializers.ChoiceField(choices=GEARS)
    tail = serializers.ChoiceField(choices=TAILS, required=False, default=TAILS[0])
    length = text(30)
    span = text(30)
    length_unit = serializers.ChoiceField(choices=["mm", "in"], required=False, default="mm")


class AircraftIn(Form):
    """What is said of the aircraft itself."""

    version = serializers.IntegerField()
    name = Text(max_length=80)
    summary = text(200)
    datum = text(200)
    length_unit = serializers.ChoiceField(choices=["mm", "in"])
    arm = text(30)
    arm_width = text(30)
    hours_run = serializers.FloatField(min_value=0, max_value=100000)
    facts = text(400)


class BayIn(Form):
    """A bay: limits as typed; a left-out limit stays."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=60)
    part = serializers.ChoiceField(choices=[p for p, _ in Bay.PARTS])
    x0 = text(30)
    x1 = text(30)
    y0 = text(30)
    y1 = text(30)
    z0 = text(30)
    z1 = text(30)


class ClosureIn(Form):
    """A closure and the bays that it opens."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=60)
    permanent = serializers.BooleanField()
    above = serializers.BooleanField()
    bays = serializers.ListField(child=serializers.CharField(max_length=50))
    planned_on = serializers.DateField(required=False, allow_null=True, default=None)
    inspection_needed = serializers.BooleanField()
    photo_needed = serializers.BooleanField()


class OpeningIn(Form):
    """An opening: its corners and clear width as typed."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=60)
    bay_a = Text(max_length=50)
    bay_b = text(50)
    closure = text(50)
    x0 = Text(max_length=30)
    x1 = Text(max_length=30)
    y0 = Text(max_length=30)
    y1 = Text(max_length=30)
    z0 = Text(max_length=30)
    z1 = Text(max_length=30)
    width = Text(max_length=30)


def new_aircraft(person: Person, given: dict[str, Any]) -> Member:
    """The aircraft, its bays and closures from the template; its owner's membership."""
    unit = given["length_unit"]
    described = Described(
        given["engine"],
        given["wing"],
        given["gear"],
        _length(given["length"], "length", unit, 6.0),
        _length(given["span"], "span", unit, 9.0),
        given["tail"],
    )
    frame = airframe(described)
    name = given["name"].strip()
    base = slugify(name)[:40]
    if not base:
        raise Refused("name", "needs a letter or digit")
    with transaction.atomic():
        aircraft = Aircraft.objects.create(
            slug=anywhere(Aircraft, base),
            name=name,
            summary=f"{given['engine']}, {given['wing']} wing, {given['gear']}".capitalize(),
            datum="Plane half a metre ahead of the nose: enter your own",
            outline=frame.outline,
            length_unit=unit,
        )
        for order, b in enumerate(frame.bays):
            bay = Bay(aircraft=aircraft, slug=b.slug, name=b.name, part=b.part, order=order)
            _set_limits(bay, [b.limits.x, b.limits.y, b.limits.z])
            bay.changed_by = person
            bay.save()
        bays = {b.slug: b for b in Bay.objects.filter(aircraft=aircraft)}
        for c in frame.closures:
            closure = Closure.objects.create(
                aircraft=aircraft,
                changed_by=person,
                slug=slugify(c.name),
                name=c.name,
                permanent=c.permanent,
                above=c.above,
                inspection_needed=c.permanent,
                photo_needed=c.permanent,
            )
            closure.bays.set([bays[slug] for slug in c.bays])
        return Member.objects.create(aircraft=aircraft, person=person, role="owner")


def _length(typed: str, field: str, unit: str, default: float) -> float:
    return parse(typed, "length", unit, field).si if typed.strip() else default


def _set_limits(bay: Bay, limits: list[tuple[float, float]]) -> None:
    for axis, (low, high) in zip("xyz", limits, strict=True):
        setattr(bay, f"{axis}0_m", low)
        setattr(bay, f"{axis}1_m", high)


def put_bay(bay: Bay, given: dict[str, Any]) -> None:
    """Put what was typed on a bay; limits snap to a millimetre when dragged or typed in mm."""
    unit = bay.aircraft.length_unit
    values: dict[str, float] = {}
    for field in LIMIT_FIELDS:
        typed = given[field].strip()
        if typed:
            values[field] = parse(typed, "length", unit, field).si
        else:
            kept = getattr(bay, f"{field}_m", None)
            if kept is None:
                raise Refused(field, "is needed")
            values[field] = kept
    limits = [(values[f"{a}0"], values[f"{a}1"]) for a in "xyz"]
    for axis, name, (low, high) in zip("xyz", AXES, limits, strict=True):
        if low >= high:
            raise Refused(f"{axis}1", f"{name}: the high limit must be above the low one")
    checked = checked_limits(limits)
    _set_limits(bay, [checked.x, checked.y, checked.z])
    if not given["name"].strip():
        raise Refused("name", "is needed")
    bay.name, bay.part = given["name"].strip(), given["part"]


def put_closure(c: Closure, given: dict[str, Any]) -> list[Bay]:
    """Put what was typed on a closure; the bays that it opens are returned to be set."""
    wanted = list(dict.fromkeys(given["bays"]))
    bays = list(Bay.objects.filter(aircraft=c.aircraft, slug__in=wanted))
    unknown = set(wanted) - {b.slug for b in bays}
    if unknown:
        raise Refused("bays", f"{min(unknown)} is not a bay of this aircraft")
    if not bays:
        raise Refused("bays", "a closure opens at least one bay")
    for field in (
        "name",
        "permanent",
        "above",
        "planned_on",
        "inspection_needed",
        "photo_needed",
    ):
        setattr(c, field, given[field])
    return bays


def put_opening(o: Opening, given: dict[str, Any]) -> None:
    """Put what was typed on an opening."""
    a = o.aircraft
    unit = a.length_unit
    bays = {b.slug: b for b in Bay.objects.filter(aircraft=a)}
    for field in ("bay_a", "bay_b"):
        if given[field] and given[field] not in bays:
            raise Refused(field, "is not a bay of this aircraft")
    if given["bay_a"] == given["bay_b"]:
        raise Refused("bay_b", "must be another bay, or outside")
    o.bay_a, o.bay_b = bays[given["bay_a"]], bays.get(given["bay_b"])
    o.closure = None
    if given["closure"]:
        o.closure = Closure.objects.filter(aircraft=a, slug=given["closure"]).first()
        if o.closure is None:
            raise Refused("closure", "is not a closure of this aircraft")
    at = {f: parse(given[f], "length", unit, f).si for f in LIMIT_FIELDS}
    for axis in "xyz":
        if at[f"{axis}0"] > at[f"{axis}1"]:
            raise Refused(f"{axis}1", "must not be below the low corner")
    flat = [axis for axis in "xyz" if at[f"{axis}0"] == at[f"{axis}1"]]
    if not flat:
        raise Refused("x1", "an opening is flat: both corners alike on one axis")
    o.lo_m, o.hi_m = [at[f"{x}0"] for x in "xyz"], [at[f"{x}1"] for x in "xyz"]
    o.width_m = parse(given["width"], "length", unit, "width").si
    if o.width_m <= 0:
        raise Refused("width", "must be greater than zero")
    o.name = given["name"]


def put_aircraft(a: Aircraft, given: dict[str, Any]) -> None:
    """Put what was typed on the aircraft itself."""
    for field in ("name", "summary", "datum", "length_unit", "hours_run"):
        setattr(a, field, given[field])
    for typed, field in (("arm", "arm_m"), ("arm_width", "arm_width_m")):
        value = None
        if given[typed].strip():
            value = parse(given[typed], "length", a.length_unit, typed).si
            if not 0 < value < 2:
                raise Refused(typed, "must be between 0 and 2 m: check the unit")
        setattr(a, field, value)
    if (a.arm_m is None) != (a.arm_width_m is None):
        raise Refused("arm_width" if a.arm_m else "arm", "give both, reach and width")
    a.facts = _facts(given["facts"])


def _facts(typed: str) -> dict[str, Any]:
    """`model=Fenlark, serial=40` as a dict; refuses what is not key=value."""
    found: dict[str, Any] = {}
    for pair in (p for p in typed.split(",") if p.strip()):
        key, equals, value = (x.strip() for x in pair.partition("="))
        if not key or not equals or not value:
            raise Refused("facts", f"{pair.strip()!r} is not key=value")
        found[key] = value if (number := whole(value)) is None else number
    return found
