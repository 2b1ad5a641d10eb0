"""Writes on a control: whose it is, and how they are told."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from server.aircraft.models import Aircraft, Member
from server.controls import recording, shapes
from server.controls.facts import Held, sheet
from server.controls.lookup import locked
from server.controls.models import Control
from server.journal.writing import note
from server.kit.writing import Act, Write


def lock_ledger(who: Member) -> None:
    """One writer at a time for each aircraft's ledger."""
    Aircraft.objects.select_for_update().get(pk=who.aircraft_id)


def on_control(
    form: Any,
    do: Callable[[Act], None],
    may: tuple[str, ...] = ("measure",),
    status: int = 201,
    find: Callable[[Member, Mapping[str, Any]], Control] = locked,
) -> Write:
    """A write on a control: judged anew, its facts kept, its sheet answered."""
    return Write(
        may,
        form,
        find,
        do,
        lambda act: sheet(act.subject, held=act.followed),
        shapes.SheetShown,
        status,
        done=touched,
    )


def touched(act: Act) -> Held:
    """What follows from a write on a control."""
    return recording.touched(act.subject, act.read)


def because(row: Any, reason: str) -> None:
    """Why it is saved or taken away next: kept in its history."""
    row._change_reason = reason


def tell(act: Act, kind: str, said: str, bays: Iterable[str] = (), work: bool = False) -> None:
    """A line in the journal about the control that was written on."""
    control = act.subject
    note(act.who.aircraft, act.who.person, kind, said, bays, f"controls/{control.slug}", work)
