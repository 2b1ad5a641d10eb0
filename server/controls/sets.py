"""Readings as rows, gathered into the sets that the core judges.

A set is what was read of one position in one way: method, practice, instrument, zero,
sense, skin, approach and servo alike. Neutral readings taken the same way belong to it.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from core.controls.travel import ReadingSet, direction
from core.controls.travel import Surface as CoreSurface
from server.controls.models import Reading, Surface
from server.instruments.models import Instrument

Key = tuple[object, ...]


@dataclass(frozen=True)
class RowSet:
    """Rows of one set, with the core's form of them."""

    rows: tuple[Reading, ...]
    neutral: tuple[Reading, ...]
    core: ReadingSet

    @property
    def servo(self) -> str:
        """Whether the autopilot's servo was connected, as noted; empty: not noted."""
        return str(self.rows[0].conditions.get("servo", ""))

    @property
    def is_length(self) -> bool:
        """Whether the readings are lengths (else angles)."""
        return self.core.method == "edge_offset"


def core_surface(s: Surface) -> CoreSurface:
    """The surface as the core takes it."""
    return CoreSurface(
        positive=s.positive,
        chord=s.chord_m,
        u_chord=s.u_chord_m,
        phi=s.phi_rad,
        u_phi=s.u_phi_rad,
        sweep=s.sweep_rad,
        u_sweep=s.u_sweep_rad,
        dihedral=s.dihedral_rad,
        neutral_included=s.neutral_included_rad,
        u_neutral_included=s.u_neutral_included_rad,
    )


def current(readings: Iterable[Reading]) -> list[Reading]:
    """The readings that stand: not replaced by a correction, not withdrawn."""
    rows = list(readings)
    replaced = {r.corrects_id for r in rows}
    return [r for r in rows if r.pk not in replaced and not r.withdrawn]


def sets_of(
    surface: Surface, position: str, readings: Sequence[Reading], best: Sequence[Instrument]
) -> list[RowSet]:
    """The sets of one position of one surface, in the order in which they were begun."""
    groups: dict[Key, list[Reading]] = defaultdict(list)
    neutral: dict[Key, list[Reading]] = defaultdict(list)
    for r in readings:
        if r.surface_id != surface.pk:
            continue
        if r.position == position:
            groups[(_key(r), r.side, r.conditions.get("servo", ""))].append(r)
        if r.position == "neutral":
            neutral[_key(r)].append(r)
    return [
        _row_set(surface, position, rows, neutral.get(_key(rows[0]), []), best)
        for rows in groups.values()
    ]


def _key(r: Reading) -> Key:
    was = r.instrument_was
    return (
        r.method,
        r.practice,
        r.instrument_id,
        was["accuracy"],
        was["resolution"],
        r.zero,
        r.sense,
        r.skin,
        r.conditions.get("gap_m"),
        r.check_reading,
    )


def _row_set(
    surface: Surface,
    position: str,
    rows: list[Reading],
    neutral: list[Reading],
    instruments: Sequence[Instrument],
) -> RowSet:
    r = rows[0]
    kind = "length" if r.method == "edge_offset" else "angle"
    best = min((i for i in instruments if i.kind == kind), key=lambda i: i.accuracy, default=None)
    core = ReadingSet(
        method=r.method,
        values=tuple(x.value for x in rows),
        accuracy=float(r.instrument_was["accuracy"]),
        resolution=float(r.instrument_was["resolution"]),
        direction=direction(surface.positive, position) or 1,
        practice=r.practice,
        neutral=tuple(x.value for x in neutral) if position != "neutral" else (),
        face=r.instrument_was.get("face") or "plus_minus_180",
        sense=r.sense,
        zero=r.zero,
        side=r.side,
        neutral_side=neutral[0].side if neutral else None,
        skin=r.skin,
        gap=r.conditions.get("gap_m") or 0.0,
        arm=r.conditions.get("arm_m"),
        best_accuracy=best.accuracy if best else 0.0,
        best_resolution=best.resolution if best else 0.0,
    )
    return RowSet(tuple(rows), tuple(neutral), core)
