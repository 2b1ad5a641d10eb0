"""What the pilot's force puts into each rod, through the mechanism, by virtual work.

No friction, no stretch, and no force of the surface's own stop: the stop that reacts the force
is taken to lie at the far end of the chain.
"""

from __future__ import annotations

import numpy as np

from core.basis.refused import Refused, positive
from core.basis.vectors import Num, cross, minus, size
from core.controls.linkage.mechanism import ByInput
from core.controls.linkage.rod_ends import rod_states
from core.controls.linkage.solving import Motion, rates


def rod_loads(m: Motion, name: str, force: float) -> dict[str, Num]:
    """Load in each rod, N, for `force`, N, at the grip of the input's body.

    inf where a rod does not move with the input. Refuses an input whose body does not turn
    or has no point `grip` off its axis.
    """
    positive(force, "pilot_force_N")
    moved = rates(m, {name: 1.0}, {})
    reach, body = _grip(m, name)
    loads = {}
    for rod, state in rod_states(m).items():
        end = m.plan.mechanism.rod(rod).a
        along = np.abs(moved[end.body]) * state.a.arm
        with np.errstate(divide="ignore"):
            loads[rod] = force * reach * np.abs(moved[body]) / along
    return loads


def _grip(m: Motion, name: str) -> tuple[float, str]:
    for b in m.plan.mechanism.bodies:
        d = b.driven_by
        if isinstance(d, ByInput) and d.input == name and b.kind == "turn" and "grip" in b.points:
            reach = float(size(cross(b.axis, minus(b.points["grip"], b.pivot))))
            if reach > 0.0:
                return reach, b.id
    raise Refused("input", f"{name} has no lever with a point called grip off its axis")
