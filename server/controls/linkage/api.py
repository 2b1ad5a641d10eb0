"""A control's linkage: shown, changed as a whole, tried out, advised on, adjusted."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.controls.linkage.document import Document, document_from, schema
from server.aircraft.access import check_version, member
from server.config.forms import checked
from server.config.shapes import answer
from server.controls.linkage import adjusting, checks, forms, points, shapes
from server.controls.linkage.advising import ROD_TOL_M, STOP_TOL, advice
from server.controls.linkage.built import check_records, lengths_of, rod_states, stops_of
from server.controls.linkage.jam_nuts import drop_joints, keep_joints
from server.controls.linkage.keeping import check_surfaces, coupled, document_of, file_of, keep
from server.controls.linkage.models import Mechanism, PartCheck, Variant
from server.controls.linkage.play import play
from server.controls.linkage.saying import said_of
from server.controls.linkage.solved import Asked, solved
from server.controls.lookup import control_of, locked
from server.controls.models import Control
from server.controls.writing import tell, touched
from server.journal.writing import note
from server.kit.removing import removal
from server.kit.writing import Act, Write, writes


def mechanism_of(control: Control) -> Mechanism:
    """The control's mechanism, or a refusal."""
    found = Mechanism.objects.filter(control=control).first()
    if found is None:
        raise Refused("linkage", "this control has none yet: enter or import it first")
    return found


def shown(control: Control, m: Mechanism | None) -> shapes.LinkageShown:
    """The linkage as it stands: solved with all that was turned."""
    if m is None:
        return shapes.LinkageShown(
            version=0,
            document=None,
            solved=None,
            rods=[],
            stops=[],
            adjustments=[],
            variants=[],
        )
    d = document_of(m)
    return shapes.LinkageShown(
        version=m.version,
        document=file_of(m),
        solved=solved(d, Asked(control), lengths_of(m, d), stops_of(m)),
        rods=rod_states(m, d),
        stops=[
            shapes.StopState(id=s.slug, half_turns=s.half_turns, adjustable=s.step is not None)
            for s in m.stops.all()
        ],
        adjustments=[
            shapes.AdjustmentShown(
                id=a.pk,
                said="; ".join(_said(m, name, n) for name, n in a.changes.items()),
                note=a.note,
                by=a.by.name,
                at=a.at.isoformat(),
                round=a.round.number,
            )
            for a in m.adjustments.select_related("by", "round").order_by("-id")
        ],
        variants=[
            shapes.VariantShown(
                id=v.pk, version=v.version, name=v.name, note=v.note, document=v.document
            )
            for v in m.variants.all()
        ],
    )


def _said(m: Mechanism, name: str, n: int) -> str:
    """A change in words; of a rod or stop that is gone, its name and number."""
    try:
        return said_of(m, name, n)
    except StopIteration:
        return f"{name}: {n:+d} half-turns"


def _tried(control: Control, given: dict[str, Any]) -> tuple[Document, dict[str, Any]]:
    """The file of a what-if, checked; the kept one where none is given."""
    data = given["document"]
    if data is None:
        data = file_of(mechanism_of(control))
    if given["points"].strip():
        data = points.from_csv(data, given["points"])
    d = document_from(coupled(control, data))
    check_surfaces(control, d)
    check_records(d)
    return d, data


def on_linkage(
    form: Any, do: Callable[[Act], None], may: tuple[str, ...] = ("measure",), status: int = 201
) -> Write:
    """A write on a control's linkage: the control is judged anew."""
    return Write(
        may,
        form,
        locked,
        do,
        lambda act: shown(act.subject, mechanism_of(act.subject)),
        shapes.LinkageShown,
        status,
        done=touched,
    )


