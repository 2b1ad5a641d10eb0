"""A value with what each input's uncertainty does to it: first-order propagation (JCGM 100, 5.1).

Every input has a name; where the same input enters twice, its parts add with their signs before
anything is squared, so that what is common to two values cancels in their difference.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Uncertain:
    """A value and its parts: for each input the sensitivity times the standard uncertainty."""

    value: float
    parts: Mapping[str, float] = field(default_factory=dict)

    @property
    def u(self) -> float:
        """Standard uncertainty; all inputs are independent."""
        return math.hypot(*self.parts.values()) if self.parts else 0.0

    @property
    def U(self) -> float:
        """Expanded uncertainty, k = 2."""
        return 2.0 * self.u

    def _with(self, value: float, own: float, other: Uncertain | None, by: float) -> Uncertain:
        parts = {k: own * v for k, v in self.parts.items()}
        for k, v in (other.parts if other else {}).items():
            parts[k] = parts.get(k, 0.0) + by * v
        return Uncertain(value, parts)

    def __add__(self, other: Uncertain | float) -> Uncertain:
        b = of(other)
        return self._with(self.value + b.value, 1.0, b, 1.0)

    def __sub__(self, other: Uncertain | float) -> Uncertain:
        b = of(other)
        return self._with(self.value - b.value, 1.0, b, -1.0)

    def __mul__(self, other: Uncertain | float) -> Uncertain:
        b = of(other)
        return self._with(self.value * b.value, b.value, b, self.value)

    def __truediv__(self, other: Uncertain | float) -> Uncertain:
        b = of(other)
        ratio = self.value / b.value
        return self._with(ratio, 1.0 / b.value, b, -ratio / b.value)

    __radd__ = __add__
    __rmul__ = __mul__

    def through(self, f: Callable[[float], float], slope: Callable[[float], float]) -> Uncertain:
        """A function of it, by its slope there."""
        return self._with(f(self.value), slope(self.value), None, 0.0)


def of(value: Uncertain | float) -> Uncertain:
    """A plain number is exact."""
    return value if isinstance(value, Uncertain) else Uncertain(float(value))


def known(name: str, value: float, u: float = 0.0) -> Uncertain:
    """An input by its name, with its standard uncertainty."""
    return Uncertain(value, {name: u} if u else {})


def total(values: list[Uncertain]) -> Uncertain:
    """Their sum."""
    found = Uncertain(0.0)
    for v in values:
        found = found + v
    return found


def sine(angle: Uncertain) -> Uncertain:
    """Of an angle in rad."""
    return angle.through(math.sin, math.cos)


def cosine(angle: Uncertain) -> Uncertain:
    """Of an angle in rad."""
    return angle.through(math.cos, lambda a: -math.sin(a))
