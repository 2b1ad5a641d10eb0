"""What must hold after anything that anyone did: kept equals made anew, and the record is whole."""

from __future__ import annotations

from server.aircraft.models import Aircraft
from server.find.indexing import described
from server.find.models import Findable
from server.kit.standing import differences
from server.signoff.ledger import check

INDEXED = ("title", "text", "bays", "point_m", "link")


def broken() -> list[str]:
    """Every invariant that does not hold, in words."""
    found = []
    for aircraft in Aircraft.objects.all():
        found += [f"{aircraft.slug}: {line}" for line in differences(aircraft.pk)]
        found += [f"{aircraft.slug}: {line}" for line in _index(aircraft)]
        ledger = check(aircraft)
        if not ledger["ok"]:
            found.append(f"{aircraft.slug}: ledger {ledger}")
    return found


def _index(aircraft: Aircraft) -> list[str]:
    """Where the index of what can be found differs from one made anew."""
    rows = Findable.objects.filter(aircraft=aircraft)
    kept = {(r.kind, r.key): r for r in rows}
    wrong = []
    for row in described(aircraft):
        old = kept.pop((row.kind, row.key), None)
        if old is None:
            wrong.append(f"{row.kind} {row.key} cannot be found")
            continue
        wrong += [
            f"{row.kind} {row.key}: found with {f} {getattr(old, f)!r}, is {getattr(row, f)!r}"
            for f in INDEXED
            if _plain(getattr(old, f)) != _plain(getattr(row, f))
        ]
    return wrong + [f"{kind} {key} is found and is not there" for kind, key in kept]


def _plain(value: object) -> object:
    return list(value) if isinstance(value, tuple) else value
