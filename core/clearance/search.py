"""Least distance of two moving things over all positions, with a bound that holds
(`clearance.moving_gap`).

A gap changes by no more than L for each unit of a control, so that a stretch of positions is
bounded by the gap at its middle less L times its half size. Stretches whose bound is not below
the best gap are dropped, the others halved, for each pair of straights by itself.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.forms import Unit
from core.basis.refused import Refused, finite, positive
from core.basis.rules import rule
from core.clearance.distance import Array, between, listed, to_box
from core.clearance.motion import Body, MovingIn, body_of
from core.clearance.words import CAUTION, GEOMETRY

MOST_CONTROLS, MOST_EVALUATIONS, BATCH = 2, 200_000, 8192
TOL_M, DIGITS = 1e-5, 1e-14


@dataclass(frozen=True)
class Pairs:
    """All pairs of straights of two things: gap at positions, speed bounds.

    floor: a gap never lies below it: both radii, where the middle lines meet. gap(pair, q): of
    each pair at its own position, (N,) and (N, controls).
    """

    count: int
    L: Array
    floor: Array
    gap: Callable[[Array, Array], Array]


@dataclass(frozen=True)
class Found:
    """least: attained at `at` by `pair`. not_below: no position has less."""

    least: float
    not_below: float
    at: Array
    pair: int
    evaluations: int


def least_of(pairs: Pairs, lo: Array, hi: Array, tol: float, most: int = MOST_EVALUATIONS) -> Found:
    """Branch and bound over positions between lo and hi (controls,)."""
    centre, half = (lo + hi) / 2.0, (hi - lo) / 2.0
    which = np.arange(pairs.count)
    c = np.broadcast_to(centre, (pairs.count, len(lo))).copy()
    h = np.broadcast_to(half, c.shape).copy()
    best, at, pair, seen, closed = np.inf, centre, 0, 0, np.inf
    bound = np.full(pairs.count, -np.inf)
    while len(which):
        if len(which) > BATCH:
            order = np.argpartition(bound, BATCH - 1)
            now, rest = order[:BATCH], order[BATCH:]
        else:
            now, rest = np.arange(len(which)), np.zeros(0, dtype=int)
        g = pairs.gap(which[now], c[now])
        seen += len(now)
        # Nothing is told apart below the last digits of what is measured.
        tol = max(tol, DIGITS * float(np.abs(g).max()))
        n = int(np.argmin(g))
        if g[n] < best:
            best, at, pair = float(g[n]), c[now][n], int(which[now][n])
        low = g - (pairs.L[which[now]] * h[now]).sum(axis=1)
        low = np.maximum(low, pairs.floor[which[now]])
        keep = low < best - tol
        if (~keep).any():
            closed = min(closed, float(low[~keep].min()))
        split_which, split_c, split_h = _halved(pairs, which[now][keep], c[now][keep], h[now][keep])
        # A half knows what its whole knew, until it is looked at itself.
        split_bound = np.repeat(low[keep], 2)
        which = np.concatenate([which[rest], split_which])
        c = np.concatenate([c[rest], split_c])
        h = np.concatenate([h[rest], split_h])
        bound = np.concatenate([bound[rest], split_bound])
        out = bound >= best - tol
        if out.any():
            closed = min(closed, float(bound[out].min()))
            which, c, h, bound = which[~out], c[~out], h[~out], bound[~out]
        if seen >= most:
            break
    open_bound = float(bound.min()) if len(bound) else np.inf
    return Found(best, min(best, closed, open_bound), at, pair, seen)


def _halved(pairs: Pairs, which: Array, c: Array, h: Array) -> tuple[Array, Array, Array]:
    """Each stretch cut across the control that matters most to it."""
    widest = np.argmax(pairs.L[which] * h, axis=1)
    n = np.arange(len(which))
    step = np.zeros_like(h)
    step[n, widest] = h[n, widest] / 2.0
    less = h - step
    both = np.stack([c - step, c + step], axis=1).reshape(-1, c.shape[1])
    return np.repeat(which, 2), both, np.repeat(less, 2, axis=0)


def pairs_of(a: Body, b: Body, greatest: Array) -> Pairs:
    """Every straight of a against every one of b, or against b as a box."""
    at, to = a.straights
    va, vb = a.speeds(greatest), b.speeds(greatest)
    la = np.maximum(va[at], va[to])
    if b.box is not None:
        half, centre, axes = b.box.half, b.box.centre, b.box.axes

        def of_box(which: Array, q: Array) -> Array:
            p0, p1 = _ends(a, at[which], q), _ends(a, to[which], q)
            r, d = b.frame(q)
            back = [(np.einsum("kji,kj->ki", r, p - d) - centre) @ axes.T for p in (p0, p1)]
            return to_box(back[0], back[1], half)[0] - a.radii[which]

        return Pairs(len(at), la + vb.max(axis=0), -a.radii, of_box)
    bt, bo = b.straights
    na, nb = (x.ravel() for x in np.meshgrid(np.arange(len(at)), np.arange(len(bt)), indexing="ij"))
    lb = np.maximum(vb[bt], vb[bo])

    def of_runs(which: Array, q: Array) -> Array:
        i, j = na[which], nb[which]
        d, _, _ = between(
            _ends(a, at[i], q), _ends(a, to[i], q), _ends(b, bt[j], q), _ends(b, bo[j], q)
        )
        return d - a.radii[i] - b.radii[j]

    return Pairs(len(na), la[na] + lb[nb], -a.radii[na] - b.radii[nb], of_runs)


def _ends(body: Body, n: Array, q: Array) -> Array:
    """Point n[k] of a body at position q[k]."""
    if not body.steps:
        return body.points[n]
    r, d = body.frame(q)
    return np.einsum("kij,kj->ki", r, body.points[n]) + d


def witness(a: Body, b: Body, pair: int, q: Array) -> tuple[Array, Array, float, float]:
    """The nearest points of a pair at a position, and their shares along it (of a box: 0)."""
    one = q[None, :]
    pa = a.at(one)[0]
    if b.box is not None:
        p0, p1 = pa[pair], pa[pair + 1]
        r, d = b.frame(one)
        back = [b.box.inside((p - d[0]) @ r[0]) for p in (p0, p1)]
        _, t = to_box(back[0], back[1], b.box.half)
        share = float(t)
        on = back[0] + share * (back[1] - back[0])
        near = b.box.centre + np.clip(on, -b.box.half, b.box.half) @ b.box.axes
        return p0 + share * (p1 - p0), near @ r[0].T + d[0], share, 0.0
    pb = b.at(one)[0]
    i, j = divmod(pair, len(pb) - 1)
    _, s, t = between(pa[i], pa[i + 1], pb[j], pb[j + 1])
    return (
        pa[i] + float(s) * (pa[i + 1] - pa[i]), pb[j] + float(t) * (pb[j + 1] - pb[j]),
        float(s), float(t),
    )  # fmt: skip


@dataclass(frozen=True)
class MovingGap:
    """The least distance of two moving things."""

    least: Annotated[float, "Attained.", Unit("m")]
    not_below: Annotated[float, "Certified: nowhere less.", Unit("m")]
    at: Annotated[tuple[float, ...], "Each control there."]
    on_a: Annotated[tuple[float, ...], "Where on a, m."]
    on_b: Annotated[tuple[float, ...], "Where on b, m."]
    L: Annotated[tuple[float, ...], "Greatest change of the gap for each unit of each control."]
    evaluations: Annotated[int, "Gaps that were worked out."]


@rule(
    "clearance.moving_gap",
    title="The least gap of what moves",
    purpose="How near do two things come at any position of one or two controls?",
    source=f"{GEOMETRY} Branch and bound: a gap changes no faster than its points move.",
    validity="At most two controls that move; notches are searched one by one. At the limit of"
    " evaluations not_below still holds, only wider.",
    caution=CAUTION,
    brackets=True,
)
def moving_gap(
    a: Annotated[MovingIn, "points, radius, steps."],
    b: Annotated[MovingIn, "The same, or box."],
    lo: Annotated[Sequence[float], "Least of each control."],
    hi: Annotated[Sequence[float], "Greatest of each."],
    tol: Annotated[float, "How sure the least must be.", Unit("m")] = TOL_M,
) -> MovingGap:
    """Least gap and a bound. Refuses other than one or two controls (`lo`), a reversed range
    (`lo[i]`) and two boxes (`b.box`)."""
    if not 1 <= len(lo) <= MOST_CONTROLS or len(lo) != len(hi):
        raise Refused("lo", "needs one or two controls, and as many as hi")
    for n, (x, y) in enumerate(zip(lo, hi, strict=True)):
        if finite(x, f"lo[{n}]") > finite(y, f"lo[{n}]"):
            raise Refused(f"lo[{n}]", "range is reversed or not finite")
    one, other = body_of(a, "a", len(lo)), body_of(b, "b", len(lo))
    if one.box is not None and other.box is not None:
        raise Refused("b.box", "two boxes are not computed: give one as its edges")
    found, left, right, q = searched(one, other, np.array(lo), np.array(hi), positive(tol, "tol"))
    greatest = np.maximum(np.abs(lo), np.abs(hi))
    L = one.speeds(greatest).max(axis=0) + other.speeds(greatest).max(axis=0)
    return MovingGap(
        found.least, found.not_below, listed(q), listed(left), listed(right), listed(L),
        found.evaluations,
    )  # fmt: skip


def searched(
    a: Body, b: Body, lo: Array, hi: Array, tol: float
) -> tuple[Found, Array, Array, Array]:
    """The search, with the nearest points on a and on b and the position."""
    turned = a.box is not None
    first, second = (b, a) if turned else (a, b)
    found = least_of(pairs_of(first, second, np.maximum(np.abs(lo), np.abs(hi))), lo, hi, tol)
    left, right, _, _ = witness(first, second, found.pair, found.at)
    return (found, right, left, found.at) if turned else (found, left, right, found.at)
