"""Figures by outside diameter: least bend radius, support spacing (AC 43.13-1B ch. 9)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any

from core.basis.reference import table

SIXTEENTH_M = 0.0254 / 16
INCH_M = 0.0254
ROUNDING_M = 1e-6
MATERIALS = ("aluminium", "steel")
# Findings are sorted pairs [code, subject].
Findings = Annotated[tuple[tuple[str, Any], ...], "Sorted pairs [code, subject]."]
FINDINGS_OF = "Sorted pairs [code, subject]."


def column(what: str, material: str) -> list[tuple[float, Any]]:
    """(outside diameter m, figure) of each row that has one, rising."""
    return [
        (row["od"] * SIXTEENTH_M, row[what][material])
        for row in table("tubes")["rows"]
        if material in row.get(what, {})
    ]


def sorted_findings(found: Sequence[tuple[str, Any]]) -> tuple[tuple[str, Any], ...]:
    """By code, then by subject: numbers by size, words by letters."""
    return tuple(sorted(found, key=lambda f: (f[0], isinstance(f[1], str), f[1])))
