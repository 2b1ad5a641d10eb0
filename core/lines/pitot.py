"""Pitot and static: a test point, the lag of lines, low points, a stiff probe
(`lines.test_point`, `lines.line_lag`, `lines.low_points`, `lines.probe_rigidity`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive, within
from core.basis.verdicts import Verdict, judge
from core.lines.air import GAMMA, LAPSE, R_AIR, T0, airspeed_of, altitude_of, impact_pressure
from core.lines.air import isa_pressure as isa
from core.lines.fuel_flow import earth_height
from core.lines.tube import points
from core.lines.words import GUM, INSTRUMENTS, ISA

EQUAL_M = 1e-9


@dataclass(frozen=True)
class Instrument:
    """What a connected instrument endures; null: not reached by that line."""

    id: Annotated[str, "Its name."]
    max_airspeed_m_s: Annotated[float | None, "Its airspeed limit."] = None
    max_altitude_m: Annotated[float | None, "Highest altitude."] = None
    min_altitude_m: Annotated[float | None, "Lowest altitude."] = None
    max_rate_m_s: Annotated[float | None, "Greatest rate of climb."] = None
    max_aoa_Pa: Annotated[float | None, "Greatest pressure between pitot and angle port."] = None


@dataclass(frozen=True)
class TestPoint:
    """What the instruments show at this point."""

    ok: Annotated[bool, "Every connected instrument endures it."]
    indicated_airspeed_m_s: Annotated[float, "Shown."]
    indicated_altitude_m: Annotated[float, "Shown, at standard setting."]
    pitot_cap_Pa: Annotated[float | None, "The most the pitot line may have; null: no limit."]


@rule(
    "lines.test_point",
    title="Do the instruments endure it?",
    purpose="A pressure on pitot, static and angle lines against every instrument's limits.",
    source=ISA + " Limits are the makers'.",
    validity="Gauge pressures; suction is negative.",
    caution=INSTRUMENTS,
)
def test_point(
    instruments: Annotated[tuple[Instrument, ...], "All that are connected."],
    pitot_Pa: Annotated[float, "On the pitot line."] = 0.0,
    static_Pa: Annotated[float, "On the static line."] = 0.0,
    aoa_Pa: Annotated[float, "On the angle-of-attack line."] = 0.0,
    rate_m_s: Annotated[float, "Rate of climb shown."] = 0.0,
    station_pressure_Pa: Annotated[float, "At the field."] = 101325.0,
) -> TestPoint:
    """What is shown. Refuses a point that an instrument does not endure, and names it."""
    if not instruments:
        raise Refused("instruments", "needs at least one")
    pitot, static = finite(pitot_Pa, "pitot_Pa"), finite(static_Pa, "static_Pa")
    aoa, rate = finite(aoa_Pa, "aoa_Pa"), finite(rate_m_s, "rate_m_s")
    station = positive(station_pressure_Pa, "station_pressure_Pa")
    if station + static <= 0.0:
        raise Refused("static_Pa", "is below a vacuum")
    impact, altitude = pitot - static, altitude_of(station + static)
    caps = []
    for i in instruments:
        if impact < 0.0:
            raise Refused("pitot_Pa", f"{i.id}: reversed pressure")
        if i.max_airspeed_m_s is not None:
            cap = impact_pressure(positive(i.max_airspeed_m_s, "max_airspeed_m_s"))
            caps.append(cap + static)
            if impact > cap * (1.0 + 1e-9):
                raise Refused("pitot_Pa", f"{i.id}: over its airspeed limit")
        if i.max_altitude_m is not None and altitude > finite(i.max_altitude_m, "max_altitude_m"):
            raise Refused("static_Pa", f"{i.id}: above its highest altitude")
        if i.min_altitude_m is not None and altitude < finite(i.min_altitude_m, "min_altitude_m"):
            raise Refused("static_Pa", f"{i.id}: below its lowest altitude")
        if i.max_rate_m_s is not None and abs(rate) > positive(i.max_rate_m_s, "max_rate_m_s"):
            raise Refused("rate_m_s", f"{i.id}: faster than it endures")
        if i.max_aoa_Pa is not None and abs(aoa - pitot) > positive(i.max_aoa_Pa, "max_aoa_Pa"):
            raise Refused("aoa_Pa", f"{i.id}: over its angle-of-attack limit")
    return TestPoint(True, airspeed_of(impact), altitude, min(caps, default=None))


@dataclass(frozen=True)
class Segment:
    """A piece of tube of a pitot or static line."""

    id: Annotated[str, "Its name."]
    length_m: Annotated[float, "Of the tube."]
    bore_m: Annotated[float, "Inside diameter."]
    parent: Annotated[str | None, "What it comes from; null at the port."] = None
    end_volume_m3: Annotated[float, "Of what hangs at its end."] = 0.0


@dataclass(frozen=True)
class Lag:
    """How late one end is."""

    lag_s: Annotated[float, "Of the flow."]
    acoustic_s: Annotated[float, "Of sound along it."]
    altitude_error_m: Annotated[float, "True less indicated, at this rate."]
    governs: Annotated[str, "lag, or acoustic where sound takes longer."]


@dataclass(frozen=True)
class Lags:
    """How late every end of a line is."""

    segments: Annotated[dict[str, Lag], "By the segment's name."]
    total_volume_m3: Annotated[float, "Tubes and what hangs on them."]


@rule(
    "lines.line_lag",
    title="How late are the instruments?",
    purpose="Lag of pitot and static lines, and the altitude error in a climb.",
    source="Gracey, NASA RP 1046.",
    validity="Laminar, slow changes; ignores fittings. In a climb the altimeter reads low.",
)
def line_lag(
    segments: Annotated[tuple[Segment, ...], "A tree of tubes from the port."],
    altitude_m: Annotated[float, "Pressure altitude, -1000 to 11000."],
    vertical_speed_m_s: Annotated[float, "Of the climb."] = 0.0,
    temperature_K: Annotated[float | None, "Of the air; null: standard."] = None,
) -> Lags:
    """R = 128 μ L/(π d⁴ p), times what lies beyond. Refuses loops and unknown parents."""
    pressure = isa(altitude_m)
    climb = finite(vertical_speed_m_s, "vertical_speed_m_s")
    t = (
        T0 - LAPSE * altitude_m
        if temperature_K is None
        else positive(temperature_K, "temperature_K")
    )
    mu = 1.458e-6 * t**1.5 / (t + 110.4)
    by = {s.id: s for s in segments}
    if not segments or len(by) < len(segments):
        raise Refused("segments", "two have the same name" if segments else "needs at least one")
    own, beyond = {}, {}
    for s in segments:
        bore = positive(s.bore_m, "bore_m")
        own[s.id] = math.pi * bore**2 / 4.0 * positive(s.length_m, "length_m")
        not_negative(s.end_volume_m3, "end_volume_m3")
        beyond[s.id] = 0.0
        if s.parent is not None and s.parent not in by:
            raise Refused("parent", f"{s.id}: comes from nothing of that name")
    ways = {s.id: _way(s, by) for s in segments}
    for s in segments:
        for up in ways[s.id][1:]:
            beyond[up] += own[s.id] + s.end_volume_m3
    sound = math.sqrt(GAMMA * R_AIR * t)
    found = {}
    for s in segments:
        lag = long = 0.0
        for name in ways[s.id]:
            part = by[name]
            resistance = 128.0 * mu * part.length_m / (math.pi * part.bore_m**4 * pressure)
            lag += resistance * (own[name] / 2.0 + part.end_volume_m3 + beyond[name])
            long += part.length_m
        governs = "acoustic" if lag < long / sound else "lag"
        found[s.id] = Lag(lag, long / sound, lag * climb, governs)
    total = math.fsum(own.values()) + math.fsum(s.end_volume_m3 for s in segments)
    return Lags(found, total)


def _way(s: Segment, by: dict[str, Segment]) -> list[str]:
    """From a segment back to the port."""
    way = [s.id]
    while (parent := by[way[-1]].parent) is not None:
        if parent in way:
            raise Refused("parent", f"{s.id}: comes from itself")
        way.append(parent)
    return way


@dataclass(frozen=True)
class LowPoints:
    """Where water would stand; vertices from 0."""

    low_points: Annotated[tuple[int, ...], "First vertex of each."]
    undrained: Annotated[tuple[int, ...], "Those without drain or trap."]


@rule(
    "lines.low_points",
    title="Where does water stand?",
    purpose="Low points of a line, and those without a drain.",
    source="Geometry.",
    validity="Check level and in the parked attitude.",
)
def low_points(
    vertices_m: Annotated[Sequence[Sequence[float]], "Corners of the line."],
    drains: Annotated[tuple[int, ...], "Vertices with a drain or trap, from 0."] = (),
    tolerance_m: Annotated[float, "Climb that counts as one."] = 0.002,
    pitch_rad: Annotated[float, "Nose up positive."] = 0.0,
) -> LowPoints:
    """A run is low if the line climbs by more than the tolerance on both sides of it."""
    at = points(vertices_m, "vertices_m")
    slack = not_negative(tolerance_m, "tolerance_m")
    if abs(finite(pitch_rad, "pitch_rad")) >= math.pi / 2:
        raise Refused("pitch_rad", "must be inside ±90°")
    for d in drains:
        if not 0 <= d < len(at):
            raise Refused("drains", "there is no such vertex")
    heights = [earth_height(p, pitch_rad, 0.0) for p in at.tolist()]
    runs: list[tuple[int, int]] = []
    for i, h in enumerate(heights):
        if runs and abs(h - heights[runs[-1][1]]) <= EQUAL_M:
            runs[-1] = (runs[-1][0], i)
        else:
            runs.append((i, i))
    low = [
        (a, b) for a, b in runs if _climbs(heights[a::-1], slack) and _climbs(heights[b:], slack)
    ]
    dry = [a for a, b in low if not any(a <= d <= b for d in drains)]
    return LowPoints(tuple(a for a, _ in low), tuple(dry))


def _climbs(heights: list[float], slack: float) -> bool:
    """Whether it climbs by more than the slack before it falls below where it began."""
    for h in heights[1:]:
        if h > heights[0] + slack:
            return True
        if h < heights[0] - EQUAL_M:
            return False
    return False


@dataclass(frozen=True)
class Rigid:
    """How far a probe gives."""

    stiffness_Nm_per_rad: Annotated[float, "Of its mount."]
    deflection_m: Annotated[float, "Where it was read, under the load."]
    angle_rad: Annotated[float, "Under the load."]
    U_rad: Annotated[float, "Its expanded uncertainty."]
    margin_rad: Annotated[float, "Allowed less that."]
    verdict: Annotated[Verdict, "Against what is allowed."]


@rule(
    "lines.probe_rigidity",
    title="Does the probe stand firm?",
    purpose="How far a probe turns under load, from a push with a known force.",
    source="A cantilever on a spring. " + GUM,
    validity="Factor 1: a rigid mast on a soft mount; 1.5: the mast itself bends.",
    caution="A probe is no handhold: after any knock measure again.",
)
def probe_rigidity(
    test_load_N: Annotated[float, "The push."],
    test_arm_m: Annotated[float, "Its arm from the root."],
    deflection_m: Annotated[float, "Movement read; at least the gauge's resolution."],
    deflection_arm_m: Annotated[float, "Where it was read, from the root."],
    load_N: Annotated[float, "Air load or a hand."],
    load_arm_m: Annotated[float, "Its arm."],
    allowed_rad: Annotated[float, "The most it may turn."],
    slope_factor: Annotated[float, "1 to 2."] = 1.5,
    u_test_load_N: Annotated[float, "Standard uncertainty."] = 0.0,
    u_deflection_m: Annotated[float, "Standard uncertainty."] = 0.0,
    u_arm_m: Annotated[float, "Of each of the three arms."] = 0.0,
    u_load_N: Annotated[float, "Standard uncertainty."] = 0.0,
) -> Rigid:
    """k = F a/(factor δ/a_δ); the angle under load with U of its five factors."""
    test, arm = positive(test_load_N, "test_load_N"), positive(test_arm_m, "test_arm_m")
    moved = positive(deflection_m, "deflection_m")
    read = positive(deflection_arm_m, "deflection_arm_m")
    load, load_arm = positive(load_N, "load_N"), positive(load_arm_m, "load_arm_m")
    allowed = positive(allowed_rad, "allowed_rad")
    factor = within(slope_factor, 1.0, 2.0, "slope_factor", "from 1 to 2")
    stiff = test * arm / (factor * moved / read)
    angle = load * load_arm / stiff
    ua = not_negative(u_arm_m, "u_arm_m")
    shares = (
        not_negative(u_test_load_N, "u_test_load_N") / test,
        not_negative(u_load_N, "u_load_N") / load,
        not_negative(u_deflection_m, "u_deflection_m") / moved,
        ua / arm,
        ua / read,
        ua / load_arm,
    )
    U = 2.0 * angle * math.hypot(*shares)
    under = moved * load * load_arm / (test * arm)
    return Rigid(stiff, under, angle, U, allowed - angle, judge(angle, U, None, allowed))
