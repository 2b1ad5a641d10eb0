"""What people leave behind as a trade: loose ends, findings, pictures of witness marks."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import Max

from core.basis.checks import Check
from core.basis.verdicts import Verdict
from core.hardware.witness import photo_state
from server.accounts.models import Person
from server.hardware.models import Joint
from server.kit.trade import Judged, Subjects, Trade, declare
from server.record.models import Finding, LooseEnd, Photo


def _loose_ends(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    """Those not ended."""
    rows = LooseEnd.objects.filter(aircraft=aircraft, ended_at__isnull=True)
    if subjects is not None:
        rows = rows.filter(pk__in=[int(s) for s in subjects])
    for e in rows.select_related("bay", "left_by").order_by("id"):
        check = Check(
            key="open",
            what=e.what,
            said=e.reason,
            verdict=Verdict.NOT_MEASURED,
            step="loose end",
            state=f"until {e.ends_with}",
            bays=(e.bay.slug,) if e.bay else (),
            concern=f"loose end {e.pk}",
            owner=e.left_by.name,
            link="loose-ends",
        )
        yield Judged(str(e.pk), (check,), e.pk)


def _findings(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    """Those not closed."""
    rows = Finding.objects.filter(aircraft=aircraft, closed_at__isnull=True)
    if subjects is not None:
        rows = rows.filter(pk__in=[int(s) for s in subjects])
    for f in rows.select_related("bay", "raised_by"):
        check = Check(
            key="open",
            what=f.text,
            said=f.answer,
            verdict=Verdict.OUT,
            step="finding",
            state="answered" if f.answer else "open",
            bays=(f.bay.slug,) if f.bay else (),
            concern=f"finding {f.pk}",
            owner=f.raised_by.name,
            link=f"bays/{f.bay.slug}" if f.bay else "",
        )
        yield Judged(str(f.pk), (check,), f.pk)


def _witness_photos(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    """Joints that ask for a picture of their witness mark: one older than the torque is none."""
    joints = Joint.objects.filter(aircraft=aircraft, photo_needed=True).select_related("bay")
    if subjects is not None:
        joints = joints.filter(slug__in=subjects)
    pictures = Photo.objects.filter(aircraft=aircraft, target="joint", shows="witness mark")
    latest = dict(pictures.order_by().values_list("target_id").annotate(last=Max("taken_at")))
    for j in joints:
        state = photo_state(latest.get(j.slug), j.torqued_at)
        check = Check(
            key="witness mark",
            what=f"{j.name}: picture of the witness mark",
            said=state,
            verdict=Verdict.IN if state == "present" else Verdict.NOT_MEASURED,
            step="photo",
            state=state,
            bays=(j.bay.slug,) if j.bay else (),
            concern=f"photo {j.slug}",
            link=f"joints?joint={j.slug}",
        )
        yield Judged(j.slug, (check,), j.pk)


def _of_photo(p: Photo) -> Iterable[tuple[int, str]]:
    if p.target == "joint":
        yield p.aircraft_id, p.target_id


def _named(person: Person) -> Iterable[tuple[int, str]]:
    """Somebody is called otherwise: what is theirs is listed anew."""
    for aircraft in person.memberships.values_list("aircraft", flat=True):
        yield aircraft, ""


LOOSE_ENDS = declare(
    Trade(
        "loose ends",
        50,
        _loose_ends,
        {LooseEnd: lambda x: [(x.aircraft_id, str(x.pk))], Person: _named},
    )
)
FINDINGS = declare(
    Trade(
        "findings", 55, _findings, {Finding: lambda x: [(x.aircraft_id, str(x.pk))], Person: _named}
    )
)
PHOTOS = declare(
    Trade(
        "photos",
        60,
        _witness_photos,
        {Joint: lambda x: [(x.aircraft_id, x.slug)], Photo: _of_photo},
    )
)
