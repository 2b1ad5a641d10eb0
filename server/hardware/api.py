"""Joints: the list, one of them, what is done to it; and three calculators."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import parse, parse_range
from core.basis.refused import Refused
from core.hardware.stack import layers, thickness
from core.rulebook.registry import rule
from server.aircraft.access import member
from server.aircraft.models import Aircraft, Member
from server.aircraft.slugs import slug_for
from server.config.forms import checked
from server.config.paging import Pages
from server.config.shapes import answer
from server.hardware import forms
from server.hardware.entering import (
    fit_inputs,
    length,
    put_joint,
)
from server.hardware.events import locked, record, undo
from server.hardware.judging import judge_joint, said_of_bolt, said_of_fit
from server.hardware.models import Joint, JointEvent, StockItem
from server.hardware.shapes import (
    Computed,
    JointPage,
    JointShown,
    joint_row,
    joint_shown,
)
from server.instruments.models import Instrument
from server.journal.writing import note
from server.kit.removing import removal
from server.kit.standing import of_subjects
from server.kit.writing import Act, Write, writes


def _locked(who: Member, at: Mapping[str, Any]) -> Joint:
    """The joint of an address, locked."""
    return joint_of(who.aircraft, at["joint"], lock=True)


def _answer(act: Act) -> JointShown:
    return joint_shown(act.subject)


def _with_warnings(act: Act) -> JointShown:
    return joint_shown(act.subject, act.subject.warnings)


def _kept(act: Act, said: str, before: str = "") -> None:
    j = act.subject
    judge_joint(j)
    j.save()
    bays = {before, j.bay.slug if j.bay else ""}
    link = f"joints?joint={j.slug}"
    note(act.who.aircraft, act.who.person, "joint", f"{said}: {j.name}", sorted(bays), link)


def _enter(act: Act) -> None:
    j = act.subject
    j.warnings = put_joint(j, act.given)
    j.slug = slug_for(Joint, act.who.aircraft, j.name)
    j.save()
    _kept(act, "Joint entered")


def _change(act: Act) -> None:
    j = act.subject
    before = j.bay.slug if j.bay else ""
    j.warnings = put_joint(j, act.given)
    j.version, j.changed_by = j.version + 1, act.who.person
    _kept(act, "Joint changed", before)


def _record(act: Act) -> None:
    given = act.given
    wrench = wrench_of(act.who.aircraft, given["instrument"])
    record(act.subject, given["doing"], act.who.person, given["value"], wrench, given["note"])


def _undo(act: Act) -> None:
    event = JointEvent.objects.filter(joint=act.subject, pk=act.given["event"]).first()
    if event is None:
        raise Refused("event", "is not one of this joint's")
    undo(event, act.subject, act.who.person)


class JointsView(APIView):
    """The joints of an aircraft."""

    @extend_schema(
        parameters=[
            OpenApiParameter("bay", str),
            OpenApiParameter("open", bool),
            OpenApiParameter("page", int),
            OpenApiParameter("size", int),
        ],
        responses=answer(JointPage),
    )
    def get(self, request: Request, slug: str) -> Response:
        """By page; narrowed to a bay, or to those that are not final."""
        who = member(request, slug)
        rows = Joint.objects.filter(aircraft=who.aircraft).select_related("bay")
        if bay := request.query_params.get("bay"):
            rows = rows.filter(bay__slug=bay)
        if request.query_params.get("open") in ("1", "true"):
            rows = rows.exclude(verdict="in")
        pages = Pages()
        page: list[Joint] = pages.paginate_queryset(rows, request, self) or []
        count: Any = pages.page.paginator.count if pages.page else 0
        kept = of_subjects(who.aircraft_id, "joints", [j.slug for j in page])
        rows_shown = [joint_row(j, kept.get(j.slug, [])) for j in page]
        return Response(JointPage(count=count, results=rows_shown))

    post = writes(
        Write(
            ("measure",),
            forms.JointIn,
            lambda who, at: Joint(aircraft=who.aircraft, changed_by=who.person),
            _enter,
            _with_warnings,
            JointShown,
        ),
        "A new joint.",
    )


class JointView(APIView):
    """One joint."""

    @extend_schema(responses=answer(JointShown))
    def get(self, request: Request, slug: str, joint: str) -> Response:
        """With all that was entered and done."""
        who = member(request, slug)
        return Response(joint_shown(joint_of(who.aircraft, joint)))

    patch = writes(
        Write(
            ("measure",),
            forms.JointIn,
            _locked,
            _change,
            _with_warnings,
            JointShown,
            200,
            shown=joint_shown,
        ),
        "Change what it needs; 409 with both sides on an old version.",
    )


class JointRemovalView(APIView):
    """Taking a joint away that nothing was done to."""

    post = writes(
        removal(
            "joint",
            _locked,
            before=lambda act, j: [j.bay.slug] if j.bay else [],
            may="measure",
            link="joints",
        ),
        "Refused where anything was done to it or left at it; 409 on an old version.",
    )


class EventsView(APIView):
    """What is done to a joint."""

    post = writes(
        Write(("measure",), forms.EventIn, _locked, _record, _answer, JointShown),
        "One tap: who and when are kept with it.",
    )


class UndoView(APIView):
    """Taking back the last thing done."""

    post = writes(
        Write(("measure",), forms.UndoIn, _locked, _undo, _answer, JointShown),
        "It stays in the record, marked as taken back.",
    )


def joint_of(aircraft: Aircraft, slug: str, lock: bool = False) -> Joint:
    """A joint of this aircraft, or 404."""
    if lock:
        found = locked(aircraft.pk, slug)
    else:
        rows = Joint.objects.select_related("bay", "bolt", "nut", "torque_source", "compound")
        found = rows.filter(aircraft=aircraft, slug=slug).first()
    if found is None:
        raise Http404
    found.aircraft = aircraft
    return found


def wrench_of(aircraft: Aircraft, key: int | None) -> Instrument | None:
    """The torque wrench of that key; refuses one that is not this aircraft's."""
    if key is None:
        return None
    found = Instrument.objects.filter(aircraft=aircraft, pk=key).first()
    if found is None:
        raise Refused("instrument", "is not one of this aircraft's instruments")
    return found


