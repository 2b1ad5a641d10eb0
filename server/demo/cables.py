"""The demo's cables: files, calibration cards, readings and what was done, as people enter them."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from core.rulebook import rule
from server.accounts.models import Person
from server.cables import events, measuring
from server.cables.joints import keep_joints
from server.cables.keeping import keep, rigging_of
from server.cables.models import CableReading, Loop
from server.controls import recording
from server.controls.models import Control
from server.hardware import events as joints
from server.hardware.models import Joint
from server.instruments.models import Instrument


def load_cables(control: Control, owner: Person, file: Any, data: dict[str, Any]) -> None:
    """Keep the file, then readings and events in their order."""
    loop = keep(control, file, owner, None)
    for name in keep_joints(loop, owner):
        j = Joint.objects.get(aircraft=control.aircraft, control=control.slug, name=name)
        for n, doing in enumerate(data.get("joints_done", [])):
            at = _ago(12) + timedelta(minutes=n)
            joints.record(j, doing, owner, at=at)
    for slug in data.get("joints_loosened", []):
        j = Joint.objects.get(aircraft=control.aircraft, name=slug)
        joints.record(j, "loosened", owner, said="until the final rig")
    for e in data["events"]:
        typed = {k: v for k, v in e.items() if k not in ("side", "doing", "days_ago", "note")}
        at = _ago(e["days_ago"])
        events.record(loop, e["side"], e["doing"], typed, owner, e.get("note", ""), at)
    for r in data["readings"]:
        _reading(loop, owner, r)
    recording.touched(control)


def _ago(days: float) -> datetime:
    return datetime.now(UTC) - timedelta(days=days)


def _reading(loop: Loop, owner: Person, r: dict[str, Any]) -> None:
    instrument = None
    if r["method"] == "straight":
        m = measuring.straight(r["typed"])
    else:
        instrument = Instrument.objects.get(aircraft=loop.aircraft, name=r["instrument"])
        m = measuring.by_card(rigging_of(loop).cables[r["side"]], r["typed"], instrument)
    due = instrument.calibration_due if instrument else None
    was = {"name": r["instrument"], "calibration_due": due.isoformat() if due else ""}
    temperature = r.get("temperature", "")
    CableReading.objects.create(
        aircraft=loop.aircraft,
        loop=loop,
        side=r.get("side", ""),
        method=r["method"],
        typed=r["typed"] | {"temperature": temperature},
        value=m.value,
        u=m.u,
        temperature_K=measuring.temperature(temperature) if temperature else None,
        rule=m.rule,
        edition=rule(m.rule).edition if m.rule else 1,
        inputs=m.inputs,
        result=m.result,
        instrument=instrument,
        instrument_was=was,
        by=owner,
        at=_ago(r["days_ago"]),
    )
