"""From a line's meaning to what it would write, where, and how that is taken back."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from core.basis.checks import Check
from core.basis.quantities import format_quantity, parse
from core.basis.refused import Refused
from core.entry.gaps import GapMeasured
from core.entry.grammar import JointDone, Jump, Leak, Loose, Meaning, Note, Typed
from core.entry.names import Known, Names
from core.entry.weighing import Weighed
from core.entry.wires import WireDone
from core.lines.tested import judged, told
from server.aircraft.models import Aircraft, Bay, Member
from server.controls import forms
from server.controls.api import preview
from server.controls.lookup import control_of
from server.controls.models import Surface
from server.entry import gaps, weighing
from server.entry.readings import as_reading
from server.entry.wires import ends_of, in_words, wires_of
from server.hardware.events import SAID, would_be
from server.hardware.models import Joint
from server.instruments.models import Instrument
from server.kit.records import held
from server.lines.testing import events_of, worked
from server.runs.models import Run
from server.worksheets.again import with_readings
from server.worksheets.models import Worksheet
from server.worksheets.working import worked as worked_sheet

PAGES = (
    "lane",
    "controls",
    "weight",
    "clearance",
    "joints",
    "loose ends",
    "sources",
    "find",
    "airframe",
    "since",
    "sign-off",
    "rule book",
    "aircraft",
)
LENGTHS = ("angle", "length")


@dataclass(frozen=True)
class Understood:
    """A line in full: what it says, where it goes or what it writes, and to which address.

    `path` is under the aircraft's address; `undo` tells how the browser takes it back:
    the answer's field that names what was made, and the address with `{}` for it. `would`: what
    a torque would be judged as, were it kept.
    """

    kind: str
    said: str
    page: str = ""
    path: str = ""
    body: dict[str, Any] = field(default_factory=dict)
    undo_path: str = ""
    undo_body: dict[str, Any] = field(default_factory=dict)
    preview: Any = None
    would: Check | None = None


def names_of(aircraft: Aircraft) -> Names:
    """Everything on this aircraft that a line may name."""
    surfaces = Surface.objects.filter(aircraft=aircraft).select_related("control")
    controls = sorted({s.control.slug for s in surfaces})
    instruments = Instrument.objects.filter(aircraft=aircraft)
    return Names(
        tuple(Known(s.slug, s.control.slug, s.side, tuple(s.control.positions)) for s in surfaces),
        tuple(i.name for i in instruments),
        (*PAGES, *controls),
        tuple(Joint.objects.filter(aircraft=aircraft).values_list("slug", "name")),
        tuple(Bay.objects.filter(aircraft=aircraft).values_list("slug", "name")),
        tuple(_leaky(aircraft)),
        tuple(wires_of(aircraft)),
        tuple(ends_of(aircraft)),
        tuple(weighing.wheels_of(aircraft)),
        tuple(gaps.pairs_of(aircraft)),
    )


def in_full(who: Member, meaning: Meaning, bay: str) -> Understood:
    """The meaning on this aircraft; `bay`: the one selected on the lane, for what names none."""
    if isinstance(meaning, Jump):
        return _jump(who.aircraft, meaning)
    if isinstance(meaning, Typed):
        return _reading(who, meaning)
    if isinstance(meaning, JointDone):
        return _joint(who.aircraft, meaning)
    if isinstance(meaning, Loose):
        return _loose(who.aircraft, meaning, bay)
    if isinstance(meaning, Leak):
        return _leak(who.aircraft, meaning)
    if isinstance(meaning, WireDone):
        return Understood("wire", **in_words(who.aircraft, meaning))
    if isinstance(meaning, GapMeasured):
        return Understood("gap", **gaps.in_words(who.aircraft, meaning))
    if isinstance(meaning, Weighed):
        return Understood("weighing", **weighing.in_words(who.aircraft, meaning))
    return _note(who.aircraft, meaning, bay)


def _jump(aircraft: Aircraft, j: Jump) -> Understood:
    if j.bay:
        name = Bay.objects.get(aircraft=aircraft, slug=j.bay).name
        return Understood("jump", f"Go to {name}", page=f"bays/{j.bay}")
    pages = {"lane": "", "loose ends": "loose-ends", "rule book": "/rules", "aircraft": "/"}
    known = j.page in PAGES
    page = pages.get(j.page, j.page) if known else f"controls/{j.page}"
    return Understood("jump", f"Go to {j.page}", page=page)


def _reading(who: Member, said: Typed) -> Understood:
    surface = Surface.objects.select_related("control").get(
        aircraft=who.aircraft, slug=said.surface
    )
    control = control_of(who, surface.control.slug)
    instruments = list(Instrument.objects.filter(aircraft=who.aircraft, kind__in=LENGTHS))
    reading = as_reading(who.aircraft, control, said, instruments)
    form = forms.ReadingIn(data=reading)
    form.is_valid(raise_exception=True)
    seen = preview(control, form.validated_data, who)
    position = said.position.replace("_stop", "")
    return Understood(
        "reading",
        f"{surface.name}, {position}: {seen['said']}",
        path=f"controls/{control.slug}/readings",
        body=reading,
        undo_path="readings/{}/corrections",
        undo_body={"withdraw": True, "reason": "undone from the entry bar"},
        preview=seen,
    )


def _joint(aircraft: Aircraft, done: JointDone) -> Understood:
    joint = Joint.objects.get(aircraft=aircraft, slug=done.joint)
    body: dict[str, Any] = {"doing": done.doing}
    said = f"{joint.name}: {SAID[done.doing]}"
    wrench = _wrench(aircraft, done.instrument) if done.doing == "torqued" else None
    would = would_be(joint, done.value, wrench) if done.value else None
    if done.value:
        body["value"] = done.value
    if done.value and would is None:
        torque = parse(done.value, "torque", "Nm", "entry")
        said += f" to {done.value} = {format_quantity(torque.si, 'torque', 'Nm', 2)}"
    if wrench:
        body["instrument"] = wrench.pk
        said += f", {wrench.name}"
    return Understood(
        "joint",
        said,
        path=f"joints/{joint.slug}/events",
        body=body,
        undo_path=f"joints/{joint.slug}/undo",
        undo_body={"event": "{}"},
        would=would,
    )


def _wrench(aircraft: Aircraft, name: str | None) -> Instrument | None:
    """The wrench named, or the only one there is."""
    rows = Instrument.objects.filter(aircraft=aircraft, kind="torque")
    if name is not None:
        found = rows.filter(name=name).first()
        if found is None:
            raise Refused("entry", f"{name} is not a torque wrench")
        return found
    wrenches = list(rows[:2])
    return wrenches[0] if len(wrenches) == 1 else None


def _loose(aircraft: Aircraft, loose: Loose, bay: str) -> Understood:
    joint = Joint.objects.filter(aircraft=aircraft, slug=loose.joint).select_related("bay").first()
    place = loose.bay or ("" if joint else bay)
    where = ""
    if joint:
        where = f" at {joint.name}"
    elif place:
        where = f" in {Bay.objects.get(aircraft=aircraft, slug=place).name}"
    return Understood(
        "loose end",
        f"Loose end{where}: {loose.what}, until {loose.ends_with}",
        path="loose-ends",
        body={
            "what": loose.what,
            "ends_with": loose.ends_with,
            "bay": place,
            "joint": loose.joint,
        },
        undo_path="loose-ends/{}/end",
        undo_body={"how": "undone from the entry bar"},
    )


SHEET = "sheet:"


def _leaky(aircraft: Aircraft) -> Iterable[tuple[str, str]]:
    """What can be tested for leaks: lines, and tanks by their sheets."""
    yield from Run.objects.filter(aircraft=aircraft).values_list("slug", "name")
    for w in Worksheet.objects.filter(aircraft=aircraft, kind="tank leak"):
        yield f"{SHEET}{w.slug}", w.name


def _tank(aircraft: Aircraft, said: Leak) -> Understood:
    """The tank's sheet with what was read now; judged before it is kept."""
    slug = said.line.removeprefix(SHEET)
    w = Worksheet.objects.select_related("source", "aircraft").get(aircraft=aircraft, slug=slug)
    typed = {"minutes": said.minutes, "start": said.gauge[0], "end": said.gauge[1]}
    typed["start_t"], typed["end_t"] = said.temperature
    typed["on"], typed["opened"] = date.today().isoformat(), ""
    if said.barometer:
        typed["start_b"], typed["end_b"] = said.barometer
    else:
        # Nobody read the weather: the test stands, and says that it settles nothing without.
        typed["start_b"], typed["u_b"] = w.typed["end_b"], ""
    after = with_readings(w, typed)["typed"]
    checks = worked_sheet(aircraft, w.of, w.name, after, date.today(), w.cited).checks
    return Understood(
        "leak test",
        f"{w.name}, leak test",
        path=f"worksheets/{w.slug}/readings",
        body={"typed": typed},
        undo_path=f"worksheets/{w.slug}/undo",
        would=next(iter(checks), None),
    )


