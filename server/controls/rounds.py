"""Which readings stand in a round: its own, and those that it carries from the one before."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from server.controls.models import Reading, Round


def carried(rounds: Sequence[Round], chosen: Round, surfaces: Iterable[str]) -> dict[str, set[int]]:
    """For each surface the rounds (keys) whose readings stand in `chosen`."""
    earlier = [r for r in rounds if r.number <= chosen.number]
    found = {}
    for surface in surfaces:
        keys = {chosen.pk}
        for newer, older in zip(reversed(earlier), reversed(earlier[:-1]), strict=False):
            if surface not in newer.carries:
                break
            keys.add(older.pk)
        found[surface] = keys
    return found


def standing_in(rows: Iterable[Reading], rounds: Sequence[Round], chosen: Round) -> list[Reading]:
    """The readings (with their surfaces at hand) that stand in a round."""
    listed = list(rows)
    keys = carried(rounds, chosen, {r.surface.slug for r in listed})
    return [r for r in listed if r.round_id in keys[r.surface.slug]]
