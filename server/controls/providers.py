"""What the controls tell the lane: each requirement's stored verdict, signatures, conflicts."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from typing import Any

from core.basis.verdicts import Verdict
from core.signoff.closing import Concern
from server.aircraft.concerns import Told, register
from server.controls.facts import in_words
from server.controls.models import Requirement, Surface
from server.signoff.standing import standing

FIELDS = (
    "id",
    "control__aircraft",
    "control__slug",
    "control__name",
    "surface__bay__slug",
    "assessment__verdict",
    "assessment__result__conflict",
    "surface__name",
    "position",
    "kind",
)


def _bays(aircraft: int) -> Iterable[str]:
    return Surface.objects.filter(aircraft=aircraft, bay__isnull=False).values_list(
        "bay__slug", flat=True
    )


@register("controls", knows=_bays)
def travel_concerns(aircraft: list[int]) -> Iterable[Told]:
    """Requirements, and the signatures that each control still needs, where its surfaces are."""
    rows = Requirement.objects.filter(control__aircraft__in=aircraft).values_list(*FIELDS)
    controls: dict[tuple[int, str], set[str]] = defaultdict(set)
    names: dict[tuple[int, str], str] = {}
    for key, plane, slug, name, bay, verdict, conflict, *parts in rows:
        controls[plane, slug] |= {bay or ""} - {""}
        names[plane, slug] = name
        subject = f"{name}, {in_words(*parts)}"
        state = verdict or "not measured"
        bays = (bay,) if bay else ()
        yield (
            plane,
            Concern(
                id=f"travel {key}",
                subject=subject,
                bays=bays,
                step="reading",
                state=state,
                verdict=Verdict(state),
                link=f"controls/{slug}",
            ),
        )
        if conflict and not conflict.get("decided") and _first(conflict, key):
            yield (
                plane,
                Concern(
                    id=f"conflict travel {key}",
                    subject=f"{subject}: documents disagree",
                    bays=bays,
                    step="conflict",
                    state="open",
                    verdict=Verdict.TOO_CLOSE,
                    link="sources",
                ),
            )
    stands = standing(aircraft)
    for (plane, slug), bays in controls.items():
        state = stands.get((plane, f"control:{slug}"), "not signed")
        verdict = {"fresh": Verdict.IN, "stale": Verdict.STALE}.get(state, Verdict.NOT_MEASURED)
        yield (
            plane,
            Concern(
                id=f"signature control:{slug}",
                subject=f"{names[plane, slug]}: two signatures",
                bays=tuple(sorted(bays)),
                step="signature",
                state=state,
                verdict=verdict,
                link=f"controls/{slug}",
            ),
        )


def _first(conflict: dict[str, Any], requirement: int) -> bool:
    """Whether this is the first of the requirements that disagree: each conflict counts once."""
    return bool(min(side["requirement"] for side in conflict["sides"]) == requirement)
