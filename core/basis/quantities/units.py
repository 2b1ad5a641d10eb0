"""The units that each dimension is typed and shown in, and their conversion to SI (pint)."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import pint

from core.basis.refused import Refused

# Exact by definition (international yard and pound agreement, 1959; standard gravity).
INCH, FOOT = 0.0254, 0.3048
LBF, LB = 4.4482216152605, 0.45359237

_registry: pint.UnitRegistry[float] = pint.UnitRegistry(cache_folder=None)


@dataclass(frozen=True)
class Dimension:
    """A kind of quantity: its SI unit, and the spellings accepted for each unit name."""

    name: str
    si: str
    spellings: dict[str, str]
    pint_names: dict[str, str]
    # The unit pairs that may stand together ("2' 3 in"): each smaller one with the number
    # of it that makes one of the larger.
    compound: tuple[tuple[str, str, float], ...] = ()


@dataclass(frozen=True)
class Quantity:
    """A typed quantity. `si` in the dimension's SI unit; `unit` as understood."""

    si: float
    unit: str
    dimension: str
    as_typed: str


def _spell(**units: str) -> dict[str, str]:
    return {spelling: unit for unit, spellings in units.items() for spelling in spellings.split()}


DIMENSIONS: dict[str, Dimension] = {
    d.name: d
    for d in (
        Dimension(
            "length",
            "m",
            _spell(
                mm="mm millimeter millimeters millimetre millimetres",
                cm="cm",
                m="m meter meters metre metres",
                ft="ft foot feet '",
            )
            | {"in": "in", "inch": "in", "inches": "in", '"': "in"},
            {"mm": "millimeter", "cm": "centimeter", "m": "meter", "in": "inch", "ft": "foot"},
            (("ft", "in", 12.0),),
        ),
        Dimension(
            "angle",
            "rad",
            _spell(deg="deg ° degree degrees", rad="rad")
            | {"'": "arcmin", "arcmin": "arcmin", '"': "arcsec", "arcsec": "arcsec"},
            {"deg": "degree", "rad": "radian", "arcmin": "arcminute", "arcsec": "arcsecond"},
            (("deg", "arcmin", 60.0), ("arcmin", "arcsec", 60.0)),
        ),
        Dimension(
            "force",
            "N",
            _spell(N="n newton newtons", lbf="lb lbs lbf", kgf="kgf kp", daN="dan"),
            {"N": "newton", "lbf": "force_pound", "kgf": "force_kilogram", "daN": "decanewton"},
        ),
        Dimension(
            "temperature",
            "K",
            _spell(C="c °c degc celsius", F="f °f degf", K="k"),
            {"C": "degC", "F": "degF", "K": "kelvin"},
        ),
        Dimension(
            "mass",
            "kg",
            _spell(kg="kg", g="g", lb="lb lbs", oz="oz"),
            {"kg": "kilogram", "g": "gram", "lb": "pound", "oz": "ounce"},
        ),
        Dimension(
            "torque",
            "N*m",
            _spell(Nm="nm", inlb="inlb inlbf inlbs", ftlb="ftlb ftlbf ftlbs"),
            {"Nm": "newton*meter", "inlb": "force_pound*inch", "ftlb": "force_pound*foot"},
        ),
        Dimension(
            "pressure",
            "Pa",
            _spell(
                Pa="pa", hPa="hpa mbar mb", kPa="kpa", MPa="mpa", GPa="gpa", psi="psi", ksi="ksi"
            ),
            {
                "Pa": "pascal",
                "hPa": "hectopascal",
                "kPa": "kilopascal",
                "MPa": "megapascal",
                "GPa": "gigapascal",
                "psi": "psi",
                "ksi": "kilopsi",
            },
        ),
        Dimension(
            "volume",
            "m^3",
            # Gallons: of the United States, 231 cubic inches; and the imperial one.
            _spell(
                l="l litre litres liter liters",
                ml="ml cc",
                gal="gal usgal",
                impgal="impgal ukgal",
            ),
            {"l": "liter", "ml": "milliliter", "gal": "gallon", "impgal": "imperial_gallon"},
        ),
        Dimension(
            "moment",
            "kg*m",
            _spell(kgm="kgm", kgmm="kgmm", lbin="lbin", lbft="lbft"),
            {
                "kgm": "kilogram*meter",
                "kgmm": "kilogram*millimeter",
                "lbin": "pound*inch",
                "lbft": "pound*foot",
            },
        ),
        Dimension(
            "density",
            "kg/m^3",
            {"kg/m3": "kg/m3", "kg/m³": "kg/m3", "kg/l": "kg/l", "g/ml": "kg/l"}
            | {"lb/gal": "lb/gal", "lb/usgal": "lb/gal"},
            {"kg/m3": "kilogram/meter**3", "kg/l": "kilogram/liter", "lb/gal": "pound/gallon"},
        ),
        Dimension(
            "speed",
            "m/s",
            {"m/s": "m/s", "km/h": "km/h", "kmh": "km/h", "ft/min": "ft/min", "fpm": "ft/min"}
            | _spell(kt="kt kts kn knot knots", mph="mph"),
            {
                "m/s": "meter/second",
                "km/h": "kilometer/hour",
                "kt": "knot",
                "mph": "mile/hour",
                "ft/min": "foot/minute",
            },
        ),
        Dimension(
            "current", "A", _spell(A="a amp amps", mA="ma"), {"A": "ampere", "mA": "milliampere"}
        ),
        Dimension(
            "voltage", "V", _spell(V="v volt volts", mV="mv"), {"V": "volt", "mV": "millivolt"}
        ),
        Dimension(
            "resistance",
            "ohm",
            # A small and a large m are told apart: a milliohm is no megohm.
            _spell(
                ohm="ohm ohms ω",
                mohm="milliohm milliohms mohm mohms mΩ",
                kohm="kohm kohms kΩ",
                Mohm="megohm megohms Mohm Mohms MΩ",
            ),
            {"ohm": "ohm", "mohm": "milliohm", "kohm": "kiloohm", "Mohm": "megaohm"},
        ),
        Dimension(
            "time",
            "s",
            _spell(s="s sec second seconds", min="min minute minutes", h="h hour hours"),
            {"s": "second", "min": "minute", "h": "hour"},
        ),
        Dimension(
            "flow",
            "m^3/s",
            {"l/h": "l/h", "l/min": "l/min", "ml/min": "ml/min", "gal/h": "gal/h", "gph": "gal/h"},
            # The gallon of the United States, 231 cubic inches.
            {
                "l/h": "liter/hour",
                "l/min": "liter/minute",
                "ml/min": "milliliter/minute",
                "gal/h": "gallon/hour",
            },
        ),
        # A bare number, such as a ratio: it has no unit that could be typed.
        Dimension("number", "1", {}, {"1": "dimensionless"}),
    )
}