def _change(act: Act) -> None:
    control, given = act.subject, act.given
    m = Mechanism.objects.filter(control=control).first()
    if m is not None:
        check_version(m, given["version"], file_of(m), given["document"])
    if isinstance(given["document"], dict):
        check_records(document_from(given["document"]))
    m = keep(control, given["document"], act.who.person, m)
    keep_joints(m, document_of(m), act.who.person)
    said = f"{control.name}: linkage changed"
    note(act.who.aircraft, act.who.person, "rigging", said, (), _at(control))


class LinkageView(APIView):
    """One control's linkage."""

    @extend_schema(responses=answer(shapes.LinkageShown))
    def get(self, request: Request, slug: str, control: str) -> Response:
        """The file, solved over its range, with rods and stops as they stand."""
        found = control_of(member(request, slug), control)
        return Response(shown(found, Mechanism.objects.filter(control=found).first()))

    put = writes(
        on_linkage(forms.LinkageIn, _change, ("change facts",), 200),
        "Keep a whole file, checked; 409 with both sides on an old version.",
    )


def _at(control: Control) -> str:
    return f"controls/{control.slug}/linkage"


class LinkageRemovalView(APIView):
    """Taking a control's linkage away."""

    post = writes(
        removal(
            "linkage",
            locked,
            name=lambda m: str(m.control.name),
            before=lambda act, m: drop_joints(m),
            row_of=mechanism_of,
            done=touched,
            link="controls",
        ),
        "Refused where anything was turned on it; 409 on an old version.",
    )


class WhatIfView(APIView):
    """What a change would do; saves nothing."""

    stateless = True

    @extend_schema(request=forms.WhatIfIn, responses=answer(shapes.WhatIf))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Solve a changed file, or the kept one with other lengths and stops."""
        found = control_of(member(request, slug), control)
        given = checked(forms.WhatIfIn, request)
        d, data = _tried(found, given)
        lengths = {k: v / 1e3 for k, v in given["lengths_mm"].items()}
        for name in lengths:
            if name not in d.plan.lengths:
                raise Refused(f"lengths_mm.{name}", "names no rod")
        answered = solved(d, Asked(found), lengths, given["stops"])
        return Response(shapes.WhatIf(document=data, solved=answered))


class AdviceView(APIView):
    """Which half-turns mend it; saves nothing."""

    stateless = True

    @extend_schema(request=forms.AskAdvice, responses=answer(shapes.AdviceShown))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """From the readings of the current round."""
        found = control_of(member(request, slug), control)
        given = checked(forms.AskAdvice, request)
        rod_tol, stop_tol = ROD_TOL_M, STOP_TOL
        if given["rod_tol"].strip():
            rod_tol = _over_zero(parse(given["rod_tol"], "length", "mm", "rod_tol").si, "rod_tol")
        if given["stop_tol"].strip():
            typed = parse(given["stop_tol"], "angle", "deg", "stop_tol").si
            stop_tol = _over_zero(typed, "stop_tol")
        m = mechanism_of(found)
        tried = None
        if given["document"] is not None:
            tried, _ = _tried(found, given | {"points": ""})
        return Response(advice(found, m, given["output"], rod_tol, stop_tol, tried))


def _over_zero(value: float, field: str) -> float:
    if value <= 0:
        raise Refused(field, "must be greater than zero")
    return value


def _adjust(act: Act) -> None:
    control, given = act.subject, act.given
    m = mechanism_of(control)
    check_version(m, given["version"], file_of(m), given["changes"])
    forecast = _forecast(control, m, given["changes"])
    adjusting.record(control, m, given["changes"], given["note"], forecast, act.who.person)


class AdjustmentsView(APIView):
    """Half-turns that were made."""

    post = writes(
        on_linkage(forms.AdjustmentIn, _adjust),
        "Keep them; a new round begins for the surfaces that they move.",
    )


def _forecast(control: Control, m: Mechanism, changes: dict[str, int]) -> list[Any]:
    """What the advisor foresaw, where these are the very changes that it advised."""
    try:
        asked = advice(control, m)
    except Refused:
        return []
    advised = {c["id"]: c["half_turns"] for c in asked["changes"]}
    return list(asked["forecast"]) if advised == {k: n for k, n in changes.items() if n} else []


def _keep_variant(act: Act) -> None:
    given, m = act.given, mechanism_of(act.subject)
    check_surfaces(act.subject, document_from(given["document"]))
    if m.variants.filter(name=given["name"]).exists():
        raise Refused("name", "is there already")
    Variant.objects.create(
        aircraft=act.who.aircraft, mechanism=m, changed_by=act.who.person, **given
    )
    tell(act, "rigging", f"{act.subject.name}: what-if kept: {given['name']}")


class VariantsView(APIView):
    """What-ifs that were kept."""

    post = writes(
        on_linkage(forms.VariantIn, _keep_variant), "Keep one beside the linkage that holds."
    )


def _drop_variant(act: Act) -> None:
    row = mechanism_of(act.subject).variants.filter(pk=act.at["variant"]).first()
    if row is None:
        raise Http404
    row.delete()
    tell(act, "rigging", f"{act.subject.name}: what-if dropped: {row.name}")


class VariantView(APIView):
    """One kept what-if."""

    delete = writes(on_linkage(None, _drop_variant, status=200), "Drop it; its history stays.")


class PlayView(APIView):
    """Free play over the chain; saves nothing."""

    stateless = True

    @extend_schema(request=forms.PlayIn, responses=answer(shapes.PlayShown))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Which joint to mend first."""
        found = control_of(member(request, slug), control)
        given = checked(forms.PlayIn, request)
        d = document_of(mechanism_of(found))
        limit = given["limit"]
        return Response(play(d, Asked(found), given["output"], given["clearances"], limit))


