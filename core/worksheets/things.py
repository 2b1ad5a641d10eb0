"""What a worksheet may be about that other trades know: a lever or pedal with its travel."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Turning:
    """Something that a control turns about an axis of its own: its least and greatest angle
    through the control's whole travel, rad, 0 at neutral."""

    name: str
    low_rad: float
    high_rad: float
    said: str
