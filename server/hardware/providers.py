"""What the joints tell the lane and the gates."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from core.basis.verdicts import Verdict
from core.signoff.closing import Concern
from server.aircraft.concerns import Told, owners, register
from server.hardware.judging import Check, compound_check
from server.hardware.models import Joint
from server.instruments.models import Instrument

FIELDS = ("aircraft", "slug", "name", "bay__slug")


def _bays(aircraft: int) -> Iterable[str]:
    rows = Joint.objects.filter(aircraft=aircraft, bay__isnull=False)
    return rows.values_list("bay__slug", flat=True).distinct()


@register("joints", knows=_bays)
def joint_concerns(aircraft: list[int]) -> Iterable[Told]:
    """Each joint's securing state, and each check that a rule made of it."""
    rows = Joint.objects.filter(aircraft__in=aircraft)
    names = owners(aircraft)
    for plane, slug, name, bay, why in rows.values_list(*FIELDS, "why"):
        bays = (bay,) if bay else ()
        link = f"joints?joint={slug}"
        yield (
            plane,
            Concern(
                id=f"joint {slug}",
                subject=name,
                bays=bays,
                step="joint",
                state="; ".join(why) or "final",
                verdict=_secured(why) if why else Verdict.IN,
                owner=names.get(plane, "nobody"),
                link=link,
            ),
        )
    troubled = rows.exclude(verdict="in").exclude(judged=[])
    for plane, slug, name, bay, judged in troubled.values_list(*FIELDS, "judged"):
        for check in judged:
            if check["verdict"] == "in":
                continue
            yield plane, _checked(slug, name, bay, check)


def _checked(slug: str, name: str, bay: str | None, check: Check) -> Concern:
    """What a rule says of a joint, as a concern of its own."""
    return Concern(
        id=f"{check['what']} {slug}",
        subject=f"{name}: {check['said']}",
        bays=(bay,) if bay else (),
        step="reading",
        state=check["verdict"],
        verdict=Verdict(check["verdict"]),
        link=f"joints?joint={slug}",
    )


def _secured(why: list[str]) -> Verdict:
    broken = {"witness mark broken", "disturbed since torque"} & set(why)
    return Verdict.STALE if broken else Verdict.NOT_MEASURED


@register("instruments")
def overdue_wrenches(aircraft: list[int]) -> Iterable[Told]:
    """Torque wrenches past their calibration: in no bay, but in the way."""
    rows = Instrument.objects.filter(
        aircraft__in=aircraft, kind="torque", calibration_due__lt=date.today()
    )
    for i in rows:
        due = i.calibration_due.isoformat() if i.calibration_due else ""
        yield (
            i.aircraft_id,
            Concern(
                id=f"instrument {i.pk}",
                subject=f"{i.name}: calibration was due on {due}",
                bays=(),
                step="reading",
                state="too close",
                verdict=Verdict.TOO_CLOSE,
                link="joints",
            ),
        )


@register("compounds")
def compounds_past_their_date(aircraft: list[int]) -> Iterable[Told]:
    """Joints not yet torqued whose compound has gone past its date since they were judged."""
    rows = Joint.objects.filter(
        aircraft__in=aircraft, torqued_at__isnull=True, compound__isnull=False
    ).select_related("compound", "bay")
    for j in rows:
        check = compound_check(j)
        told = any(c["what"] == "compound" and c["verdict"] != "in" for c in j.judged)
        if check is not None and check["verdict"] != "in" and not told:
            yield j.aircraft_id, _checked(j.slug, j.name, j.bay.slug if j.bay else "", check)
