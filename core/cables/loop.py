"""A closed loop of two cables between a driver and a driven lever: `cables.loop_solve`.

Each side pulls with its rigged tension and what it is stretched; a slack side pulls nothing.
The driven lever stands where the moments about its axis balance, at a stable crossing, followed
from neutral. Frictionless. Moments are right-handed about the lever's stated axis.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.basis.refused import Refused, finite, positive
from core.basis.vectors import Num, Point
from core.cables.lever import SIDES, Lever
from core.cables.path import Path, Pulley, Reach

CAUTION = (
    "Tension that changes by more than the maker's band through the travel means the levers' "
    "geometry is wrong or the drawing was misread: do not tighten it away."
)
MOST_DRIVER = 1.5
RANGE = (-1.2, 1.2)
GRID = 481
# Every which angle looks at the whole grid, and how many cells each way the others look at.
EVERY, WINDOW = 20, 7
HALVINGS = 52
STEP = 0.02
NEARBY = 1e-9
# A moment that counts as none, N·m; a bracket that counts as closed, rad; steps at most.
RESTS, CLOSE, MOST_STEPS = 1e-9, 4e-16, 90

Floats = NDArray[np.float64]
Held = Mapping[str, Reach]


@dataclass(frozen=True)
class Side:
    """Pulleys from driver to driven, compliance m/N, and tension as rigged at neutral, N."""

    pulleys: tuple[Pulley, ...]
    compliance_m_per_N: float
    tension_N: float


class Loop:
    """Driver, driven lever and the two sides, checked at neutral."""

    def __init__(self, driver: Lever, driven: Lever, sides: dict[str, Side]) -> None:
        """Refuses a side without compliance or tension, and a path that cannot be at neutral."""
        self.driver, self.driven, self.sides = driver, driven, sides
        self.paths: dict[str, Path] = {}
        self.neutral: dict[str, float] = {}
        for name in SIDES:
            field = f"sides.{name}"
            positive(sides[name].compliance_m_per_N, f"{field}.compliance_m_per_N")
            positive(sides[name].tension_N, f"{field}.tension_N")
            path = Path(sides[name].pulleys, f"{field}.pulleys")
            a, b = getattr(driver, name), getattr(driven, name)
            path.refuse_at(a, b)
            self.paths[name] = path
            self.neutral[name] = float(path.length(a, b))

    def held(self, driver_rad: Num) -> Held:
        """By side, what of its path moves with the driver alone."""
        return {
            name: self.paths[name].reach(self.driver.attachment(name, driver_rad), last=False)
            for name in SIDES
        }

    def pulls(self, held: Held, driven_rad: Num) -> dict[str, tuple[Num, Num, Num]]:
        """By side: tension N, arm at the driver m, arm at the driven lever m. They broadcast."""
        return {
            name: (tension, self.driver.arm(held[name].at, at_driver), arm)
            for name, (tension, at_driver, arm) in self._drawn(held, driven_rad).items()
        }

    def _drawn(self, held: Held, driven_rad: Num) -> dict[str, tuple[Num, Point, Num]]:
        found = {}
        for name, side in self.sides.items():
            path = self.paths[name]
            b = path.reach(self.driven.attachment(name, driven_rad), last=True)
            longer, at_driver, at_driven = path.between(held[name], b, self.neutral[name])
            tension = np.maximum(0.0, side.tension_N + longer / side.compliance_m_per_N)
            found[name] = (tension, at_driver, self.driven.arm(b.at, at_driven))
        return found

    def left(self, held: Held, driven_rad: Num, hinge_Nm: float = 0.0) -> Floats:
        """What is left of the moments on the driven lever, N·m: Σ tension times arm, less the
        hinge's."""
        (t, _, arm), (u, _, other) = self._drawn(held, driven_rad).values()
        both = np.asarray(t * arm + u * other)
        return both - hinge_Nm if hinge_Nm else both

    def rest(self, held: Held, driven_rad: Num, hinge_Nm: float) -> tuple[Floats, Any]:
        """The same, and where neither side pulls."""
        (t, _, arm), (u, _, other) = self._drawn(held, driven_rad).values()
        return np.asarray(t * arm + u * other - hinge_Nm), (t == 0) & (u == 0)

    def moment(self, driver_rad: Num, driven_rad: Num) -> Num:
        """What the cables ask of the driven lever, N·m."""
        return self.left(self.held(driver_rad), driven_rad)


