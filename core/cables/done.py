"""What was measured on a loop and done to it, as plain data, and which of it stands.

A turn on either side changes the tension of both: only what was read since then counts, and of
each way of measuring the last reading. Nothing is taken to be locked until somebody said so.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from core.basis.quantities import LBF
from core.basis.uncertainty import of_resolution, rectangular

# Tensions measured at temperatures further apart than this are not compared, K.
SAME_K = 1.5
# Two tensions that differ by less than this are shown as one, N.
SAME_N = 2.0
# Standard uncertainties where the user gives none: of the mass per length (relative), of a
# span by tape and a deflection by ruler (m), of a spring scale to 0.2 lbf (N), of a span that
# is plucked (m), of where a surface stands (rad): this product's, each shown beside its field.
U_MASS_REL = 0.02
U_SPAN_M, U_DEFLECTION_M, U_PLUCKED_SPAN_M = 0.002, 0.0005, 0.003
U_FORCE_N = rectangular(0.2 * LBF)
# A pluck is searched between these shares of the tension wanted.
LOWEST_SHARE, HIGHEST_SHARE = 0.3, 3.0

RIGGING = ("neutral locked", "tension set", "travel set", "stops set", "sense seen", "safetied")


@dataclass(frozen=True)
class Read:
    """A tension of one side, N, or where the driven lever stands, rad (method `straight`).

    origin: by whom, when and with what it was measured, in words.
    """

    key: int
    side: str
    method: str
    value: float
    u: float
    at: datetime
    temperature_K: float | None = None
    calibration_due: date | None = None
    rule: str = ""
    inputs: Mapping[str, Any] = field(default_factory=dict)
    origin: str = ""


@dataclass(frozen=True)
class Did:
    """A thing done to one side, with what was said of it and what a rule made of that."""

    doing: str
    side: str
    at: datetime
    data: Mapping[str, Any] = field(default_factory=dict)
    inputs: Mapping[str, Any] = field(default_factory=dict)
    result: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Done:
    """Readings and events that hold, oldest first; thread showing by side (None: not counted)."""

    readings: Sequence[Read] = ()
    events: Sequence[Did] = ()
    showing: Mapping[str, tuple[float, float] | None] = field(default_factory=dict)

    def did(self, doing: str, side: str = "") -> list[Did]:
        """Things done of one kind, on one side or any."""
        return [e for e in self.events if e.doing == doing and side in ("", e.side)]

    def last(self, doing: str, side: str = "") -> Did | None:
        """The last of them."""
        found = self.did(doing, side)
        return found[-1] if found else None

    def _since_turned(self) -> list[Read]:
        turned = self.last("turned")
        return [r for r in self.readings if turned is None or r.at > turned.at]

    def current(self, side: str) -> list[Read]:
        """Tensions of a side since the last turn: the last of each way of measuring."""
        rows = [r for r in self._since_turned() if r.side == side and r.method != "straight"]
        return list({r.method: r for r in rows}.values())

    def straight(self) -> Read | None:
        """Where the driven lever stands, measured since the last turn."""
        rows = [r for r in self._since_turned() if r.method == "straight"]
        return rows[-1] if rows else None

    def safetied(self, side: str) -> bool:
        """Whether the lock of a side's turnbuckle is on; turning takes it off."""
        for e in reversed(self.events):
            if e.side == side and e.doing in ("turned", "unsafetied"):
                return False
            if e.side == side and e.doing == "safetied":
                return True
        return False

    def step_holds(self, step: str) -> Did | None:
        """A step of the rigging that still counts: done after the last turn (neutral: ever)."""
        made = [e for e in self.did("step") if e.data["step"] == step]
        turned = self.last("turned")
        if not made:
            return None
        holds = step == "neutral locked" or turned is None or made[-1].at >= turned.at
        return made[-1] if holds else None


def best(readings: Sequence[Read]) -> Read | None:
    """The reading that speaks: the most certain of those that stand, the last among equals."""
    return min(readings, key=lambda r: (r.u, -r.key)) if readings else None


def left_showing(
    counted: tuple[float, float] | None, turns: float, counted_at: float
) -> tuple[float, float] | None:
    """Thread outside at both ends now: as counted, less what was turned since."""
    if counted is None:
        return None
    since = turns - counted_at
    return counted[0] - since, counted[1] - since


def u_of_card(accuracy: float, resolution: float) -> float:
    """Standard uncertainty of one reading of a gauge, divisions, from its maker's figures."""
    return math.hypot(rectangular(accuracy), of_resolution(resolution))
