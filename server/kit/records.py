"""What is done to a subject, append-only: one thing done, and the taking back of the last one."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any, TypeVar

from django.db import models

from core.basis.refused import Refused
from server.accounts.models import Person
from server.aircraft.models import Aircraft

UNDONE = "undone"
E = TypeVar("E", bound="Event")


class Event(models.Model):
    """One thing done, with who and when. Never changed; `undoes` takes an earlier one back.

    A trade's own table adds the subject, what can be done (`doing`) and what belongs to it.
    """

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    doing: Any
    note = models.CharField(max_length=200, blank=True)
    undoes = models.OneToOneField(
        "self", on_delete=models.PROTECT, null=True, related_name="undone_by"
    )
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        abstract = True
        ordering = ["id"]


def held(events: Iterable[E]) -> list[E]:
    """The events that were not taken back, in the order given."""
    rows = list(events)
    undone = {e.undoes_id for e in rows if e.undoes_id}  # type: ignore[attr-defined]
    return [e for e in rows if e.pk not in undone and e.doing != UNDONE]


def take_back(event: E, rows: Iterable[E], by: Person, said: str, **subject: Any) -> E:
    """Take back the last event of a locked subject; earlier ones are not taken back.

    rows: all of the subject's events, oldest first. subject: the fields that name it.
    """
    standing = held(rows)
    if not standing or standing[-1].pk != event.pk:
        raise Refused("event", "only the last thing done can be taken back")
    made: E = type(event)._default_manager.create(
        aircraft=event.aircraft,
        doing=UNDONE,
        undoes=event,
        by=by,
        at=datetime.now(UTC),
        note=said,
        **subject,
    )
    return made
