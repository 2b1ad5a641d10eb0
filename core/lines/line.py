"""A tube as its builder entered it: its bend card, and what lies on the bench bend by bend."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from core.basis.refused import Refused
from core.lines.bend import BendCard, bend_card, lra_to_xyz
from core.lines.tube import Array, Tube
from core.runs.holes import Hole

ARC_POINTS = 9


@dataclass(frozen=True)
class Line:
    """A tube, SI. None: nobody said it.

    radii_m: finished, or of the former where `on_former`. supports_m: along the centreline;
    None until somebody said where it is held. edge_gap_m: to a bare edge that needs no guard.
    holes: None until somebody said what it goes through. placed: whether its corners are where
    it lies in the aircraft. source: of the maker's figures, in words.
    measured: what measuring an old tube showed to be wrong with it, in words.
    """

    name: str
    material: str
    od_m: float
    vertices_m: tuple[tuple[float, ...], ...]
    radii_m: tuple[float, ...]
    on_former: bool = False
    start_allowance_m: float = 0.0
    end_allowance_m: float = 0.0
    bender_offset_m: float = 0.0
    springback_a_rad: float = 0.0
    springback_b: float = 0.0
    min_radius_m: float | None = None
    max_spacing_m: float | None = None
    grip_m: float | None = None
    start_straight_m: float | None = None
    end_straight_m: float | None = None
    supports_m: tuple[float, ...] | None = None
    edge_gap_m: float | None = None
    holes: tuple[Hole, ...] | None = None
    source: str = ""
    measured: tuple[str, ...] = ()
    placed: bool = True

    def card_inputs(self) -> dict[str, object]:
        """Under the names of `lines.bend_card`."""
        return {
            "vertices_m": [list(v) for v in self.vertices_m],
            ("former_radii_m" if self.on_former else "radii_m"): list(self.radii_m),
            "start_allowance_m": self.start_allowance_m,
            "end_allowance_m": self.end_allowance_m,
            "bender_offset_m": self.bender_offset_m,
            "springback_a_rad": self.springback_a_rad,
            "springback_b": self.springback_b,
        }

    @cached_property
    def card(self) -> BendCard:
        """Its bend card. Refuses what cannot be bent, by field."""
        return bend_card(**self.card_inputs())  # type: ignore[arg-type]

    @cached_property
    def tube(self) -> Tube:
        """As it lies in the aircraft, with its finished radii."""
        return Tube.of(self.vertices_m, self.card.radii_m)

    def on_the_bench(self, bends: int) -> Array:
        """The centreline after so many bends, the rest still straight: start at the origin along
        x, the first bend in the plane of x and y, m."""
        card, n = self.card, len(self.card.angles_rad)
        if not 0 <= bends <= n:
            raise Refused("bends", f"must be from 0 to {n}")
        rest = math.fsum(card.straights_m[bends:]) + math.fsum(card.arcs_m[bends:])
        made = lra_to_xyz(
            [*card.straights_m[:bends], rest],
            card.angles_rad[:bends],
            card.rotations_rad[: max(0, bends - 1)],
            card.radii_m[:bends],
            (0.0, 0.0, 0.0),
            (1.0, 0.0, 0.0),
            (0.0, 0.0, 1.0),
        )
        return drawn(made.vertices_m, card.radii_m[:bends])

    def in_the_aircraft(self) -> Array:
        """The centreline as it lies, arcs in small steps, m."""
        return drawn(self.vertices_m, self.card.radii_m)


def drawn(vertices: Sequence[Sequence[float]], radii: Sequence[float]) -> Array:
    """Points along a tube's centreline, its arcs in small steps, m."""
    tube = Tube.of(vertices, radii)
    found = [tube.vertices[0]]
    for bend, beta in enumerate(tube.angles, 1):
        centre, axis = tube.centre(bend), tube.normals[bend - 1]
        spoke = tube.begins(bend) - centre
        for share in np.linspace(0.0, 1.0, ARC_POINTS):
            c, s = math.cos(share * beta), math.sin(share * beta)
            found.append(centre + spoke * c + np.cross(axis, spoke) * s)
    return np.array([*found, tube.vertices[-1]])
