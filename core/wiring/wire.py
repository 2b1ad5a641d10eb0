"""A wire's resistance and its gauge by both schools (`wiring.resistance`, `wiring.size_wire`)."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from core.basis.by_name import rule
from core.basis.forms import ABSENT, Named
from core.basis.refused import Refused, finite, not_negative, positive
from core.wiring.tables import (
    DROPS,
    EVEN,
    FOOT_M,
    GAUGES,
    T_HIGH,
    T_LOW,
    WIRES,
    by_gauge,
    gauge,
    rating,
    table_A,
)
from core.wiring.words import CAUTION, CHAPTER_11, TABLE_11_6, TABLE_11_9

COPPER_C = 234.5
SHED = 0.625
BASE_C = 70.0
USED_UP = "contacts and structure alone use up the drop"
NO_GAUGE = "no gauge here passes both voltage drop and temperature"


def at_temperature(ohm_20C: float, t_C: float) -> float:
    """Copper's resistance at a temperature, from that at 20 °C."""
    return ohm_20C * (COPPER_C + t_C) / (COPPER_C + 20.0)


def temperature(t_C: float, field: str = "t_C") -> float:
    """Refuses outside -65 to 260 °C."""
    if not T_LOW <= finite(t_C, field) <= T_HIGH:
        raise Refused(field, f"must be from {T_LOW:g} to {T_HIGH:g} °C")
    return float(t_C)


@dataclass(frozen=True)
class Resistance:
    """Of a wire, Ω."""

    ohm_per_m_20C: Annotated[float, "Greatest, of a metre at 20 °C."]
    ohm: Annotated[float, "Of this length at this temperature."]


@rule(
    "wiring.resistance",
    title="Resistance of a wire",
    purpose="What is the greatest resistance of this wire, warm or cold?",
    source=TABLE_11_9 + " Copper over temperature: " + CHAPTER_11,
    validity="Tin-plated copper, even gauges of the table, -65 to 260 °C.",
    caution=CAUTION,
)
def resistance(
    awg: Annotated[str, "Gauge."],
    t_C: Annotated[float, "Temperature of the conductor."] = 20.0,
    length_m: Annotated[float, "Its length."] = 1.0,
) -> Resistance:
    """R(T) = R20 (234.5 + T) / 254.5. Refuses other gauges, and outside the temperatures."""
    per_m = table_ohm(gauge(awg))
    return Resistance(
        per_m, at_temperature(per_m, temperature(t_C)) * positive(length_m, "length_m")
    )


def table_ohm(awg: str) -> float:
    """Of the table, Ω/m at 20 °C."""
    return WIRES[awg][0] / (1000.0 * FOOT_M)


@dataclass(frozen=True)
class Return:
    """How the current comes back."""

    kind: Annotated[Literal["wire", "structure"], "By a wire of the same gauge, or structure."]
    length_m: Annotated[float | None, "Of the wire."] = None
    ohm: Annotated[float | None, "Of the structure between its ground points."] = None

    def checked(self) -> tuple[float, float]:
        """Length of wire, m, and resistance of structure, Ω. Refuses what is not said."""
        if self.kind == "wire":
            if self.length_m is None:
                raise Refused("length_m", "is needed for a return by wire")
            return positive(self.length_m, "length_m"), 0.0
        if self.ohm is None:
            raise Refused("ohm", "is needed for a return by structure")
        return 0.0, not_negative(self.ohm, "ohm")


@dataclass(frozen=True)
class Smaller:
    """The gauge next thinner: what it would miss by (negative)."""

    awg: Annotated[str, "Gauge."]
    drop_margin_V: Annotated[float | None, "Of its voltage drop; null: no equilibrium."]
    thermal_margin_A: Annotated[float, "Of its current."]


@dataclass(frozen=True)
class Sized:
    """A gauge by voltage drop and by temperature."""

    limit_V: Annotated[float, "Greatest drop."]
    by_drop: Annotated[str | None, "Thinnest by voltage drop alone."]
    by_thermal: Annotated[str | None, "Thinnest by temperature alone."]
    awg: Annotated[str | None, "The gauge to take."]
    governing: Annotated[str | None, "voltage drop, thermal, both or least size."]
    drop_V: Annotated[float | None, "At that gauge."] = None
    drop_margin_V: Annotated[float | None, "To the limit."] = None
    conductor_C: Annotated[float | None, "How warm it gets."] = None
    allowable_A: Annotated[float | None, "What it may carry here."] = None
    thermal_margin_A: Annotated[float | None, "To that."] = None
    next_smaller: Annotated[Smaller | None, "The next thinner one."] = None
    reason: Annotated[str | None, "Why there is none.", ABSENT] = None


@dataclass(frozen=True)
class Try:
    """A gauge tried, V, °C, A."""

    awg: str
    allow: float
    warm: float | None
    drop: float | None


