"""The demo from its open files, through the same code that people's own entries take."""

from __future__ import annotations

import json
from datetime import UTC, date, datetime, timedelta
from typing import Any

from django.conf import settings
from django.db import transaction

from server.accounts.models import Person, User
from server.aircraft.models import Aircraft, Member, Source
from server.cables.cards_api import put_card
from server.controls import asking, recording
from server.controls.facts import current_round, judging
from server.controls.forms import SurfaceIn
from server.controls.linkage.checks import check
from server.controls.linkage.jam_nuts import keep_joints
from server.controls.linkage.keeping import document_of, keep
from server.controls.models import Control, Reading, Requirement, Round, SenseCheck, Surface
from server.controls.scopes import control_scope
from server.controls.sets import current
from server.demo.airframe import load_airframe
from server.demo.cables import load_cables
from server.demo.clearance import load_clearance
from server.demo.harness import load_harness
from server.demo.lines import load_lines
from server.demo.weight import load_weight
from server.demo.work import load_work
from server.instruments.api import put
from server.instruments.models import Instrument
from server.signoff.signing import sign

GEOMETRY = [str(f) for f in SurfaceIn().fields if str(f) != "version"]
# The stand-ins, in the order of their addresses.
LIVE = (
    "level", "tension", "temperature", "protractor", "pressure", "barometer", "multimeter",
    "ammeter", "detector", "scale-a", "scale-b", "scale-c",
)  # fmt: skip
BLANK = dict.fromkeys(("nominal", "plus", "minus", "lo", "hi", "page"), "")


@transaction.atomic
def load() -> None:
    """Load people and aircraft of the demo."""
    people = {p["slug"]: _person(p) for p in _file("people")}
    for name in ("fenlark", "moorhen"):
        _aircraft(_file(name), people)


def _file(name: str) -> Any:
    return json.loads((settings.ROOT / "demo" / f"{name}.json").read_text(encoding="utf-8"))


def _person(p: dict[str, Any]) -> Person:
    person = Person.objects.create(slug=p["slug"], name=p["name"])
    User.objects.create_user(p["slug"], password=p["password"], person=person)
    return person


def _aircraft(data: dict[str, Any], people: dict[str, Person]) -> None:
    outline = {
        part: [[x / 1e3, z / 1e3] for x, z in points] for part, points in data["outline_mm"].items()
    }
    aircraft = Aircraft.objects.create(
        outline=outline,
        arm_m=data["arm_mm"] and data["arm_mm"] / 1e3,
        arm_width_m=data["arm_width_mm"] and data["arm_width_mm"] / 1e3,
        **{k: data[k] for k in ("slug", "name", "summary", "datum", "hours_run", "facts")},
    )
    for m in data["members"]:
        person = people[m["person"]]
        second = m.get("second_inspector", False)
        Member.objects.create(
            aircraft=aircraft, person=person, role=m["role"], second_inspector=second
        )
    owner = people[next(m["person"] for m in data["members"] if m["role"] == "owner")]
    load_airframe(aircraft, owner, _file(f"{data['slug']}-airframe"))
    for s in data["sources"]:
        Source.objects.create(aircraft=aircraft, changed_by=owner, **s)
    for i in data["instruments"]:
        _instrument(aircraft, owner, i)
    for order, c in enumerate(data["controls"]):
        _control(aircraft, owner, order, c, people)
    for part in ("lines", "wires"):
        if (settings.ROOT / "demo" / f"{data['slug']}-{part}.json").is_file():
            load_lines(aircraft, owner, _file(f"{data['slug']}-{part}"))
    if (settings.ROOT / "demo" / f"{data['slug']}-harness.json").is_file():
        load_harness(aircraft, owner, _file(f"{data['slug']}-harness"))
    if (settings.ROOT / "demo" / f"{data['slug']}-weight.json").is_file():
        load_weight(aircraft, owner, _file(f"{data['slug']}-weight"))
    if (settings.ROOT / "demo" / f"{data['slug']}-clearance.json").is_file():
        load_clearance(aircraft, owner, _file(f"{data['slug']}-clearance"))
    if (settings.ROOT / "demo" / f"{data['slug']}-work.json").is_file():
        load_work(aircraft, owner, people, _file(f"{data['slug']}-work"))


def _instrument(aircraft: Aircraft, owner: Person, data: dict[str, Any]) -> None:
    today = date.today()
    ago, due = data.get("calibrated_days_ago"), data.get("due_in_days")
    one = Instrument(aircraft=aircraft, changed_by=owner)
    given = {
        "face": "",
        **{k: data[k] for k in ("name", "kind", "accuracy", "resolution")},
        "calibrated_on": None if ago is None else today - timedelta(days=ago),
        "calibration_due": None if due is None else today + timedelta(days=due),
        "address": _address(data.get("live", "")),
    }
    put(one, given | {"face": data.get("face", "")})
    one.save()
    if "card" in data:
        put_card(one, data["card"]["typed"], data["card"]["u"], owner)


