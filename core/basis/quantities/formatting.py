"""Quantities shown back in the user's units: decimals, or inches as fractions."""

from __future__ import annotations

from fractions import Fraction

from core.basis.quantities.units import from_si
from core.basis.refused import Refused, choice, finite

SYMBOLS = {"1": "", "deg": "°", "C": " °C", "F": " °F", "arcmin": "'", "arcsec": '"'}


def format_quantity(
    si: float, of: str, unit: str, decimals: int = 1, fraction: int | None = None
) -> str:
    """`si` of dimension `of` written in `unit` with `decimals` places.

    With `fraction` (32 or 64) a length in inches is written as a mixed fraction to the
    nearest 1/32 or 1/64, shortened. Refuses other fractions, and fractions of other units.
    """
    value = from_si(finite(si, "value"), unit, of)
    if fraction is None:
        shown = f"{value:.{decimals}f}"
        if float(shown) == 0.0:
            shown = shown.lstrip("-")
        return shown + SYMBOLS.get(unit, f" {unit}")
    if unit != "in":
        raise Refused("unit", "fractions are written for inches only")
    choice(str(fraction), ("32", "64"), "fraction")
    return _mixed(value, fraction) + " in"


def _mixed(value: float, step: int) -> str:
    steps = round(abs(value) * step)
    whole, rest = divmod(steps, step)
    sign = "-" if value < 0 and steps else ""
    if rest == 0:
        return f"{sign}{whole}"
    part = Fraction(rest, step)
    shown = f"{part.numerator}/{part.denominator}"
    return f"{sign}{whole}-{shown}" if whole else f"{sign}{shown}"
