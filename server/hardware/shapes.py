"""Joints, stock and compounds as the API shows them. Lengths in mm, torque in N·m."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, TypedDict

from server.hardware.models import Compound, Joint, JointEvent, StockItem
from server.hardware.securing import waiting
from server.kit.models import Check
from server.kit.records import held
from server.kit.standing import of_subject


class CheckShown(TypedDict):
    """One rule's word on a joint, with the inputs that gave it."""

    what: str
    rule: str
    verdict: str
    said: str
    inputs: dict[str, Any]


class JointRow(TypedDict):
    """A joint in the list. open: what stands against it being final, each told once."""

    slug: str
    name: str
    part: str
    bay: str
    control: str
    device: str
    state: str
    why: list[str]
    open: list[str]
    verdict: str
    temporary: bool
    torque_asked: str
    checks: list[CheckShown]


class JointPage(TypedDict):
    """Joints, page by page."""

    count: int
    results: list[JointRow]


class EventShown(TypedDict):
    """One thing done to a joint."""

    id: int
    doing: str
    as_typed: str
    instrument: str
    note: str
    by: str
    at: str
    stands: bool


class JointShown(JointRow):
    """A joint with all that was entered and done; `kept` goes back as it is with a change."""

    version: int
    point_mm: list[float] | None
    stack: list[dict[str, Any]]
    stack_mm: float
    bolt: int | None
    nut: int | None
    bolt_name: str
    nut_name: str
    head_washers_mm: list[float]
    nut_washers_mm: list[float]
    turned: str
    rotating: bool
    loss_prevents_safe_flight: bool
    insert: str
    torque_typed: str
    torque_source: str
    torque_page: str
    torque_low_nm: float | None
    torque_high_nm: float | None
    drag_nm: float
    witness_needed: bool
    photo_needed: bool
    needs_access: bool
    compound: str
    kept: dict[str, Any]
    fit: dict[str, Any] | None
    metals: dict[str, Any] | None
    events: list[EventShown]
    can: list[str]
    warnings: list[str]


class StockRow(TypedDict):
    """A bolt, nut or washer in stock."""

    id: int
    version: int
    kind: str
    name: str
    thread: str
    data: dict[str, Any]
    typed: dict[str, Any]


class CompoundRow(TypedDict):
    """A compound, and whether it may be used today."""

    id: int
    version: int
    name: str
    batch: str
    expiry_on: str
    opened_on: str
    life_open_days: int | None
    use_before: str
    decision: str


class Stock(TypedDict):
    """What is in stock."""

    count: int
    results: list[StockRow]
    compounds: list[CompoundRow]


class Computed(TypedDict):
    """What a rule gave, with its inputs, for what was typed."""

    rule: str
    inputs: dict[str, Any]
    outputs: dict[str, Any]
    said: str


def _check(j: Joint, c: Check) -> CheckShown:
    """What may secure a joint is not in by being chosen: until then nothing of it shows green."""
    said, verdict = c.said, c.verdict
    if c.key == "safetying" and verdict == "in" and waiting(j):
        said, verdict = f"{said}; it is not in yet", "not measured"
    return CheckShown(what=c.key, rule=c.rule, verdict=verdict, said=said, inputs=c.inputs)


def joint_row(j: Joint, checks: Iterable[Check]) -> JointRow:
    """A joint for a list, with its kept checks; needs bay and source selected."""
    quiet = [c for c in checks if c.quiet]
    shown = [_check(j, c) for c in quiet]
    more = [s["said"] for c, s in zip(quiet, shown, strict=True) if not _in_state(j, c)]
    return JointRow(
        slug=j.slug,
        name=j.name,
        part=j.part,
        bay=j.bay.slug if j.bay else "",
        control=j.control,
        device=j.device,
        state=j.state,
        why=j.why,
        open=more + j.why,
        verdict=j.verdict,
        temporary=j.temporary,
        torque_asked=j.torque_typed,
        checks=shown,
    )


