"""The smallest set of half-turns that brings neutral and travel inside.

Prediction = measured + [model(changed) - model(unchanged)], each model value taken at its
own first stop contact. Every whole combination is solved in closed form, many at once.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from core.basis.refused import Refused, finite, not_negative
from core.basis.verdicts import SLACK
from core.controls.linkage.contact import AtStops, Bench, at_stops, check, places
from core.controls.linkage.vectors import Num

NEEDED = ("neutral", "plus", "minus")
THROWS = ("throw_plus", "throw_minus")
CHUNK = 6000
MOST_ITEMS = 3
Limits = tuple[float | None, float | None]


@dataclass(frozen=True)
class Item:
    """Something that is turned: a rod (step in m of length) or a stop (step in q of its
    body) per half-turn, from `least` to `most` whole half-turns."""

    id: str
    step: float
    least: int
    most: int

    def turns(self) -> list[int]:
        """Every number of half-turns but none."""
        return [n for n in range(self.least, self.most + 1) if n]


@dataclass(frozen=True)
class Aim:
    """What was measured and what is required, rad or m, by `neutral`, `plus`, `minus`."""

    measured: Mapping[str, float]
    required: Mapping[str, Limits]
    U: float = 0.0


@dataclass(frozen=True)
class Advice:
    """`changes`: half-turns by id (+ longer, + q). Not found: only geometry can mend it.

    `guarded`: inside by U; else inside, but too close to call.
    """

    found: bool
    guarded: bool = False
    changes: Mapping[str, int] | None = None
    predicted: Mapping[str, float] | None = None
    worst_margin: float | None = None


@dataclass(frozen=True)
class _Batch:
    """Combinations with equally many items and stops: half-turns (N, items), predictions."""

    turns: Num
    predicted: dict[str, Num]


def advise(
    b: Bench, aim: Aim, rods: Sequence[Item], stops: Sequence[Item], max_items: int = MOST_ITEMS
) -> Advice:
    """Search all whole half-turn combinations of up to `max_items` items.

    Fewest items, then fewest stops among them, then fewest half-turns, then the greatest
    worst margin, then the greater step in list order. First inside by U, else just inside.
    Refuses unknown names and steps of zero, and a control that meets no stop as it is.
    """
    check(b)
    _check(b, aim, rods, stops, max_items)
    search = _Search(b, aim, tuple(rods), tuple(stops))
    kept: list[_Batch] = []
    for batch in search.batches(max_items):
        kept.append(batch)
        found = search.best(batch, aim.U)
        if found:
            return found
    for batch in kept:
        found = search.best(batch, None)
        if found:
            return found
    return Advice(found=False)


def predict(
    b: Bench, measured: Mapping[str, float], rods: Sequence[Item], stops: Sequence[Item]
) -> dict[str, float]:
    """What this output would read with each item turned by its `least` half-turns.

    Refuses a change that locks up or meets no stop.
    """
    search = _Search(b, Aim(measured, {k: (None, None) for k in measured}), (*rods,), (*stops,))
    turns = np.array([[i.least for i in (*rods, *stops)]], dtype=int).reshape(1, -1)
    found = {k: float(v[0]) for k, v in search.predict(turns).items()}
    if any(math.isnan(v) for v in found.values()):
        raise Refused("changes", "with these the control locks up or meets no stop")
    return found


class _Search:
    def __init__(self, b: Bench, aim: Aim, rods: tuple[Item, ...], stops: tuple[Item, ...]) -> None:
        self.bench, self.aim, self.rods, self.stops = b, aim, rods, stops
        self.items = (*rods, *stops)
        self.keys = tuple(k for k in (*NEEDED, *THROWS) if k in aim.measured)
        self.base = self._model(np.zeros((1, len(self.items)), dtype=int))
        for key in self.keys:
            if math.isnan(float(self.base[key][0])):
                raise Refused("stops", f"without a change the control meets no stop ({key})")

    def batches(self, most: int) -> Iterator[_Batch]:
        """All combinations, by number of items and then of stops among them."""
        n_rods = len(self.rods)
        for count in range(min(most, len(self.items)) + 1):
            for n_stops in range(count + 1):
                rows = []
                for chosen in itertools.combinations(range(len(self.items)), count):
                    if sum(i >= n_rods for i in chosen) == n_stops:
                        rows.append(self._combined(chosen))
                turns = np.concatenate(rows) if rows else np.zeros((0, len(self.items)), int)
                if len(turns):
                    yield _Batch(turns, self.predict(turns))

    def _combined(self, chosen: tuple[int, ...]) -> Num:
        ways = np.array(list(itertools.product(*(self.items[i].turns() for i in chosen))), int)
        turns = np.zeros((len(ways), len(self.items)), dtype=int)
        if chosen:
            turns[:, list(chosen)] = ways.reshape(len(ways), len(chosen))
        return turns

    def predict(self, turns: Num) -> dict[str, Num]:
        """Predictions by key, (N,); nan for what locks up, meets no stop, or rests outside."""
        parts = [self._model(turns[i : i + CHUNK]) for i in range(0, len(turns), CHUNK)]
        return {
            k: self.aim.measured[k] + np.concatenate([p[k] for p in parts]) - self.base[k]
            for k in self.keys
        }

    def _model(self, turns: Num) -> dict[str, Num]:
        n_rods, b = len(self.rods), self.bench
        built, which = np.unique(turns[:, :n_rods], axis=0, return_inverse=True)
        nominal = b.plan.lengths
        lengths = {
            r.id: nominal[r.id] + r.step * built[:, i].astype(float)
            for i, r in enumerate(self.rods)
        }
        at = places(b.stops, len(turns))
        ids = [s.id for s in b.stops]
        for j, s in enumerate(self.stops):
            at[ids.index(s.id)] += s.step * turns[:, n_rods + j]
        found = at_stops(b, lengths, which.reshape(-1), at)
        return {k: _of(found, k) for k in self.keys}

    def best(self, batch: _Batch, guard: float | None) -> Advice | None:
        """The best combination of a batch that is inside by `guard`, None if there is none."""
        inside = np.ones(len(batch.turns), dtype=bool)
        worst = np.full(len(batch.turns), np.inf)
        for key, (lo, hi) in self.aim.required.items():
            y = batch.predicted[key]
            slack = SLACK * np.maximum(1.0, np.abs(y))
            inside &= ~np.isnan(y)
            for margin in ([] if lo is None else [y - lo]) + ([] if hi is None else [hi - y]):
                inside &= margin >= (guard or 0.0) - slack
                worst = np.fmin(worst, margin)
        if not inside.any():
            return None

        def order(i: int) -> tuple[int, float, tuple[int, ...]]:
            row = batch.turns[i]
            return (-int(np.abs(row).sum()), round(float(worst[i]), 9), tuple(row.tolist()))

        i = max(np.flatnonzero(inside).tolist(), key=order)
        row = batch.turns[i].tolist()
        return Advice(
            found=True,
            guarded=guard is not None,
            changes={item.id: n for item, n in zip(self.items, row, strict=True) if n},
            predicted={k: float(v[i]) for k, v in batch.predicted.items()},
            worst_margin=float(worst[i]),
        )


def _of(found: AtStops, key: str) -> Num:
    values: Num = getattr(found, key)
    return np.atleast_1d(values)


def _check(b: Bench, aim: Aim, rods: Sequence[Item], stops: Sequence[Item], max_items: int) -> None:
    for key in NEEDED:
        if key not in aim.measured:
            raise Refused(f"measured.{key}", "is needed")
    for key, (lo, hi) in aim.required.items():
        if key not in (*NEEDED, *THROWS):
            raise Refused(f"required.{key}", "is not known here")
        if key not in aim.measured:
            raise Refused(f"measured.{key}", "is needed: it is required")
        if lo is not None and hi is not None and lo > hi:
            raise Refused(f"required.{key}", "the low limit is above the high limit")
    for key, value in aim.measured.items():
        finite(value, f"measured.{key}")
    not_negative(aim.U, "U")
    if not 0 <= max_items <= MOST_ITEMS:
        raise Refused("max_items", f"must be 0 to {MOST_ITEMS}")
    known = {"rods": set(b.plan.lengths), "adjustable_stops": {s.id for s in b.stops}}
    for name, items in (("rods", rods), ("adjustable_stops", stops)):
        seen: set[str] = set()
        for i in items:
            if i.id not in known[name]:
                raise Refused(f"{name}.{i.id}", "is not one of this mechanism")
            if i.id in seen:
                raise Refused(f"{name}.{i.id}", "is there twice")
            seen.add(i.id)
            if finite(i.step, f"{name}.{i.id}") == 0.0:
                raise Refused(f"{name}.{i.id}", "a step of zero changes nothing")
            if i.least > i.most:
                raise Refused(f"{name}.{i.id}", "the least is above the most")
