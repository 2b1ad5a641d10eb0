"""Checks kept as rows: made anew in the transaction of each change, and read in one query."""

from __future__ import annotations

import hashlib
import json
import zlib
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from datetime import date
from operator import itemgetter
from pathlib import Path
from typing import Any

from django.db import connection, transaction
from django.db.models import Case, Q, Subquery, TextField, When
from django.db.models.functions import Cast

from core.basis.checks import Check, Later
from core.basis.verdicts import Verdict
from core.signoff.closing import Concern
from server.aircraft.models import Aircraft, Member
from server.config.bounds import AT_ONCE
from server.kit import dirty
from server.kit.models import Check as Row
from server.kit.models import JudgedBy
from server.kit.trade import DESCRIBED, Judged, trades

COMPARED = (
    "rank",
    "order",
    "place",
    "concern",
    "about",
    "what",
    "said",
    "verdict",
    "step",
    "state",
    "bays",
    "owner",
    "link",
    "closure",
    "quiet",
    "due_on",
    "later",
    "rule",
    "edition",
    "inputs",
    "origins",
    "part",
    "side",
)
ROOT = Path(__file__).parents[2]
READ = ("concern", "about", "what", "bays", "step", "state", "verdict", "owner", "link", "closure")


@dirty.settled_by
def settle() -> None:
    """Judge anew what changed, one writer at a time for each trade of an aircraft."""
    while marks := dirty.taken():
        with transaction.atomic(savepoint=False):
            for (aircraft, name), subjects in sorted(marks.items()):
                keep(aircraft, name, None if "" in subjects else subjects)


def keep(aircraft: int, name: str, subjects: Iterable[str] | None = None) -> None:
    """Judge subjects of a trade (all: None) and write what differs."""
    with connection.cursor() as cursor:
        lock = [aircraft, zlib.crc32(name.encode()) & 0x7FFFFFFF]
        cursor.execute("SELECT pg_advisory_xact_lock(%s, %s)", lock)
    asked = None if subjects is None else sorted(subjects)
    rows = Row.objects.filter(aircraft=aircraft, trade=name)
    if asked is not None:
        rows = rows.filter(subject__in=asked)
    known = {(r.subject, r.key): r for r in rows}
    changed = []
    for row in _rows(aircraft, name, trades()[name].judge(aircraft, asked)):
        old = known.pop((row.subject, row.key), None)
        if old is None or any(getattr(old, f) != getattr(row, f) for f in COMPARED):
            changed.append(row)
    if known:
        Row.objects.filter(pk__in=[r.pk for r in known.values()]).delete()
    if changed:
        Row.objects.bulk_create(
            changed,
            batch_size=AT_ONCE,
            update_conflicts=True,
            unique_fields=["aircraft", "trade", "subject", "key"],
            update_fields=COMPARED,
        )


def _rows(aircraft: int, name: str, judged: Iterable[Judged]) -> Iterable[Row]:
    for subject in judged:
        for place, check in enumerate(subject.checks):
            yield _row(aircraft, name, subject, place, check)


def _row(aircraft: int, name: str, subject: Judged, place: int, c: Check) -> Row:
    return Row(
        aircraft_id=aircraft,
        trade=name,
        subject=subject.subject,
        key=c.key,
        rank=trades()[name].rank,
        order=subject.order,
        place=place,
        concern=c.concern or f"{name} {subject.subject} {c.key}",
        about=c.about,
        what=c.what,
        said=c.said,
        verdict=c.verdict.value,
        step=c.step,
        state=c.word,
        bays=list(c.bays),
        owner=c.owner,
        link=c.link,
        closure=c.closure,
        quiet=c.quiet,
        due_on=c.later[0].on if c.later else None,
        later=[
            {"on": x.on.isoformat(), "state": x.state, "verdict": x.verdict.value, "what": x.what}
            for x in c.later
        ],
        rule=c.rule,
        edition=c.edition,
        inputs=dict(c.inputs),
        origins=dict(c.origins),
        part=c.part,
        side=c.side,
    )


def keep_all(aircraft: int) -> None:
    """Every trade of one aircraft, all anew."""
    with transaction.atomic():
        for name in trades():
            keep(aircraft, name)


def renewed() -> None:
    """Judge every aircraft anew if another program than this one judged what is kept: a rule
    that changed must not leave its old word in a gate."""
    digest = _digest()
    with transaction.atomic():
        kept = JudgedBy.objects.select_for_update().first() or JudgedBy()
        if kept.digest == digest:
            return
        for aircraft in Aircraft.objects.order_by("pk").values_list("pk", flat=True):
            keep_all(aircraft)
        kept.digest = digest
        kept.save()


