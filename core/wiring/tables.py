"""What is built in of wires and protectors, and the gauges in their order."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from core.basis.refused import Refused, positive
from core.basis.verdicts import Verdict

FOOT_M = 0.3048
INCH_M = 0.0254
MIL_M2 = 5.067074791e-10
EVEN = 1e-12
T_LOW, T_HIGH = -65.0, 260.0
RATINGS = (105, 150, 200)

# AC 43.13-1B table 11-9: greatest ohm per 1000 ft at 20 °C, circular mils, A in a bundle at
# 105, 150 and 200 °C. From thin to thick.
WIRES: dict[str, tuple[float, int, tuple[float, float, float]]] = {
    "24": (28.40, 475, (2.5, 4, 5)),
    "22": (16.20, 755, (3, 5, 6)),
    "20": (9.88, 1_216, (4, 7, 9)),
    "18": (6.23, 1_900, (6, 9, 12)),
    "16": (4.81, 2_426, (7, 11, 14)),
    "14": (3.06, 3_831, (10, 14, 18)),
    "12": (2.02, 5_874, (13, 19, 25)),
    "10": (1.26, 9_354, (17, 26, 32)),
    "8": (0.70, 16_983, (38, 57, 71)),
    "6": (0.44, 26_818, (50, 76, 97)),
    "4": (0.28, 42_615, (68, 103, 133)),
    "2": (0.18, 66_500, (95, 141, 179)),
    "1": (0.15, 81_700, (113, 166, 210)),
    "0": (0.12, 104_500, (128, 192, 243)),
    "00": (0.09, 133_000, (147, 222, 285)),
}
GAUGES = tuple(WIRES)

# AC 43.13-1B table 11-3, the rows held to be certain, A.
PROTECTORS: dict[str, dict[str, float]] = {
    "breaker": {"22": 5, "20": 7.5, "18": 10, "16": 15, "14": 20},
    "fuse": {"22": 5, "20": 5, "18": 10, "16": 10, "14": 15, "12": 20, "10": 30},
}
RATED_A = (1.0, 2.0, 3.0, 5.0, 7.5, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 50.0)

# AC 43.13-1B table 11-6, V.
DROPS = {(14.0, "continuous"): 0.5, (14.0, "intermittent"): 1.0,
         (28.0, "continuous"): 1.0, (28.0, "intermittent"): 2.0}  # fmt: skip


def gauge(awg: str, field: str = "awg") -> str:
    """The gauge itself; refuses one that is not in the table."""
    if awg not in WIRES:
        raise Refused(field, "is not a gauge of the table: " + ", ".join(GAUGES))
    return awg


def thin_first(gauges: Sequence[str]) -> list[str]:
    """In their order from thin to thick."""
    return sorted(gauges, key=GAUGES.index)


def by_gauge(given: Mapping[str, float], field: str) -> dict[str, float]:
    """Figures by gauge, from thin to thick. Refuses unknown gauges and what is not above zero."""
    for awg in given:
        gauge(awg, field)
    return {awg: positive(given[awg], field) for awg in thin_first(list(given))}


def rating(rating_C: float) -> int:
    """The column of a temperature rating. Refuses any other (`rating_C`)."""
    if rating_C not in RATINGS:
        raise Refused("rating_C", "must be 105, 150 or 200")
    return RATINGS.index(int(rating_C))


def table_A(awg: str, column: int) -> float:
    """Current of the table, A."""
    return float(WIRES[awg][2][column])


def at_least(value: float, U: float, least: float) -> Verdict:
    """Against a least value; equality passes."""
    if value - U >= least - EVEN:
        return Verdict.IN
    return Verdict.OUT if value + U < least - EVEN else Verdict.TOO_CLOSE


def at_most(value: float, U: float, most: float) -> Verdict:
    """Against a greatest value; equality passes."""
    return at_least(-value, U, -most)
