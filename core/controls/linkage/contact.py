"""Where stops are met: a sweep scanned in steps, each contact then found by root-finding.

Works for many sets of rod lengths and stop places at once, so that stops, advice and fitting
rest on the same code.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.optimize.elementwise import find_root

from core.basis.refused import Refused, choice, finite
from core.basis.vectors import Num
from core.controls.linkage.lockup import check_input
from core.controls.linkage.solving import Plan, solve

SIDES = ("max", "min")
STOP_KINDS = ("surface", "input", "servo", "actuator")
SCAN = 120
# A gap this small, rad or m, is contact: rounding of the reference position.
TOUCHING = 1e-12


@dataclass(frozen=True)
class Stop:
    """A stop on a body's q, counted from reference, rad or m."""

    id: str
    body: str
    side: str
    at: float
    kind: str = "surface"
    named_first: bool = False

    @property
    def sign(self) -> int:
        """+1 for a stop at the greater end of q."""
        return 1 if self.side == "max" else -1


@dataclass(frozen=True)
class Bench:
    """A mechanism with its stops, one input moved up to `limit` each way, others held."""

    plan: Plan
    input: str
    output: str
    limit: float
    stops: tuple[Stop, ...]
    others: Mapping[str, float] = field(default_factory=dict)


def check(b: Bench) -> None:
    """Refuses unknown names, doubled or crossing stops, and a limit that cannot be."""
    check_input(b.plan, b.input, b.limit)
    if b.output not in b.plan.mechanism.outputs:
        raise Refused("output", f"{b.output} is not an output of this mechanism")
    for name in b.others:
        if name not in b.plan.mechanism.inputs or name == b.input:
            raise Refused(f"others.{name}", "is not another input of this mechanism")
    bodies = {x.id for x in b.plan.mechanism.bodies}
    seen: dict[str, Stop] = {}
    for s in b.stops:
        at = f"stops.{s.id}"
        if s.id in seen:
            raise Refused(at, "is there twice")
        seen[s.id] = s
        if s.body not in bodies:
            raise Refused(f"{at}.body", f"{s.body} is not a body")
        choice(s.side, SIDES, f"{at}.side")
        choice(s.kind, STOP_KINDS, f"{at}.kind")
        finite(s.at, f"{at}.at")
    for s in b.stops:
        for o in b.stops:
            if s.body == o.body and (s.side, o.side) == ("max", "min") and s.at <= o.at:
                raise Refused(f"stops.{s.id}", f"crosses {o.id}: nothing can move between them")


@dataclass(frozen=True)
class Met:
    """Contacts in one direction for N variants. `inputs`: (stops, N), nan where not met;
    `passed`: (stops, N) already passed at the start; `locked`: (N,) locks within the limit."""

    inputs: Num
    passed: Num
    locked: Num


def met(
    b: Bench,
    direction: int,
    lengths: Mapping[str, Num],
    which: Num,
    at: Num,
    first_only: bool = False,
    end: float | None = None,
) -> Met:
    """Contacts of every stop.

    lengths: rod -> (U,) m. which: (N,) index into U. at: (stops, N) places. first_only: find
    exactly only what can be first (others may be nan). end: look no further than this input.
    """
    limit = direction * b.limit
    grid = limit * np.arange(SCAN + 1) / SCAN
    if end is not None:
        grid = np.append(grid[np.abs(grid) < abs(end)], end)
    bodies = {s.body for s in b.stops}
    inputs = {**b.others, b.input: grid[:, None]}
    motion = solve(b.plan, inputs, {k: v[None, :] for k, v in lengths.items()}, bodies)
    shape = (len(grid), len(which))
    lock = np.asarray(motion.lock)
    bad = np.broadcast_to(lock >= 0, (len(grid), _columns(lock)))
    bad = bad[:, which] if bad.shape[1] > 1 else np.broadcast_to(bad, shape)
    valid = np.logical_and.accumulate(~bad, axis=0)
    steps = np.full((len(b.stops), len(which)), len(grid))
    passed = np.zeros(steps.shape, dtype=bool)
    touching = np.zeros(steps.shape, dtype=bool)
    for i, s in enumerate(b.stops):
        q = np.asarray(motion.q[s.body])
        q = np.broadcast_to(q, (len(grid), _columns(q)))
        q = q[:, which] if q.shape[1] > 1 else q
        gap = s.sign * (at[i][None, :] - q)
        passed[i] = gap[0] < -TOUCHING
        touching[i] = np.abs(gap[0]) <= TOUCHING
        over = (gap <= 0.0) & valid
        over[0] = touching[i]
        steps[i] = np.where(over.any(axis=0), over.argmax(axis=0), len(grid))
    wanted = steps < len(grid)
    if first_only and b.stops:
        wanted &= steps == steps.min(axis=0)
    found = np.full(steps.shape, np.nan)
    for i, s in enumerate(b.stops):
        found[i, wanted[i] & touching[i]] = 0.0
        todo = np.flatnonzero(wanted[i] & ~touching[i])
        if todo.size:
            found[i, todo] = _refined(b, s, grid, steps[i, todo], lengths, which[todo], at[i, todo])
    return Met(found, passed, bad.any(axis=0))


