"""Making an invitation, and what it is worth now."""

from __future__ import annotations

import hashlib
import secrets
from datetime import UTC, datetime, timedelta

from django.db.models import QuerySet

from core.basis.refused import Refused
from server.accounts.models import Person
from server.aircraft.models import Aircraft, Member
from server.people.models import Invitation

GOOD_FOR = timedelta(days=14)
MOST_OPEN = 20


def invite(
    aircraft: Aircraft | None, role: str, second: bool, by: Person | None
) -> tuple[Invitation, str]:
    """A new invitation and its token, which is told this once."""
    if second and role != "helper":
        raise Refused("second_inspector", "is a helper: a counselor inspects anyway")
    if aircraft is not None and open_ones(aircraft).count() >= MOST_OPEN:
        raise Refused("role", f"{MOST_OPEN} invitations are open: withdraw some first")
    token = secrets.token_urlsafe(24)
    row = Invitation.objects.create(
        aircraft=aircraft,
        role=role,
        second_inspector=second,
        digest=digest(token),
        made_by=by,
        expires_at=datetime.now(UTC) + GOOD_FOR,
    )
    return row, token


def digest(token: str) -> str:
    """What is kept of a token."""
    return hashlib.sha256(token.encode()).hexdigest()


def open_ones(aircraft: Aircraft) -> QuerySet[Invitation]:
    """Those that can still be used."""
    now = datetime.now(UTC)
    rows = Invitation.objects.filter(aircraft=aircraft, used_at=None, withdrawn_at=None)
    return rows.filter(expires_at__gt=now).select_related("made_by")


def found(token: str, lock: bool = False) -> Invitation | None:
    """The invitation of a token, if it can still be used."""
    rows = Invitation.objects.all()
    if lock:
        rows = rows.select_for_update(of=("self",))
    row = rows.filter(digest=digest(token)).first()
    if row is None or row.used_at or row.withdrawn_at or row.expires_at <= datetime.now(UTC):
        return None
    return row


def accept(row: Invitation, person: Person) -> Member | None:
    """The person has the role now; the link is used up."""
    if (
        row.aircraft is not None
        and Member.objects.filter(aircraft=row.aircraft, person=person).exists()
    ):
        raise Refused("link", f"you have a role on {row.aircraft.name} already")
    row.used_by, row.used_at = person, datetime.now(UTC)
    row.save()
    if row.aircraft is None:
        return None
    return Member.objects.create(
        aircraft=row.aircraft,
        person=person,
        role=row.role,
        second_inspector=row.second_inspector,
    )
