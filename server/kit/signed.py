"""A thing of a trade that can be signed by itself: its scope, what a signature covers, who worked.

Covered is what was entered of it and what its checks say. Kept when somebody looks at it to sign,
and anew after each change of its kind.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.db import models, transaction

from core.signoff.dual import work_since
from server.aircraft.models import Aircraft, Member
from server.journal.writing import after
from server.kit.removing import also_stands, counted
from server.kit.showing import row_shown
from server.kit.standing import of_subject
from server.signoff import facts, scopes
from server.signoff.models import LedgerEntry, ScopeState
from server.signoff.scope import Scope

Worked = Iterable[tuple[str, datetime]]
PASS = ("in", "accepted")
DOCUMENTS = ("document", "source")


@dataclass(frozen=True)
class Signed:
    """kind: of the scope (`line:feed`), and of the journal's lines that change one. trade: whose
    checks are covered. told: what was entered, in words. worked: who worked on it beside those
    who entered it, and when. only: which rows of the model. told_as: further kinds of the
    journal's lines that change one."""

    kind: str
    model: type[models.Model]
    trade: str
    told: Callable[[Any], Mapping[str, str]]
    worked: Callable[[Any], Worked] = lambda row: ()
    only: Mapping[str, Any] = field(default_factory=dict)
    told_as: tuple[str, ...] = ()

    def row(self, aircraft: Aircraft, slug: str) -> Any:
        """The thing of that name, or None."""
        rows: Any = self.model._default_manager
        found = rows.filter(aircraft=aircraft, slug=slug, **self.only).first()
        if found is not None:
            found.aircraft = aircraft
        return found

    def values(self, row: Any) -> list[tuple[str, Any]]:
        """What a signature on it covers."""
        said = dict(self.told(row))
        covered: list[tuple[str, Any]] = [(f"{self.kind}/{row.slug}", said | {"name": row.name})]
        # As it was judged, not as the calendar turns it: a day that passes changes no fact.
        for c in of_subject(row.aircraft_id, self.trade, row.slug):
            value = {"name": f"{row.name}, {c.what}", "said": c.said, "verdict": c.verdict}
            covered.append((f"check/{self.kind}/{row.slug}/{c.key}", value))
        return covered

    def scope(self, aircraft: Aircraft, slug: str) -> Scope | None:
        """Who worked on it, and what stands in the way of signing it."""
        row = self.row(aircraft, slug)
        if row is None:
            return None
        name = f"{self.kind}:{slug}"
        with transaction.atomic():
            _lock(aircraft)
            facts.keep(aircraft, name, self.values(row))
        work = work_since(self._work(row), _last_inspected(aircraft, name))
        owners = Member.objects.filter(aircraft=aircraft, role="owner")
        people = {*owners.values_list("person__slug", flat=True), *work.workers}
        return Scope(
            name=name,
            workers=tuple(sorted(people)) if work.last else (),
            work_done_at=work.last,
            not_ready=tuple(self._not_ready(row)),
        )

    def _work(self, row: Any) -> Worked:
        past = row.history.all()
        yield from past.values_list("changed_by__slug", "changed_at")
        yield from self.worked(row)

    def _not_ready(self, row: Any) -> Iterable[str]:
        checks = [row_shown(c) for c in of_subject(row.aircraft_id, self.trade, row.slug)]
        bad = [f"{c['what']}: {c['verdict']}" for c in checks if c["verdict"] not in PASS]
        if bad or not checks:
            yield f"Not everything is in: {'; '.join(bad) or 'nothing is judged yet'}."

    def today(self, aircraft: Aircraft) -> dict[str, facts.Values]:
        """Every scope of the kind that somebody looked at."""
        known = ScopeState.objects.filter(aircraft=aircraft, scope__startswith=f"{self.kind}:")
        found: dict[str, facts.Values] = {}
        for name in known.values_list("scope", flat=True):
            row = self.row(aircraft, name.partition(":")[2])
            if row is not None:
                found[name] = self.values(row)
        return found


_signed: dict[str, Signed] = {}


def can_be_signed(one: Signed) -> Signed:
    """Let sign-off know a kind of thing."""
    _signed[one.kind] = one
    scopes.register(one.kind, one.scope)
    facts.register(one.kind, facts.ScopeKind(today=one.today, earlier=lambda aircraft: ()))
    return one


@after
def followed(aircraft: Aircraft, kind: str, bays: Sequence[str]) -> None:
    """After a change of a kind, or of a document that they cite: those that somebody looked at to
    sign are kept anew. A sheet may be about a line: all kinds follow any of them."""
    told_as = {k for one in _signed.values() for k in one.told_as}
    if kind not in _signed and kind not in DOCUMENTS and kind not in told_as:
        return
    for one in _signed.values():
        names = ScopeState.objects.filter(aircraft=aircraft, scope__startswith=f"{one.kind}:")
        if names.exists():
            _lock(aircraft)
        for name, values in one.today(aircraft).items():
            facts.keep(aircraft, name, values)


@also_stands
def _ledger(kind: str, row: Any) -> Iterable[str]:
    """What was signed stays."""
    if kind in _signed:
        entries = LedgerEntry.objects.filter(aircraft=row.aircraft_id, scope=f"{kind}:{row.slug}")
        yield from counted(entries.count(), "entry of the ledger", "entries of the ledger")


def _lock(aircraft: Aircraft) -> None:
    """One writer of an aircraft's revisions of these at a time."""
    Aircraft.objects.select_for_update().get(pk=aircraft.pk)


def _last_inspected(aircraft: Aircraft, name: str) -> datetime | None:
    rows = LedgerEntry.objects.filter(aircraft=aircraft, scope=name, kind="signature")
    at = [e.at for e in rows if json.loads(e.body)["role"] == "independent"]
    return max(at, default=None)
