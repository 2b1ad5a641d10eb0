"""Figures with what is wanted of them: within, or over."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from time import perf_counter


@dataclass
class Report:
    """All lines so far; any that is over makes the whole one over."""

    over: int = 0
    lines: list[str] = field(default_factory=list)

    def title(self, text: str) -> None:
        """What comes next."""
        self._say(f"\n{text}")

    def at_most(self, what: str, value: float, wanted: float, unit: str = "ms") -> None:
        """A figure that must not be larger than wanted."""
        self._judge(what, value, value <= wanted, f"at most {wanted:g}", unit)

    def at_least(self, what: str, value: float, wanted: float, unit: str = "times") -> None:
        """A figure that must not be smaller than wanted."""
        self._judge(what, value, value >= wanted, f"at least {wanted:g}", unit)

    def _judge(self, what: str, value: float, fine: bool, wanted: str, unit: str) -> None:
        self.over += not fine
        word = "within" if fine else "OVER"
        shown = f"{value:.3g}" if abs(value) < 100 else f"{value:.0f}"
        self._say(f"  {what:56} {shown:>8} {unit:5} (wanted: {wanted}) {word}")

    def _say(self, line: str) -> None:
        self.lines.append(line)
        print(line, flush=True)


def quantile(values: list[float], share: float) -> float:
    """The ⌈share · n⌉-th smallest."""
    return sorted(values)[math.ceil(share * len(values)) - 1]


def took(work: Callable[[], object], times: int = 9) -> float:
    """Median time of a call, ms; once before, uncounted."""
    work()
    each = []
    for _ in range(times):
        begun = perf_counter()
        work()
        each.append(perf_counter() - begun)
    return sorted(each)[times // 2] * 1e3