def relocate() -> None:
    """The stand-ins may have got other ports since last time."""
    addresses = settings.INSTRUMENT_ADDRESSES
    for name in ("fenlark", "moorhen"):
        for i in _file(name)["instruments"]:
            if i.get("live"):
                rows = Instrument.objects.filter(aircraft__slug=name, name=i["name"])
                moved = rows.exclude(address="").exclude(address__in=addresses)
                if now := _address(i["live"]):
                    moved.update(address=now)


def _address(live: str) -> str:
    """Where this stand-in may be read; nothing, if it does not run."""
    running = dict(zip(LIVE, settings.INSTRUMENT_ADDRESSES, strict=False))
    return running.get(live, "")


def _control(
    aircraft: Aircraft, owner: Person, order: int, data: dict[str, Any], people: dict[str, Person]
) -> None:
    control = Control.objects.create(
        aircraft=aircraft,
        order=order,
        **{k: data[k] for k in ("slug", "name", "sense_check", "positions")},
        primary="not_primary" not in data,
        primary_reason=data.get("not_primary", ""),
    )
    Round.objects.create(
        control=control,
        number=1,
        reason="First rigging",
        started_by=owner,
        started_at=datetime.now(UTC) - timedelta(days=14),
    )
    for s in data["surfaces"]:
        _surface(control, owner, s)
    for r in data["requirements"]:
        _requirement(control, owner, r)
    if "mechanism" in data:
        m = keep(control, _file(f"mechanisms/{data['mechanism']}"), owner, None)
        keep_joints(m, document_of(m), owner)
    for r in data["readings"]:
        _reading(control, r, people)
    for c in data.get("part_checks", []):
        check(control, c["kind"], c["subject"], c["typed"], owner)
    recording.touched(control)
    if "signed" in data:
        _signed(control, data["signed"], people)
    if "then_corrected" in data:
        _corrected(control, data["then_corrected"], people)
    if "cables" in data:
        load_cables(control, owner, _file(f"cables/{data['cables']['file']}"), data["cables"])


def _surface(control: Control, owner: Person, data: dict[str, Any]) -> None:
    bay = control.aircraft.bays.get(slug=data["bay"])
    s = Surface(aircraft=control.aircraft, control=control, bay=bay, changed_by=owner)
    for field in ("slug", "name", "positive"):
        setattr(s, field, data[field])
    s.side = data.get("side", "")
    asking.set_geometry(s, dict.fromkeys(GEOMETRY, "") | data)
    s.save()


def _requirement(control: Control, owner: Person, data: dict[str, Any]) -> None:
    r = Requirement(aircraft=control.aircraft, control=control, changed_by=owner)
    r.kind, r.position = data["kind"], data["position"]
    if data["surface"]:
        r.surface = control.surfaces.get(slug=data["surface"])
    source = Source.objects.get(aircraft=control.aircraft, slug=data["source"])
    given = BLANK | data | {"source": source.pk}
    asking.set_source(r, control.aircraft, given)
    if r.kind == "ratio":
        r.lo, r.hi = float(data["lo"]), float(data["hi"])
        r.as_typed = f"{data['lo']} to {data['hi']}"
    else:
        asking.set_limits(r, given)
    r.save()


def _reading(control: Control, data: dict[str, Any], people: dict[str, Person]) -> None:
    instrument = Instrument.objects.get(aircraft=control.aircraft, name=data["instrument"])
    taken = datetime.now(UTC) - timedelta(days=data["days_ago"])
    given = data | {"instrument": instrument.pk, "taken_at": taken}
    for row in recording.build(judging(control), given, people[data["by"]], False):
        row.save()


def _signed(control: Control, data: dict[str, Any], people: dict[str, Person]) -> None:
    SenseCheck.objects.create(
        control=control,
        round=current_round(control),
        text=control.sense_check,
        right_way=True,
        free=True,
        seen_by=people[data["sense_by"]],
        at=datetime.now(UTC) - timedelta(days=11),
    )
    recording.touched(control)
    for doing, key in (("done", "done_by"), ("inspected", "inspected_by")):
        who = Member.objects.select_related("aircraft", "person").get(
            aircraft=control.aircraft, person=people[data[key]]
        )
        scope = control_scope(control.aircraft, control.slug)
        assert scope is not None
        sign(who, scope, doing, "", "")


def _corrected(control: Control, data: dict[str, Any], people: dict[str, Person]) -> None:
    rows = Reading.objects.filter(
        surface__control=control, surface__slug=data["surface"], position=data["position"]
    )
    old = current(rows)[-1]
    given = {"value": data["value"], "reason": data["reason"], "withdraw": False}
    recording.corrected(old, given, people[data["by"]]).save()
    recording.touched(control)
