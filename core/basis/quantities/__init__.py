"""Quantities as people type them: parsed with our grammar, converted with pint, shown back."""

from core.basis.quantities.formatting import format_quantity
from core.basis.quantities.grammar import parse, parse_many
from core.basis.quantities.ranges import TypedRange, parse_range
from core.basis.quantities.units import (
    DIMENSIONS,
    FOOT,
    INCH,
    LB,
    LBF,
    Dimension,
    Quantity,
    from_si,
    to_si,
)
from core.basis.quantities.whole import whole

__all__ = [
    "DIMENSIONS",
    "FOOT",
    "INCH",
    "LB",
    "LBF",
    "Dimension",
    "Quantity",
    "TypedRange",
    "format_quantity",
    "from_si",
    "parse",
    "parse_many",
    "parse_range",
    "to_si",
    "whole",
]
