"""What linkages tell the lane (thread in rod ends, checks of parts) and the stand-in's hand."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from typing import Any

from core.basis.checks import Check
from core.basis.verdicts import Verdict
from core.runs.bays import Box
from server.aircraft.models import Bay
from server.controls.linkage.built import built_rod, judged_end, rig_of
from server.controls.linkage.models import Body, Mechanism, PartCheck, Rod
from server.controls.models import Control, Surface
from server.instruments.reading import rigs
from server.kit.gathering import by_key
from server.kit.placing import bay_at, boxes_of, with_editions
from server.kit.trade import Judged, Subjects, Trade, declare, whole


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    """Every rod end with a record, in the bay where it is; and every check of a part."""
    controls = Control.objects.filter(aircraft=aircraft)
    if subjects is not None:
        controls = controls.filter(slug__in=subjects)
    boxes, mine = boxes_of(aircraft), list(controls)
    rods = Rod.objects.filter(mechanism__control__in=mine).exclude(record={})
    of_rods = by_key(rods.select_related("mechanism"), lambda r: r.mechanism.control_id)
    bodies = Body.objects.filter(mechanism__control__in=mine if of_rods else [])
    points = {
        (control, body): at
        for control, body, at in bodies.values_list("mechanism__control", "slug", "points_m")
    }
    parts = by_key(PartCheck.objects.filter(control__in=mine), lambda p: p.control_id)
    surfaces = Surface.objects.filter(control__in=mine, bay__isnull=False)
    bays: dict[int, set[str]] = defaultdict(set)
    for control, bay in surfaces.values_list("control", "bay__slug"):
        bays[control].add(bay)
    for c in mine:
        ends = _rod_ends(c, of_rods[c.pk], points, boxes)
        checks = with_editions([*ends, *_part_checks(c, parts[c.pk], tuple(sorted(bays[c.pk])))])
        yield Judged(c.slug, tuple(checks), c.order)


def _rod_ends(
    c: Control, rods: Iterable[Rod], points: Mapping[tuple[int, str], Any], boxes: list[Box]
) -> Iterable[Check]:
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
                bays=bay_at(points.get((c.pk, held["body"]), {}).get(held["point"], ()), boxes),
                concern=f"rod end {rod.pk} {end}",
                link=f"controls/{c.slug}/linkage?rod={rod.slug}",
            )


def _part_checks(c: Control, parts: Iterable[PartCheck], bays: tuple[str, ...]) -> Iterable[Check]:
    for p in parts:
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
