"""What cables tell the lane, the linkage that goes through them, and the stand-ins' hand."""

from __future__ import annotations

import json
from collections.abc import Iterable
from datetime import date
from functools import lru_cache
from typing import Any

from django.db.models.signals import post_delete, post_save
from django.dispatch import receiver

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.signoff.closing import Concern
from server.aircraft.concerns import Told, register
from server.aircraft.models import Bay
from server.cables.judging import judge_loop
from server.cables.keeping import file_of, rigging_of
from server.cables.models import Cable, Loop
from server.controls.linkage.keeping import couples
from server.controls.models import Control
from server.instruments.reading import rigs


@register("cables")
def cable_concerns(aircraft: list[int]) -> Iterable[Told]:
    """Each check of a loop, in the bay where it is; those of the whole loop in all its bays."""
    today = date.today().isoformat()
    for loop in Loop.objects.filter(aircraft__in=aircraft).select_related("control"):
        whole = tuple(dict.fromkeys(b for c in loop.judged for b in c["bays"]))
        for c in loop.judged:
            overdue = bool(c["due"] and c["due"] < today)
            yield (
                loop.aircraft_id,
                Concern(
                    id=f"cable {loop.pk} {c['key']}",
                    subject=f"{loop.control.name}, {c['what']}",
                    bays=tuple(c["bays"]) or whole,
                    step=c["step"],
                    state="due" if overdue else c["state"],
                    verdict=Verdict.TOO_CLOSE if overdue else Verdict(c["verdict"]),
                    link=f"cables/{loop.control.slug}?part={_part(c['part'])}",
                ),
            )


@receiver([post_save, post_delete], sender=Bay)
def follow_bays(instance: Bay, **_: Any) -> None:
    """A bay's edges moved: what lies in it is found anew."""
    for loop in Loop.objects.filter(aircraft=instance.aircraft_id):
        judge_loop(loop)


def _part(part: str) -> str:
    return part if part in ("route", "ends") else "tension"


@couples
def coupling(control: Control, driver: str, driven: str) -> list[list[float]] | None:
    """What a body drives through this control's cables: [its q, the driven q], from the loop."""
    loop = Loop.objects.filter(control=control).first()
    if loop is None:
        return None
    if (loop.driver.get("body"), loop.driven.get("body")) != (driver, driven):
        return None
    return _curve(json.dumps(file_of(loop), sort_keys=True))


@lru_cache(maxsize=64)
def _curve(file: str) -> list[list[float]] | None:
    """The coupling of a cables file: each is solved once."""
    try:
        return Rigged(rigging_from(json.loads(file))).curve()
    except Refused:
        return None


@rigs
def turned(aircraft: str, place: str) -> tuple[str, dict[str, Any]] | None:
    """How far each side was drawn in, m, for the control (or a surface) of that name."""
    rows = Loop.objects.filter(aircraft__slug=aircraft).select_related("control")
    loop = rows.filter(control__slug=place).first()
    loop = loop or rows.filter(control__surfaces__slug=place).first()
    if loop is None:
        return None
    rigging = rigging_of(loop)
    drawn = {}
    for cable in Cable.objects.filter(loop=loop):
        buckle = rigging.cables[cable.side].turnbuckle
        drawn[cable.side] = cable.turns * buckle.travel_per_turn_m if buckle else 0.0
    return f"{loop.slug}-cables", {"cables": drawn}
