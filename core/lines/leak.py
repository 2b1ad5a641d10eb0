"""Does it leak (`lines.leak_decay`, `lines.leak_wait`, `lines.pitot_leak`, `lines.static_leak`)?"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict, judge
from core.lines.air import P0, T0, airspeed, airspeed_of, impact_pressure
from core.lines.words import GUM, INSTRUMENTS, ISA, NO_SHOP_AIR, PART_23

LEAST_BARO, MOST_BARO = 60e3, 110e3
COLDEST_K, HOTTEST_K = 243.15, 333.15
LARGE = 0.2
LEAST_S = 60.0
SLACK = 1e-9
STATIC_LEAST_M = 0.95 * 304.8
ALLOWED_M_PER_MIN = 30.48


@dataclass(frozen=True)
class Decay:
    """What leaks, in m³/s of air at 101325 Pa and 288.15 K; pressures Pa."""

    leak_std_m3_s: Annotated[float, "Out of the closed volume."]
    U_std_m3_s: Annotated[float, "Its expanded uncertainty."]
    no_leak_end_gauge_Pa: Annotated[float, "What the gauge would show without a leak."]
    uncompensated_std_m3_s: Annotated[float, "What the gauge alone suggests."]
    verdict: Annotated[Verdict, "Against what is allowed; not measured without it."]
    large_drop: Annotated[bool, "Over a fifth of the start: it leaked faster at first."]


@rule(
    "lines.leak_decay",
    title="Leak by pressure decay",
    purpose="What leaks, with temperature and weather allowed for?",
    source="Ideal gas in a rigid closed volume. " + GUM,
    validity="A dry tank: fuel residue or water adds vapour pressure; walls bulge; 0.3 K changes"
    " any closed tank at 1 bar by about 100 Pa. Station pressure, not corrected to sea level.",
    caution=NO_SHOP_AIR,
)
def leak_decay(
    volume_m3: Annotated[float, "Air space of tank and lines."],
    start_gauge_Pa: Annotated[float, "Over outside at the start."],
    end_gauge_Pa: Annotated[float, "At the end."],
    start_temp_K: Annotated[float, "Of the air in it."],
    end_temp_K: Annotated[float, "At the end."],
    start_baro_Pa: Annotated[float, "Station pressure."],
    end_baro_Pa: Annotated[float, "At the end."],
    duration_s: Annotated[float, "From start to end."],
    max_test_Pa: Annotated[float, "The most it endures, from its maker."],
    allowed_std_m3_s: Annotated[float | None, "The leak that is allowed."] = None,
    u_gauge_Pa: Annotated[float, "Standard uncertainty of a gauge reading."] = 0.0,
    u_temp_K: Annotated[float, "Of a temperature."] = 0.0,
    u_baro_Pa: Annotated[float, "Of the barometer."] = 0.0,
    u_volume_rel: Annotated[float, "Of the volume, a share of it."] = 0.0,
) -> Decay:
    """Q = V (T0/p0) [(pg1 + b1)/T1 - (pg2 + b2)/T2] / t. Refuses a pressure over the greatest."""
    volume, seconds = positive(volume_m3, "volume_m3"), positive(duration_s, "duration_s")
    most = positive(max_test_Pa, "max_test_Pa")
    for name, value in (("start_gauge_Pa", start_gauge_Pa), ("end_gauge_Pa", end_gauge_Pa)):
        if finite(value, name) > most:
            raise Refused(name, "above the tank's highest test pressure")
    positive(start_gauge_Pa, "start_gauge_Pa")
    t1, t2 = _temperature(start_temp_K, "start_temp_K"), _temperature(end_temp_K, "end_temp_K")
    b1, b2 = _baro(start_baro_Pa, "start_baro_Pa"), _baro(end_baro_Pa, "end_baro_Pa")
    ug, ut = not_negative(u_gauge_Pa, "u_gauge_Pa"), not_negative(u_temp_K, "u_temp_K")
    ub, uv = not_negative(u_baro_Pa, "u_baro_Pa"), not_negative(u_volume_rel, "u_volume_rel")
    p1, p2 = start_gauge_Pa + b1, end_gauge_Pa + b2
    scale = volume * T0 / P0 / seconds
    leak = scale * (p1 / t1 - p2 / t2)
    squares = (uv * leak) ** 2
    for p, t in ((p1, t1), (p2, t2)):
        squares += scale**2 * ((ug**2 + ub**2) / t**2 + (p * ut / t**2) ** 2)
    U = 2.0 * math.sqrt(squares)
    without = p1 * t2 / t1 - b2
    return Decay(
        leak,
        U,
        without,
        scale * (start_gauge_Pa - end_gauge_Pa) / t1,
        _leaks(leak, U, allowed_std_m3_s),
        without - end_gauge_Pa > LARGE * start_gauge_Pa,
    )


def _leaks(leak: float, U: float, allowed: float | None) -> Verdict:
    """Air that did not settle (a leak into a pressed tank) is not measured."""
    if allowed is None or leak < -U:
        if allowed is not None:
            not_negative(allowed, "allowed_std_m3_s")
        return Verdict.NOT_MEASURED
    most = positive(allowed, "allowed_std_m3_s")
    if leak + U <= most * (1.0 + SLACK):
        return Verdict.IN
    return Verdict.OUT if leak - U > most * (1.0 + SLACK) else Verdict.TOO_CLOSE


def _temperature(value: float, field: str) -> float:
    if not COLDEST_K <= finite(value, field) <= HOTTEST_K:
        raise Refused(field, "must be from 243.15 to 333.15 K (-30 to 60 °C)")
    return float(value)


def _baro(value: float, field: str) -> float:
    if not LEAST_BARO <= finite(value, field) <= MOST_BARO:
        raise Refused(field, "must be from 60 to 110 kPa: station pressure")
    return float(value)


@dataclass(frozen=True)
class Wait:
    """How long a test must last."""

    wait_s: Annotated[float, "Until the uncertainty is small enough."]
    gauge_drop_at_allowed_Pa: Annotated[float, "What the allowed leak takes in that time."]


@rule(
    "lines.leak_wait",
    title="How long must the test last?",
    purpose="When can this gauge tell the allowed leak from none?",
    source="Ideal gas in a rigid closed volume. " + GUM,
    validity="Readings as sure as entered, at start and end.",
    caution=NO_SHOP_AIR,
)
def leak_wait(
    volume_m3: Annotated[float, "Air space of tank and lines."],
    gauge_Pa: Annotated[float, "Test pressure over outside."],
    temp_K: Annotated[float, "Of the air in it."],
    baro_Pa: Annotated[float, "Station pressure."],
    allowed_std_m3_s: Annotated[float, "The leak that is allowed."],
    u_gauge_Pa: Annotated[float, "Standard uncertainty of a gauge reading."],
    u_temp_K: Annotated[float, "Of a temperature."],
    u_baro_Pa: Annotated[float, "Of the barometer."],
    fraction: Annotated[float, "U is to be at most this share of the allowed leak."] = 0.25,
) -> Wait:
    """t = 2√2 u_N V (T0/p0)/(fraction × allowed). Refuses all uncertainties zero."""
    volume, gauge = positive(volume_m3, "volume_m3"), positive(gauge_Pa, "gauge_Pa")
    t, b = _temperature(temp_K, "temp_K"), _baro(baro_Pa, "baro_Pa")
    allowed, share = positive(allowed_std_m3_s, "allowed_std_m3_s"), positive(fraction, "fraction")
    ug, ut = not_negative(u_gauge_Pa, "u_gauge_Pa"), not_negative(u_temp_K, "u_temp_K")
    ub = not_negative(u_baro_Pa, "u_baro_Pa")
    u = math.sqrt((ug**2 + ub**2) / t**2 + ((gauge + b) * ut / t**2) ** 2)
    if u == 0.0:
        raise Refused("u_gauge_Pa", "not all uncertainties can be zero")
    wait = 2.0 * math.sqrt(2.0) * u * volume * T0 / P0 / (share * allowed)
    return Wait(wait, allowed * wait * P0 / T0 * t / volume)


@dataclass(frozen=True)
class PitotLeak:
    """What the airspeed indicator loses in the first minute, m/s."""

    drop_m_s_per_min: Annotated[float, "In the first minute."]
    U_m_s_per_min: Annotated[float, "Its expanded uncertainty."]
    verdict: Annotated[Verdict, "Against the entered limit."]
    start_Pa: Annotated[float, "Impact pressure at the start."]
    end_Pa: Annotated[float, "At the end."]


@rule(
    "lines.pitot_leak",
    title="Does the pitot line leak?",
    purpose="What the airspeed indicator loses in the first minute.",
    source=ISA + " " + GUM + " The limit is entered.",
    validity="A leak falls off as the pressure does: the first minute counts.",
    caution=INSTRUMENTS,
)
def pitot_leak(
    start_airspeed_m_s: Annotated[float, "Shown at the start."],
    end_airspeed_m_s: Annotated[float, "Shown at the end."],
    duration_s: Annotated[float, "From start to end, at least a minute."],
    allowed_m_s_per_min: Annotated[float, "The limit, from its source."],
    u_airspeed_m_s: Annotated[float, "Standard uncertainty of a reading."] = 0.0,
) -> PitotLeak:
    """q60 = q_start (q_end/q_start)^(60/t). Refuses an end that rose, or is back at nothing."""
    start = airspeed(start_airspeed_m_s, "start_airspeed_m_s")
    end = airspeed(max(end_airspeed_m_s, 0.0), "end_airspeed_m_s")
    positive(start, "start_airspeed_m_s")
    seconds, u = _long(duration_s), not_negative(u_airspeed_m_s, "u_airspeed_m_s")
    allowed = positive(allowed_m_s_per_min, "allowed_m_s_per_min")
    if finite(end_airspeed_m_s, "end_airspeed_m_s") <= 0.0:
        raise Refused("end_airspeed_m_s", "is back at nothing: it emptied, read it sooner")
    _not_risen(end - start, u, "end_airspeed_m_s")

    def loss(a: float, b: float) -> float:
        qa, qb = impact_pressure(a), impact_pressure(b)
        return a - airspeed_of(qa * (qb / qa) ** (LEAST_S / seconds))

    U = 2.0 * u * math.hypot(*_slopes(loss, start, end))
    drop = loss(start, end)
    q1, q2 = impact_pressure(start), impact_pressure(end)
    return PitotLeak(drop, U, judge(drop, U, None, allowed), q1, q2)


def _slopes(f, *at: float) -> list[float]:  # type: ignore[no-untyped-def]
    """Of a function by each of its arguments, by differences about 1e-4 of it."""
    found = []
    for i, x in enumerate(at):
        h = 1e-4 * max(1.0, abs(x))
        up, down = list(at), list(at)
        up[i], down[i] = x + h, x - h
        found.append((f(*up) - f(*down)) / (2.0 * h))
    return found


def _long(duration_s: float) -> float:
    if positive(duration_s, "duration_s") < LEAST_S - SLACK:
        raise Refused("duration_s", "must be at least a minute")
    return float(duration_s)


def _not_risen(rise: float, u: float, field: str) -> None:
    if rise > 2.0 * math.sqrt(2.0) * u + SLACK:
        raise Refused(field, "rose: nothing leaks inwards; look for warmth or a pump")


@dataclass(frozen=True)
class StaticLeak:
    """What the altimeter loses in the first minute, m."""

    loss_m_per_min: Annotated[float, "In the first minute."]
    U_m_per_min: Annotated[float, "Its expanded uncertainty."]
    verdict: Annotated[Verdict, "Against what is allowed."]


@rule(
    "lines.static_leak",
    title="Does the static line leak?",
    purpose="What the altimeter loses in the first minute from about 1000 ft above the field.",
    source=f"100 ft in a minute from about 1000 ft: {PART_23}, 23.1325(b)(2), used by part 43"
    " appendix E. " + GUM,
    validity="The altimeter at the same setting throughout.",
    caution=INSTRUMENTS,
)
def static_leak(
    field_altitude_m: Annotated[float, "Shown with the line open."],
    start_altitude_m: Annotated[float, "Shown at the start."],
    end_altitude_m: Annotated[float, "Shown at the end."],
    duration_s: Annotated[float, "From start to end, at least a minute."],
    u_altitude_m: Annotated[float, "Standard uncertainty of a reading."] = 0.0,
    allowed_m_per_min: Annotated[float, "30.48: 100 ft."] = ALLOWED_M_PER_MIN,
) -> StaticLeak:
    """H(1 - (1 - drop/H)^(60/t)), H over the field. Refuses a start that is too low."""
    field = finite(field_altitude_m, "field_altitude_m")
    start = finite(start_altitude_m, "start_altitude_m")
    end = finite(end_altitude_m, "end_altitude_m")
    seconds, u = _long(duration_s), not_negative(u_altitude_m, "u_altitude_m")
    allowed = positive(allowed_m_per_min, "allowed_m_per_min")
    if start - field < STATIC_LEAST_M - SLACK:
        raise Refused("start_altitude_m", "must be about 1000 ft (300 m) above the field")
    if end <= field:
        raise Refused("end_altitude_m", "is back at the field: it emptied, read it sooner")
    _not_risen(end - start, u, "end_altitude_m")

    def loss(ground: float, a: float, b: float) -> float:
        high = a - ground
        return float(high * (1.0 - (1.0 - (a - b) / high) ** (LEAST_S / seconds)))

    U = 2.0 * u * math.hypot(*_slopes(loss, field, start, end))
    lost = loss(field, start, end)
    return StaticLeak(lost, U, judge(lost, U, None, allowed))
