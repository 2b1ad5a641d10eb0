"""Fields and words that several sheets of wiring ask and say alike."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.wiring.tables import GAUGES
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, run, said

TRADE = "wires"
GAUGE = tuple((g, f"AWG {g}") for g in GAUGES)
RATED = (("105", "105 °C"), ("150", "150 °C"), ("200", "200 °C"))


def amps(key: str, name: str, label: str, **more: Any) -> Field:
    """A current."""
    return Field(key, name, label, "current", "A", **more)


def ohms(key: str, name: str, label: str, unit: str = "ohm", **more: Any) -> Field:
    """A resistance."""
    return Field(key, name, label, "resistance", unit, **more)


def number(key: str, name: str, label: str, **more: Any) -> Field:
    """A bare number, its unit in the label."""
    return Field(key, name, label, "number", "1", **more)


def awg(key: str, name: str, label: str, **more: Any) -> Field:
    """A gauge of the table."""
    return Field(key, name, label, "choice", choices=GAUGE, **more)


def yes(key: str, name: str, label: str, **more: Any) -> Field:
    """Yes, no, or not said."""
    return Field(key, name, label, "yes", **more)


def ident(label: str, hint: str = "", **more: Any) -> Field:
    """A row's name."""
    return Field("id", "id", label, hint=hint, **({"needed": True} | more))


def points(key: str, name: str, label: str, **more: Any) -> Field:
    """Points in space: three lengths for each."""
    return Field(
        key, name, label, "length", many=0, hint="1800; -300; 200; 3000; -300; 200", **more
    )


def triples(values: Sequence[float], field: str) -> list[list[float]]:
    """Lengths as points. Refuses a number of them that is no multiple of three."""
    if not values or len(values) % 3:
        raise Refused(field, "needs three for each point: station; butt line; water line")
    return [list(values[n : n + 3]) for n in range(0, len(values), 3)]


def plain(row: Mapping[str, Any], *names: str) -> dict[str, Any]:
    """Those of a row's values that were said."""
    return {n: row[n] for n in names if n in row}


def each(
    rows: Iterable[Mapping[str, Any]], table: str, rule: str, inputs: Any
) -> Iterable[tuple[Mapping[str, Any], dict[str, Any], dict[str, Any]]]:
    """Every row with what its rule takes and says; a refusal names the row."""
    for row in rows:
        asked = inputs(row)
        try:
            yield row, asked, run(rule, asked)
        except Refused as refusal:
            name = row.get("id", "a row")
            raise Refused(table, f"{name}: {refusal.field} {refusal.reason}") from None


def checked(
    row: Mapping[str, Any], what: str, words: str, verdict: Any, rule: str, inputs: Any
) -> Check:
    """A check of one row."""
    name = str(row.get("id", what))
    return said(f"{what} {name}", f"{name}: {what}", words, Verdict(verdict), rule, inputs)


def sheet(
    id: str, part: str, title: str, asks: str, fields: tuple[Field, ...], work: Any,
    caution: str, step: str = "reading", **more: Any,
) -> Kind:  # fmt: skip
    """Declare a kind of this trade."""
    return declare(Kind(id, TRADE, part, title, asks, fields, work, caution, step, **more))


def shown(verdict: str, words: str, missing: Sequence[str]) -> tuple[Verdict, str]:
    """What may be said where somebody must say more first."""
    if not missing:
        return Verdict(verdict), words
    return Verdict.NOT_MEASURED, f"{words} Not said: {', '.join(missing)}."


__all__ = [
    "GAUGE",
    "RATED",
    "TRADE",
    "Asked",
    "Check",
    "Field",
    "Refused",
    "Verdict",
    "Worked",
    "amps",
    "awg",
    "checked",
    "each",
    "ident",
    "number",
    "ohms",
    "plain",
    "points",
    "run",
    "said",
    "sheet",
    "shown",
    "triples",
    "yes",
]  # fmt: skip