@dataclass(frozen=True)
class State:
    """The loop at one driver angle. Driven angle None when both sides are slack: then it is
    free between low and high, rad."""

    driver_rad: float
    status: str
    driven_rad: float | None
    tension_A_N: float
    tension_B_N: float
    driver_moment_Nm: float
    driven_low_rad: float | None = None
    driven_high_rad: float | None = None

    @property
    def middle_rad(self) -> float:
        """The driven angle, or the middle of the free interval."""
        if self.driven_rad is not None:
            return self.driven_rad
        assert self.driven_low_rad is not None and self.driven_high_rad is not None
        return (self.driven_low_rad + self.driven_high_rad) / 2.0


def loop_solve(
    loop: Loop,
    driver_rad: float,
    hinge_moment_Nm: float = 0.0,
    driven_range_rad: Sequence[float] = RANGE,
    guess_rad: float | None = None,
) -> State:
    """Where the driven lever stands at a driver angle, rad, and what the cables pull, N.

    hinge_moment_Nm: by the surface on the driven lever about its axis. guess_rad: which
    equilibrium to take if there are several; without it the lever is followed from neutral.
    Refuses angles over 1.5 rad and a range without equilibrium.
    """
    end = _angle(driver_rad)
    if guess_rad is not None:
        return _solved(loop, np.array([end]), hinge_moment_Nm, driven_range_rad, guess_rad)[0]
    steps = max(1, int(np.ceil(abs(end) / STEP)))
    angles = np.linspace(0.0, end, steps + 1)
    return _solved(loop, angles, hinge_moment_Nm, driven_range_rad, 0.0, only_last=True)[-1]


def loop_sweep(
    loop: Loop,
    angles_rad: Sequence[float] | Floats,
    hinge_moment_Nm: float = 0.0,
    driven_range_rad: Sequence[float] = RANGE,
) -> tuple[State, ...]:
    """The loop at many driver angles, each way followed from neutral outward.

    angles_rad: in any order. Refuses as `loop_solve`.
    """
    angles = np.array([_angle(float(a)) for a in angles_rad])
    wanted, index, begins = [np.array([])], [np.array([], dtype=int)], []
    for way in (angles >= 0, angles < 0):
        mine = np.flatnonzero(way)
        if mine.size == 0:
            continue
        far = float(angles[mine[np.argmax(np.abs(angles[mine]))]])
        between = np.linspace(0.0, far, max(1, int(np.ceil(abs(far) / STEP))) + 1)
        places = np.sort(np.abs(np.append(angles[mine], 0.0)))
        if np.all(np.diff(places) <= STEP):
            between = between[:1]  # What is asked for lies close enough to be followed itself.
        both = np.concatenate([between, angles[mine]])
        order = np.argsort(np.abs(both), kind="stable")
        begins.append(sum(w.size for w in wanted))
        wanted.append(both[order])
        index.append(np.concatenate([np.full(between.size, -1), mine])[order])
    solved = _solved(
        loop, np.concatenate(wanted), hinge_moment_Nm, driven_range_rad, 0.0, begins=begins
    )
    whose = np.concatenate(index).tolist()
    states = {i: state for i, state in zip(whose, solved, strict=True) if i >= 0}
    return tuple(states[i] for i in range(angles.size))


def _angle(value: float) -> float:
    if abs(finite(value, "driver_rad")) > MOST_DRIVER:
        raise Refused("driver_rad", "must lie within ±1.5 rad")
    return value


