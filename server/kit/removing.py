"""Taking something away: with its version and a reason, and only where nothing stands on it.

The row goes, its history stays (django-simple-history) with who, when and why; the journal tells
it. Whatever another row names by a key stands on it, also under another trade.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any, TypedDict

from django.db import models
from django.http import Http404
from rest_framework import serializers

from core.basis.refused import Refused
from server.aircraft.models import Member
from server.config.forms import Form
from server.config.text import Text
from server.journal.writing import note
from server.kit.writing import Act, Write


class RemovalIn(Form):
    """What is taken away, as it was seen, and why."""

    version = serializers.IntegerField()
    reason = Text(max_length=200)


def reason_of(given: Mapping[str, Any], what: str) -> str:
    """The reason that was given; refused where it says nothing."""
    reason = str(given["reason"]).strip()
    if len(reason) < 3:
        raise Refused("reason", f"say {what}")
    return reason


class Gone(TypedDict):
    """What was taken away, by its name."""

    gone: str


# What names a thing otherwise than by a key: (kind, row) -> words.
Named = Callable[[str, Any], Iterable[str]]
_named: list[Named] = []


def also_stands(told: Named) -> Named:
    """Be asked what else stands on a row before it goes."""
    _named.append(told)
    return told


def counted(count: int, one: str, several: str = "") -> Iterable[str]:
    """How many, in words; nothing of none."""
    if count:
        yield f"{count} {one if count == 1 else several or one + 's'}"


def standing_on(row: models.Model, kind: str = "") -> list[str]:
    """What of the record stands on a row, counted in words; its own parts (deleted with it by
    their key) do not."""
    found: list[str] = []
    for field in row._meta.get_fields(include_hidden=True):
        if not isinstance(field, models.ForeignObjectRel):
            continue
        model: Any = field.related_model
        part = getattr(field, "on_delete", None) is models.CASCADE
        if part or model.__name__.startswith("Historical"):
            continue
        count = model._default_manager.filter(**{field.field.name: row}).count()
        found += counted(count, model._meta.verbose_name, model._meta.verbose_name_plural)
    return [*found, *(said for told in _named for said in told(kind, row))]


def removal(
    kind: str,
    find: Callable[[Member, Mapping[str, Any]], Any],
    *,
    name: Callable[[Any], str] = lambda row: str(row.name),
    before: Callable[[Act, Any], Iterable[str]] = lambda act, row: (),
    row_of: Callable[[Any], Any] = lambda subject: subject,
    done: Callable[[Act], Any] = lambda act: None,
    may: str = "change facts",
    link: str = "",
    journal: str = "",
) -> Write:
    """The write that takes one away. find: the subject, locked. row_of: the row of it that
    goes (the subject itself). before: what goes with it; the bays in which something goes, so
    that what was inspected there is covered as it is now. journal: the kind of the line that
    tells it, where that is not `kind`."""

    def go(act: Act) -> None:
        row = row_of(act.subject)
        act.said = name(row)
        reason = reason_of(act.given, "why it is taken away")
        if stands := standing_on(row, kind):
            raise Refused(kind, f"stays: {', '.join(stands)} in the record")
        bays = sorted(set(before(act, row)))
        row._change_reason = reason
        row.changed_by = act.who.person
        row.delete()
        told = f"Taken away: {kind} {act.said}, because {reason}"
        note(act.who.aircraft, act.who.person, journal or kind, told, bays, link)

    return Write(
        (may,),
        RemovalIn,
        find,
        go,
        lambda act: Gone(gone=act.said),
        Gone,
        200,
        shown=lambda subject: {"name": name(row_of(subject))},
        done=done,
        versioned=row_of,
    )


def one_of(model: Any, key: str) -> Callable[[Member, Mapping[str, Any]], Any]:
    """Finds the row of an aircraft by its address, locked."""

    def find(who: Member, at: Mapping[str, Any]) -> Any:
        rows = model._default_manager.filter(aircraft=who.aircraft, pk=at[key])
        found = rows.select_for_update().first()
        if found is None:
            raise Http404
        return found

    return find
