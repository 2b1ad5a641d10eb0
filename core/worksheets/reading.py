"""A worksheet as typed, read by its kind's fields: SI under the rules' names, refused by field."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from datetime import date
from typing import Any

from core.basis.quantities import DIMENSIONS, parse, parse_many, whole
from core.basis.refused import Refused
from core.worksheets.kinds import Field, Kind

MOST_ROWS, MOST_TEXT = 200, 200
YES = {"yes": True, "no": False}
# From a `thing` field and what was typed in it to what it stands for; None: there is none.
Things = Callable[[Field, str], Any]


def read(
    kind: Kind, typed: Mapping[str, Any], unit: str, thing: Things
) -> tuple[dict[str, Any], dict[str, Any]]:
    """(values by the rules' names, things by theirs); `unit`: of a bare length.

    Refuses what is no field of the kind, what is needed and blank, and what cannot be read.
    """
    _known(typed, {f.key for f in kind.fields}, "")
    values: dict[str, Any] = {}
    things: dict[str, Any] = {}
    for f in kind.fields:
        given = typed.get(f.key, [] if f.of == "table" else "")
        if f.of == "table":
            rows = _rows(f, given, unit)
            if f.needed and not rows:
                raise Refused(f.key, "needs at least one row")
            if rows:
                values[f.name] = rows
            continue
        text = _text(given, f.key)
        if not text:
            if f.needed:
                raise Refused(f.key, "is needed")
            continue
        if f.of == "thing":
            try:
                things[f.name] = thing(f, text)
            except Refused as refusal:
                raise Refused(f.key, f"{refusal.field} {refusal.reason}") from None
            if things[f.name] is None:
                raise Refused(f.key, "is not one of this aircraft")
            continue
        values[f.name] = one(f, text, unit, f.key)
    return values, things


def clean(kind: Kind, typed: Mapping[str, Any]) -> dict[str, Any]:
    """What is kept of what was typed: its texts, and rows in which something stands."""
    found: dict[str, Any] = {}
    for f in kind.fields:
        given = typed.get(f.key)
        if f.of == "table":
            rows = [{k: v for k, v in r.items() if str(v).strip()} for r in given or []]
            found[f.key] = [r for r in rows if r]
        elif given is not None and str(given).strip():
            found[f.key] = str(given).strip()
    return found


def one(f: Field, text: str, unit: str, at: str) -> Any:
    """One field's value; refuses under the name `at`."""
    if f.of in DIMENSIONS:
        return _quantity(f, text, unit, at)
    readers: dict[str, Callable[[], Any]] = {
        "text": lambda: text,
        "choice": lambda: _choice(f, text, at),
        "yes": lambda: _choice_of(YES, text, at),
        "date": lambda: _date(text, at),
        "whole": lambda: _whole(text, at),
        "numbers": lambda: [_whole(w, at) for w in re.split(r"\s*;\s*", text) if w],
        "words": lambda: [w for w in re.split(r"\s*;\s*", text) if w],
    }
    return readers[f.of]()


def _quantity(f: Field, text: str, unit: str, at: str) -> Any:
    bare = f.unit or (unit if f.of == "length" else DIMENSIONS[f.of].si)
    if f.many is None:
        return parse(text, f.of, bare, at).si * f.scale
    values = [q.si * f.scale for q in parse_many(text, f.of, bare, at)]
    if f.many and len(values) != f.many:
        raise Refused(at, f"needs {f.many} values parted by ;")
    return values


def _rows(f: Field, given: Any, unit: str) -> list[dict[str, Any]]:
    if not isinstance(given, list):
        raise Refused(f.key, "must be rows")
    if len(given) > MOST_ROWS:
        raise Refused(f.key, f"at most {MOST_ROWS} rows")
    found = []
    for n, row in enumerate(given, 1):
        if not isinstance(row, dict):
            raise Refused(f.key, f"row {n}: must have its fields")
        _known(row, {c.key for c in f.columns}, f.key)
        texts = {c.key: _text(row.get(c.key, ""), f.key) for c in f.columns}
        if not any(texts.values()):
            continue
        try:
            found.append(_row(f.columns, texts, unit))
        except Refused as refusal:
            label = next((c.label for c in f.columns if c.key == refusal.field), refusal.field)
            raise Refused(f.key, f"row {n}, {label}: {refusal.reason}") from None
    return found


def _row(columns: Sequence[Field], texts: Mapping[str, str], unit: str) -> dict[str, Any]:
    row = {}
    for c in columns:
        if texts[c.key]:
            row[c.name] = one(c, texts[c.key], unit, c.key)
        elif c.needed:
            raise Refused(c.key, "is needed")
    return row


def _known(given: Mapping[str, Any], known: set[str], at: str) -> None:
    for key in given:
        if key not in known:
            where = f" in {at}" if at else ""
            raise Refused(str(key)[:60], f"is not asked here{where}")


def _text(given: Any, at: str) -> str:
    if not isinstance(given, str):
        raise Refused(at, "must be text as typed")
    if len(given) > MOST_TEXT:
        raise Refused(at, f"at most {MOST_TEXT} characters")
    return given.strip()


def _choice(f: Field, text: str, at: str) -> Any:
    return _choice_of({v: v for v, _ in f.choices}, text, at)


def _choice_of(known: Mapping[str, Any], text: str, at: str) -> Any:
    if text not in known:
        raise Refused(at, "must be one of: " + ", ".join(known))
    return known[text]


def _date(text: str, at: str) -> str:
    try:
        return date.fromisoformat(text).isoformat()
    except ValueError:
        raise Refused(at, "must be a day such as 2031-04-12") from None


def _whole(text: str, at: str) -> int:
    found = whole(text)
    if found is None:
        raise Refused(at, "must be a whole number")
    return found