def _solved(
    loop: Loop,
    angles: Floats,
    hinge: float,
    within: Sequence[float],
    guess: float,
    only_last: bool = False,
    begins: Sequence[int] = (0,),
) -> list[State]:
    """At each angle the equilibrium nearest to that of the angle before; begun anew from the
    guess at the places named."""
    finite(hinge, "hinge_moment_Nm")
    if len(within) != 2 or finite(within[0], "driven_range_rad") >= finite(
        within[1], "driven_range_rad"
    ):
        raise Refused("driven_range_rad", "must be a low and a high angle")
    finite(guess, "guess_rad")
    grid = np.linspace(within[0], within[1], GRID)
    crossings = _Crossings(loop, angles, hinge, grid, guess, begins)
    near = guess
    kept, chosen = [], []
    for i, angle in enumerate(angles):
        near = guess if i in begins else near
        root = crossings.nearest(i, near)
        if root is None:
            if only_last and i < angles.size - 1:
                continue
            raise _nowhere(loop, float(angle), near)
        near = root
        kept.append(i)
        chosen.append(near)
    return _states(loop, angles[kept], hinge, np.array(chosen), grid)


class _Crossings:
    """Where the moment on the driven lever passes upward through nothing, at each driver angle.

    The whole grid is looked at for some of the angles; for the others only the cells around
    where the equilibrium is then expected. What is found there counts only if no cell outside
    could hold a nearer one; else the whole grid is looked at after all. So the answer is that
    of the whole grid.
    """

    def __init__(
        self,
        loop: Loop,
        angles: Floats,
        hinge: float,
        grid: Floats,
        guess: float,
        begins: Sequence[int],
    ) -> None:
        self.loop, self.angles, self.hinge, self.grid = loop, angles, hinge, grid
        count = angles.size
        expected = self._expected(guess, begins)
        first = np.clip(expected - WINDOW, 0, grid.size - 1 - 2 * WINDOW)
        self.low, self.high = grid[first].tolist(), grid[first + 2 * WINDOW].tolist()
        cells = self._upward(np.arange(count), first[:, None] + np.arange(2 * WINDOW + 1))
        self.roots = self._refined(cells).tolist()
        self.edges = np.searchsorted(cells.rows, np.arange(count + 1)).tolist()

    def nearest(self, row: int, near: float) -> float | None:
        """The equilibrium at an angle that lies nearest to an angle of the driven lever."""

        def away(root: float) -> float:
            return abs(root - near)

        here = self.roots[self.edges[row] : self.edges[row + 1]]
        root: float | None = min(here, key=away, default=None)
        if root is not None and away(root) < min(near - self.low[row], self.high[row] - near):
            return root
        whole = self._refined(self._upward(np.array([row]), self._all)).tolist()
        root = min(whole, key=away, default=None)
        return root

    def _expected(self, guess: float, begins: Sequence[int]) -> Any:
        """The cell in which the equilibrium is expected, for every angle."""
        count = self.angles.size
        ends = {b - 1 for b in begins if b > 0} | {count - 1}
        looked = np.array(sorted(ends | set(begins) | set(range(0, count, EVERY))))
        found = self._upward(looked, self._all)
        edges = np.searchsorted(found.rows, looked).tolist()
        first = near = int(np.searchsorted(self.grid, guess))
        followed = []
        for row, begin, end in zip(looked.tolist(), edges, [*edges[1:], None], strict=True):
            here = found.cells[begin:end]
            near = first if row in begins else near
            near = int(here[np.argmin(np.abs(here - near))]) if here.size else near
            followed.append(near)
        return np.interp(np.arange(count), looked, followed).astype(int)

    @property
    def _all(self) -> NDArray[np.intp]:
        return np.arange(self.grid.size)[None, :]

    def _upward(self, rows: NDArray[np.intp], columns: NDArray[np.intp]) -> _Cells:
        """Between which neighbours of these columns the moment passes upward."""
        held = self.loop.held(self.angles[rows][:, None])
        rest = self.loop.left(held, self.grid[columns], self.hinge)
        rest = np.broadcast_to(rest, (rows.size, columns.shape[1]))
        i, j = np.nonzero((rest[:, :-1] < 0) & (rest[:, 1:] >= 0))
        cells = np.broadcast_to(columns, rest.shape)[i, j]
        return _Cells(rows[i], cells, rest[i, j], rest[i, j + 1])

    def _refined(self, found: _Cells) -> Floats:
        lo, hi = self.grid[found.cells], self.grid[found.cells + 1]
        return _closed_in(
            self.loop, self.angles[found.rows], self.hinge, lo, hi, found.below, found.above
        )


