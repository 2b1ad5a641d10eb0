"""Documents that disagree on one thing, found from what every capability registered."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.signoff.documents import Pair, Statement, compare_sources, questioned
from server.aircraft.models import Source
from server.kit.trade import Judged, Subjects, Trade, declare, whole
from server.sources.models import Resolution
from server.sources.models import Statement as Row
from server.sources.registry import Decided, Only, Said, registry, says


@dataclass(frozen=True)
class Group:
    """Statements of several documents on one thing, how they relate, and what was decided."""

    aircraft: int
    thing: str
    sides: tuple[Said, ...]
    pairs: tuple[Pair, ...]
    trouble: str
    decided: Decided | None
    stale: bool

    @property
    def decider(self) -> str:
        """The capability that decides between its own rows; empty if documents are mixed."""
        kinds = {s.kind for s in self.sides}
        return min(kinds) if len(kinds) == 1 and kinds <= set(registry.deciders) else ""

    @property
    def disagrees(self) -> bool:
        """Whether any two do not agree."""
        return bool(self.trouble) or any(p.result != "agree" for p in self.pairs)

    @property
    def open(self) -> bool:
        """Whether they disagree and nobody decided, or something changed since."""
        return self.disagrees and (self.decided is None or self.stale)


@dataclass(frozen=True)
class Odd:
    """A tolerance much wider than its neighbours."""

    said: Said
    ratio: float


@says(Row)
def statements(aircraft: list[int], only: Only = None) -> Iterable[Said]:
    """What was entered as statements of documents."""
    for r in Row.objects.filter(aircraft__in=aircraft).select_related("source", "bay"):
        if only is not None and r.thing.casefold() not in only:
            continue
        yield Said(
            aircraft=r.aircraft_id,
            thing=r.thing,
            key=f"statement:{r.pk}",
            statement=Statement(f"statement:{r.pk}", r.kind, r.lo, r.hi, r.unit, r.resolution),
            shown=r.as_typed,
            cited=r.source.cited,
            page=r.page,
            dimension=r.dimension,
            bay=r.bay.slug if r.bay else "",
            link="sources",
        )


def groups(aircraft: list[int], only: Iterable[Said] | None = None) -> list[Group]:
    """All things that two or more documents speak of, those that disagree first.

    `only`: what was said, if it was read already.
    """
    by_thing: dict[tuple[int, str], list[Said]] = defaultdict(list)
    for said in every(aircraft) if only is None else only:
        by_thing[said.aircraft, said.thing.casefold()].append(said)
    decided = {
        (d.aircraft, d.thing.casefold()): d
        for keeper in registry.decisions
        for d in keeper(aircraft)
    }
    own = {
        (r.aircraft_id, r.thing.casefold()): r
        for r in Resolution.objects.filter(aircraft__in=aircraft).select_related("by")
    }
    found = []
    for key, sides in by_thing.items():
        if len(sides) < 2:
            continue
        resolution = own.get(key)
        stale = resolution is not None and resolution.seen != seen(sides)
        group = _group(sides, _decided(resolution), stale)
        if group.decider:
            group = replace(group, decided=decided.get(key), stale=False)
        found.append(group)
    return sorted(found, key=lambda g: (not g.open, not g.disagrees, g.thing))


def every(aircraft: list[int]) -> list[Said]:
    """Everything said by documents."""
    return [said for provider in registry.providers for said in provider(aircraft, None)]


def seen(sides: Iterable[Said]) -> dict[str, str]:
    """The statements as they stand, with the revision of each document."""
    return {s.key: f"{s.cited}: {s.shown}" for s in sides}


def _group(sides: list[Said], decided: Decided | None, stale: bool) -> Group:
    if len({s.dimension for s in sides}) > 1:
        trouble = "cannot be compared: they are not of one kind (length, angle, torque)"
        return Group(sides[0].aircraft, sides[0].thing, tuple(sides), (), trouble, decided, stale)
    try:
        pairs, trouble = compare_sources([s.statement for s in sides]), ""
    except Refused as refusal:
        pairs, trouble = (), f"cannot be compared: {refusal.reason}"
    return Group(sides[0].aircraft, sides[0].thing, tuple(sides), pairs, trouble, decided, stale)


def _decided(r: Resolution | None) -> Decided | None:
    if r is None:
        return None
    return Decided(r.aircraft_id, r.thing, r.chosen, r.reason, r.by.name, r.at.isoformat())


def odd(aircraft: list[int]) -> list[Odd]:
    """Tolerances much wider than others of the same family (a control's travels)."""
    families: dict[str, dict[str, Said]] = defaultdict(dict)
    for said in every(aircraft):
        if said.family and said.statement.kind == "range":
            families[said.family][said.key] = said
    found = []
    for members in families.values():
        widths = {k: s.statement.hi - s.statement.lo for k, s in members.items()}
        found += [Odd(members[w.name], w.ratio) for w in questioned(widths)]
    return found


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    """Open conflicts in which an entered statement takes part; travel tells its own.

    Tolerances to be questioned are left to the Sources page.
    """
    entered = list(statements([aircraft], None))
    if not entered:
        return
    things = frozenset(s.thing.casefold() for s in entered)
    others = (p for p in registry.providers if p is not statements)
    for g in groups([aircraft], [*entered, *(s for p in others for s in p([aircraft], things))]):
        if g.open:
            yield Judged(g.thing[:80], (_check(g),))


def _check(g: Group) -> Check:
    return Check(
        key=g.thing[:120],
        what=f"{g.thing}: documents disagree",
        said="",
        verdict=Verdict.STALE if g.stale else Verdict.TOO_CLOSE,
        step="conflict",
        state="decided before a change" if g.stale else "open",
        bays=tuple(sorted({s.bay for s in g.sides if s.bay})),
        concern=f"conflict {g.thing}",
        link="sources",
    )


# What a document says may stand in any trade's rows: those that speak tell with `says`.
SOURCES = declare(Trade("sources", 70, _judge, {Resolution: whole, Source: whole}))
