"""A range as typed: `50 to 70 in-lb`, `35-37 deg`, `26.9 .. 27.1 mm`."""

from __future__ import annotations

import re
from dataclasses import dataclass

from core.basis.quantities.grammar import parse
from core.basis.refused import Refused

_APART = re.compile(r"\s+(?:to|-)\s+|\s*(?:\.\.\.?|…|–)\s*|(?<=[\d.])-(?=[\d.]+\s*[^\d/. -]*$)")
_UNIT = re.compile(r"[^\d.,/+\s-].*$")


@dataclass(frozen=True)
class TypedRange:
    """Both limits in SI, the unit as understood, the last printed digit in SI."""

    lo: float
    hi: float
    unit: str
    resolution: float
    as_typed: str


def parse_range(text: str, of: str, unit: str, field: str = "range") -> TypedRange:
    """Two limits with a unit after the last (a bare one is in `unit`).

    Refuses one number alone, limits the wrong way round, and units of another dimension.
    """
    said = text.strip() if isinstance(text, str) else ""
    if not said:
        raise Refused(field, "is empty: type two limits, such as 50 to 70")
    parts = _APART.split(said)
    if len(parts) != 2 or not all(p.strip() for p in parts):
        raise Refused(field, "must be two limits, such as 50 to 70")
    low, high = parts[0].strip(), parts[1].strip()
    if not _UNIT.search(low) and (own := _UNIT.search(high)):
        low = f"{low} {own[0]}"
    a, b = parse(low, of, unit, field), parse(high, of, unit, field)
    if a.si > b.si:
        raise Refused(field, "the low limit is above the high limit")
    step = max(last_digit(parts[0]), last_digit(parts[1]))
    per = parse(f"1 {b.unit}", of, unit, field).si - parse(f"0 {b.unit}", of, unit, field).si
    return TypedRange(a.si, b.si, b.unit, step * per, said)


def last_digit(number: str) -> float:
    """The value of the last printed digit: 0.1 for 26.9, 1 for 35."""
    found = re.search(r"\d+(?:[.,](\d+))?", number)
    return 10.0 ** -len(found[1]) if found and found[1] else 1.0