@dataclass(frozen=True)
class _Cells:
    """Cells of the grid by row of the angles, with what is left of the moments at both ends."""

    rows: NDArray[np.intp]
    cells: NDArray[np.intp]
    below: Floats
    above: Floats


def _closed_in(
    loop: Loop,
    angles: Floats,
    hinge: float,
    lo: Floats,
    hi: Floats,
    f_lo: Floats,
    f_hi: Floats,
) -> Floats:
    """The crossings inside the brackets: false position with the Illinois step, and halving
    where the upper end is already at rest (nothing pulls there)."""
    held = loop.held(angles)
    if np.any(f_hi == 0):
        _, dead = loop.rest(held, hi, hinge)
        lo = np.where((f_hi == 0) & ~dead, hi, lo)
    last = np.zeros(angles.size)
    for _ in range(MOST_STEPS):
        with np.errstate(invalid="ignore", divide="ignore"):
            between = (lo * f_hi - hi * f_lo) / (f_hi - f_lo)
        x = np.where((f_hi > 0) & (between > lo) & (between < hi), between, (lo + hi) / 2.0)
        f, dead = loop.rest(held, x, hinge)
        below = f < 0
        f_hi = np.where(below, np.where(last == -1, f_hi / 2.0, f_hi), f)
        f_lo = np.where(below, f, np.where(last == 1, f_lo / 2.0, f_lo))
        lo, hi = np.where(below, x, lo), np.where(below, hi, x)
        last = np.where(below, -1, 1)
        if np.all((np.abs(f) < RESTS) & ~dead | (hi - lo < CLOSE)):
            return np.asarray(np.where(hi - lo < CLOSE, hi, x))
    return np.asarray(hi)


def _states(loop: Loop, angles: Floats, hinge: float, roots: Floats, grid: Floats) -> list[State]:
    """The loop at its equilibria, all at once; where both sides are slack, how far it is free."""
    held_at = loop.held(angles)
    pulls = loop.pulls(held_at, roots)
    _, free = loop.rest(held_at, roots + NEARBY, 0.0)
    tension = {name: np.broadcast_to(pulls[name][0], angles.shape) for name in SIDES}
    held = sum(t * arm for t, arm, _ in pulls.values()) + 0.0 * angles
    free = np.broadcast_to(free, angles.shape)
    states = []
    for i, angle in enumerate(angles.tolist()):
        root = float(roots[i])
        if hinge == 0 and free[i]:
            high = _free_until(loop, angle, root + NEARBY, grid)
            states.append(State(angle, "both slack", None, 0.0, 0.0, 0.0, root, high))
            continue
        a, b = float(tension["A"][i]), float(tension["B"][i])
        status = "slack A" if a == 0.0 else "slack B" if b == 0.0 else "taut"
        states.append(State(angle, status, root, a, b, float(held[i])))
    return states


def _free_until(loop: Loop, angle: float, low: float, grid: Floats) -> float:
    """Where a side begins to pull again, above an angle at which nothing pulls."""
    rest = np.broadcast_to(loop.left(loop.held(angle), grid), grid.shape)
    beyond = grid[(grid > low) & (rest > 0)]
    if beyond.size == 0:
        return float(grid[-1])
    hi = float(beyond[0])
    for _ in range(HALVINGS):
        middle = (low + hi) / 2.0
        low, hi = (low, middle) if float(loop.moment(angle, middle)) > 0 else (middle, hi)
    return hi


def _nowhere(loop: Loop, angle: float, near: float) -> Refused:
    """Why there is no equilibrium: a pulley that the cable leaves, else the range."""
    for name in SIDES:
        a, b = loop.driver.attachment(name, angle), loop.driven.attachment(name, near)
        try:
            loop.paths[name].refuse_at(a, b)
        except Refused as refusal:
            return refusal
    return Refused("driven_range_rad", "no equilibrium of the driven lever in this range")
