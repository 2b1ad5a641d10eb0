"""What can be asked of a control, and which of its positions each requirement stands on."""

from __future__ import annotations

from collections.abc import Collection

from core.basis.refused import choice

KINDS = ("travel", "neutral", "symmetry", "ratio", "repeatability")


def stands_on(kind: str, position: str = "") -> frozenset[str]:
    """The positions that must be measured for it.

    position: of `travel` and `symmetry`; the others have their own. Refuses an unknown kind.
    """
    choice(kind, KINDS, "kind")
    if kind == "ratio":
        return frozenset({"up_stop", "down_stop"})
    if kind in ("neutral", "repeatability"):
        return frozenset({"neutral"})
    return frozenset({position})


def both_sides(sides: Collection[str]) -> bool:
    """Whether there is a left and a right surface to compare."""
    return {"left", "right"} <= set(sides)


def askable(positions: Collection[str], sides: Collection[str]) -> tuple[str, ...]:
    """The kinds of requirement that a control with these positions and sides can have."""
    travels = [p for p in positions if p != "neutral"]

    def can(kind: str) -> bool:
        if kind in ("travel", "symmetry"):
            return bool(travels) and (kind == "travel" or both_sides(sides))
        return stands_on(kind) <= set(positions)

    return tuple(kind for kind in KINDS if can(kind))
