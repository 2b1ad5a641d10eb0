"""What loose ends, findings and missing photos tell the lane and the gates."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from django.db.models import Max

from core.basis.verdicts import Verdict
from core.signoff.closing import Concern
from server.aircraft.concerns import Told, register
from server.hardware.models import Joint
from server.record.models import Finding, LooseEnd, Photo


@register("loose ends")
def loose_ends(aircraft: list[int]) -> Iterable[Told]:
    """Those not ended."""
    rows = LooseEnd.objects.filter(aircraft__in=aircraft, ended_at__isnull=True)
    for e in rows.select_related("bay", "left_by"):
        yield (
            e.aircraft_id,
            Concern(
                id=f"loose end {e.pk}",
                subject=e.what,
                bays=(e.bay.slug,) if e.bay else (),
                step="loose end",
                state=f"until {e.ends_with}",
                verdict=Verdict.NOT_MEASURED,
                owner=e.left_by.name,
                link="loose-ends",
            ),
        )


@register("findings")
def findings(aircraft: list[int]) -> Iterable[Told]:
    """Those not closed."""
    rows = Finding.objects.filter(aircraft__in=aircraft, closed_at__isnull=True)
    for f in rows.select_related("bay", "raised_by"):
        yield (
            f.aircraft_id,
            Concern(
                id=f"finding {f.pk}",
                subject=f.text,
                bays=(f.bay.slug,) if f.bay else (),
                step="finding",
                state="answered" if f.answer else "open",
                verdict=Verdict.OUT,
                owner=f.raised_by.name,
                link=f"bays/{f.bay.slug}" if f.bay else "",
            ),
        )


@register("photos")
def witness_photos(aircraft: list[int]) -> Iterable[Told]:
    """Joints that ask for a picture of their witness mark: one older than the torque is none."""
    joints = Joint.objects.filter(aircraft__in=aircraft, photo_needed=True).select_related("bay")
    latest = {
        (p["aircraft"], p["target_id"]): p["last"]
        for p in Photo.objects.filter(aircraft__in=aircraft, target="joint", shows="witness mark")
        .values("aircraft", "target_id")
        .annotate(last=Max("taken_at"))
        .order_by()
    }
    for j in joints:
        state = _photo_state(j, latest.get((j.aircraft_id, j.slug)))
        yield (
            j.aircraft_id,
            Concern(
                id=f"photo {j.slug}",
                subject=f"{j.name}: picture of the witness mark",
                bays=(j.bay.slug,) if j.bay else (),
                step="photo",
                state=state,
                verdict=Verdict.IN if state == "present" else Verdict.NOT_MEASURED,
                link=f"joints?joint={j.slug}",
            ),
        )


def _photo_state(j: Joint, taken: datetime | None) -> str:
    if taken is None:
        return "missing"
    if j.torqued_at is None:
        return "not torqued yet"
    return "present" if taken >= j.torqued_at else "older than the torque"