def _columns(array: Num) -> int:
    return int(array.shape[1]) if array.ndim == 2 else 1


def _refined(
    b: Bench, s: Stop, grid: Num, steps: Num, lengths: Mapping[str, Num], which: Num, at: Num
) -> Num:
    names = tuple(lengths)

    def gap(x: Num, place: Num, *built: Num) -> Num:
        inputs = {**b.others, b.input: x}
        moved = solve(b.plan, inputs, dict(zip(names, built, strict=True)), (s.body,))
        return place - moved.q[s.body] + 0.0 * x

    built = tuple(np.asarray(lengths[n])[which] for n in names)
    root = find_root(gap, (grid[steps - 1], grid[steps]), args=(at, *built))
    return root.x


@dataclass(frozen=True)
class AtStops:
    """Outputs of N variants, rad or m: at rest and at the first stop each way; input throws.

    nan where it locks first, meets no stop, or a stop is passed at rest.
    """

    neutral: Num
    plus: Num
    minus: Num
    throw_plus: Num
    throw_minus: Num


def at_stops(b: Bench, lengths: Mapping[str, Num], which: Num, at: Num) -> AtStops:
    """Outputs at rest and at the first contact each way (arguments as in `met`)."""
    out = b.plan.mechanism.outputs[b.output]
    resting = solve(b.plan, dict(b.others), lengths, (out.body,))
    locked = np.asarray(resting.lock) >= 0
    rest = np.where(locked, np.nan, out.sign * np.asarray(resting.q[out.body]))
    neutral = np.broadcast_to(rest, _variants(lengths))[which]
    ends = []
    for direction in (1, -1):
        m = met(b, direction, lengths, which, at, first_only=True)
        far = np.where(np.isnan(m.inputs), np.inf, np.abs(m.inputs))
        throw = far.min(axis=0) if len(b.stops) else np.full(len(which), np.inf)
        throw = np.where(np.isinf(throw) | m.passed.any(axis=0), np.nan, throw)
        built = {k: np.asarray(v)[which] for k, v in lengths.items()}
        motion = solve(b.plan, {**b.others, b.input: direction * throw}, built, (out.body,))
        ends.append((out.sign * np.asarray(motion.q[out.body]) + 0.0 * throw, throw))
    (plus, throw_plus), (minus, throw_minus) = ends
    return AtStops(neutral, plus, minus, throw_plus, throw_minus)


def _variants(lengths: Mapping[str, Num]) -> tuple[int, ...]:
    return np.broadcast_shapes(*(np.shape(v) for v in lengths.values())) if lengths else (1,)


def places(stops: Sequence[Stop], count: int = 1) -> Num:
    """The stops' places as (stops, count)."""
    return np.repeat(np.array([[s.at] for s in stops], dtype=float).reshape(-1, 1), count, axis=1)
