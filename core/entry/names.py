"""The aircraft's own names, and finding the one that a few typed letters mean."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from core.basis.refused import Refused


@dataclass(frozen=True)
class Known:
    """A surface of the aircraft as the grammar knows it."""

    id: str
    control: str
    side: str
    positions: tuple[str, ...]


@dataclass(frozen=True)
class Names:
    """Everything that a line may name. Joints, bays, lines (tubes) and wires: slug to name;
    ends: a connector's pin, the wire that ends there, and its end (a or b);
    wheels: the weighing that is being done, and each of its wheels;
    gaps: near pairs, both names, and what else each may be called, with its name."""

    surfaces: Sequence[Known] = ()
    instruments: Sequence[str] = ()
    pages: Sequence[str] = ()
    joints: tuple[tuple[str, str], ...] = ()
    bays: tuple[tuple[str, str], ...] = ()
    lines: tuple[tuple[str, str], ...] = ()
    wires: tuple[tuple[str, str], ...] = ()
    ends: tuple[tuple[str, str, str], ...] = ()
    wheels: tuple[tuple[str, str], ...] = ()
    gaps: tuple[tuple[str, str, str, str], ...] = ()

    @property
    def controls(self) -> list[str]:
        """The controls that have a surface."""
        return sorted({s.control for s in self.surfaces})


class Ambiguous(Refused):
    """The line could mean several things: `options` are lines that mean one each."""

    def __init__(self, said: str, names: Sequence[str], options: Sequence[str]) -> None:
        super().__init__("entry", f"{said} could be {' or '.join(names)}")
        self.options = tuple(options)


def matching(word: str, names: Iterable[str]) -> list[str]:
    """Names equal to the word, else those that begin with it; case and spaces aside."""
    plain = _plain(word)
    every = [(n, _plain(n)) for n in names]
    same = [n for n, p in every if p == plain]
    return same or [n for n, p in every if p.startswith(plain)]


def by_words(said: str, names: Sequence[tuple[str, str]]) -> list[tuple[str, str]]:
    """(slug, name) pairs whose words begin with all the words said; equal ones alone."""
    words = re.findall(r"\w+", said.lower())
    if not words:
        return []
    same = [(slug, name) for slug, name in names if re.findall(r"\w+", name.lower()) == words]
    if same:
        return same
    return [
        (slug, name)
        for slug, name in names
        if all(any(w.startswith(s) for w in re.findall(r"\w+", name.lower())) for s in words)
    ]


def only(word: str, names: Sequence[str], kind: str, line: str) -> str:
    """The one name meant. Refuses none, and asks which of several (`line` holds `{}`)."""
    found = matching(word, names)
    if len(found) == 1:
        return found[0]
    if found:
        raise Ambiguous(word, found, [line.format(f) for f in found])
    raise Refused("entry", f"{word} is no {kind} here: {', '.join(names)}")


def one_of(said: str, names: Sequence[tuple[str, str]], kind: str, line: str) -> str:
    """The slug of the one thing meant by these words; refuses none, asks which of several."""
    found = by_words(said, names)
    if len(found) == 1:
        return found[0][0]
    if found:
        shown = [name for _, name in found[:8]]
        raise Ambiguous(said, shown, [line.format(name.lower()) for name in shown])
    raise Refused("entry", f"no {kind} here is called {said or 'nothing'}")


def _plain(text: str) -> str:
    return re.sub(r"[\s-]+", "", text.lower())
