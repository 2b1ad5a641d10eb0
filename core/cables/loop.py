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
from core.cables.lever import SIDES, Lever
from core.cables.path import Num, Path, Point, Pulley, Reach, vec

CAUTION = (
    "Tension that changes by more than the maker's band through the travel means the levers' "
    "geometry is wrong or the drawing was misread: do not tighten it away."
)
MOST_DRIVER = 1.5
RANGE = (-1.2, 1.2)
GRID = 481
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
    rest = np.broadcast_to(
        loop.left(loop.held(angles[:, None]), grid[None, :], hinge), (angles.size, grid.size)
    )
    rows, columns = np.nonzero((rest[:, :-1] < 0) & (rest[:, 1:] >= 0))
    roots = _refined(loop, angles[rows], hinge, grid[columns], grid[columns + 1])
    edges = np.searchsorted(rows, np.arange(angles.size + 1))
    near = guess
    kept, chosen = [], []
    for i, angle in enumerate(angles):
        here = roots[edges[i] : edges[i + 1]]
        near = guess if i in begins else near
        if here.size == 0:
            if only_last and i < angles.size - 1:
                continue
            raise _nowhere(loop, float(angle), near)
        near = float(here[np.argmin(np.abs(here - near))])
        kept.append(i)
        chosen.append(near)
    return _states(loop, angles[kept], hinge, np.array(chosen), grid, rest[kept])


def _refined(loop: Loop, angles: Floats, hinge: float, lo: Floats, hi: Floats) -> Floats:
    """The crossings inside the brackets: false position with the Illinois step, and halving
    where the upper end is already at rest (nothing pulls there)."""
    held = loop.held(angles)
    f_lo, _ = loop.rest(held, lo, hinge)
    f_hi, dead = loop.rest(held, hi, hinge)
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


def _states(
    loop: Loop, angles: Floats, hinge: float, roots: Floats, grid: Floats, rest: Floats
) -> list[State]:
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
            high = _free_until(loop, angle, root + NEARBY, grid, rest[i])
            states.append(State(angle, "both slack", None, 0.0, 0.0, 0.0, root, high))
            continue
        a, b = float(tension["A"][i]), float(tension["B"][i])
        status = "slack A" if a == 0.0 else "slack B" if b == 0.0 else "taut"
        states.append(State(angle, status, root, a, b, float(held[i])))
    return states


def _free_until(loop: Loop, angle: float, low: float, grid: Floats, rest: Floats) -> float:
    """Where a side begins to pull again, above an angle at which nothing pulls."""
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


@dataclass(frozen=True)
class Extremes:
    """Highest and lowest tension of a sweep, N, with side and driver angle."""

    highest_N: float
    highest_side: str
    highest_at_rad: float
    lowest_N: float
    lowest_side: str
    lowest_at_rad: float


def extremes(states: Sequence[State]) -> Extremes:
    """The highest tension (for brackets and the cable's strength) and the lowest of a sweep."""
    all_of = [
        (t, name, s.driver_rad)
        for s in states
        for name, t in (("A", s.tension_A_N), ("B", s.tension_B_N))
    ]
    return Extremes(*max(all_of, key=lambda x: x[0]), *min(all_of, key=lambda x: x[0]))


def item_travel(
    lever: Lever,
    side: str,
    pulleys: Sequence[Pulley],
    far_point: Sequence[float],
    angles: Sequence[float] | Floats,
) -> tuple[float, float]:
    """How far a point fixed to the cable moves along the route, m: low and high, 0 included.

    Positive away from this lever. pulleys: those between the lever and the item. far_point: a
    fixed point of the route beyond the item.
    """
    if side not in SIDES:
        raise Refused("side", "must be A or B")
    far: Point = vec(far_point, "far_point")
    path = Path(pulleys)
    path.refuse_at(getattr(lever, side), far)
    turned = np.asarray([finite(float(a), "angles") for a in angles])
    moved = float(path.length(getattr(lever, side), far)) - path.length(
        lever.attachment(side, turned), far
    )
    if np.any(np.isnan(moved)):
        for angle in turned:
            path.refuse_at(lever.attachment(side, float(angle)), far)
    return float(min(0.0, moved.min(initial=0.0))), float(max(0.0, moved.max(initial=0.0)))
