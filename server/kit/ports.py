"""What one trade needs of another, as plain data: asked here, answered by whoever holds it.

Trades stand side by side and do not import one another. The one that holds joints answers for
joints, the one that holds loose ends for those; a trade that has something of a control tells
what a signature on it covers, who worked on it, and what stands in the way of signing.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Protocol

from server.accounts.models import Person
from server.aircraft.models import Aircraft, Bay


@dataclass(frozen=True)
class WantedJoint:
    """A joint that another trade's part needs; `at`: its place, m.

    A joint of this name on the same control is kept; a new `torque` is put on it.
    """

    name: str
    part: str
    control: str
    at: Sequence[float]
    more: dict[str, Any] = field(default_factory=dict)
    torque: str = ""


class Joints(Protocol):
    """What the trade that holds joints answers."""

    def keep(self, aircraft: Aircraft, by: Person, wanted: Sequence[WantedJoint]) -> list[str]:
        """Make those that are not there; the names of all that are new or changed."""

    def loosen(
        self, aircraft: Aircraft, by: Person, control: str, names: Sequence[str], said: str
    ) -> bool:
        """Those of these names are loose now; False if there are none."""

    def of(self, aircraft: int, control: str) -> bool:
        """Whether a control has any."""

    def drop(self, aircraft: int, control: str, names: Sequence[str]) -> list[str]:
        """Those of these names go, as what they were for goes; the bays they were in. Refused
        where anything was done to one."""

    def worked(self, aircraft: int, control: str) -> Iterable[tuple[str, datetime]]:
        """Who worked on the joints of a control, and when."""


class LooseEnds(Protocol):
    """What the trade that holds loose ends answers."""

    def leave(
        self,
        aircraft: Aircraft,
        by: Person,
        what: str,
        ends_with: str,
        reason: str,
        bay: Bay | None = None,
        at: datetime | None = None,
    ) -> None:
        """Something was left temporary on purpose; nothing, if that is known already."""

    def end(self, aircraft: Aircraft, by: Person, what: str, how: str) -> None:
        """It is done, wherever it was left."""


class Controls(Protocol):
    """What the trade that holds controls answers."""

    def touched(self, control: Any) -> Any:
        """Something of it changed: judged anew, and what a signature covers kept."""

    def bodies(self, control: Any) -> set[str] | None:
        """The bodies of its linkage; None where it has none."""


@dataclass
class Held:
    """Who answers."""

    joints: Joints | None = None
    loose_ends: LooseEnds | None = None
    controls: Controls | None = None


_held = Held()


def hold(
    joints: Joints | None = None,
    loose_ends: LooseEnds | None = None,
    controls: Controls | None = None,
) -> None:
    """Answer for joints, for loose ends, or for controls."""
    _held.joints = joints or _held.joints
    _held.loose_ends = loose_ends or _held.loose_ends
    _held.controls = controls or _held.controls


def controls() -> Controls:
    """Whoever holds controls."""
    assert _held.controls is not None, "no trade holds controls"
    return _held.controls


def joints() -> Joints:
    """Whoever holds joints."""
    assert _held.joints is not None, "no trade holds joints"
    return _held.joints


def loose_ends() -> LooseEnds:
    """Whoever holds loose ends."""
    assert _held.loose_ends is not None, "no trade holds loose ends"
    return _held.loose_ends


# Of a control: (fact, value) that a signature covers; reasons against signing; (person, when)
# who worked on it; and how one body drives another: [q, driven q] points.
Worked = tuple[str, datetime]
Covers = Callable[[Any], Iterable[tuple[str, Any]]]
Needs = Callable[[Any], Iterable[str]]
Works = Callable[[Any], Iterable[Worked]]
Couples = Callable[[Any, str, str], "list[list[float]] | None"]

covers: list[Covers] = []
needs: list[Needs] = []
works: list[Works] = []
couplings: list[Couples] = []


def also_covers(told: Covers) -> Covers:
    """Register what a trade has of a control, to be signed with it."""
    covers.append(told)
    return told


def also_needs(told: Needs) -> Needs:
    """Register what a trade has in the way of signing a control."""
    needs.append(told)
    return told


def also_worked(told: Works) -> Works:
    """Register who worked on what a trade has of a control."""
    works.append(told)
    return told


def couples(told: Couples) -> Couples:
    """Register who knows how one body drives another."""
    couplings.append(told)
    return told
