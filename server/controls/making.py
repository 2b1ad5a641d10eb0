"""A control made, named and taken away, with its surfaces; nothing of it is lost in the record."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import PermissionDenied
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from core.controls.asking import both_sides, stands_on
from core.controls.patterns import PATTERNS, Part, checked_parts, checked_positions
from core.signoff.gate import LEAST_REASON
from server.aircraft.access import SAID, bay_of, check_version, may, member
from server.aircraft.models import Aircraft, Member
from server.aircraft.slugs import slug_for
from server.config.shapes import answer
from server.controls import forms, recording, shapes
from server.controls.facts import control_rows, scope, sheet, surface_shown
from server.controls.models import Control, Mechanism, Reading, Round, Surface
from server.controls.writing import on_control, tell
from server.journal.writing import note
from server.kit import dirty, ports
from server.kit.removing import RemovalIn, reason_of
from server.kit.writing import Act, Write, writes
from server.signoff.models import LedgerEntry, ScopeState


def new_control(act: Act) -> None:
    """The control with its surfaces and its first round."""
    given, who = act.given, act.who
    name = _free_name(who.aircraft, given["name"], None)
    parts = [Part(s["name"].strip(), s["side"], s["positive"]) for s in given["surfaces"]]
    checked_parts(parts)
    positions = checked_positions(given["positions"], parts[0].positive)
    primary, reason = primary_of(given)
    control = Control.objects.create(
        aircraft=who.aircraft,
        slug=slug_for(Control, who.aircraft, name),
        name=name,
        order=1 + max((c.order for c in who.aircraft.controls.all()), default=-1),
        sense_check=_sense(given["sense_check"]),
        positions=list(positions),
        primary=primary,
        primary_reason=reason,
    )
    now = datetime.now(UTC)
    Round.objects.create(
        control=control, number=1, reason="First rigging", started_by=who.person, started_at=now
    )
    for part, asked in zip(parts, given["surfaces"], strict=True):
        _add_surface(act, control, part, asked["bay"])
    recording.touched(control)
    given["made"] = control
    _say(act, control, f"Control entered: {control.name}", _bays(control))


def _free_name(aircraft: Aircraft, typed: str, mine: int | None) -> str:
    name = " ".join(typed.split())
    if not name:
        raise Refused("name", "is needed")
    if any(c.name.casefold() == name.casefold() and c.pk != mine for c in aircraft.controls.all()):
        raise Refused("name", "is another control's already")
    return name


def _sense(typed: str) -> str:
    said = typed.strip()
    if not said:
        raise Refused("sense_check", "say what moves which way: it is looked at before signing")
    return said


def primary_of(given: Mapping[str, Any]) -> tuple[bool, str]:
    """Whether it is a primary control, and the reason where it is not; refused without one."""
    reason = given["reason"].strip()
    if not given["primary"] and len(reason) < LEAST_REASON:
        raise Refused("reason", f"say why it is no primary control, in {LEAST_REASON} characters")
    return given["primary"], "" if given["primary"] else reason


def _add_surface(act: Act, control: Control, part: Part, bay: str) -> Surface:
    return Surface.objects.create(
        aircraft=control.aircraft,
        control=control,
        slug=slug_for(Surface, control.aircraft, part.name),
        name=part.name,
        side=part.side,
        bay=bay_of(control.aircraft, bay),
        positive=part.positive,
        changed_by=act.who.person,
    )


def _say(act: Act, control: Control, said: str, bays: list[str]) -> None:
    link = f"controls/{control.slug}"
    note(act.who.aircraft, act.who.person, "requirement", said, bays, link, False)


def _bays(control: Control) -> list[str]:
    rows = control.surfaces.filter(bay__isnull=False)
    return sorted(set(rows.values_list("bay__slug", flat=True)))


def change_control(act: Act) -> None:
    """Its name, what is looked at, its positions, and whether it is primary."""
    c, given = act.subject, act.given
    theirs = {"name": c.name, "primary": c.primary, "reason": c.primary_reason}
    check_version(c, given["version"], theirs, given)
    said = []
    if "name" in given and (name := _free_name(c.aircraft, given["name"], c.pk)) != c.name:
        said.append(f"{c.name} is now called {name}")
        c.name = name
    if "sense_check" in given and (sense := _sense(given["sense_check"])) != c.sense_check:
        said.append(f"{c.name}, what must be seen: {sense}")
        c.sense_check = sense
    if "positions" in given:
        said += _reposition(c, given["positions"])
    if "primary" in given:
        primary, reason = primary_of({"reason": ""} | given)
        if (primary, reason) != (c.primary, c.primary_reason):
            word = "a primary control" if primary else f"no primary control: {reason}"
            said.append(f"{c.name} is {word}")
        c.primary, c.primary_reason = primary, reason
    c.version += 1
    c.save()
    tell(act, "requirement", "; ".join(said) or f"{c.name}: looked at, nothing changed")


def _reposition(c: Control, asked: list[str]) -> list[str]:
    first = c.surfaces.first()
    assert first is not None, "a control is made with its surfaces"
    positions = list(checked_positions(asked, first.positive))
    asked_at = {p for q in c.requirements.all() for p in stands_on(q.kind, q.position)}
    moved_to = {use.get(key) for use in _outputs(c) for key in ("plus", "minus")}
    for gone in sorted(set(c.positions) - set(positions)):
        words = gone.replace("_", " ")
        if gone in moved_to:
            raise Refused("positions", f"the linkage moves to {words}: change that first")
        if gone in asked_at:
            raise Refused("positions", f"something is required at {words}: take that away first")
        if Reading.objects.filter(surface__control=c, position=gone).exists():
            raise Refused("positions", f"readings were taken at {words}: it stays")
    if positions == c.positions:
        return []
    c.positions = positions
    return [f"{c.name}, positions: {', '.join(p.replace('_', ' ') for p in positions)}"]


def _outputs(c: Control) -> list[dict[str, Any]]:
    """What its linkage moves, as its file says; nothing without one."""
    found = Mechanism.objects.filter(control=c).first()
    return [use for _, use in found.outputs] if found else []


def _still_compared(c: Control, sides: list[str], field: str) -> None:
    """Refuses to leave a comparison of left and right without one of them."""
    if not both_sides(sides) and c.requirements.filter(kind="symmetry").exists():
        raise Refused(field, "left is compared with right: take that requirement away first")


def remove_control(act: Act) -> None:
    """Taken away where nothing stands on it; who, when and why stay in the record."""
    c = act.subject
    check_version(c, act.given["version"], {"name": c.name}, act.given)
    reason = reason_of(act.given, "why it is taken away")
    signed = LedgerEntry.objects.filter(aircraft=c.aircraft, scope=scope(c))
    for standing, said in (
        (signed.exists(), "was signed: its record stays"),
        (Reading.objects.filter(surface__control=c).exists(), "has readings: they stay with it"),
        (c.sense_checks.exists(), "was checked for its sense: that stays with it"),
        (hasattr(c, "mechanism"), "has a linkage"),
        (any(list(told(c)) for told in ports.covers), "has cables"),
        (ports.joints().of(c.aircraft_id, c.slug), "has joints: give them to another first"),
    ):
        if standing:
            raise Refused("control", said)
    _say(act, c, f"Control taken away: {c.name}, because {reason}", _bays(c))
    ScopeState.objects.filter(aircraft=c.aircraft, scope=scope(c)).delete()
    c.requirements.all().delete()
    c.delete()
    dirty.mark(c.aircraft_id, "controls", c.slug)


def new_surface(act: Act) -> None:
    """One more surface, of the same kind as those there are."""
    c, given = act.subject, act.given
    part = Part(given["name"].strip(), given["side"], given["positive"])
    others = [Part(s.name, s.side, s.positive) for s in c.surfaces.all()]
    _checked([*others, part], len(others))
    s = _add_surface(act, c, part, given["bay"])
    tell(act, "requirement", f"Surface entered: {s.name}", _bays(c))


def _checked(parts: list[Part], mine: int) -> None:
    """Refused under the plain name of the field, which is of one surface here."""
    try:
        checked_parts(parts)
    except Refused as refusal:
        field = refusal.field.removeprefix(f"surfaces.{mine}.")
        raise Refused("positive" if field == "surfaces" else field, refusal.reason) from None


def rename_surface(act: Act, s: Surface) -> list[str]:
    """Its name, side, bay and positive way, where they were sent; what changed, in words."""
    given = act.given
    if not {"name", "side", "bay", "positive"} & set(given):
        return []
    if not may(act.who, "change facts"):
        raise PermissionDenied(f"As {act.who.role} you cannot {SAID['change facts']}.")
    name = " ".join(given.get("name", s.name).split())
    part = Part(name, given.get("side", s.side), given.get("positive", s.positive))
    rows = list(act.subject.surfaces.exclude(pk=s.pk))
    _checked([*(Part(o.name, o.side, o.positive) for o in rows), part], len(rows))
    if part.positive != s.positive and s.readings.exists():
        raise Refused("positive", "readings were taken by it: it stays")
    _still_compared(act.subject, [part.side, *(o.side for o in rows)], "side")
    bay = bay_of(s.aircraft, given["bay"]) if "bay" in given else s.bay
    was = (s.name, s.side, s.positive, s.bay_id)
    said = [f"{s.name} is now called {name}"] if name != s.name else []
    s.name, s.side, s.positive, s.bay = part.name, part.side, part.positive, bay
    if was[1:] != (s.side, s.positive, s.bay_id):
        said.append(f"{s.name}: side, positive way or bay changed")
    return said


def remove_surface(act: Act) -> None:
    """Taken away where nothing was read on it and another is left."""
    c = act.subject
    s = c.surfaces.get(slug=act.at["surface"])
    check_version(s, act.given["version"], surface_shown(s), act.given)
    reason = reason_of(act.given, "why it is taken away")
    if c.surfaces.count() == 1:
        raise Refused("surface", "is the only one of its control: take the control away instead")
    if s.readings.exists():
        raise Refused("surface", "has readings: they stay with it")
    if s.requirements.exists():
        raise Refused("surface", "something is required of it: take that away first")
    if any(use.get("surface") == s.slug for use in _outputs(c)):
        raise Refused("surface", "the linkage moves it: change that first")
    _still_compared(c, [o.side for o in c.surfaces.exclude(pk=s.pk)], "surface")
    bays = [s.bay.slug] if s.bay else []
    s.delete()
    tell(act, "requirement", f"Surface taken away: {s.name}, because {reason}", bays)


class ControlsView(APIView):
    """The controls of an aircraft."""

    @extend_schema(responses=answer(shapes.ControlsPage))
    def get(self, request: Request, slug: str) -> Response:
        """With their verdicts."""
        rows = control_rows(member(request, slug).aircraft)
        return Response(shapes.ControlsPage(count=len(rows), results=rows))

    post = writes(
        Write(
            ("change facts",),
            forms.NewControlIn,
            lambda who, at: _locked(who),
            new_control,
            lambda act: sheet(act.given["made"]),
            shapes.SheetShown,
        ),
        "A new control with its surfaces.",
    )


def _locked(who: Member) -> Aircraft:
    """The aircraft, so that two do not make the same control at once."""
    return Aircraft.objects.select_for_update().get(pk=who.aircraft_id)


class ControlRemovalView(APIView):
    """Taking a control away."""

    post = writes(
        Write(
            ("change facts",),
            RemovalIn,
            on_control(None, remove_control).find,
            remove_control,
            lambda act: _page(act.who.aircraft),
            shapes.ControlsPage,
            200,
        ),
        "Only one that nothing stands on; 409 with both sides on an old version.",
    )


def _page(aircraft: Aircraft) -> shapes.ControlsPage:
    rows = control_rows(aircraft)
    return shapes.ControlsPage(count=len(rows), results=rows)


class SurfacesView(APIView):
    """A new surface of a control."""

    post = writes(
        on_control(forms.NewSurfaceIn, new_surface, ("change facts",)), "With its positive way."
    )


class PatternsView(APIView):
    """Controls to begin with."""

    @extend_schema(responses=answer(shapes.PatternsShown))
    def get(self, request: Request) -> Response:
        """Each with its surfaces, positions and what must be seen."""
        return Response(shapes.PatternsShown(results=[_pattern(p) for p in PATTERNS]))


def _pattern(p: Any) -> shapes.PatternShown:
    return shapes.PatternShown(
        name=p.name,
        surfaces=[shapes.PartShown(name=x.name, side=x.side, positive=x.positive) for x in p.parts],
        positions=list(p.positions),
        sense_check=p.sense,
        not_primary=p.not_primary,
    )
