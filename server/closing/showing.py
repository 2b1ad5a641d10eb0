"""Closures and their gates as the API shows them."""

from __future__ import annotations

import json

from core.signoff.closing import Concern
from core.signoff.gate import Item
from server.aircraft.access import may
from server.aircraft.models import Closure, Member
from server.closing import inspections
from server.closing.gates import Closing
from server.closing.models import ClosureEvent, ToolCount
from server.closing.shapes import (
    ClosingRow,
    ClosureShown,
    EventShown,
    ItemShown,
    OverrideShown,
    StepShown,
    ToolShown,
)
from server.signoff.models import LedgerEntry

FIRST = 6


def row(c: Closing) -> ClosingRow:
    """A closure in short."""
    subjects = c.subjects
    first = [_item(i, subjects[i.step, i.id]) for i in c.gate.blockers[:FIRST]]
    return ClosingRow(
        slug=c.closure.slug,
        name=c.closure.name,
        permanent=c.closure.permanent,
        above=c.closure.above,
        closed=c.closure.closed,
        bays=c.bays,
        planned_on=c.closure.planned_on.isoformat() if c.closure.planned_on else "",
        state=c.gate.state,
        blockers=len(c.gate.blockers),
        steps=[StepShown(step=s, passing=p, failing=f) for s, p, f in c.steps()],
        first=first,
        overrides=[_override_shown(e) for e in c.overrides],
    )


def shown(who: Member, c: Closing) -> ClosureShown:
    """A closure in full."""
    subjects = c.subjects
    turn = inspections.opened_times(c.closure.pk)
    tools = ToolCount.objects.filter(closure=c.closure, turn=turn)
    events = ClosureEvent.objects.filter(closure=c.closure).select_related("by").order_by("-id")
    return ClosureShown(
        **row(c),
        version=c.closure.version,
        items=[_item(i, subjects[i.step, i.id]) for i in c.gate.blockers],
        carried=[_item(i, subjects[i.step, i.id]) for i in c.gate.carried],
        tools=[tool_shown(t) for t in tools],
        events=[
            EventShown(
                doing=e.doing,
                purpose=e.purpose,
                reason=e.reason,
                by=e.by.name,
                at=e.at.isoformat(),
                gate=e.gate,
                counted=e.counted,
            )
            for e in events
        ],
        inspection_needed=c.closure.inspection_needed,
        photo_needed=c.closure.photo_needed,
        for_now=put_on_for_now(c.closure),
        can_close=may(who, "close"),
    )


def _item(i: Item, c: Concern) -> ItemShown:
    shown = item_shown(c)
    shown["hash"] = i.hash
    return shown


def item_shown(c: Concern) -> ItemShown:
    return ItemShown(
        step=c.step,
        id=c.id,
        subject=c.subject,
        state=c.state,
        verdict=c.verdict.value,
        owner=c.owner,
        link=c.link,
        bays=list(c.bays),
        hash="",
    )


def _override_shown(e: LedgerEntry) -> OverrideShown:
    body = json.loads(e.body)
    return OverrideShown(
        seq=e.seq,
        by=e.by.name,
        at=body["at"],
        reason=body["reason"],
        covers=[f"{b['subject']}: {b['state']}" for b in body["blockers"]],
    )


def tool_shown(t: ToolCount) -> ToolShown:
    """A counted tool."""
    return ToolShown(
        id=t.pk, version=t.version, name=t.name, went_in=t.went_in, came_out=t.came_out
    )


def put_on_for_now(c: Closure) -> bool:
    """Whether it is closed, but only put on."""
    last = ClosureEvent.objects.filter(closure=c).order_by("-id").first()
    return c.closed and last is not None and last.purpose == "temporary"
