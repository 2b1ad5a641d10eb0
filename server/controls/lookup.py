"""A control by its address, and locked: one writer at a time for each control."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.http import Http404

from server.aircraft.models import Member
from server.controls.models import Control


def control_of(who: Member, slug: str) -> Control:
    """A control of this aircraft, or 404."""
    found = Control.objects.filter(aircraft=who.aircraft_id, slug=slug).first()
    if found is None:
        raise Http404
    found.aircraft = who.aircraft
    return found


def lock(control: Control) -> None:
    """One writer at a time for each control; the caller reads what it changes after this."""
    Control.objects.select_for_update().get(pk=control.pk)


def locked(who: Member, at: Mapping[str, Any]) -> Control:
    """The control of an address, locked."""
    mine = Control.objects.filter(aircraft=who.aircraft_id, slug=at["control"])
    found = mine.select_for_update().first()
    if found is None:
        raise Http404
    found.aircraft = who.aircraft
    return found