def _check_part(act: Act) -> None:
    given = act.given
    row = checks.check(act.subject, given["kind"], given["subject"], given["typed"], act.who.person)
    tell(act, "rigging", f"{row.kind.replace('_', ' ')} of {row.subject}: {row.verdict}")


class PartChecksView(APIView):
    """Checks of a control's parts."""

    @extend_schema(responses=answer(shapes.PartChecks))
    def get(self, request: Request, slug: str, control: str) -> Response:
        """All that were kept."""
        return Response(self._all(control_of(member(request, slug), control)))

    post = writes(
        Write(
            ("measure",),
            forms.PartCheckIn,
            locked,
            _check_part,
            lambda act: PartChecksView._all(act.subject),
            shapes.PartChecks,
            done=touched,
        ),
        "Run the rule on what was typed, and keep it.",
    )

    @staticmethod
    def _all(control: Control) -> shapes.PartChecks:
        rows = [checks.shown(r) for r in PartCheck.objects.filter(control=control)]
        return shapes.PartChecks(count=len(rows), results=rows)


class FileView(APIView):
    """The mechanism file, to keep or to use elsewhere."""

    @extend_schema(responses={200: OpenApiTypes.OBJECT})
    def get(self, request: Request, slug: str, control: str) -> Response:
        """As JSON."""
        found = control_of(member(request, slug), control)
        name = f'attachment; filename="{slug}-{control}-linkage.json"'
        return Response(file_of(mechanism_of(found)), headers={"Content-Disposition": name})


class PointsView(APIView):
    """The points as CSV."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request, slug: str, control: str) -> HttpResponse:
        """Pivots and points, mm."""
        found = control_of(member(request, slug), control)
        text = points.to_csv(file_of(mechanism_of(found)))
        name = f'attachment; filename="{slug}-{control}-points.csv"'
        return HttpResponse(
            text, content_type="text/csv; charset=utf-8", headers={"Content-Disposition": name}
        )


class SchemaView(APIView):
    """The published JSON Schema of mechanism files."""

    @extend_schema(responses={200: OpenApiTypes.OBJECT})
    def get(self, request: Request) -> Response:
        """JSON Schema, 2020-12."""
        return Response(schema())