def _leak(aircraft: Aircraft, said: Leak) -> Understood:
    """As it was tested last, with what was read now; judged before it is kept."""
    if said.line.startswith(SHEET):
        return _tank(aircraft, said)
    run = Run.objects.get(aircraft=aircraft, slug=said.line)
    last = next((e for e in reversed(held(events_of(run))) if e.doing == "leak test"), None)
    if last is None:
        raise Refused(
            "entry",
            f"test {run.name} once on its page first: its volume and what is allowed are not known",
        )
    typed = {k: v for k, v in last.typed.items() if k != "series"} | {"minutes": said.minutes}
    typed["start_gauge"], typed["end_gauge"] = said.gauge
    typed["start_temperature"], typed["end_temperature"] = said.temperature
    if said.barometer:
        typed["start_barometer"], typed["end_barometer"] = said.barometer
    else:
        # Nobody read the weather: the test stands, and says that it settles nothing without.
        typed["start_barometer"], typed["u_barometer"] = typed["end_barometer"], ""
    inputs, result = worked(typed)
    words = told(result, inputs)
    check = Check("leak", "leak test", words, judged(result, inputs), step="test")
    return Understood(
        "leak test",
        f"{run.name}, leak test",
        path=f"lines/{run.slug}/leak-tests",
        body=typed | {"note": ""},
        undo_path=f"lines/{run.slug}/events/{{}}/undo",
        would=check,
    )


def _note(aircraft: Aircraft, note: Note, bay: str) -> Understood:
    place = note.bay or bay
    where = f" in {Bay.objects.get(aircraft=aircraft, slug=place).name}" if place else ""
    return Understood(
        "note",
        f"Note{where}: {note.text}",
        path="notes",
        body={
            "text": note.text,
            "target": "bay" if place else "aircraft",
            "target_id": place,
        },
        undo_path="notes/{}/withdraw",
    )
