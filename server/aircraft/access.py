"""Who may do what on an aircraft. Another's aircraft does not exist for you."""

from __future__ import annotations

from typing import Any

from django.http import Http404
from rest_framework.exceptions import PermissionDenied
from rest_framework.request import Request

from core.basis.refused import Refused
from server.aircraft.models import Aircraft, Bay, Member
from server.config.problems import Conflict

# What each role may do; signing as independent inspector is decided in sign-off.
MAY: dict[str, set[str]] = {
    "owner": {"read", "measure", "change facts", "sign done", "write", "find fault", "close"},
    "helper": {"read", "measure", "write"},
    "counselor": {"read", "check", "inspect", "write", "find fault"},
    "reader": {"read"},
}
SAID = {
    "measure": "record or correct work here",
    "write": "write notes or add photos",
    "find fault": "raise or close findings",
    "close": "close or open anything",
    "change facts": "change this",
    "sign done": "sign as the builder",
    "inspect": "sign as an inspector",
}


def member(request: Request, slug: str, doing: str = "read") -> Member:
    """The membership of whoever asks; 404 without one, 403 if the role may not do that."""
    found = (
        Member.objects.select_related("aircraft", "person")
        .filter(aircraft__slug=slug, person__users=request.user.pk)
        .first()
    )
    if found is None:
        raise Http404
    allow(found, doing)
    return found


def allow(who: Member, *doings: str) -> None:
    """403 with the reason, unless this member may do one of these."""
    if not any(may(who, doing) for doing in doings):
        raise PermissionDenied(f"As {who.role} you cannot {SAID.get(doings[0], doings[0])}.")


def may(who: Member, doing: str) -> bool:
    """Whether this member may do that."""
    if doing == "inspect" and who.role == "helper":
        return who.second_inspector
    return doing in MAY[who.role]


def check_version(row: Any, version: Any, shown: Any, yours: Any) -> None:
    """Refuse a write on an old version with both sides; `row` must be locked."""
    if row.version != version:
        raise Conflict(theirs=shown, yours=yours)


def bay_of(aircraft: Aircraft, slug: str) -> Bay | None:
    """The bay of that slug, None for none; refuses one that is not this aircraft's."""
    if not slug:
        return None
    found = Bay.objects.filter(aircraft=aircraft, slug=slug).first()
    if found is None:
        raise Refused("bay", "is not a bay of this aircraft")
    return found
