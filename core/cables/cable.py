"""What a control cable is: size, strength, mass, stiffness.

`cables.cable_data`, `cables.stiffness_from_stretch`, `cables.cable_size_check`. Sources: the
table in `core/basis/reference/cables.json`; 14 CFR 23.689(a)(1), amendments before 23-64. The
stiffness is this product's own model, good to ±40 %: measure it to improve.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Named, OneOf
from core.basis.quantities import FOOT, INCH, LB, LBF
from core.basis.reference import table
from core.basis.refused import Refused, choice, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict
from core.cables.words import ASSUMED, CAUTION, MECHANICS, TABLE

CONSTRUCTIONS = ("7x7", "7x19")
MATERIALS = ("galvanised", "corrosion-resistant")
DENSITY = {"galvanised": 7850.0, "corrosion-resistant": 7900.0}
EFFECTIVE_MODULUS = {"7x7": 95e9, "7x19": 80e9}
WIRES_ACROSS = {"7x7": 9, "7x19": 15}
WIRES = {"7x7": 49, "7x19": 133}
STEEL_MODULUS = 200e9
STIFFNESS_SHARE = 0.20
PRIMARY_LEAST_M, PRIMARY_SLACK_M = 3.175e-3, 1e-6
MOST_STRETCH = 0.05


@dataclass(frozen=True)
class CableData:
    """Diameter m, breaking strength N, kg/m, metal area m², axial stiffness AE N and its u."""

    diameter_m: Annotated[float, "Diameter of the cable."]
    breaking_N: Annotated[float, "Breaking strength."]
    mass_per_length_kg_m: Annotated[float, "Mass per length."]
    metal_area_m2: Annotated[float, "Area of metal, from mass and density."]
    ae_N: Annotated[float, "Axial stiffness, assumed."]
    u_ae_N: Annotated[float, "Its standard uncertainty."]


@rule(
    "cables.cable_data",
    title="Cable data",
    purpose="Diameter, breaking strength, mass and assumed stiffness of a shipped cable.",
    source=TABLE,
    validity=f"Pre-stretched cable under 20 % of its breaking strength. {ASSUMED}",
    caution=CAUTION,
)
def cable_data(
    construction: Annotated[str, "7x7 or 7x19.", OneOf(("7x7", "7x19"))],
    diameter_in: Annotated[float, "Catalogue size."],
    material: Annotated[str, "Composition A or B.", OneOf(("galvanised", "corrosion-resistant"))],
) -> CableData:
    """The shipped figures of a cable. diameter_in: inch, as catalogues name it.

    Refuses unknown constructions, materials, and sizes that are not shipped.
    Source: MIL-DTL-83420 Type I as in AC 43.13-1B ch. 7; confirm against the current edition.
    """
    choice(construction, CONSTRUCTIONS, "construction")
    choice(material, MATERIALS, "material")
    positive(diameter_in, "diameter_in")
    for row in table("cables")["rows"]:
        if row["construction"] == construction and abs(row["diameter_in"] - diameter_in) <= 1e-6:
            mass = row["lb_per_1000_ft"] * LB / (1000.0 * FOOT)
            return of_figures(
                construction, material, row["diameter_in"] * INCH, row[material] * LBF, mass
            )
    raise Refused(
        "diameter_in", f"no shipped row for {construction} of this size; enter the maker's figures"
    )


def of_figures(
    construction: str, material: str, diameter_m: float, breaking_N: float, mass_kg_m: float
) -> CableData:
    """A cable from a maker's figures, with the assumed stiffness: metal area m/ρ times E_eff."""
    choice(construction, CONSTRUCTIONS, "construction")
    choice(material, MATERIALS, "material")
    area = positive(mass_kg_m, "mass_per_length_kg_m") / DENSITY[material]
    ae = area * EFFECTIVE_MODULUS[construction]
    return CableData(
        positive(diameter_m, "diameter_m"),
        positive(breaking_N, "breaking_N"),
        mass_kg_m,
        area,
        ae,
        STIFFNESS_SHARE * ae,
    )


def bending_bounds(construction: str, diameter_m: float) -> tuple[float, float]:
    """Least and most bending stiffness EI of a cable, N·m²: wires that slide, wires as one.

    This product's bounds, not a standard's.
    """
    choice(construction, CONSTRUCTIONS, "construction")
    wire = positive(diameter_m, "diameter_m") / WIRES_ACROSS[construction]
    loose = WIRES[construction] * STEEL_MODULUS * math.pi * wire**4 / 64.0
    return loose, EFFECTIVE_MODULUS[construction] * math.pi * diameter_m**4 / 64.0


@dataclass(frozen=True)
class Stiffness:
    """Axial stiffness AE, N, and its standard uncertainty."""

    ae_N: Annotated[float, "Axial stiffness."]
    u_ae_N: Annotated[float, "Its standard uncertainty."]


@rule(
    "cables.stiffness_from_stretch",
    title="Stiffness from a stretch",
    purpose="Axial stiffness measured: how far a length stretches between two loads.",
    source=MECHANICS,
    validity="Stretch up to 5 % of the length; pre-stretched cable.",
    caution=CAUTION,
)
def stiffness_from_stretch(
    length_m: Annotated[float, "Length measured."],
    load_low_N: Annotated[float, "Low load."],
    load_high_N: Annotated[float, "High load."],
    stretch_m: Annotated[float, "How much longer at the high load."],
    u_length_m: Annotated[float, "Standard uncertainty of the length."] = 0.0,
    u_load_N: Annotated[float, "Standard uncertainty of each load."] = 0.0,
    u_stretch_m: Annotated[float, "Standard uncertainty of the stretch."] = 0.0,
) -> Stiffness:
    """AE from how far a cable of this length stretches between two loads: L ΔF / ΔL.

    Refuses a load that does not rise and a stretch over 5 % of the length.
    """
    positive(length_m, "length_m")
    not_negative(load_low_N, "load_low_N")
    if finite(load_high_N, "load_high_N") <= load_low_N:
        raise Refused("load_high_N", "must be greater than load_low_N")
    if positive(stretch_m, "stretch_m") > MOST_STRETCH * length_m:
        raise Refused("stretch_m", "over 5 % of the length is not elastic stretch")
    load = load_high_N - load_low_N
    ae = length_m * load / stretch_m
    share = math.sqrt(
        (not_negative(u_length_m, "u_length_m") / length_m) ** 2
        + 2.0 * (not_negative(u_load_N, "u_load_N") / load) ** 2
        + (not_negative(u_stretch_m, "u_stretch_m") / stretch_m) ** 2
    )
    return Stiffness(ae, ae * share)


@rule(
    "cables.cable_size_check",
    title="Least size of a primary cable",
    purpose="No cable under 1/8 in in a primary control system.",
    source="14 CFR 23.689(a)(1), amendments before 23-64; tab cables 23.689(f).",
    validity="Tab cables may be smaller, with conditions.",
    caution=CAUTION,
)
def cable_size_check(
    diameter_m: Annotated[float, "Diameter of the cable."],
    primary: Annotated[bool, "Elevator, ailerons, rudder."],
) -> Annotated[Verdict, "In, out, too close or not measured.", Named("verdict")]:
    """No cable under 1/8 in in a primary control system (14 CFR 23.689(a)(1), before 23-64)."""
    positive(diameter_m, "diameter_m")
    thin = primary and diameter_m < PRIMARY_LEAST_M - PRIMARY_SLACK_M
    return Verdict.OUT if thin else Verdict.IN
