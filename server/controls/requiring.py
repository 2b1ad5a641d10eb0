"""What is required of a control: requirements, surfaces, sources, whether it is primary."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, TypedDict

from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from core.signoff.gate import LEAST_REASON
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
from server.controls.models import Control, Requirement
from server.controls.naming import named
from server.controls.writing import on_control, tell
from server.journal.writing import note
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
    surface = control.surfaces.filter(slug=given["surface"]).first()
    if surface is None:
        raise Refused("surface", "is not a surface of this control")
    if given["position"] not in control.positions:
        raise Refused("position", "is not a position of this control")
    r = Requirement(
        aircraft=act.who.aircraft,
        control=control,
        surface=surface,
        kind=given["kind"],
        position=given["position"],
        changed_by=act.who.person,
    )
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
    rows = Requirement.objects.select_related("surface", "source", "control")
    r = rows.get(pk=act.at["requirement"])
    if r.kind not in ("travel", "neutral"):
        raise Refused("requirement", "only travel and neutral are changed here")
    theirs = requirement_shown(r, judging(r.control).results()[r.pk])
    check_version(r, given["version"], theirs, given)
    before = r.as_typed
    asking.set_source(r, act.who.aircraft, given)
    asking.set_limits(r, given)
    r.version, r.changed_by = r.version + 1, act.who.person
    r.save()
    tell(act, "requirement", f"Limit changed: {named(r)}: {before} to {r.as_typed}")


class RequirementView(APIView):
    """Changing a requirement."""

    patch = writes(
        on_control(
            forms.RequirementIn, _change_requirement, ("change facts",), 200, _of_requirement
        ),
        "Keep the new limits and source; 409 with both sides on an old version.",
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
    asking.set_geometry(s, act.given)
    s.version, s.changed_by = s.version + 1, act.who.person
    s.save()
    tell(act, "requirement", f"Geometry changed: {s.name}")


class SurfaceView(APIView):
    """Changing a surface's geometry."""

    patch = writes(
        on_control(forms.SurfaceIn, _change_surface, ("measure",), 200, _of_surface),
        "Keep chord, sweep and neutral angle; 409 with both sides on an old version.",
    )


def set_primary(act: Act) -> None:
    """A primary control asks for more: that one is not is said with a reason."""
    c, given = act.subject, act.given
    theirs = {"primary": c.primary, "reason": c.primary_reason}
    check_version(c, given["version"], theirs, given)
    reason = given["reason"].strip()
    if not given["primary"] and len(reason) < LEAST_REASON:
        raise Refused("reason", f"say why it is no primary control, in {LEAST_REASON} characters")
    c.primary, c.primary_reason = given["primary"], "" if given["primary"] else reason
    c.version += 1
    c.save()
    word = "a primary control" if c.primary else f"no primary control: {reason}"
    tell(act, "requirement", f"{c.name} is {word}")


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
