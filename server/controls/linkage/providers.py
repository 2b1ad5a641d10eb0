"""What linkages tell the lane (thread in rod ends, checks of parts) and the stand-in's hand."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from typing import Any

from core.basis.verdicts import Verdict
from core.clearance.bays import bays_of
from core.signoff.closing import Concern
from server.aircraft.concerns import Told, register
from server.aircraft.models import Bay
from server.controls.linkage.built import built_rod, judged_end, rig_of
from server.controls.linkage.models import Body, Mechanism, PartCheck, Rod
from server.controls.models import Surface
from server.instruments.reading import rigs


@register("linkages")
def rod_ends(aircraft: list[int]) -> Iterable[Told]:
    """Every rod end with a record, in the bay where it is; and every check of a part."""
    boxes: dict[int, list[Any]] = defaultdict(list)
    for bay in Bay.objects.filter(aircraft__in=aircraft):
        boxes[bay.aircraft_id].append(bay.box)
    points = {
        (m, slug): where
        for m, slug, where in Body.objects.filter(aircraft__in=aircraft).values_list(
            "mechanism", "slug", "points_m"
        )
    }
    rows = Rod.objects.filter(aircraft__in=aircraft).exclude(record={})
    for rod in rows.select_related("mechanism__control"):
        built, link = built_rod(rod), f"controls/{rod.mechanism.control.slug}/linkage"
        for end, held in (("a", rod.a), ("b", rod.b)):
            at = points.get((rod.mechanism_id, held["body"]), {}).get(held["point"])
            verdict, _ = judged_end(built, end)
            name = f"{rod.slug.replace('_', ' ')} at {held['body'].replace('_', ' ')}"
            yield (
                rod.aircraft_id,
                Concern(
                    id=f"rod end {rod.pk} {end}",
                    subject=f"{rod.mechanism.control.name}: thread in rod {name}",
                    bays=bays_of(at, boxes[rod.aircraft_id])[:1] if at else (),
                    step="reading",
                    state=verdict.value,
                    verdict=verdict,
                    link=f"{link}?rod={rod.slug}",
                ),
            )
    yield from _part_checks(aircraft)


def _part_checks(aircraft: list[int]) -> Iterable[Told]:
    bays: dict[int, set[str]] = defaultdict(set)
    for control, bay in Surface.objects.filter(
        aircraft__in=aircraft, bay__isnull=False
    ).values_list("control", "bay__slug"):
        bays[control].add(bay)
    for c in PartCheck.objects.filter(aircraft__in=aircraft).select_related("control"):
        what = f"{c.kind.replace('_', ' ')} of {c.subject.replace('_', ' ')}"
        yield (
            c.aircraft_id,
            Concern(
                id=f"part check {c.pk}",
                subject=f"{c.control.name}: {what}",
                bays=tuple(sorted(bays[c.control_id])),
                step="reading",
                state=c.verdict,
                verdict=Verdict(c.verdict),
                link=f"controls/{c.control.slug}/linkage",
            ),
        )


@rigs
def turned(aircraft: str, surface: str) -> tuple[str, dict[str, Any]] | None:
    """What was turned on the mechanism that moves a surface."""
    found = Mechanism.objects.filter(
        aircraft__slug=aircraft, control__surfaces__slug=surface
    ).first()
    return (found.slug, rig_of(found)) if found else None
