"""What a line says of a gap measured by hand: `gap w12 fuel 18 mm ± 0.5 mm`."""

from __future__ import annotations

import re
from dataclasses import dataclass

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.entry.names import Ambiguous, Names

_FIGURE = r"[0-9]+(?:[.,][0-9]+)?(?:\s*[a-z]+)?"
_GAP = re.compile(
    rf"(?P<words>.*?\S)\s+(?P<gap>{_FIGURE})(?:\s*(?:±|\+/?-)\s*(?P<u>{_FIGURE}))?$", re.IGNORECASE
)


@dataclass(frozen=True)
class GapMeasured:
    """Two things by name, the gap and how sure it is as typed; `u` may be blank: not said."""

    a: str
    b: str
    gap: str
    u: str = ""


def gap(said: str, names: Names) -> GapMeasured:
    """The near pair that these words mean. Refuses none, and asks which of several."""
    if not names.gaps:
        raise Refused("entry", "nothing comes near anything else yet")
    found = _GAP.match(said.strip())
    if found is None:
        raise Refused("entry", "type both and the gap: gap w12 fuel 18 mm ± 0.5 mm")
    for figure in (found["gap"], found["u"]):
        if figure:
            parse(figure, "length", "mm", "entry")
    words = re.findall(r"\w+", found["words"].lower())
    pairs = [(a, b) for a, b, as_a, as_b in names.gaps if _means(words, as_a, as_b)]
    figures = found["gap"] + (f" ± {found['u']}" if found["u"] else "")
    if len(pairs) == 1:
        return GapMeasured(*pairs[0], found["gap"], found["u"] or "")
    if pairs:
        shown = pairs[:8]
        raise Ambiguous(
            found["words"],
            [f"{a} – {b}" for a, b in shown],
            [f"gap {plain(a)} {plain(b)} {figures}" for a, b in shown],
        )
    raise Refused("entry", f"no two that come near are called {found['words']}")


def plain(name: str) -> str:
    """A name in words that a line may have."""
    return " ".join(re.findall(r"\w+", name.lower()))


def _means(words: list[str], as_a: str, as_b: str) -> bool:
    """Whether the words name both: they fall apart into some for one and some for the other."""
    sides = [re.findall(r"\w+", x.lower()) for x in (as_a, as_b)]

    def fits(some: list[str], side: list[str]) -> bool:
        return bool(some) and all(any(w.startswith(s) for w in side) for s in some)

    return any(
        fits(words[:n], one) and fits(words[n:], other)
        for n in range(1, len(words))
        for one, other in (sides, sides[::-1])
    )
