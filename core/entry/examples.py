"""Lines that mean something on this very aircraft, for somebody who has typed none yet."""

from __future__ import annotations

from collections.abc import Iterator

from core.basis.refused import Refused
from core.entry.grammar import understand
from core.entry.names import Names


def examples(names: Names) -> tuple[str, ...]:
    """One line of each kind that can be said here; every one of them is understood."""
    return tuple(line for line in _tried(names) if _means(line, names))


def _tried(names: Names) -> Iterator[str]:
    for s in names.surfaces[:1]:
        stops = [p for p in s.positions if p.endswith("_stop")] or list(s.positions)
        words = [s.control, s.side, stops[0].replace("_stop", ""), "12.5"]
        yield " ".join(w for w in words if w)
    joints, bays = ([name.lower() for _, name in found] for found in (names.joints, names.bays))
    for name in sorted(joints, key=len)[:1]:
        yield f"torque 42 inlb {name}"
    for name in bays[:1]:
        yield f"loose plug in {name}: until it is connected"
    for name in [b for b in reversed(bays) if _means(f"go {b}", names)][:1]:
        yield f"go {name}"


def _means(line: str, names: Names) -> bool:
    try:
        understand(line, names)
    except Refused:
        return False
    return True
