"""What changed in this transaction and has not been judged anew yet.

Kept for the running thread alone. Whoever reads checks settles them first; the rest is settled
before a write's transaction ends (`server.config.idempotency`), and after it at the latest.
"""

from __future__ import annotations

import threading
from collections.abc import Callable

from django.db import transaction

# (aircraft, trade) -> subjects; "" among them means all.
Marks = dict[tuple[int, str], set[str]]
_here = threading.local()
_settle: list[Callable[[], None]] = []


def mark(aircraft: int, trade: str, subject: str = "") -> None:
    """This subject of this trade (all of them: "") must be judged anew."""
    marks = _marks()
    if not marks:
        transaction.on_commit(_after, robust=True)
    marks.setdefault((aircraft, trade), set()).add(subject)


def taken() -> Marks:
    """All marks, which are thereby taken away."""
    marks = _marks()
    _here.marks = {}
    return marks


def forget() -> None:
    """The transaction was taken back: nothing changed."""
    _here.marks = {}


def _marks() -> Marks:
    if not hasattr(_here, "marks"):
        _here.marks = {}
    found: Marks = _here.marks
    return found


def settled_by(settle: Callable[[], None]) -> Callable[[], None]:
    """Register what settles."""
    _settle.append(settle)
    return settle


def _after() -> None:
    if _marks():
        with transaction.atomic():
            for settle in _settle:
                settle()
