"""Torque ranges that joints cite, for the comparison of documents."""

from __future__ import annotations

from collections.abc import Iterable

from core.basis.quantities import parse_range
from core.signoff.documents import Statement
from server.hardware.models import Joint
from server.sources.registry import Only, Said, says


@says(Joint)
def torques(aircraft: list[int], only: Only = None) -> Iterable[Said]:
    """Each joint's required torque with its document."""
    rows = Joint.objects.filter(
        aircraft__in=aircraft, torque_low_nm__isnull=False, torque_source__isnull=False
    )
    if only is not None:
        # Thousands of joints: only those named are read whole.
        named = rows.values_list("pk", "name")
        rows = rows.filter(pk__in=[pk for pk, name in named if _thing(name).casefold() in only])
    for j in rows.select_related("torque_source", "bay"):
        typed = parse_range(j.torque_typed, "torque", "Nm", "torque")
        key = f"joint:{j.slug}"
        assert j.torque_source is not None
        yield Said(
            aircraft=j.aircraft_id,
            thing=_thing(j.name),
            key=key,
            statement=Statement(key, "range", typed.lo, typed.hi, typed.unit, typed.resolution),
            shown=j.torque_typed,
            cited=j.torque_source.cited,
            page=j.torque_page,
            dimension="torque",
            bay=j.bay.slug if j.bay else "",
            link=f"joints?joint={j.slug}",
        )


def _thing(name: str) -> str:
    return f"{name}: torque"
