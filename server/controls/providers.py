"""What the controls tell the lane: each requirement's stored verdict, signatures, conflicts."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from core.basis.verdicts import Verdict
from core.signoff.closing import Concern
from server.aircraft.concerns import Told, register
from server.controls.facts import named
from server.controls.models import Requirement, Surface
from server.signoff.standing import standing


def _bays(aircraft: int) -> Iterable[str]:
    return Surface.objects.filter(aircraft=aircraft, bay__isnull=False).values_list(
        "bay__slug", flat=True
    )


@register("controls", knows=_bays)
def travel_concerns(aircraft: list[int]) -> Iterable[Told]:
    """Requirements, and the signatures that each control still needs, where its surfaces are."""
    rows = Requirement.objects.filter(control__aircraft__in=aircraft).select_related(
        "control", "surface__bay", "assessment", "source"
    )
    controls: dict[tuple[int, str], set[str]] = defaultdict(set)
    names: dict[tuple[int, str], str] = {}
    for r in rows:
        plane, slug = r.control.aircraft_id, r.control.slug
        bay = r.surface.bay.slug if r.surface and r.surface.bay else ""
        controls[plane, slug] |= {bay} - {""}
        names[plane, slug] = r.control.name
        verdict = r.assessment.verdict if hasattr(r, "assessment") else "not measured"
        link = f"controls/{slug}"
        yield (
            plane,
            Concern(
                id=f"travel {r.pk}",
                subject=f"{r.control.name}, {named(r)}",
                bays=(bay,) if bay else (),
                step="reading",
                state=verdict,
                verdict=Verdict(verdict),
                link=link,
            ),
        )
        if (conflict := _conflict(r)) is not None:
            yield plane, conflict
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


def _conflict(r: Requirement) -> Concern | None:
    """Documents that disagree on this travel and nobody has decided."""
    result = r.assessment.result if hasattr(r, "assessment") else {}
    conflict = result.get("conflict")
    if not conflict or conflict.get("decided") or r.surface is None:
        return None
    if min(s["requirement"] for s in conflict["sides"]) != r.pk:
        return None
    return Concern(
        id=f"conflict travel {r.pk}",
        subject=f"{r.control.name}, {named(r)}: documents disagree",
        bays=(r.surface.bay.slug,) if r.surface.bay else (),
        step="conflict",
        state="open",
        verdict=Verdict.TOO_CLOSE,
        link="sources",
    )
