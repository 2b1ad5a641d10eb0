"""What the controls tell sign-off: their scopes, facts, workers, and what is not ready."""

from __future__ import annotations

import json
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from django.db.models.functions import Greatest

from core.signoff.dual import work_since
from server.aircraft.models import Aircraft, Member
from server.controls.facts import covered, current_round, hold, judgings, scope
from server.controls.models import Assessment, Control, Mechanism, Reading, SenseCheck
from server.controls.naming import named
from server.controls.recording import touched
from server.controls.values import reading_value
from server.kit import ports
from server.signoff import facts, scopes
from server.signoff.models import LedgerEntry
from server.signoff.scope import Scope


def control_scope(aircraft: Aircraft, slug: str) -> Scope | None:
    """Who worked on a control, and what stands in the way of signing it."""
    control = aircraft.controls.filter(slug=slug).first()
    if control is None:
        return None
    rnd = current_round(control)
    owners = Member.objects.filter(aircraft=aircraft, role="owner").values_list(
        "person__slug", flat=True
    )
    work = work_since(_work(control), _last_inspected(aircraft, scope(control)))
    return Scope(
        name=scope(control),
        workers=tuple(sorted({*owners, *work.workers})) if work.last else (),
        work_done_at=work.last,
        not_ready=tuple(_not_ready(control, rnd.pk)),
    )


def _last_inspected(aircraft: Aircraft, name: str) -> datetime | None:
    """When an independent person last signed this scope."""
    rows = LedgerEntry.objects.filter(aircraft=aircraft, scope=name, kind="signature")
    at = [e.at for e in rows if json.loads(e.body)["role"] == "independent"]
    return max(at, default=None)


def _work(control: Control) -> Iterable[ports.Worked]:
    """Everyone who took or corrected a reading, or worked on what another trade has of it."""
    rows = Reading.objects.filter(surface__control=control, check_reading=False)
    # A day that is typed makes nobody independent of what was recorded after the inspection.
    done = rows.annotate(done_at=Greatest("taken_at", "recorded_at"))
    yield from done.values_list("taken_by__slug", "done_at")
    for told in ports.works:
        yield from told(control)


def _not_ready(control: Control, rnd: int) -> Iterable[str]:
    rows = Assessment.objects.filter(requirement__control=control).select_related(
        "requirement__surface"
    )
    bad = [a for a in rows if a.verdict not in ("in", "accepted")]
    if bad or not rows:
        listed = "; ".join(f"{named(a.requirement)}: {a.verdict}" for a in bad)
        yield f"Not everything is in: {listed or 'nothing is required yet'}."
    last = SenseCheck.objects.filter(round=rnd).order_by("-id").first()
    if last is None:
        yield "The sense check has not been made in this round."
    elif last.text != control.sense_check:
        yield "What must be seen was changed since the last sense check: look again."
    elif not (last.right_way and last.free):
        yield "The last sense check found the control not free or not correct."
    for told in ports.needs:
        yield from told(control)


def _today(aircraft: Aircraft) -> dict[str, Any]:
    read = judgings(list(aircraft.controls.all()))
    return {scope(j.control): covered(j.control, hold(j.control, read=j)) for j in read}


def _earlier(aircraft: Aircraft) -> Iterable[tuple[str, int, Any]]:
    """Every reading that ever stood, corrected or not, against its own revision."""
    rows = Reading.objects.filter(aircraft=aircraft, withdrawn=False)
    for r in rows.select_related("surface", "taken_by"):
        yield f"reading/{r.chain_id}", r.rev, reading_value(r)


facts.register("control", facts.ScopeKind(_today, _earlier))
scopes.register("control", control_scope)


class Controls:
    """Answers for controls."""

    def touched(self, control: Control) -> Any:
        """Something of it changed: judged anew, and what a signature covers kept."""
        return touched(control)

    def bodies(self, control: Control) -> set[str] | None:
        """The bodies of its linkage; None where it has none."""
        m = Mechanism.objects.filter(control=control).first()
        return None if m is None else set(m.bodies.values_list("slug", flat=True))


ports.hold(controls=Controls())