def _in_state(j: Joint, c: Check) -> bool:
    """Whether a check has nothing to say that the state does not: that nothing secures it yet."""
    if c.key == "safetying" and (not j.device or waiting(j)):
        return c.verdict == "in" or not j.device
    return bool(c.verdict == "in")


def joint_shown(j: Joint, warnings: list[str] | None = None) -> JointShown:
    """A joint in full."""
    events = list(j.events.select_related("by", "instrument").order_by("id"))
    stands = {e.pk for e in held(events)}
    return JointShown(
        **joint_row(j, of_subject(j.aircraft_id, "joints", j.slug)),
        version=j.version,
        point_mm=None if j.point_m is None else [x * 1e3 for x in j.point_m],
        stack=[{"name": s["name"], "typed": s["typed"], "mm": s["m"] * 1e3} for s in j.stack],
        stack_mm=sum(s["m"] for s in j.stack) * 1e3,
        bolt=j.bolt_id,
        nut=j.nut_id,
        bolt_name=j.bolt.name if j.bolt else "",
        nut_name=j.nut.name if j.nut else "",
        head_washers_mm=[w * 1e3 for w in j.head_washers_m],
        nut_washers_mm=[w * 1e3 for w in j.nut_washers_m],
        turned=j.turned,
        rotating=j.rotating,
        loss_prevents_safe_flight=j.loss_prevents_safe_flight,
        insert=j.insert,
        torque_typed=j.torque_typed,
        torque_source=j.torque_source.cited if j.torque_source else "",
        torque_page=j.torque_page,
        torque_low_nm=j.torque_low_nm,
        torque_high_nm=j.torque_high_nm,
        drag_nm=j.drag_nm,
        witness_needed=j.witness_needed,
        photo_needed=j.photo_needed,
        needs_access=j.needs_access,
        compound=j.compound.name if j.compound else "",
        kept={
            "stack_tol": f"{j.stack_tol_m * 1e3:.6g} mm" if j.stack_tol_m else "",
            "temperature_max": f"{j.temperature_max_k:.6g} K" if j.temperature_max_k else "",
            "two_hands": j.two_hands,
            "retorque_at_hours": j.retorque_at_hours,
            "compound": j.compound_id,
        },
        fit=j.fit,
        metals=j.metals,
        events=[_event(e, e.pk in stands) for e in events if e.doing != "undone"],
        can=_can(j),
        warnings=warnings or [],
    )


def _event(e: JointEvent, stands: bool) -> EventShown:
    return EventShown(
        id=e.pk,
        doing=e.doing,
        as_typed=e.as_typed,
        instrument=e.instrument_was.get("name", ""),
        note=e.note,
        by=e.by.name,
        at=e.at.isoformat(),
        stands=stands,
    )


def _can(j: Joint) -> list[str]:
    """What may be done next, most wanted first."""
    done = j.done or {}
    steps = []
    if not done.get("torqued"):
        steps.append("torqued")
        if not done.get("run_down"):
            steps.append("run down")
        return steps
    if waiting(j):
        steps.append("safetied")
    if done.get("witness") != "whole":
        steps.append("sealed")
    elif j.witness_needed:
        steps.append("mark broken")
    return [*steps, "loosened"]


def stock_row(s: StockItem) -> StockRow:
    """A stock item."""
    return StockRow(
        id=s.pk,
        version=s.version,
        kind=s.kind,
        name=s.name,
        thread=s.thread,
        data=s.data,
        typed=s.typed,
    )


def compound_row(c: Compound, decision: str, use_before: str) -> CompoundRow:
    """A compound."""
    return CompoundRow(
        id=c.pk,
        version=c.version,
        name=c.name,
        batch=c.batch,
        expiry_on=c.expiry_on.isoformat(),
        opened_on=c.opened_on.isoformat() if c.opened_on else "",
        life_open_days=c.life_open_days,
        use_before=use_before,
        decision=decision,
    )
