"""How far apart things must stay, by their kinds: what is shipped, and the house's own."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

WIRES = ("wire", "noisy wire", "quiet wire", "coax")
FLUIDS = ("fuel", "oil", "brake", "oxygen")
CABLE, ROD = "control cable", "control rod"
KINDS = (
    *WIRES, "fuel", "oil", "brake", "vent", "pitot-static", CABLE, ROD, "hot air", "exhaust",
    "oxygen", "steel part", "magnetometer", "structure", "occupant", "other",
)  # fmt: skip
ANY, MOVING = "any", "moving"
SIDES = (*KINDS, ANY, MOVING)
CLAMPED, GUARDED, SLEEVED = "clamped", "guarded", "sleeved"
CONDITIONS = (CLAMPED, GUARDED, SLEEVED)
PREFERRED_M = 0.1524
CONFIRM = "confirm against the current edition"


@dataclass(frozen=True)
class Apart:
    """A distance between two kinds. condition: only where that is proven. pushed: holds while the
    bundle is pushed by hand."""

    a: str
    b: str
    least_m: float
    source: str
    condition: str = ""
    pushed: bool = False
    row: str = ""

    @property
    def words(self) -> str:
        """In a line."""
        where = f", {self.condition}" if self.condition else ""
        return f"{self.a} – {self.b}{where}: {self.least_m * 1e3:.1f} mm ({self.source})"


WIRING = "AC 43.13-1B ch. 11"
SHIPPED: tuple[Apart, ...] = (
    *(Apart(w, f, 0.0508, WIRING) for w in WIRES for f in FLUIDS),
    *(Apart(w, f, 0.0127, WIRING, CLAMPED) for w in WIRES for f in FLUIDS),
    *(Apart(w, CABLE, 0.0762, "FAA-H-8083-31") for w in WIRES),
    *(Apart(w, CABLE, 0.0, "FAA-H-8083-31: a guard is between", GUARDED) for w in WIRES),
    *(Apart(w, MOVING, 0.0127, f"{WIRING}, while pushed by hand", pushed=True) for w in WIRES),
)


@dataclass(frozen=True)
class Sorts:
    """What of a thing chooses its rule: its kind, and whether a control moves it."""

    kind: str
    moving: bool


@dataclass(frozen=True)
class Chosen:
    """The rule of a pair, and what a further proof would make of it."""

    rule: Apart | None
    reduced: tuple[Apart, ...] = ()


def _rank(r: Apart, a: Sorts, b: Sorts) -> int | None:
    """0 exact kinds, 1 one kind with any or what moves, 2 anything that moves, 3 anything."""
    best: int | None = None
    for x, y in ((r.a, r.b), (r.b, r.a)):
        fits = all(
            side == ANY or (side == MOVING and one.moving) or side == one.kind
            for side, one in ((x, a), (y, b))
        )
        if fits:
            general = [side for side in (x, y) if side in (ANY, MOVING)]
            rank = len(general) + (1 if general == [ANY, ANY] else 0)
            best = rank if best is None else min(best, rank)
    return best


def chosen(rules: Iterable[Apart], a: Sorts, b: Sorts, proven: Sequence[str] = ()) -> Chosen:
    """Exact kinds first, then one with any, then what moves with any; the house's own before
    what is shipped for the same kinds; of several that fit the largest. A reduced distance counts
    only where its condition is proven."""
    fitting: dict[int, list[Apart]] = {}
    for r in rules:
        rank = _rank(r, a, b)
        if rank is not None:
            fitting.setdefault(rank, []).append(r)
    for rank in sorted(fitting):
        listed = _own_first(fitting[rank])
        plain = [r for r in listed if not r.condition]
        reduced = [r for r in listed if r.condition]
        held = [r for r in reduced if r.condition in proven]
        if held:
            return Chosen(min(held, key=lambda r: r.least_m), tuple(reduced))
        if plain:
            return Chosen(max(plain, key=lambda r: r.least_m), tuple(reduced))
    return Chosen(None)


def _own_first(rules: Sequence[Apart]) -> list[Apart]:
    """Shipped ones only where the house has none for the same sides and condition."""
    own = {(frozenset((r.a, r.b)), r.condition) for r in rules if r.row}
    return [r for r in rules if r.row or (frozenset((r.a, r.b)), r.condition) not in own]


def farthest(rules: Iterable[Apart]) -> float:
    """The largest distance in force, and at least what is preferred of wires over fluids."""
    return max(PREFERRED_M, *(r.least_m for r in rules))
