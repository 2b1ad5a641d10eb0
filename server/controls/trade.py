"""Controls as a trade: each requirement, documents that disagree on it, the two signatures."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from core.basis.checks import Check
from core.basis.verdicts import Verdict
from server.controls.models import Control, Requirement, SourceDecision, Surface
from server.controls.naming import in_words
from server.kit.trade import Judged, Subjects, Trade, declare
from server.signoff.models import LedgerEntry, ScopeState
from server.signoff.standing import standing

SCOPE = "control:"


def _bays(aircraft: int) -> Iterable[str]:
    return Surface.objects.filter(aircraft=aircraft, bay__isnull=False).values_list(
        "bay__slug", flat=True
    )


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    controls = Control.objects.filter(aircraft=aircraft)
    if subjects is not None:
        controls = controls.filter(slug__in=subjects)
    asked: dict[int, list[Requirement]] = {}
    for r in Requirement.objects.filter(control__in=controls).select_related(
        "surface__bay", "assessment"
    ):
        asked.setdefault(r.control_id, []).append(r)
    stands = standing([aircraft], [f"{SCOPE}{c.slug}" for c in controls])
    for c in controls:
        rows = asked.get(c.pk, [])
        checks = [x for r in rows for x in _requirement(c, r)]
        if rows:
            bays = sorted({b for x in checks for b in x.bays})
            state = stands.get((aircraft, f"{SCOPE}{c.slug}"), "not signed")
            checks.append(_signatures(c, tuple(bays), state))
        yield Judged(c.slug, tuple(checks), c.order)


def _requirement(c: Control, r: Requirement) -> Iterable[Check]:
    a = getattr(r, "assessment", None)
    surface = r.surface
    subject = f"{c.name}, {in_words(surface.name if surface else None, r.position, r.kind)}"
    bays = (surface.bay.slug,) if surface and surface.bay else ()
    why = (a.result.get("why") if a else None) or {}
    yield Check(
        key=f"travel {r.pk}",
        what=subject,
        said=a.result.get("said", "") if a else "",
        verdict=Verdict(a.verdict if a else "not measured"),
        state=a.verdict if a else "not measured",
        bays=bays,
        concern=f"travel {r.pk}",
        link=f"controls/{c.slug}",
        rule=why.get("rule", ""),
        edition=why.get("edition", 0),
        inputs=why.get("inputs", {}),
        origins=why.get("origins", {}),
    )
    conflict = a.result.get("conflict") if a else None
    if conflict and not conflict.get("decided") and _first(conflict, r.pk):
        yield Check(
            key=f"conflict {r.pk}",
            what=f"{subject}: documents disagree",
            said="",
            verdict=Verdict.TOO_CLOSE,
            step="conflict",
            state="open",
            bays=bays,
            concern=f"conflict travel {r.pk}",
            link="sources",
        )


def _first(conflict: dict[str, Any], requirement: int) -> bool:
    """Whether this is the first of the requirements that disagree: each conflict counts once."""
    return bool(min(side["requirement"] for side in conflict["sides"]) == requirement)


def _signatures(c: Control, bays: tuple[str, ...], state: str) -> Check:
    verdict = {"fresh": Verdict.IN, "stale": Verdict.STALE}.get(state, Verdict.NOT_MEASURED)
    return Check(
        key="signatures",
        what=f"{c.name}: two signatures",
        said=state,
        verdict=verdict,
        step="signature",
        state=state,
        bays=bays,
        concern=f"signature control:{c.slug}",
        link=f"controls/{c.slug}",
    )


def _of_scope(row: LedgerEntry | ScopeState) -> Iterable[tuple[int, str]]:
    if row.scope.startswith(SCOPE):
        yield row.aircraft_id, row.scope.removeprefix(SCOPE)


CONTROLS = declare(
    Trade(
        "controls",
        10,
        _judge,
        {
            Control: lambda x: [(x.aircraft_id, x.slug)],
            Requirement: lambda x: [(x.aircraft_id, x.control.slug)],
            Surface: lambda x: [(x.aircraft_id, x.control.slug)],
            SourceDecision: lambda x: [(x.surface.aircraft_id, x.surface.control.slug)],
            LedgerEntry: _of_scope,
            ScopeState: _of_scope,
        },
        _bays,
        (Surface,),
    )
)
