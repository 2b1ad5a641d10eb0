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
from core.basis.vectors import Num
from core.basis.verdicts import SLACK
from core.controls.linkage.contact import AtStops, Bench, at_stops, check, places
from core.controls.linkage.solving import solve

NEEDED = ("neutral", "plus", "minus")
THROWS = ("throw_plus", "throw_minus")
CHUNK = 6000
MOST_ITEMS = 3
# What is tried at most, and how far one thing is turned: more would not end while one waits.
MOST_TRIED = 2_000_000
MOST_TURNS = 200
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
    beside: tuple[Mapping[str, float], ...] = ()


Target = tuple[Bench, Aim]


@dataclass(frozen=True)
class _Batch:
    """Combinations with equally many items and stops: half-turns (N, items), predictions
    by key for each target."""

    turns: Num
    predicted: tuple[dict[str, Num], ...]


def advise(
    b: Bench,
    aim: Aim,
    rods: Sequence[Item],
    stops: Sequence[Item],
    max_items: int = MOST_ITEMS,
    beside: Sequence[Target] = (),
) -> Advice:
    """Search all whole half-turn combinations of up to `max_items` items.

    Fewest items, then fewest stops among them, then fewest half-turns, then the greatest
    worst margin, then the greater step in list order. First inside by U, else just inside.
    beside: other outputs of the same mechanism that must be inside as well (the other side).
    Refuses unknown names and steps of zero, and a control that meets no stop as it is.
    """
    targets = ((b, aim), *beside)
    for bench, one in targets:
        check(bench)
        _check(bench, one, rods, stops, max_items)
    searches = [_Search(bench, one, tuple(rods), tuple(stops)) for bench, one in targets]
    kept: list[_Batch] = []
    for turns in _batches(rods, stops, max_items):
        batch = _Batch(turns, tuple(s.predict(turns) for s in searches))
        kept.append(batch)
        found = _best(batch, searches, guarded=True)
        if found:
            return found
    for batch in kept:
        found = _best(batch, searches, guarded=False)
        if found:
            return found
    return Advice(found=False)


def _batches(rods: Sequence[Item], stops: Sequence[Item], most: int) -> Iterator[Num]:
    """All combinations, by number of items and then of stops among them: (N, items)."""
    items = (*rods, *stops)
    for count in range(min(most, len(items)) + 1):
        for n_stops in range(count + 1):
            rows = [
                _combined(items, chosen)
                for chosen in itertools.combinations(range(len(items)), count)
                if sum(i >= len(rods) for i in chosen) == n_stops
            ]
            turns = np.concatenate(rows) if rows else np.zeros((0, len(items)), int)
            if len(turns):
                yield turns


def _combined(items: Sequence[Item], chosen: tuple[int, ...]) -> Num:
    ways = np.array(list(itertools.product(*(items[i].turns() for i in chosen))), int)
    turns = np.zeros((len(ways), len(items)), dtype=int)
    if chosen:
        turns[:, list(chosen)] = ways.reshape(len(ways), len(chosen))
    return turns


def _best(batch: _Batch, searches: Sequence[_Search], guarded: bool) -> Advice | None:
    """The best combination of a batch with all inside, None if there is none."""
    inside = np.ones(len(batch.turns), dtype=bool)
    worst = np.full(len(batch.turns), np.inf)
    for search, predicted in zip(searches, batch.predicted, strict=True):
        guard = search.aim.U if guarded else 0.0
        for key, (lo, hi) in search.aim.required.items():
            y = predicted[key]
            slack = SLACK * np.maximum(1.0, np.abs(y))
            inside &= ~np.isnan(y)
            for margin in ([] if lo is None else [y - lo]) + ([] if hi is None else [hi - y]):
                inside &= margin >= guard - slack
                worst = np.fmin(worst, margin)
    if not inside.any():
        return None

    def order(i: int) -> tuple[int, float, tuple[int, ...]]:
        row = batch.turns[i]
        return (-int(np.abs(row).sum()), round(float(worst[i]), 9), tuple(row.tolist()))

    i = max(np.flatnonzero(inside).tolist(), key=order)
    row = batch.turns[i].tolist()
    first, *others = ({k: float(v[i]) for k, v in p.items()} for p in batch.predicted)
    return Advice(
        found=True,
        guarded=guarded,
        changes={item.id: n for item, n in zip(searches[0].items, row, strict=True) if n},
        predicted=first,
        worst_margin=float(worst[i]),
        beside=tuple(others),
    )


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

    def predict(self, turns: Num) -> dict[str, Num]:
        """Predictions by key, (N,); nan for what locks up, meets no stop, or rests outside."""
        found = {k: np.full(len(turns), np.nan) for k in self.keys}
        rows = np.flatnonzero(self._rests_inside(turns))
        for i in range(0, len(rows), CHUNK):
            some = rows[i : i + CHUNK]
            model = self._model(turns[some])
            for k in self.keys:
                found[k][some] = self.aim.measured[k] + model[k] - self.base[k]
        return found

    def _rests_inside(self, turns: Num) -> Num:
        """Whether neutral comes inside its limits: cheap, and it leaves few to sweep."""
        b, n_rods = self.bench, len(self.rods)
        built, which = np.unique(turns[:, :n_rods], axis=0, return_inverse=True)
        out = b.plan.mechanism.outputs[b.output]
        rest = solve(b.plan, dict(b.others), self._lengths(built), (out.body,))
        model = np.where(
            np.asarray(rest.lock) >= 0, np.nan, out.sign * np.asarray(rest.q[out.body])
        )
        y = np.broadcast_to(model, (len(built),)) + self.aim.measured["neutral"]
        y = y - self.base["neutral"]
        lo, hi = self.aim.required.get("neutral", (None, None))
        slack = SLACK * np.maximum(1.0, np.abs(y))
        inside = ~np.isnan(y)
        inside &= True if lo is None else y >= lo - slack
        inside &= True if hi is None else y <= hi + slack
        return inside[which.reshape(-1)]

    def _lengths(self, built: Num) -> dict[str, Num]:
        nominal = self.bench.plan.lengths
        return {
            r.id: nominal[r.id] + r.step * built[:, i].astype(float)
            for i, r in enumerate(self.rods)
        }

    def _model(self, turns: Num) -> dict[str, Num]:
        n_rods, b = len(self.rods), self.bench
        built, which = np.unique(turns[:, :n_rods], axis=0, return_inverse=True)
        at = places(b.stops, len(turns))
        ids = [s.id for s in b.stops]
        for j, s in enumerate(self.stops):
            at[ids.index(s.id)] += s.step * turns[:, n_rods + j]
        found = at_stops(b, self._lengths(built), which.reshape(-1), at)
        return {k: _of(found, k) for k in self.keys}


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
            if max(abs(i.least), abs(i.most)) > MOST_TURNS:
                raise Refused(f"{name}.{i.id}", f"at most {MOST_TURNS} half-turns each way")
    if (tried := _ways([i.most - i.least + 1 for i in (*rods, *stops)], max_items)) > MOST_TRIED:
        said = f"{tried:,} ways would have to be tried, at most {MOST_TRIED:,} are"
        raise Refused("rods", f"{said}: fewer turns, or fewer things to turn")


def _ways(each: Sequence[int], most: int) -> int:
    """How many combinations of up to `most` things there are, so many ways of each."""
    sums = [1, *([0] * most)]
    for n in each:
        for k in range(most, 0, -1):
            sums[k] += sums[k - 1] * n
    return sum(sums)