class ChooseView(APIView):
    """Which stocked bolt and which washers."""

    stateless = True

    @extend_schema(request=forms.ChooseIn, responses=answer(Computed))
    def post(self, request: Request, slug: str) -> Response:
        """From the measured stack and what is in stock."""
        who = member(request, slug)
        given = checked(forms.ChooseIn, request)
        unit = who.aircraft.length_unit
        stock = list(StockItem.objects.filter(aircraft=who.aircraft))
        nut = next((s for s in stock if s.pk == given["nut"] and s.kind == "nut"), None)
        if nut is None:
            raise Refused("nut", "is not in stock")
        thread = given["thread"] or nut.thread
        bolts = [s for s in stock if s.kind == "bolt" and s.thread == thread]
        if not bolts:
            raise Refused("thread", f"no bolt of thread {thread or 'none'} is in stock")
        stack = layers(given["layers"], unit)
        if not stack:
            raise Refused("layers", "needs at least one layer")
        inputs = {
            "stack_m": thickness(stack),
            "stack_tol_m": length(given["stack_tol"], "stack_tol", unit)
            if given["stack_tol"]
            else 0.0,
            "bolts": [{"name": b.name, **b.data} for b in bolts],
            "nut": nut.data,
            "washers_m": [s.data["thickness_m"] for s in stock if s.kind == "washer"],
            "turned": given["turned"],
        }
        out = rule("hardware.choose_bolt").run(inputs)
        return Response(
            Computed(
                rule="hardware.choose_bolt", inputs=inputs, outputs=out, said=_said_choice(out)
            )
        )


def _said_choice(out: dict[str, Any]) -> str:
    if not out["fits"]:
        near = "; ".join(f"{n['bolt']}: {n['said']}" for n in out["nearest"])
        return f"No bolt in stock does. Nearest: {near}"
    washers = [("head", out["head_washers_m"]), ("nut", out["nut_washers_m"])]
    said = [
        f"{' + '.join(f'{w * 1e3:.1f}' for w in ws)} mm under the {where}"
        for where, ws in washers
        if ws
    ]
    return f"{out['bolt']}, {', '.join(said) or 'no washer'}: {said_of_bolt(out)}"


class FitCheckView(APIView):
    """Must it turn or clamp, and would it be pressed?"""

    stateless = True

    @extend_schema(request=forms.FitIn, responses=answer(Computed))
    def post(self, request: Request, slug: str) -> Response:
        """From typed diameters."""
        who = member(request, slug)
        given = checked(forms.FitIn, request)
        inputs = fit_inputs(given, who.aircraft.length_unit)["inputs"]
        out = rule("hardware.fit").run(inputs)
        return Response(
            Computed(
                rule="hardware.fit",
                inputs=inputs,
                outputs=out,
                said=said_of_fit(inputs["need"], out),
            )
        )


class WrenchView(APIView):
    """What the wrench is set to."""

    stateless = True

    @extend_schema(request=forms.WrenchIn, responses=answer(Computed))
    def post(self, request: Request, slug: str) -> Response:
        """With drag and extension."""
        who = member(request, slug)
        given = checked(forms.WrenchIn, request)
        unit = who.aircraft.length_unit
        inputs: dict[str, Any] = {
            "thread": given["thread"],
            "nut_type": given["nut_type"],
            "drag_Nm": parse(given["drag"], "torque", "Nm", "drag").si if given["drag"] else 0.0,
            "wrench_m": length(given["wrench"], "wrench", unit),
        }
        if given["torque"]:
            asked = parse_range(given["torque"], "torque", "Nm", "torque")
            inputs |= {"low_Nm": asked.lo, "high_Nm": asked.hi}
        if given["extension"]:
            inputs["extension_m"] = length(given["extension"], "extension", unit)
            angle = given["angle"] or "0"
            inputs["extension_angle_rad"] = parse(angle, "angle", "deg", "angle").si
        out = rule("hardware.torque_setting").run(inputs)
        inlb = 0.1129848290276167
        said = (
            f"Set {out['set_low_Nm']:.2f} to {out['set_high_Nm']:.2f} N·m "
            f"({out['set_low_Nm'] / inlb:.0f} to {out['set_high_Nm'] / inlb:.0f} in·lbf)"
        )
        return Response(
            Computed(rule="hardware.torque_setting", inputs=inputs, outputs=out, said=said)
        )
