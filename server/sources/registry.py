"""What every capability has from documents, so that those that disagree are found."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

from core.signoff.documents import Statement
from server.aircraft.models import Aircraft, Member, Source
from server.kit.trade import watch, whole


@dataclass(frozen=True)
class Said:
    """What one document says of one thing. `key` names the row (`requirement:12`)."""

    aircraft: int
    thing: str
    key: str
    statement: Statement
    shown: str
    cited: str
    page: str = ""
    dimension: str = ""
    bay: str = ""
    link: str = ""
    family: str = ""

    @property
    def kind(self) -> str:
        """Which capability's row it is: the key up to its colon."""
        return self.key.partition(":")[0]


@dataclass(frozen=True)
class Decided:
    """The decision on a thing that a capability keeps itself."""

    aircraft: int
    thing: str
    chosen: str
    reason: str
    by: str
    at: str


# The things that are asked for, case folded; None: all.
Only = frozenset[str] | None
Provider = Callable[[list[int], Only], Iterable[Said]]
Decisions = Callable[[list[int]], Iterable[Decided]]
Decide = Callable[[Member, str, str], None]
Revised = Callable[[Aircraft, Source], None]


@dataclass
class Registry:
    """All that registered."""

    providers: list[Provider] = field(default_factory=list)
    decisions: list[Decisions] = field(default_factory=list)
    deciders: dict[str, Decide] = field(default_factory=dict)
    revised: list[Revised] = field(default_factory=list)


registry = Registry()


def says(*models: Any) -> Callable[[Provider], Provider]:
    """Add what a capability has from documents, and the rows that it takes that from."""

    def add(provider: Provider) -> Provider:
        registry.providers.append(provider)
        for model in models:
            watch("sources", model, whole)
        return provider

    return add


def keeps_decisions(kind: str, decisions: Decisions, decide: Decide) -> None:
    """A capability that decides between its own rows: their keys begin with `kind:`."""
    registry.decisions.append(decisions)
    registry.deciders[kind] = decide


def on_revision(told: Revised) -> Revised:
    """Be told when a document got another revision."""
    registry.revised.append(told)
    return told
