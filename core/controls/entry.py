"""The entry bar's grammar: one line that is a reading or a jump.

`elev up 26.4`, `ail l dn 13.5 gauge 2`, `rud r 24 1/4`, `go sign-off`. Names may be
shortened to any unambiguous beginning. What is not understood is refused with what is
accepted; nothing is guessed.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from core.basis.refused import Refused

POSITION_WORDS = {
    "up": "up_stop",
    "down": "down_stop",
    "dn": "down_stop",
    "neutral": "neutral",
    "ntl": "neutral",
    "left": "left_stop",
    "right": "right_stop",
    "l": "left_stop",
    "r": "right_stop",
}
SIDE_WORDS = {"left": "left", "l": "left", "right": "right", "r": "right"}


@dataclass(frozen=True)
class Known:
    """A surface of the aircraft as the grammar knows it."""

    id: str
    control: str
    side: str
    positions: tuple[str, ...]


@dataclass(frozen=True)
class Jump:
    """Go to a page."""

    page: str


@dataclass(frozen=True)
class Typed:
    """A reading as typed: which surface and position, the value's text, the instrument."""

    surface: str
    position: str
    value: str
    instrument: str | None


def understand(
    line: str, surfaces: Sequence[Known], instruments: Sequence[str], pages: Sequence[str]
) -> Jump | Typed:
    """What the line says. Refuses, under `entry`, what it cannot place.

    surfaces: of this aircraft; instruments: their names; pages: names that `go` takes.
    """
    words = line.strip().lower().split()
    if not words:
        raise Refused("entry", "type a reading (elev up 26.4) or a jump (go controls)")
    if words[0] in ("go", "g"):
        if len(words) < 2:
            raise Refused("entry", "go where? " + ", ".join(pages))
        return Jump(_only(" ".join(words[1:]), pages, "page"))
    control = _only(words[0], sorted({s.control for s in surfaces}), "control")
    return _reading(words[1:], [s for s in surfaces if s.control == control], instruments)


def _reading(words: list[str], named: list[Known], instruments: Sequence[str]) -> Typed:
    rest = list(words)
    if len(named) > 1:
        side = SIDE_WORDS.get(rest[0]) if rest else None
        if side is None:
            raise Refused("entry", "say which side: l or r")
        named = [s for s in named if s.side == side]
        if not named:
            raise Refused("entry", f"has no {side} side")
        rest.pop(0)
    surface = named[0]
    position = _position(rest, surface)
    value, instrument = _value_and_instrument(rest[1:], instruments)
    return Typed(surface.id, position, value, instrument)


def _position(rest: list[str], surface: Known) -> str:
    accepted = ", ".join(p.replace("_stop", "").replace("_", " ") for p in surface.positions)
    position = POSITION_WORDS.get(rest[0]) if rest else None
    if position is None and rest:
        position = next((p for p in surface.positions if p == rest[0]), None)
    if position not in surface.positions:
        raise Refused("entry", f"say which position: {accepted}")
    return str(position)


def _value_and_instrument(rest: list[str], instruments: Sequence[str]) -> tuple[str, str | None]:
    """The value is all up to the first word that begins an instrument's name."""
    for i, word in enumerate(rest):
        # `deg` and the like belong to the value; an instrument's name begins with two letters.
        if i and re.match(r"[a-z]{2}", word):
            tail = " ".join(rest[i:])
            found = _matching(tail, instruments)
            if len(found) == 1:
                return " ".join(rest[:i]), found[0]
            if len(found) > 1:
                raise Refused("entry", f"{tail} could be {' or '.join(found)}")
    if not rest:
        raise Refused("entry", "type the value")
    return " ".join(rest), None


def _only(word: str, names: Sequence[str], kind: str) -> str:
    found = _matching(word, names)
    if len(found) == 1:
        return found[0]
    if found:
        raise Refused("entry", f"{word} could be {' or '.join(found)}")
    raise Refused("entry", f"{word} is no {kind} here: {', '.join(names)}")


def _matching(word: str, names: Iterable[str]) -> list[str]:
    """Names equal to the word, else those that begin with it; case and spaces aside."""
    plain = re.sub(r"[\s-]+", "", word.lower())
    every = [(n, re.sub(r"[\s-]+", "", n.lower())) for n in names]
    same = [n for n, p in every if p == plain]
    return same or [n for n, p in every if p.startswith(plain)]