def dimension(name: str) -> Dimension:
    """The dimension of that name; refuses one that is not known."""
    try:
        return DIMENSIONS[name]
    except KeyError:
        raise Refused("dimension", f"{name} is not one of {', '.join(DIMENSIONS)}") from None


@lru_cache(maxsize=256)
def _line(pint_name: str, si: str) -> tuple[float, float]:
    """Every unit here is a straight line onto SI: (value of one step, value of zero)."""
    zero = float(_registry.Quantity(0.0, pint_name).to(_SI_PINT[si]).magnitude)
    one = float(_registry.Quantity(1.0, pint_name).to(_SI_PINT[si]).magnitude)
    return one - zero, zero


_SI_PINT = {
    "m": "meter",
    "rad": "radian",
    "N": "newton",
    "K": "kelvin",
    "kg": "kilogram",
    "N*m": "newton*meter",
    "Pa": "pascal",
    "m^3": "meter**3",
    "kg*m": "kilogram*meter",
    "kg/m^3": "kilogram/meter**3",
    "m/s": "meter/second",
    "m^3/s": "meter**3/second",
    "A": "ampere",
    "V": "volt",
    "ohm": "ohm",
    "s": "second",
    "1": "dimensionless",
}


def to_si(value: float, unit: str, of: str) -> float:
    """`value` in `unit` of dimension `of`, in SI. Refuses a unit the dimension has not."""
    slope, zero = _line(_pint_name(unit, of), DIMENSIONS[of].si)
    return value * slope + zero


def from_si(si: float, unit: str, of: str) -> float:
    """An SI value in `unit` of dimension `of`."""
    slope, zero = _line(_pint_name(unit, of), DIMENSIONS[of].si)
    return (si - zero) / slope


def _pint_name(unit: str, of: str) -> str:
    names = dimension(of).pint_names
    if unit not in names:
        raise Refused("unit", f"{unit} is not a unit of {of}: use {', '.join(names)}")
    return names[unit]
