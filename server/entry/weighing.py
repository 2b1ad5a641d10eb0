"""Lines about scales in full: which weighing they belong to, and what it would be then."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.entry.weighing import Weighed
from core.weight.book import Book, Row, labels
from core.weight.checks import weighing_checks
from core.weight.entry import may_read
from core.weight.rows import READ, WEIGHING
from server.aircraft.models import Aircraft
from server.weight.reading import book_of
from server.weight.steps import of_scale

KEYS = ("result", "read")


def at_work(b: Book) -> Row | None:
    """The weighing that is being done: the last entered whose scales are not all read, else the
    last."""
    rows = b.of(WEIGHING)
    unread = [w for w in rows if any(x not in w.read for x in labels(w))]
    found = unread or rows
    return found[-1] if found else None


def wheels_of(aircraft: Aircraft) -> Iterable[tuple[str, str]]:
    """Slug of the weighing that is being done, and each of its wheels."""
    try:
        w = at_work(book_of(aircraft))
    except Refused:
        return
    for label in labels(w) if w else ():
        yield w.slug, label  # type: ignore[union-attr]


def in_words(aircraft: Aircraft, said: Weighed) -> dict[str, Any]:
    """What the line does, where it goes, how it is taken back, and what the weighing would say."""
    b = book_of(aircraft)
    w = next(x for x in b.of(WEIGHING) if x.slug == said.weighing)
    kg = parse(said.value, "mass", "kg", "entry").si
    try:
        may_read(b, w, said.wheel, kg)
    except Refused as refusal:
        raise Refused("entry", refusal.reason) from None
    u = of_scale(b, w, said.wheel)
    reading = {"doing": READ, "wheel": said.wheel, "kg": kg} | ({} if u is None else {"u_kg": u})
    after = replace(w, log=(*w.log, reading))
    book = Book(tuple(after if x.slug == w.slug else x for x in b.rows))
    try:
        checks = {c.key: c for c in weighing_checks(book, after)}
    except Refused as refusal:
        raise Refused("entry", f"{refusal.field} {refusal.reason}") from None
    at = f"weight/rows/{w.slug}/steps"
    return {
        "said": f"{w.name}, {said.wheel} wheel: {said.value}",
        "path": at,
        "body": {"doing": READ, "item": "", "wheel": said.wheel, "shown": said.value, "u": "",
                 "note": ""},
        "undo_path": f"{at}/{{}}/undo",
        "would": next((checks[k] for k in KEYS if k in checks), None),
    }  # fmt: skip