@rule(
    "wiring.size_wire",
    title="Gauge of a wire",
    purpose="Which gauge carries this current, by voltage drop and by temperature?",
    source=f"{TABLE_11_6} {TABLE_11_9} Temperature: {CHAPTER_11} (ac), or heat with I²R(T)"
    " (joule). Derating by natural convection: this product's.",
    validity="Table 11-9's note: 70 °C, bundles of 33 wires (9 from AWG 8), 20 % of the"
    " capacity in use, 60,000 ft. Free air, altitude and other bundles: enter what the"
    " standard's curves allow. The 200 °C column is for other platings: enter their resistance."
    " Structure as return: at most 0.005 Ω.",
    caution=CAUTION,
)
def size_wire(
    current_A: Annotated[float, "What flows."],
    feed_m: Annotated[float, "Length of the feed."],
    returned: Annotated[Return, "How it comes back.", Named("return")],
    ambient_C: Annotated[float, "Of the hottest zone passed."],
    rating_C: Annotated[float, "Of the wire: 105, 150 or 200."],
    system_V: Annotated[float | None, "14 or 28."] = None,
    duty: Annotated[Literal["continuous", "intermittent"], "At most 2 min on at a time."] = (
        "continuous"
    ),
    drop_limit_V: Annotated[float | None, "Of another system, or tighter."] = None,
    contacts_ohm: Annotated[float, "Contacts, splices, switch, breaker."] = 0.0,
    table_factor: Annotated[float, "Your derating of the table."] = 1.0,
    allowable_A: Annotated[dict[str, float] | None, "By gauge, at this ambient; yours."] = None,
    ohm_per_m: Annotated[dict[str, float] | None, "By gauge, at 20 °C; the maker's."] = None,
    temperature_method: Annotated[Literal["ac", "joule"], "How warm it gets."] = "ac",
    least_awg: Annotated[str | None, "Mechanical least size."] = None,
) -> Sized:
    """The thinnest that passes both schools. Refuses what flows nowhere, and unknown gauges."""
    amps, feed = positive(current_A, "current_A"), positive(feed_m, "feed_m")
    back, structure = returned.checked()
    column = rating(rating_C)
    if finite(ambient_C, "ambient_C") >= rating_C:
        raise Refused("ambient_C", "is at or above what the wire is rated for")
    temperature(ambient_C, "ambient_C")
    contacts = not_negative(contacts_ohm, "contacts_ohm")
    limit = _limit(system_V, duty, drop_limit_V)
    least = None if least_awg is None else gauge(least_awg, "least_awg")
    own = by_gauge(ohm_per_m, "ohm_per_m") if ohm_per_m else {}
    tries = []
    for awg, allow in _allowed(allowable_A, table_factor, column, ambient_C, rating_C).items():
        warm = _warm(temperature_method, amps / allow, ambient_C, rating_C)
        per_m = own.get(awg, table_ohm(awg))
        drop = None if warm is None else amps * (
            at_temperature(per_m, warm) * (feed + back) + contacts + structure
        )  # fmt: skip
        tries.append(Try(awg, allow, warm, drop))
    by_drop = next((t for t in tries if t.drop is not None and t.drop <= limit + EVEN), None)
    by_thermal = next((t for t in tries if amps <= t.allow + EVEN), None)
    chosen = next(
        (
            t
            for t in tries
            if t.drop is not None
            and t.drop <= limit + EVEN
            and amps <= t.allow + EVEN
            and (least is None or GAUGES.index(t.awg) >= GAUGES.index(least))
        ),
        None,
    )
    names = (by_drop.awg if by_drop else None, by_thermal.awg if by_thermal else None)
    if chosen is None or chosen.drop is None or by_drop is None or by_thermal is None:
        used = amps * (contacts + structure) >= limit
        return Sized(limit, *names, None, None, reason=USED_UP if used else NO_GAUGE)
    at = tries.index(chosen)
    smaller = None
    if at:
        t = tries[at - 1]
        margin = None if t.drop is None else limit - t.drop
        smaller = Smaller(t.awg, margin, t.allow - amps)
    return Sized(
        limit,
        *names,
        chosen.awg,
        _governing(tries, by_drop, by_thermal, chosen),
        chosen.drop,
        limit - chosen.drop,
        chosen.warm,
        chosen.allow,
        chosen.allow - amps,
        smaller,
    )


def _limit(system_V: float | None, duty: str, own_V: float | None) -> float:
    if own_V is not None:
        return positive(own_V, "drop_limit_V")
    if system_V is None:
        raise Refused("system_V", "is needed, or a drop limit of your own")
    if (system_V, duty) not in DROPS:
        raise Refused("system_V", "14 or 28 V have a built-in limit: enter your own drop limit")
    return DROPS[system_V, duty]


def _allowed(
    own: Mapping[str, float] | None, factor: float, column: int, ambient: float, rated: float
) -> dict[str, float]:
    """What each gauge may carry here, from thin to thick, A."""
    if not 0.0 < finite(factor, "table_factor") <= 1.0:
        raise Refused("table_factor", "must be above 0 and at most 1")
    if own is not None:
        if not own:
            raise Refused("allowable_A", "needs at least one gauge")
        return by_gauge(own, "allowable_A")
    cooled = min(1.0, ((rated - ambient) / (rated - BASE_C)) ** SHED)
    return {awg: table_A(awg, column) * factor * cooled for awg in GAUGES}


def _warm(method: str, share: float, ambient: float, rated: float) -> float | None:
    """How warm the conductor gets, °C; null where there is no equilibrium."""
    if method == "ac":
        return ambient + (rated - ambient) * math.sqrt(share)
    q = (rated - ambient) * share**2 / (COPPER_C + rated)
    return None if q >= 1.0 else (ambient + COPPER_C * q) / (1.0 - q)


def _governing(tries: list[Try], drop: Try, thermal: Try, chosen: Try) -> str:
    most = max(tries.index(drop), tries.index(thermal))
    if tries.index(chosen) > most:
        return "least size"
    if drop is thermal:
        return "both"
    return "voltage drop" if tries.index(drop) == most else "thermal"
