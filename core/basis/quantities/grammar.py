"""The grammar of typed quantities.

A quantity is one or more terms, each a number and perhaps a unit. A number is a decimal
(`4.25`, `4,25`), a fraction (`3/16`) or a mixed number (`4 1/4`, `4-1/4`). More than one
term is allowed only for units that belong together, largest first: `2' 3-1/2"`,
`27° 30'`. What is not understood is refused with what is accepted; nothing is guessed.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from core.basis.quantities.units import Dimension, Quantity, dimension, to_si
from core.basis.refused import Refused, finite

_NUMBER = r"(?:[0-9]+[ -][0-9]+/[0-9]+|[0-9]+/[0-9]+|[0-9]+(?:[.,][0-9]+)*|[.,][0-9]+)"
_UNIT = (
    r"(?:(?:m/s|km/h|ft/min|m?l/min|l/h|gal/h|kg/m[3³]|kg/l|g/ml|lb/(?:us)?gal)(?![A-Za-z])"
    r"|°\s?[cCfF](?![a-z])"
    r"|[°'\"]|[kmM]?Ω|[A-Za-z]+)"
)
_TERM = re.compile(rf"\s*(?P<number>{_NUMBER})\s*(?P<unit>{_UNIT})?(?P<joint>\s*-\s*(?=[0-9]))?")
# Some units are written in many ways: in-lb, in·lbf, N m; kg m, lb-in; US gal.
_JOINED = {
    "torque": re.compile(r"\b(in|ft|n)[ .·*-]*(lbf|lbs|lb|m)\b", re.IGNORECASE),
    "moment": re.compile(r"\b(kg|lb)s?[ .·*-]*(mm|m|in|ft)\b", re.IGNORECASE),
    "volume": re.compile(r"\b(us|imp|uk)[ .]*(gal)\b", re.IGNORECASE),
}
_SAME = str.maketrans(
    {"−": "-", "–": "-", "’": "'", "′": "'", "″": '"', "”": '"', "º": "°", "\u2126": "Ω"}
)
_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}


def parse(text: str, of: str, unit: str, field: str = "value") -> Quantity:
    """What was typed, as an SI value of dimension `of`; a bare number is in `unit`.

    Refuses empty text, words, NaN and infinity, units of another dimension, units that do
    not belong together, and a comma that could be either decimal or thousands.
    """
    dim = dimension(of)
    tidy = _tidy(text, field)
    joined = _JOINED[of].sub(r"\1\2", tidy) if of in _JOINED else tidy
    sign, body = _sign(joined, field)
    terms = _terms(body, text, field)
    units = _units(terms, dim, unit, field)
    total = 0.0
    for (number, _), u in zip(terms, units, strict=True):
        total += to_si(_value(number, field), u, of) if len(terms) > 1 else 0.0
    if len(terms) == 1:
        total = to_si(sign * _value(terms[0][0], field), units[0], of)
    else:
        _check_parts(terms, units, dim, field)
        total *= sign
    return Quantity(finite(total, field), units[0], of, text.strip())


def parse_many(text: str, of: str, unit: str, field: str = "value") -> tuple[Quantity, ...]:
    """Several readings on one line, parted by `;` or by ` / ` with spaces around it."""
    parts = [p for p in re.split(r"\s*;\s*|\s+/\s+", text.strip()) if p]
    if not parts:
        raise Refused(field, "is empty: type a number")
    return tuple(parse(p, of, unit, field) for p in parts)


def _tidy(text: str, field: str) -> str:
    if not isinstance(text, str):
        raise Refused(field, "must be text as typed")
    if len(text) > 60:
        raise Refused(field, "is too long for a quantity")
    tidy = text.translate(_SAME)
    for sign, plain in _VULGAR.items():
        tidy = re.sub(rf"(?<=\d)\s*{sign}", f" {plain}", tidy).replace(sign, plain)
    tidy = re.sub(r"\s+", " ", tidy).strip()
    if not tidy:
        raise Refused(field, "is empty: type a number")
    return tidy


def _sign(tidy: str, field: str) -> tuple[float, str]:
    if tidy[0] in "+-":
        return (-1.0 if tidy[0] == "-" else 1.0), tidy[1:].lstrip()
    return 1.0, tidy


def _terms(body: str, text: str, field: str) -> list[tuple[str, str | None]]:
    terms: list[tuple[str, str | None]] = []
    at = 0
    while at < len(body):
        found = _TERM.match(body, at)
        # `2'-3"` joins two terms with a dash; after a bare number a dash is not a joint.
        if not found or (found["joint"] and not found["unit"]):
            raise Refused(field, f"{text.strip()!r} is not a number with a unit")
        terms.append((found["number"], found["unit"]))
        at = found.end()
        if body[at:].isspace():
            break
    if not terms:
        raise Refused(field, f"{text.strip()!r} has no number: type one")
    return terms


def _units(
    terms: Iterable[tuple[str, str | None]], dim: Dimension, unit: str, field: str
) -> list[str]:
    units: list[str] = []
    for _number, spelled in terms:
        if spelled is None:
            units.append(unit)
            continue
        key = re.sub(r"\s", "", spelled)
        # A large M first is mega where the dimension has it, however the rest is written.
        large = key[:1] + key[1:].lower()
        known = dim.spellings.get(key) or dim.spellings.get(large) or dim.spellings.get(key.lower())
        if known is None:
            accepted = ", ".join(dim.pint_names)
            raise Refused(field, f"{spelled!r} is not a unit of {dim.name}: use {accepted}")
        units.append(known)
    return units


def _check_parts(
    terms: list[tuple[str, str | None]], units: list[str], dim: Dimension, field: str
) -> None:
    allowed = {(large, small): count for large, small, count in dim.compound}
    for i in range(1, len(units)):
        count = allowed.get((units[i - 1], units[i]))
        if count is None:
            raise Refused(
                field, f"{units[i - 1]} and {units[i]} do not belong together in one value"
            )
        if not re.fullmatch(r"\d+", terms[i - 1][0]):
            raise Refused(field, f"the {units[i - 1]} before {units[i]} must be a whole number")
        if _value(terms[i][0], field) >= count:
            raise Refused(field, f"{units[i]} must be under {count:g}")


def _value(number: str, field: str) -> float:
    mixed = re.fullmatch(r"(?:(\d+)[ -])?(\d+)/(\d+)", number)
    if mixed:
        whole, over, under = mixed.groups()
        if int(under) == 0:
            raise Refused(field, "a fraction cannot have 0 below its line")
        if whole is not None and int(over) >= int(under):
            raise Refused(field, f"{over}/{under} after a whole number must be under 1")
        return int(whole or 0) + int(over) / int(under)
    if number.count(",") + number.count(".") > 1:
        raise Refused(field, f"{number} has more than one decimal sign")
    if re.fullmatch(r"[1-9]\d{0,2},\d{3}", number):
        raise Refused(
            field,
            f"{number} can be read two ways: write {number.replace(',', '.')} "
            f"or {number.replace(',', '')}",
        )
    value = float(number.replace(",", "."))
    if value == float("inf"):
        raise Refused(field, "must be a finite number")
    return value
