"""Dual inspection of flight controls: two persons, at least one independent of the work.

Which work needs it, and who may sign, is set by local regulations.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from core.basis.refused import Refused

NONE_FRESH = "no fresh signature after the work"
ONE_PERSON = "only one person signed"
NOT_INDEPENDENT = "no signer is independent of the work"


@dataclass(frozen=True)
class Signed:
    """A signature: the person (not the account), when, and whether it is still fresh."""

    person: str
    at: datetime
    fresh: bool = True


@dataclass(frozen=True)
class Dual:
    """Whether both inspections stand: the two persons, or the reason why not."""

    ok: bool
    reason: str | None = None
    first: str | None = None
    second: str | None = None


def dual_inspection(
    signatures: Sequence[Signed], workers: Sequence[str], work_done_at: datetime
) -> Dual:
    """Two different persons, fresh and at or after the work; the second is independent.

    The independent one may come first in time. Refuses nobody recorded as worker.
    """
    if not [w for w in workers if w.strip()]:
        raise Refused("workers", "nobody is recorded as having done the work")
    counted = sorted((s for s in signatures if s.fresh and s.at >= work_done_at), key=_when)
    persons = list(dict.fromkeys(s.person for s in counted))
    if not persons:
        return Dual(False, NONE_FRESH)
    if len(persons) < 2:
        return Dual(False, ONE_PERSON)
    independent = [p for p in persons if p not in workers]
    if not independent:
        return Dual(False, NOT_INDEPENDENT)
    # The independent signer who came last counts as the second, if there is a choice.
    second = independent[-1]
    first = next(p for p in persons if p != second)
    return Dual(True, None, first, second)


def _when(s: Signed) -> datetime:
    return s.at


@dataclass(frozen=True)
class Work:
    """Who worked since a scope was last inspected independently, and when last of all."""

    workers: tuple[str, ...]
    last: datetime | None


def work_since(work: Iterable[tuple[str, datetime]], inspected: datetime | None) -> Work:
    """Everyone who took or corrected a reading, turned, adjusted, torqued or spliced anything of
    a scope after the last independent signature (None: ever) has worked on it.

    work: (person, when). last: of all work, before it too. Source: independent inspection.
    """
    every = sorted(work, key=lambda w: w[1])
    since = {person for person, at in every if inspected is None or at > inspected}
    return Work(tuple(sorted(since)), every[-1][1] if every else None)
