"""Bolts, nuts and washers in stock, and compounds: entered, corrected, taken away."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.db.models import QuerySet
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from core.rulebook.registry import rule
from server.aircraft.access import member
from server.config.shapes import answer
from server.hardware import forms
from server.hardware.entering import put_stock
from server.hardware.judging import judge_joint, last_use
from server.hardware.models import Compound, Joint, StockItem
from server.hardware.shapes import CompoundRow, Stock, StockRow, compound_row, stock_row
from server.journal.writing import note
from server.kit.removing import one_of, removal
from server.kit.writing import Act, Write, writes


def _stocked(act: Act, said: str = "Stock") -> None:
    item = act.subject
    put_stock(item, act.given)
    others = StockItem.objects.filter(aircraft=item.aircraft, kind=item.kind, name=item.name)
    if others.exclude(pk=item.pk).exists():
        raise Refused("name", f"there is a {item.kind} of this name")
    item.save()
    mine = Joint.objects.filter(bolt=item) | Joint.objects.filter(nut=item)
    told = f"{said}: {item.kind} {item.name}"
    note(item.aircraft, act.who.person, "stock", told, _judge_anew(mine), "joints")


def _restocked(act: Act) -> None:
    """Measured again: the joints that it is in are judged by what it is now."""
    item = act.subject
    mine = Joint.objects.filter(bolt=item) | Joint.objects.filter(nut=item)
    if act.given["kind"] != item.kind and mine.exists():
        raise Refused("kind", "is in a joint as what it was")
    act.given.pop("version")
    item.version, item.changed_by = item.version + 1, act.who.person
    _stocked(act, "Stock corrected")


def _judge_anew(joints: QuerySet[Joint]) -> list[str]:
    """The joints that have it, and their bays: what was inspected there covers them as they are."""
    found = list(joints.select_related("bolt", "nut", "compound", "bay", "aircraft"))
    for j in found:
        judge_joint(j)
        j.save()
    return sorted({j.bay.slug for j in found if j.bay})


def _opened(act: Act, said: str = "Compound") -> None:
    tin, given = act.subject, act.given
    if given["opened_on"] and given["opened_on"] > date.today():
        raise Refused("opened_on", "lies in the future")
    if given["opened_on"] and given["life_open_days"] is None:
        raise Refused("life_open_days", "is needed when it has been opened")
    for field, value in given.items():
        setattr(tin, field, value)
    tin.save()
    bays = _judge_anew(Joint.objects.filter(compound=tin))
    note(tin.aircraft, act.who.person, "stock", f"{said}: {tin.name}", bays, "joints")


def _corrected(act: Act) -> None:
    tin = act.subject
    act.given.pop("version")
    tin.version, tin.changed_by = tin.version + 1, act.who.person
    _opened(act, "Compound corrected")


class StockView(APIView):
    """Bolts, nuts and washers in stock, and compounds."""

    @extend_schema(responses=answer(Stock))
    def get(self, request: Request, slug: str) -> Response:
        """All of them."""
        who = member(request, slug)
        rows = [stock_row(s) for s in StockItem.objects.filter(aircraft=who.aircraft)]
        tins = [shown_tin(c) for c in Compound.objects.filter(aircraft=who.aircraft)]
        return Response(Stock(count=len(rows), results=rows, compounds=tins))

    post = writes(
        Write(
            ("measure",),
            forms.StockIn,
            lambda who, at: StockItem(aircraft=who.aircraft, changed_by=who.person),
            _stocked,
            lambda act: stock_row(act.subject),
            StockRow,
        ),
        "Add one.",
    )


class StockItemView(APIView):
    """One stock item."""

    patch = writes(
        Write(
            ("measure",),
            forms.StockChangeIn,
            one_of(StockItem, "item"),
            _restocked,
            lambda act: stock_row(act.subject),
            StockRow,
            200,
            shown=stock_row,
        ),
        "Correct it: every joint that it is in is judged anew; 409 on an old version.",
    )


class StockRemovalView(APIView):
    """Taking a stock item away that is in no joint."""

    post = writes(
        removal("stock", one_of(StockItem, "item"), may="measure", link="joints"),
        "Refused where a joint has it; 409 on an old version.",
    )


class CompoundsView(APIView):
    """Adding a compound."""

    post = writes(
        Write(
            ("measure",),
            forms.CompoundIn,
            lambda who, at: Compound(aircraft=who.aircraft, changed_by=who.person),
            _opened,
            lambda act: shown_tin(act.subject),
            CompoundRow,
        ),
        "With its dates; one past its date is kept, and says so.",
    )


class CompoundView(APIView):
    """One compound."""

    patch = writes(
        Write(
            ("measure",),
            forms.CompoundChangeIn,
            one_of(Compound, "compound"),
            _corrected,
            lambda act: shown_tin(act.subject),
            CompoundRow,
            200,
            shown=lambda tin: shown_tin(tin),
        ),
        "Correct its dates: every joint that it is in is judged anew; 409 on an old version.",
    )


class CompoundRemovalView(APIView):
    """Taking a compound away that is in no joint."""

    post = writes(
        removal("compound", one_of(Compound, "compound"), may="measure", link="joints"),
        "Refused where a joint has it; 409 on an old version.",
    )


def shown_tin(c: Compound) -> CompoundRow:
    """A compound with whether it may be used today."""
    inputs: dict[str, Any] = {
        "expiry_day": c.expiry_on.toordinal(),
        "today_day": date.today().toordinal(),
    }
    if c.opened_on and c.life_open_days:
        inputs |= {"opened_day": c.opened_on.toordinal(), "life_open_days": c.life_open_days}
    out = rule("hardware.may_use").run(inputs)
    return compound_row(c, out["decision"], last_use(c).isoformat())
