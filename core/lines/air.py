"""The standard atmosphere, impact pressure, and columns of liquid (`lines.isa_pressure`,
`lines.column_pressure`, `lines.pitot_column`, `lines.static_suction`, `lines.aoa_pressure`)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.forms import Named
from core.basis.refused import Refused, finite, positive, within
from core.lines.flow import G
from core.lines.words import INSTRUMENTS, ISA

P0, T0, LAPSE, R_AIR, GAMMA = 101325.0, 288.15, 0.0065, 287.05287, 1.4
A0 = math.sqrt(GAMMA * R_AIR * T0)
EXPONENT = G / (R_AIR * LAPSE)
LOWEST_M, HIGHEST_M = -1000.0, 11000.0
FASTEST_M_S = 300.0
WATER = 998.2
LIQUID = "Of the liquid in the column; 998.2: water at 20 °C."


def pressure_at(altitude_m: float) -> float:
    """Of the standard atmosphere, Pa, without bounds."""
    return float(P0 * (1.0 - LAPSE * altitude_m / T0) ** EXPONENT)


def altitude_of(pressure_Pa: float) -> float:
    """The pressure altitude of a pressure, m."""
    return float(T0 / LAPSE * (1.0 - (pressure_Pa / P0) ** (1.0 / EXPONENT)))


@rule(
    "lines.isa_pressure",
    title="Pressure at an altitude",
    purpose="The standard atmosphere's pressure.",
    source="ISA from ICAO Doc 7488.",
    validity="-1000 to 11 000 m of pressure altitude.",
)
def isa_pressure(
    altitude_m: Annotated[float, "Pressure altitude, -1000 to 11000."],
) -> Annotated[float, "Of the standard atmosphere.", Named("pressure_Pa")]:
    """p0 (1 - L h/T0)^(g/(R L)). Refuses altitudes outside."""
    return pressure_at(
        within(altitude_m, LOWEST_M, HIGHEST_M, "altitude_m", "from -1000 to 11 000 m")
    )


def impact_pressure(airspeed_m_s: float) -> float:
    """qc of a calibrated airspeed, Pa."""
    return float(P0 * ((1.0 + 0.2 * (airspeed_m_s / A0) ** 2) ** 3.5 - 1.0))


def airspeed_of(impact_Pa: float) -> float:
    """The calibrated airspeed of an impact pressure, m/s."""
    return A0 * math.sqrt(5.0 * ((impact_Pa / P0 + 1.0) ** (1.0 / 3.5) - 1.0))


def airspeed(value: float, field: str) -> float:
    """0 to below 300 m/s."""
    if not 0.0 <= finite(value, field) < FASTEST_M_S:
        raise Refused(field, "must be from 0 to below 300 m/s")
    return float(value)


@rule(
    "lines.column_pressure",
    title="Pressure of a column",
    purpose="What a column of liquid presses with.",
    source="Hydrostatics.",
    validity="A still column, open above.",
)
def column_pressure(
    height_m: Annotated[float, "From surface to surface."],
    liquid_density_kg_m3: Annotated[float, LIQUID] = WATER,
) -> Annotated[float, "At its foot.", Named("pressure_Pa")]:
    """ρ g h."""
    height = positive(height_m, "height_m")
    return positive(liquid_density_kg_m3, "liquid_density_kg_m3") * G * height


@dataclass(frozen=True)
class Column:
    """The impact pressure of an airspeed, and its column."""

    impact_Pa: Annotated[float, "Impact pressure."]
    column_m: Annotated[float, "Column of liquid."]


@rule(
    "lines.pitot_column",
    title="Column for an airspeed",
    purpose="How high must the column stand for the airspeed indicator to show this?",
    source=ISA,
    validity="Calibrated airspeed from 0 to below 300 m/s.",
    caution=INSTRUMENTS,
)
def pitot_column(
    airspeed_m_s: Annotated[float, "Calibrated."],
    liquid_density_kg_m3: Annotated[float, LIQUID] = WATER,
) -> Column:
    """qc = p0 [(1 + 0.2 (V/a0)²)^3.5 - 1] and its column."""
    q = impact_pressure(airspeed(airspeed_m_s, "airspeed_m_s"))
    return Column(q, q / (positive(liquid_density_kg_m3, "liquid_density_kg_m3") * G))


@dataclass(frozen=True)
class Suction:
    """What draws the altimeter up by a climb."""

    field_pressure_altitude_m: Annotated[float, "Of the field."]
    suction_Pa: Annotated[float, "On the static line."]
    column_m: Annotated[float, "Column of liquid."]
    asi_if_pitot_open_m_s: Annotated[
        float, "What the airspeed indicator shows if its pitot line stays open."
    ]


@rule(
    "lines.static_suction",
    title="Suction for a static test",
    purpose="What suction makes the altimeter climb by this, and does the pitot line endure it?",
    source=ISA,
    validity="Altitudes from -1000 to 11 000 m.",
    caution="Suction on static alone drives the airspeed indicator: join pitot and static, or"
    " stay below its limit. " + INSTRUMENTS,
)
def static_suction(
    station_pressure_Pa: Annotated[float, "At the field, not corrected to sea level."],
    climb_m: Annotated[float, "How far the altimeter is to climb."],
    liquid_density_kg_m3: Annotated[float, LIQUID] = WATER,
) -> Suction:
    """p(h) - p(h + climb) from the field's pressure altitude h."""
    station = positive(station_pressure_Pa, "station_pressure_Pa")
    field = altitude_of(station)
    if not LOWEST_M <= field <= HIGHEST_M:
        raise Refused("station_pressure_Pa", "is not that of a field from -1000 to 11 000 m")
    climb = positive(climb_m, "climb_m")
    if field + climb > HIGHEST_M:
        raise Refused("climb_m", "goes above 11 000 m")
    suction = station - pressure_at(field + climb)
    rho = positive(liquid_density_kg_m3, "liquid_density_kg_m3")
    return Suction(field, suction, suction / (rho * G), airspeed_of(suction))


@dataclass(frozen=True)
class AnglePort:
    """What an angle-of-attack port sees."""

    impact_Pa: Annotated[float, "Impact pressure."]
    port_gauge_Pa: Annotated[float, "At the port."]
    pitot_minus_port_Pa: Annotated[float, "What the instrument sees."]
    column_m: Annotated[float, "Column of liquid for that."]


@rule(
    "lines.aoa_pressure",
    title="Pressure of an angle-of-attack port",
    purpose="What column tests the angle-of-attack line at this airspeed?",
    source=ISA + " The coefficient is the probe maker's or from flight test.",
    validity="Coefficients from -3 to 1.",
    caution=INSTRUMENTS,
)
def aoa_pressure(
    airspeed_m_s: Annotated[float, "Calibrated."],
    port_coefficient: Annotated[float, "Pressure coefficient of the port, -3 to 1."],
    liquid_density_kg_m3: Annotated[float, LIQUID] = WATER,
) -> AnglePort:
    """Cp qc at the port, (1 - Cp) qc between pitot and port."""
    q = impact_pressure(airspeed(airspeed_m_s, "airspeed_m_s"))
    cp = within(port_coefficient, -3.0, 1.0, "port_coefficient", "from -3 to 1")
    rho = positive(liquid_density_kg_m3, "liquid_density_kg_m3")
    return AnglePort(q, cp * q, (1.0 - cp) * q, (1.0 - cp) * q / (rho * G))
