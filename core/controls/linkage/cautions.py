"""What comes near trouble in a linkage's range: flat transmission, dead centre, a bent rod end.

Source: shop values, not a standard's; the kit maker's own limits go before them.
"""

from __future__ import annotations

import math

# Below these a rod moves its arm poorly, or may throw it over centre, rad.
TRANSMISSION = math.radians(30.0)
DEAD_CENTRE = math.radians(15.0)


def rod_cautions(
    rod: str,
    transmission: float,
    to_dead_centre: float | None = None,
    cone_left: float | None = None,
    clocked: float = 0.0,
) -> list[str]:
    """Sentences about one rod, none where nothing comes near; all angles rad.

    transmission, to_dead_centre, cone_left: the least within the range. clocked: how far the
    locked ends are turned against each other; half of it comes off the cone at either end.
    """
    said = []
    if transmission < TRANSMISSION:
        said.append(
            f"Rod {rod}: only {math.degrees(transmission):.0f}° between rod and arm at its driven"
            f" end somewhere in this range (under {math.degrees(TRANSMISSION):.0f}°)."
        )
    if to_dead_centre is not None and to_dead_centre < DEAD_CENTRE:
        said.append(
            f"Rod {rod} comes within {math.degrees(to_dead_centre):.0f}° of dead centre"
            f" (under {math.degrees(DEAD_CENTRE):.0f}°)."
        )
    if cone_left is not None and cone_left - abs(clocked) / 2.0 < 0.0:
        past = math.degrees(abs(clocked) / 2.0 - cone_left)
        said.append(f"Rod {rod}: a rod end is bent {past:.1f}° past its cone: it binds.")
    return said
