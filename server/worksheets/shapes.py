"""Worksheets as the API answers them."""

from __future__ import annotations

from typing import Any, TypedDict

from core.basis.refused import Refused
from core.basis.verdicts import SEVERITY, Verdict, worst
from core.worksheets.kinds import KINDS, Field, Kind, Worked
from server.config.words import Word
from server.kit.models import Check as Row
from server.kit.showing import CheckShown, check_shown, row_shown
from server.kit.standing import of_subject, of_subjects
from server.worksheets import starting
from server.worksheets.models import Worksheet
from server.worksheets.working import kept, name_of, offered


class ChoiceShown(TypedDict):
    """One of a field's words."""

    value: str
    word: str


class ColumnShown(TypedDict):
    """A column of a table: as a field."""

    key: str
    label: str
    of: str
    unit: str
    hint: str
    needed: bool
    limit: bool
    choices: list[ChoiceShown]


class FieldShown(ColumnShown):
    """One thing asked; `under`: its heading; `things`: among which of the page's things it
    chooses."""

    under: str
    things: str
    columns: list[ColumnShown]


class StarterShown(TypedDict):
    """A filled-in beginning. live: as it stands now, so that a kept sheet may take it anew."""

    name: str
    live: bool
    typed: dict[str, Any]


class KindShown(TypedDict):
    """A kind of worksheet."""

    id: str
    part: str
    title: str
    asks: str
    caution: str
    fields: list[FieldShown]
    starters: list[StarterShown]


class FactShown(TypedDict):
    """A further answer, in words."""

    label: str
    text: str


class WorkedShown(TypedDict):
    """What the rules say of a sheet; `verdict` null: it compares and judges nothing. figure:
    what its drawing needs."""

    verdict: Word | None
    checks: list[CheckShown]
    facts: list[FactShown]
    figure: dict[str, Any]


class SheetRow(TypedDict):
    """A sheet in the list."""

    slug: str
    name: str
    kind: str
    part: str
    title: str
    verdict: Word | None
    open: list[str]


class SheetsPage(TypedDict):
    """All sheets of a trade on an aircraft, and the kinds there are."""

    count: int
    results: list[SheetRow]
    kinds: list[KindShown]
    things: dict[str, list[ChoiceShown]]


class SheetShown(SheetRow):
    """A sheet with all that was entered and what the rules say of it."""

    version: int
    typed: dict[str, Any]
    bays: list[str]
    stands_in: list[str]
    source: int | None
    cited: str
    page: str
    to_scale: bool
    worked: WorkedShown


def kind_shown(k: Kind) -> KindShown:
    """A kind with its fields."""
    return KindShown(
        id=k.id,
        part=k.part,
        title=k.title,
        asks=k.asks,
        caution=k.caution,
        fields=[
            FieldShown(
                **_column(f),
                under=f.under,
                things=name_of(k, f) if f.of == "thing" else "",
                columns=[_column(c) for c in f.columns],
            )
            for f in k.fields
        ],
        starters=[StarterShown(name=n, live=False, typed=dict(t)) for n, t in k.starters.items()],
    )


def _column(f: Field) -> ColumnShown:
    return ColumnShown(
        key=f.key,
        label=f.label,
        of=f.of,
        unit=f.unit,
        hint=f.hint,
        needed=f.needed,
        limit=f.limit,
        choices=[ChoiceShown(value=v, word=w) for v, w in f.choices],
    )


def worked_shown(w: Worked, checks: list[CheckShown]) -> WorkedShown:
    """What the rules say."""
    return WorkedShown(
        verdict=_verdict([c["verdict"] for c in checks]),
        checks=checks,
        facts=[FactShown(label=name, text=words) for name, words in w.facts],
        figure=dict(w.figure),
    )


def tried(w: Worked) -> WorkedShown:
    """Of a sheet that is not kept."""
    return worked_shown(w, [check_shown(c) for c in w.checks])


def _verdict(words: list[Word]) -> Word | None:
    return worst(Verdict(w) for w in words).value if words else None


def row(w: Worksheet, checks: list[Row]) -> SheetRow:
    """A sheet for a list, with its kept checks."""
    order = {v.value: n for n, v in enumerate(SEVERITY)}
    found = sorted((row_shown(c) for c in checks), key=lambda c: order[c["verdict"]])
    return SheetRow(
        slug=w.slug,
        name=w.name,
        kind=w.kind,
        part=w.of.part,
        title=w.of.title,
        verdict=_verdict([c["verdict"] for c in found]),
        open=[
            f"{c['what'][:1].upper()}{c['what'][1:]}: {c['said']}"
            for c in found
            if c["verdict"] not in ("in", "accepted")
        ],
    )


def shown(w: Worksheet) -> SheetShown:
    """A sheet in full."""
    checks = of_subject(w.aircraft_id, "worksheets", w.slug)
    try:
        now = kept(w)
    except Refused:
        now = Worked()  # Its check says that it cannot be worked out any more.
    return SheetShown(
        **row(w, checks),
        version=w.version,
        typed=w.typed,
        bays=w.bays,
        stands_in=sorted({b for c in checks for b in c.bays}),
        source=w.source_id,
        cited=w.cited,
        page=w.page,
        to_scale=w.of.to_scale,
        worked=worked_shown(now, [row_shown(c) for c in checks]),
    )


def _begun(aircraft: int, trade: str, kinds: list[KindShown]) -> list[KindShown]:
    """With what another trade would begin them with."""
    for kind, (name, typed) in starting.begun(aircraft, trade, [k["id"] for k in kinds]).items():
        shown = next(k for k in kinds if k["id"] == kind)
        shown["starters"].append(StarterShown(name=name, live=True, typed=dict(typed)))
    return kinds


def page(aircraft: int, trade: str) -> SheetsPage:
    """All of a trade."""
    kinds = [k for k in KINDS.values() if k.trade == trade]
    rows = list(Worksheet.objects.filter(aircraft=aircraft, kind__in=[k.id for k in kinds]))
    checks = of_subjects(aircraft, "worksheets", [w.slug for w in rows])
    found = [row(w, checks.get(w.slug, [])) for w in rows]
    names = {name_of(k, f) for k in kinds for f in k.fields if f.of == "thing"}
    return SheetsPage(
        count=len(found),
        results=found,
        kinds=_begun(aircraft, trade, [kind_shown(k) for k in kinds]),
        things={
            n: [ChoiceShown(value=v, word=w) for v, w in offered(n, aircraft)]
            for n in sorted(names)
        },
    )
