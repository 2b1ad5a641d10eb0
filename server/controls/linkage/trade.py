"""What linkages tell the lane (thread in rod ends, checks of parts) and the stand-in's hand."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from core.basis.checks import Check
from core.basis.verdicts import Verdict
from core.runs.bays import Box
from server.aircraft.models import Bay
from server.controls.linkage.built import built_rod, judged_end, rig_of
from server.controls.linkage.models import Body, Mechanism, PartCheck, Rod
from server.controls.models import Control, Surface
from server.instruments.reading import rigs
from server.kit.placing import bay_at, boxes_of, with_editions
from server.kit.trade import Judged, Subjects, Trade, declare, whole


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    """Every rod end with a record, in the bay where it is; and every check of a part."""
    controls = Control.objects.filter(aircraft=aircraft)
    if subjects is not None:
        controls = controls.filter(slug__in=subjects)
    boxes = boxes_of(aircraft)
    for c in controls:
        checks = with_editions([*_rod_ends(c, boxes), *_part_checks(c)])
        yield Judged(c.slug, tuple(checks), c.order)


def _rod_ends(c: Control, boxes: list[Box]) -> Iterable[Check]:
    rods = list(
        Rod.objects.filter(mechanism__control=c).exclude(record={}).select_related("mechanism")
    )
    if not rods:
        return
    bodies = Body.objects.filter(mechanism__control=c)
    points = dict(bodies.values_list("slug", "points_m"))
    for rod in rods:
        built = built_rod(rod)
        for end, held in (("a", rod.a), ("b", rod.b)):
            verdict, mend = judged_end(built, end)
            name = f"{rod.slug.replace('_', ' ')} at {held['body'].replace('_', ' ')}"
            yield Check(
                key=f"rod end {rod.pk} {end}",
                what=f"{c.name}: thread in rod {name}",
                said=mend,
                verdict=verdict,
                state=verdict.value,
                bays=bay_at(points.get(held["body"], {}).get(held["point"], ()), boxes),
                concern=f"rod end {rod.pk} {end}",
                link=f"controls/{c.slug}/linkage?rod={rod.slug}",
            )


def _part_checks(c: Control) -> Iterable[Check]:
    surfaces = Surface.objects.filter(control=c, bay__isnull=False)
    bays = tuple(sorted(set(surfaces.values_list("bay__slug", flat=True))))
    for p in PartCheck.objects.filter(control=c):
        what = f"{p.kind.replace('_', ' ')} of {p.subject.replace('_', ' ')}"
        yield Check(
            key=f"part check {p.pk}",
            what=f"{c.name}: {what}",
            said=p.verdict,
            verdict=Verdict(p.verdict),
            state=p.verdict,
            bays=bays,
            concern=f"part check {p.pk}",
            link=f"controls/{c.slug}/linkage",
            rule=p.rule,
            inputs=p.inputs,
        )


def _of(row: Body | Rod) -> Iterable[tuple[int, str]]:
    yield row.aircraft_id, row.mechanism.control.slug


LINKAGES = declare(
    Trade(
        "linkages",
        20,
        _judge,
        {
            Control: lambda x: [(x.aircraft_id, x.slug)],
            Mechanism: lambda x: [(x.aircraft_id, x.control.slug)],
            Body: _of,
            Rod: _of,
            PartCheck: lambda x: [(x.aircraft_id, x.control.slug)],
            Surface: lambda x: [(x.aircraft_id, x.control.slug)],
            Bay: whole,
        },
    )
)


@rigs
def turned(aircraft: str, surface: str) -> tuple[str, dict[str, Any]] | None:
    """What was turned on the mechanism that moves a surface."""
    found = Mechanism.objects.filter(
        aircraft__slug=aircraft, control__surfaces__slug=surface
    ).first()
    return (found.slug, rig_of(found)) if found else None
