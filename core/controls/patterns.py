"""Controls to begin with, and what every described control must be.

Patterns of ordinary controls: surfaces, where positive deflection goes, positions, and what must
be seen when the pilot moves the control. Nothing of a drawing is in them: limits are the user's.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from core.basis.refused import Refused, choice

UP, DOWN, RIGHT = "trailing_edge_up", "trailing_edge_down", "trailing_edge_right"
POSITIVE = (UP, DOWN, RIGHT)
SIDES = ("", "left", "right")
# What a surface that lies can be brought to, and one that stands.
LYING = ("neutral", "up_stop", "down_stop")
STANDING = ("neutral", "left_stop", "right_stop")
DETENT = re.compile(r"detent_([1-9]\d?)", re.ASCII)
MOST_SURFACES, MOST_DETENTS = 8, 8
NOT_PRIMARY = "is no primary control (14 CFR 23.689; confirm against the current edition)"


@dataclass(frozen=True)
class Part:
    """A surface as described: its name, side ("", left, right), and its positive way."""

    name: str
    side: str = ""
    positive: str = UP


@dataclass(frozen=True)
class Pattern:
    """A control to begin with. not_primary: why it is none; empty where it is one."""

    name: str
    parts: tuple[Part, ...]
    positions: tuple[str, ...]
    sense: str
    not_primary: str = ""


def _pair(name: str, positive: str) -> tuple[Part, Part]:
    return Part(f"Left {name}", "left", positive), Part(f"Right {name}", "right", positive)


PATTERNS = (
    Pattern("Elevator", (Part("Elevator"),), LYING, "Stick back: trailing edge up"),
    Pattern(
        "Ailerons",
        _pair("aileron", UP),
        LYING,
        "Stick left: left trailing edge up, right trailing edge down",
    ),
    Pattern(
        "Rudder",
        (Part("Rudder", "", RIGHT),),
        STANDING,
        "Left pedal forward: trailing edge left",
    ),
    Pattern(
        "Flaps",
        _pair("flap", DOWN),
        ("neutral",),
        "Flaps set down: both trailing edges down together",
        f"A flap {NOT_PRIMARY}",
    ),
    Pattern(
        "Trim",
        (Part("Trim tab", "", DOWN),),
        LYING,
        "Trim nose down: tab trailing edge up",
        f"A trim tab {NOT_PRIMARY}",
    ),
    Pattern(
        "Flaperons",
        _pair("flaperon", DOWN),
        LYING,
        "Stick left: left trailing edge up, right trailing edge down; flaps set down: both down",
    ),
    Pattern(
        "Spoilers",
        _pair("spoiler", UP),
        ("neutral", "up_stop"),
        "Lever back: both spoilers rise together",
        f"A spoiler used as an air brake {NOT_PRIMARY}",
    ),
)


def allowed(positive: str) -> tuple[str, ...]:
    """The stops and neutral of a surface with this positive way; detents come besides."""
    return STANDING if positive == RIGHT else LYING


def checked_parts(parts: Sequence[Part]) -> None:
    """Refuses none or too many, a name twice or empty, and words that are not known."""
    if not 1 <= len(parts) <= MOST_SURFACES:
        raise Refused("surfaces", f"must be 1 to {MOST_SURFACES}")
    seen: set[str] = set()
    for i, part in enumerate(parts):
        at = f"surfaces.{i}"
        name = part.name.strip().casefold()
        if not name:
            raise Refused(f"{at}.name", "is needed")
        if name in seen:
            raise Refused(f"{at}.name", "is another surface's already")
        seen.add(name)
        choice(part.side, SIDES, f"{at}.side")
        choice(part.positive, POSITIVE, f"{at}.positive")
    if len({p.positive == RIGHT for p in parts}) > 1:
        raise Refused("surfaces", "of one control all lie, or all stand as a rudder does")


def checked_positions(positions: Sequence[str], positive: str) -> tuple[str, ...]:
    """The positions in order: neutral, stops, then detents by their number.

    Refuses none, one twice, a stop that such a surface has not, and detents that are no whole
    number from 1 to 99.
    """
    if not positions:
        raise Refused("positions", "name at least one position to measure at")
    if len(set(positions)) != len(positions):
        raise Refused("positions", "names a position twice")
    order = allowed(positive)
    detents = []
    for position in positions:
        if position in order:
            continue
        found = DETENT.fullmatch(position)
        if found is None:
            words = ", ".join(p.replace("_", " ") for p in order)
            said = position.replace("_", " ")
            raise Refused("positions", f"{said} is not one of: {words}, or detent 1 to 99")
        detents.append(int(found.group(1)))
    if len(detents) > MOST_DETENTS:
        raise Refused("positions", f"{MOST_DETENTS} detents at most")
    stops = [p for p in order if p in positions]
    return (*stops, *(f"detent_{n}" for n in sorted(detents)))
