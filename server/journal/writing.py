"""Writing the journal, and asking it when a bay was last worked in."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import UTC, datetime

from django.db import connection

from server.accounts import security
from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.journal.models import Change

Follower = Callable[[Aircraft, str, Sequence[str]], None]
_followers: list[Follower] = []
_here = threading.local()


def after(follower: Follower) -> Follower:
    """Be told of kind and bays of every line, in its transaction (inspections follow so)."""
    _followers.append(follower)
    return follower


def note(
    aircraft: Aircraft,
    by: Person,
    kind: str,
    said: str,
    bays: Iterable[str] = (),
    link: str = "",
    work: bool = False,
    at: datetime | None = None,
) -> Change:
    """Add a line, in the caller's transaction, after what it tells of was saved."""
    change = Change.objects.create(
        aircraft=aircraft,
        at=at or datetime.now(UTC),
        by=by,
        kind=kind,
        said=said[:300],
        bays=[b for b in bays if b],
        link=link,
        work=work,
    )
    _here.lines = lines() + 1
    if kind == "people":
        security.kept("role", person=by.slug, aircraft=aircraft.slug, said=said)
    for follower in _followers:
        follower(aircraft, kind, change.bays)
    return change


def changed(before: Mapping[str, str], after: Mapping[str, str]) -> str:
    """What of a thing is otherwise now, in words; empty where nothing is."""
    said = "not said"
    return "; ".join(
        f"{name}: {before[name] or said} is now {now or said}"
        for name, now in after.items()
        if before[name] != now
    )


def lines() -> int:
    """How many lines this thread has written; what writes compares it before and after."""
    return getattr(_here, "lines", 0)


def last_work(aircraft: int) -> dict[str, datetime]:
    """When hands were last in each bay."""
    with connection.cursor() as c:
        c.execute(
            "SELECT bay, max(at) FROM journal_change, unnest(bays) AS bay"
            " WHERE aircraft_id = %s AND work GROUP BY bay",
            [aircraft],
        )
        return dict(c.fetchall())
