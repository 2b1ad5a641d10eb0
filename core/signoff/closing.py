"""What stands behind a closure, from the concerns of every capability (`signoff.gate`).

A concern is the one shape in which a capability tells what it has in a bay. The gate is
made from concerns alone: those in the bays behind the closure, those of the closure itself,
and one for each capability that knows nothing of a bay.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from core.basis.checks import STEPS, Check
from core.basis.verdicts import Verdict
from core.signoff.gate import Gate, Item, Override, gate

NOT_DESCRIBED = "not measured"


@dataclass(frozen=True, slots=True)
class Concern:
    """One thing in one or more bays: what it is, how it stands, whose it is, where to go.

    `step`: the gate's step it counts under. `state`: that step's word, or why it does not
    pass. `closure`: set if it belongs to one closure alone (its tool count, its photo).
    """

    id: str
    subject: str
    bays: tuple[str, ...]
    step: str
    state: str
    verdict: Verdict
    owner: str = "nobody"
    link: str = ""
    closure: str = ""

    @property
    def passes(self) -> bool:
        """Whether it stands in the way of nothing."""
        return self.state in STEPS[self.step]

    @property
    def item(self) -> Item:
        """As the gate takes it."""
        return Item(self.step, self.id, self.state, self.owner)


def not_described(bays: Iterable[str], known: Mapping[str, set[str]]) -> list[Check]:
    """A check for each trade that has no data for a bay, and nobody said it is empty.

    known: for each trade that must describe every bay, the bays it knows something of, or
    that a person has declared empty of it.
    """
    return [
        Check(
            key=trade,
            what=f"{trade}: nothing is recorded here, and nobody said there is none",
            said=NOT_DESCRIBED,
            verdict=Verdict.NOT_MEASURED,
            step="reading" if trade == "controls" else "task",
            state=NOT_DESCRIBED,
            bays=(bay,),
            concern=f"{trade} in {bay}",
            link=f"bays/{bay}",
        )
        for bay in bays
        for trade, described in known.items()
        if bay not in described
    ]


class Lot:
    """All concerns of an aircraft, ordered by bay and by closure, each with its item once."""

    def __init__(self, concerns: Iterable[Concern]) -> None:
        self.concerns = tuple(concerns)
        self._items = [c.item for c in self.concerns]
        self._bays: dict[str, list[int]] = defaultdict(list)
        self._closures: dict[str, list[int]] = defaultdict(list)
        for n, c in enumerate(self.concerns):
            if c.closure:
                self._closures[c.closure].append(n)
            else:
                for bay in c.bays:
                    self._bays[bay].append(n)

    def in_bay(self, bay: str) -> list[Concern]:
        """What lies in a bay; what belongs to one closure alone is left out."""
        return [self.concerns[n] for n in self._bays.get(bay, ())]

    def behind(self, closure: str, bays: Iterable[str]) -> tuple[list[Concern], list[Item]]:
        """What lies behind a closure over these bays, in the order given, with its items."""
        found = set(self._closures.get(closure, ()))
        for bay in bays:
            found.update(self._bays.get(bay, ()))
        order = sorted(found)
        return [self.concerns[n] for n in order], [self._items[n] for n in order]


def closing_gate(
    closure: str,
    kind: str,
    purpose: str,
    bays: Sequence[str],
    lot: Lot,
    overrides: Sequence[Override] = (),
) -> tuple[Gate, list[Concern]]:
    """The gate of a closure over these bays, and the concerns it was made from.

    Refuses what `gate` refuses; among the concerns must be the closure's tool count.
    """
    concerns, items = lot.behind(closure, bays)
    return gate(kind, purpose, items, overrides), concerns
