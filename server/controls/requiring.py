"""What is required of a control: requirements, surfaces, sources, whether it is primary."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any, TypedDict

from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from server.aircraft.access import check_version, member
from server.aircraft.models import Member, Source
from server.config.shapes import answer
from server.controls import asking, forms
from server.controls.facts import (
    judging,
    requirement_shown,
    surface_shown,
)
from server.controls.lookup import lock
from server.controls.making import remove_surface, rename_surface
from server.controls.models import Control, Requirement, SourceDecision, Surface
from server.controls.naming import named
from server.controls.writing import because, on_control, tell
from server.journal.writing import changed, note
from server.kit.removing import RemovalIn, reason_of
from server.kit.writing import Act, Write, writes


class SourceRow(TypedDict):
    """A document of the aircraft."""

    id: int
    cited: str


class SourceList(TypedDict):
    """All documents."""

    count: int
    results: list[SourceRow]


def _new_requirement(act: Act) -> None:
    control, given = act.subject, act.given
    r = Requirement(
        aircraft=act.who.aircraft,
        control=control,
        kind=given["kind"],
        changed_by=act.who.person,
    )
    asking.set_place(r, control, given)
    asking.set_source(r, act.who.aircraft, given)
    asking.set_limits(r, given)
    r.save()
    tell(act, "requirement", f"Required: {named(r)}: {r.as_typed} ({r.source.cited})")


class RequirementsView(APIView):
    """A new requirement."""

    post = writes(
        on_control(forms.NewRequirementIn, _new_requirement, ("change facts",)),
        "Keep it with its source.",
    )


def _of_requirement(who: Member, at: Mapping[str, Any]) -> Control:
    """The control of a requirement, locked."""
    rows = Requirement.objects.select_related("control")
    r = rows.filter(aircraft=who.aircraft, pk=at["requirement"]).first()
    if r is None:
        raise Http404
    lock(r.control)
    r.control.aircraft = who.aircraft
    return r.control


def _change_requirement(act: Act) -> None:
    """The new limits and source; 409 with both sides on an old version."""
    given = act.given
    rows = Requirement.objects.select_related("surface__bay", "source", "control")
    r = rows.get(pk=act.at["requirement"])
    theirs = requirement_shown(r, judging(r.control).results()[r.pk])
    check_version(r, given["version"], theirs, given)
    before = f"{r.as_typed} ({r.source.cited})"
    reason = reason_of(given, "why it is changed")
    asking.set_source(r, act.who.aircraft, given)
    asking.set_limits(r, given)
    r.version, r.changed_by = r.version + 1, act.who.person
    because(r, reason)
    r.save()
    became = f"{r.as_typed} ({r.source.cited})"
    said = f"Limit changed: {named(r)}: {before} to {became}, because {reason}"
    tell(act, "requirement", said)


def _remove_requirement(act: Act) -> None:
    """Taken away; that it was asked, by whom it was taken away and why stays in the record."""
    rows = Requirement.objects.select_related("surface__bay", "source", "control")
    r = rows.get(pk=act.at["requirement"])
    theirs = requirement_shown(r, judging(r.control).results()[r.pk])
    check_version(r, act.given["version"], theirs, act.given)
    reason = reason_of(act.given, "why it is taken away")
    if SourceDecision.objects.filter(requirement=r).exists():
        raise Refused("requirement", "a decision between documents rests on it: it stays")
    said = f"No longer required: {named(r)}: {r.as_typed} ({r.source.cited}), because {reason}"
    bays = [r.surface.bay.slug] if r.surface and r.surface.bay else []
    because(r, reason)
    r.delete()
    tell(act, "requirement", said, bays)


class RequirementView(APIView):
    """Changing a requirement."""

    patch = writes(
        on_control(
            forms.RequirementIn, _change_requirement, ("change facts",), 200, _of_requirement
        ),
        "Keep the new limits and source; 409 with both sides on an old version.",
    )


class RequirementRemovalView(APIView):
    """Taking a requirement away."""

    post = writes(
        on_control(RemovalIn, _remove_requirement, ("change facts",), 200, _of_requirement),
        "With the reason; 409 with both sides on an old version.",
    )


def _of_surface(who: Member, at: Mapping[str, Any]) -> Control:
    """The control of a surface, locked."""
    rows = Control.objects.filter(aircraft=who.aircraft, surfaces__slug=at["surface"])
    control = rows.first()
    if control is None:
        raise Http404
    lock(control)
    control.aircraft = who.aircraft
    return control


def _change_surface(act: Act) -> None:
    s = act.subject.surfaces.select_related("bay").get(slug=act.at["surface"])
    check_version(s, act.given["version"], surface_shown(s), act.given)
    was = _geometry(s)
    said = rename_surface(act, s)
    asking.set_geometry(s, act.given)
    s.version, s.changed_by = s.version + 1, act.who.person
    s.save()
    measured = changed(was, _geometry(s)) or "geometry kept as it was"
    tell(act, "requirement", "; ".join([*said, f"{s.name}: {measured}"]))


def _geometry(s: Surface) -> dict[str, str]:
    """What is said of a surface's shape, in words."""

    def length(m: float | None) -> str:
        return "" if m is None else f"{m * 1e3:.1f} mm"

    def angle(rad: float | None) -> str:
        return "" if rad is None else f"{math.degrees(rad):.2f}°"

    return {
        "chord": length(s.chord_m),
        "chord known to ±": length(s.u_chord_m),
        "line hinge to edge above neutral": angle(s.phi_rad),
        "that line known to ±": angle(s.u_phi_rad),
        "hinge sweep": angle(s.sweep_rad),
        "hinge sweep known to ±": angle(s.u_sweep_rad),
        "dihedral": angle(s.dihedral_rad),
        "included angle at neutral": angle(s.neutral_included_rad),
        "included angle known to ±": angle(s.u_neutral_included_rad),
    }


class SurfaceView(APIView):
    """Changing a surface's geometry."""

    patch = writes(
        on_control(forms.SurfaceIn, _change_surface, ("measure",), 200, _of_surface),
        "Keep chord, sweep and neutral angle; 409 with both sides on an old version.",
    )


class SurfaceRemovalView(APIView):
    """Taking a surface away."""

    post = writes(
        on_control(RemovalIn, remove_surface, ("change facts",), 200, _of_surface),
        "Only one that nothing was read on; 409 with both sides on an old version.",
    )


def _new_source(act: Act) -> None:
    source = asking.new_source(act.subject, act.given)
    source.changed_by = act.who.person
    source.save()
    note(act.subject, act.who.person, "document", f"Document: {source.cited}", (), "sources")


class SourcesView(APIView):
    """The documents of an aircraft."""

    @extend_schema(responses=answer(SourceList))
    def get(self, request: Request, slug: str) -> Response:
        """All of them."""
        return Response(self._all(member(request, slug)))

    post = writes(
        Write(
            ("change facts",),
            forms.SourceIn,
            lambda who, at: who.aircraft,
            _new_source,
            lambda act: SourcesView._all(act.who),
            SourceList,
        ),
        "Add one.",
    )

    @staticmethod
    def _all(who: Member) -> SourceList:
        rows = Source.objects.filter(aircraft=who.aircraft).order_by("title", "revision")
        results = [SourceRow(id=s.pk, cited=s.cited) for s in rows]
        return SourceList(count=len(results), results=results)
