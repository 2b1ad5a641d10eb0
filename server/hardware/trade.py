"""Joints as a trade: each joint's securing state and each check of it; wrenches past their day."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta

from core.basis.checks import Check, Later
from core.basis.verdicts import Verdict
from server.hardware.judging import checks_of, last_use
from server.hardware.models import Compound, Joint, JointEvent, StockItem
from server.instruments.models import Instrument
from server.kit.trade import Judged, Subjects, Trade, declare

WITH = ("aircraft", "bay", "bolt", "nut", "compound")


def _bays(aircraft: int) -> Iterable[str]:
    rows = Joint.objects.filter(aircraft=aircraft, bay__isnull=False)
    return rows.values_list("bay__slug", flat=True).distinct()


def _joints(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    rows = Joint.objects.filter(aircraft=aircraft).select_related(*WITH)
    rows = rows.prefetch_related("events__instrument", "events__by")
    if subjects is not None:
        rows = rows.filter(slug__in=subjects)
    for j in rows:
        yield Judged(j.slug, tuple(joint_checks(j)), j.pk)


def joint_checks(j: Joint) -> Iterable[Check]:
    """Whether it is secured, and what each rule says of it."""
    bays = (j.bay.slug,) if j.bay else ()
    link = f"joints?joint={j.slug}"
    yield Check(
        key="secured",
        what=j.name,
        said="; ".join(j.why) or "final",
        verdict=_secured(j.why) if j.why else Verdict.IN,
        step="joint",
        state="; ".join(j.why) or "final",
        bays=bays,
        concern=f"joint {j.slug}",
        link=link,
    )
    for c in checks_of(j):
        yield Check(
            key=c.key,
            what=f"{j.name}: {c.said}",
            said=c.said,
            verdict=c.verdict,
            bays=bays,
            concern=f"{c.key} {j.slug}",
            link=link,
            quiet=True,
            later=_later(j) if c.key == "compound" and c.verdict is Verdict.IN else (),
            rule=c.rule,
            edition=c.edition,
            inputs=c.inputs,
        )


def _later(j: Joint) -> tuple[Later, ...]:
    """A compound that is not used yet goes past its date by itself."""
    if j.compound is None or j.torqued_at is not None:
        return ()
    tin = j.compound
    said = f"{tin.name}, batch {tin.batch or 'not given'}: expired"
    said += f" (good until {tin.expiry_on.isoformat()})"
    over = last_use(tin) + timedelta(days=1)
    return (Later(over, "out", Verdict.OUT, f"{j.name}: {said}"),)


def _secured(why: list[str]) -> Verdict:
    broken = {"witness mark broken", "disturbed since torque"} & set(why)
    return Verdict.STALE if broken else Verdict.NOT_MEASURED


def _of_stock(item: StockItem) -> Iterable[tuple[int, str]]:
    used = Joint.objects.filter(bolt=item) | Joint.objects.filter(nut=item)
    for slug in used.values_list("slug", flat=True):
        yield item.aircraft_id, slug


def _of_compound(tin: Compound) -> Iterable[tuple[int, str]]:
    for slug in Joint.objects.filter(compound=tin).values_list("slug", flat=True):
        yield tin.aircraft_id, slug


JOINTS = declare(
    Trade(
        "joints",
        40,
        _joints,
        {
            Joint: lambda x: [(x.aircraft_id, x.slug)],
            JointEvent: lambda x: [(x.aircraft_id, x.joint.slug)],
            StockItem: _of_stock,
            Compound: _of_compound,
        },
        _bays,
        (Joint,),
    )
)


def _wrenches(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    """Torque wrenches with a day of calibration: in no bay, but in the way once it is past."""
    rows = Instrument.objects.filter(
        aircraft=aircraft, kind="torque", calibration_due__isnull=False
    )
    if subjects is not None:
        rows = rows.filter(pk__in=[int(s) for s in subjects])
    for i in rows:
        assert i.calibration_due is not None
        yield Judged(str(i.pk), (_wrench(i, i.calibration_due),), i.pk)


def _wrench(i: Instrument, due: date) -> Check:
    what = f"{i.name}: calibration was due on {due.isoformat()}"
    return Check(
        key="calibration",
        what=f"{i.name}: calibration",
        said=f"In date until {due.isoformat()}.",
        verdict=Verdict.IN,
        concern=f"instrument {i.pk}",
        link="joints",
        quiet=True,
        later=(Later(due + timedelta(days=1), "too close", Verdict.TOO_CLOSE, what),),
    )


INSTRUMENTS = declare(
    Trade("instruments", 45, _wrenches, {Instrument: lambda x: [(x.aircraft_id, str(x.pk))]})
)
