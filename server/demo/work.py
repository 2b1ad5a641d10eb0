"""The demo's joints, loose ends, findings, notes, documents' words, bulletins and pictures."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Any

from server.accounts.models import Person
from server.aircraft.models import Aircraft, Source
from server.aircraft.slugs import slug_for
from server.demo.pictures import drawing
from server.hardware import events
from server.hardware.entering import put_joint, put_stock
from server.hardware.forms import JointIn, StockIn
from server.hardware.judging import judge_joint
from server.hardware.models import Compound, Joint, StockItem
from server.instruments.models import Instrument
from server.record.looseends import leave
from server.record.models import Finding, Note, Photo
from server.record.photos import new_photo
from server.record.places import place_of
from server.sources.bulletins import DirectiveIn
from server.sources.bulletins import put as put_directive
from server.sources.models import Compliance, Directive, Statement
from server.sources.statements import StatementIn
from server.sources.statements import put as put_statement

People = dict[str, Person]


def load_work(aircraft: Aircraft, owner: Person, people: People, data: dict[str, Any]) -> None:
    """From the open file."""
    by = {"aircraft": aircraft, "changed_by": owner}
    for s in data["stock"]:
        item = StockItem(**by)
        put_stock(item, _full(StockIn, s))
        item.save()
    for c in data["compounds"]:
        _compound(by, c)
    for j in data["joints"]:
        _joint(aircraft, owner, j)
    for e in data["loose_ends"]:
        bay = aircraft.bays.get(slug=e["bay"])
        left = _ago(e["days_ago"])
        leave(aircraft, people[e["by"]], e["what"], e["ends_with"], e["reason"], bay, at=left)
    for f in data["findings"]:
        Finding.objects.create(
            **by,
            text=f["text"],
            bay=aircraft.bays.get(slug=f["bay"]),
            raised_by=people[f["by"]],
            raised_at=_ago(f["days_ago"]),
        )
    for n in data["notes"]:
        Note.objects.create(
            aircraft=aircraft,
            target="bay",
            target_id=n["bay"],
            bay=aircraft.bays.get(slug=n["bay"]),
            text=n["text"],
            by=people[n["by"]],
            at=_ago(4),
        )
    for s in data["statements"]:
        _statement(aircraft, owner, s)
    for d in data["directives"]:
        _directive(aircraft, owner, d)
    for p in data["photos"]:
        _photo(aircraft, owner, p)


def _ago(days: int) -> datetime:
    return datetime.now(UTC) - timedelta(days=days)


def _full(form: Any, given: dict[str, Any]) -> dict[str, Any]:
    """Through the same form as what people type."""
    asked = form(data=given)
    asked.is_valid(raise_exception=True)
    found: dict[str, Any] = asked.validated_data
    return found


def _compound(by: dict[str, Any], c: dict[str, Any]) -> None:
    opened = c.get("opened_days_ago")
    Compound.objects.create(
        **by,
        name=c["name"],
        batch=c["batch"],
        expiry_on=date.today() + timedelta(days=c["good_for_days"]),
        opened_on=None if opened is None else date.today() - timedelta(days=opened),
        life_open_days=c.get("life_open_days"),
    )


def _joint(aircraft: Aircraft, owner: Person, data: dict[str, Any]) -> None:
    stock = {s.name: s.pk for s in StockItem.objects.filter(aircraft=aircraft)}
    given = {k: v for k, v in data.items() if k not in ("done", "loose")}
    for kind in ("bolt", "nut"):
        if kind in given:
            given[kind] = stock[given[kind]]
    if "torque_source" in given:
        source = Source.objects.get(aircraft=aircraft, slug=given["torque_source"])
        given["torque_source"] = source.pk
    j = Joint(aircraft=aircraft, changed_by=owner)
    put_joint(j, _full(JointIn, given))
    j.slug = slug_for(Joint, aircraft, j.name)
    j.save()
    judge_joint(j)
    j.save()
    for n, (doing, value, instrument, days) in enumerate(data["done"]):
        wrench = Instrument.objects.filter(aircraft=aircraft, name=instrument).first()
        at = _ago(days) + timedelta(minutes=10 * n - 60)
        events.record(j, doing, owner, value, wrench, at=at)
    if "loose" in data:
        e = data["loose"]
        what, ends, why = e["what"], e["ends_with"], e["reason"]
        leave(aircraft, owner, what, ends, why, joint=j, at=_ago(e["days_ago"]))


def _statement(aircraft: Aircraft, owner: Person, data: dict[str, Any]) -> None:
    source = Source.objects.get(aircraft=aircraft, slug=data["source"])
    row = Statement(aircraft=aircraft, changed_by=owner)
    put_statement(row, _full(StatementIn, data | {"source": source.pk}))
    row.save()


def _directive(aircraft: Aircraft, owner: Person, data: dict[str, Any]) -> None:
    done = data["done"]
    source = Source.objects.get(aircraft=aircraft, slug=data["source"])
    said = {k: v for k, v in data.items() if k != "done"}
    d = Directive(aircraft=aircraft, changed_by=owner)
    put_directive(d, _full(DirectiveIn, said | {"source": source.pk}), [])
    d.save()
    Compliance.objects.create(
        directive=d,
        done_on=date.today() - timedelta(days=done["days_ago"]),
        hours=done["hours"],
        note=done["note"],
        by=owner,
        at=datetime.now(UTC),
    )


def _photo(aircraft: Aircraft, owner: Person, data: dict[str, Any]) -> None:
    target = "joint" if "joint" in data else "bay"
    photo = Photo(
        aircraft=aircraft,
        changed_by=owner,
        by=owner,
        target=target,
        target_id=data[target],
        bay=place_of(aircraft, target, data[target]),
        caption=data["caption"],
        shows=data.get("shows", ""),
        overlay=data["overlay"],
    )
    new_photo(photo, drawing(data["draw"], _ago(data["days_ago"])))
