"""What fuel weighs (`weight.fuel_mass`): no density is shipped, the user enters it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from core.basis.refused import Refused, not_negative, within
from core.weight.words import rule

COLDEST_C, HOTTEST_C = -60.0, 70.0
REFERENCE_C = 15.0


@dataclass(frozen=True)
class FuelMass:
    """Of the fuel in a tank."""

    density_kg_m3: Annotated[float, "At its temperature."]
    mass_kg: Annotated[float, "Of the volume."]


@rule(
    "weight.fuel_mass",
    title="Mass of fuel",
    purpose="What does the fuel in a tank weigh at its temperature?",
    source="Linear expansion of the volume. The customary 6.0 lb/US gal of aviation gasoline"
    " (FAA-H-8083-1) is 718.959 kg/m³; motor fuel differs, measure it.",
    validity="Good to about 0.3 % within ±40 K when the expansion is the fuel's own. A tank holds"
    " less mass when hot: a full cold tank is the heavy case and is used for limits.",
)
def fuel_mass(
    volume_m3: Annotated[float, "In the tank."],
    density_ref_kg_m3: Annotated[float, "At the reference temperature, entered."],
    capacity_m3: Annotated[float | None, "Of the tank."] = None,
    t_C: Annotated[float, "Of the fuel."] = REFERENCE_C,
    t_ref_C: Annotated[float, "Of the density."] = REFERENCE_C,
    expansion_per_K: Annotated[float, "Of the volume, entered."] = 0.0,
) -> FuelMass:
    """ρ = ρ_ref/(1 + β (t - t_ref)). Refuses more than the tank holds and what is out of range."""
    rho = density(density_ref_kg_m3, t_C, t_ref_C, expansion_per_K)
    volume = not_negative(volume_m3, "volume_m3")
    if capacity_m3 is not None:
        fits(volume, capacity_m3, "volume_m3", "capacity_m3")
    return FuelMass(rho, volume * rho)


def density(ref_kg_m3: float, t_C: float, t_ref_C: float, per_K: float, at: str = "") -> float:
    """kg/m³ at a temperature."""
    ref = within(ref_kg_m3, 500.0, 1100.0, f"{at}density_ref_kg_m3", "from 500 to 1100 kg/m³")
    said = "from -60 to 70 °C"
    t = within(t_C, COLDEST_C, HOTTEST_C, f"{at}t_C", said)
    t_ref = within(t_ref_C, COLDEST_C, HOTTEST_C, f"{at}t_ref_C", said)
    beta = within(per_K, 0.0, 0.003, f"{at}expansion_per_K", "from 0 to 0.003 per K")
    return ref / (1.0 + beta * (t - t_ref))


def fits(volume: float, capacity: float, field: str, its: str) -> None:
    """Refuses more than the tank holds."""
    if volume > not_negative(capacity, its) * (1.0 + 1e-9):
        raise Refused(field, "is more than the tank holds")