def _digest() -> str:
    """Of all source that may bear on a verdict."""
    digest = hashlib.sha256()
    for part in ("core", "server"):
        for path in sorted((ROOT / part).rglob("*")):
            if path.suffix in (".py", ".json"):
                digest.update(path.read_bytes())
    return digest.hexdigest()


def differences(aircraft: int) -> list[str]:
    """Where the rows differ from what judging anew says: nothing, if all is well."""
    settle()
    found = []
    for name, trade in trades().items():
        rows = Row.objects.filter(aircraft=aircraft, trade=name)
        kept = {(r.subject, r.key): r for r in rows}
        for row in _rows(aircraft, name, trade.judge(aircraft, None)):
            at = f"{name} {row.subject} {row.key}"
            old = kept.pop((row.subject, row.key), None)
            if old is None:
                found.append(f"{at}: is not kept")
                continue
            found += [
                f"{at}: {f} is {getattr(old, f)!r}, should be {getattr(row, f)!r}"
                for f in COMPARED
                if getattr(old, f) != getattr(row, f)
            ]
        found += [f"{name} {s} {k}: is kept and should not be" for s, k in kept]
    return found


# Reading


ORDER = ("rank", "order", "place")


def _listed(today: date) -> Q:
    """Rows that are listed: loud ones, and quiet ones that do not pass or may not today."""
    return Q(quiet=False) | ~Q(verdict="in") | Q(due_on__lte=today)


def _past(today: date) -> Case:
    """What the calendar changes, of rows whose day has come, as text: of all others it is not
    even read, and no row is looked at for what it would have to be made into."""
    text = Cast("later", TextField())
    return Case(When(due_on__lte=today, then=text), default=None, output_field=TextField())


def concerns(aircraft: int) -> list[Concern]:
    """Every concern of one aircraft, in one query; nobody's are the builder's."""
    settle()
    today = date.today()
    builder = Member.objects.filter(aircraft=aircraft, role="owner").values("person__name")[:1]
    rows = Row.objects.filter(_listed(today), aircraft=aircraft).annotate(
        builder=Subquery(builder), past=_past(today)
    )
    found = []
    listed = rows.order_by().values_list(*ORDER, "quiet", "past", "builder", *READ)
    # Put in order here: the database takes ten times as long for it.
    for _, _, _, quiet, past, owner, *values in sorted(listed, key=itemgetter(0, 1, 2)):
        changes = json.loads(past) if past else ()
        concern = _concern(values, owner or "nobody", changes, today)
        if not (quiet and concern.passes):
            found.append(concern)
    return found


# By its word: nothing is sought for among them thousands of times.
VERDICTS = {v.value: v for v in Verdict}


def _concern(
    values: Sequence[Any], owner: str, later: Sequence[dict[str, str]], today: date
) -> Concern:
    name, about, what, bays, step, state, verdict, own, link, closure = values
    for change in later:
        if change["on"] <= today.isoformat():
            what = change["what"] or what
            state, verdict = change["state"], change["verdict"]
    return Concern(
        id=name,
        subject=f"{about}, {what}" if about else what,
        bays=tuple(bays),
        step=step,
        state=state,
        verdict=VERDICTS[verdict],
        owner=own or owner,
        link=link,
        closure=closure,
    )


def counts(aircraft: Sequence[int]) -> dict[int, Counter[str]]:
    """How many of each verdict, for several aircraft; what belongs to a closure alone left out."""
    settle()
    today = date.today()
    found: dict[int, Counter[str]] = {key: Counter() for key in aircraft}
    rows = Row.objects.filter(_listed(today), aircraft__in=aircraft, closure="")
    rows = rows.exclude(trade=DESCRIBED)
    rows = rows.annotate(past=_past(today))
    for plane, quiet, verdict, past in rows.values_list("aircraft", "quiet", "verdict", "past"):
        if past:
            verdict = [x for x in json.loads(past) if x["on"] <= today.isoformat()][-1]["verdict"]
        if not (quiet and verdict == "in"):
            found[plane][verdict] += 1
    return found


def of_subject(aircraft: int, trade: str, subject: str) -> list[Row]:
    """The checks of one subject, in their order."""
    settle()
    return list(Row.objects.filter(aircraft=aircraft, trade=trade, subject=subject))


def of_subjects(aircraft: int, trade: str, subjects: Iterable[str]) -> dict[str, list[Row]]:
    """The checks of several subjects, by subject."""
    settle()
    found: dict[str, list[Row]] = defaultdict(list)
    for r in Row.objects.filter(aircraft=aircraft, trade=trade, subject__in=list(subjects)):
        found[r.subject].append(r)
    return found


def later(*changes: tuple[date | None, str, Verdict, str]) -> tuple[Later, ...]:
    """Changes by the calendar, those without a day left out, earliest first."""
    known = [Later(on, state, verdict, what) for on, state, verdict, what in changes if on]
    return tuple(sorted(known, key=lambda x: x.on))
