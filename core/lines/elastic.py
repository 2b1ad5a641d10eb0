"""The elastic curve: a weightless planar hose clamped at both ends, of least bending energy.

Along it curvature is linear in position, κ = c0 + c1 x + c2 y, so that θ″ = c1 cos θ + c2 sin θ.
Everything here is for a length of one, from the origin along x; many hoses are solved at once,
by collocation at Chebyshev's points.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
# Trial shapes θ(s) = Θ s + a sin πs + b sin 2πs: where looking for a and b begins.
STARTS = np.array(
    list(itertools.product((-3.6, -2.4, -1.2, 0.0, 1.2, 2.4, 3.6), (-2.4, -1.0, 0.0, 1.0, 2.4)))
)
DEGREE, SHOWN = 30, 400
MOST_TRIALS, TRIAL_STEPS, STEPS = 6, 14, 20
CLOSED, FLAT = 1e-10, 1e-9


def _chebyshev(n: int) -> tuple[Array, Array]:
    """Points from 0 to 1 and the matrix that differentiates what is given at them."""
    k = np.arange(n + 1)
    x = np.cos(np.pi * k / n)[::-1]
    c = np.where((k == 0) | (k == n), 2.0, 1.0) * (-1.0) ** k
    apart = x[:, None] - x[None, :] + np.eye(n + 1)
    d = np.outer(c, 1.0 / c) / apart
    d -= np.diag(d.sum(axis=1))
    return (x + 1.0) / 2.0, 2.0 * d


def _between(points: Array, at: Array) -> Array:
    """The matrix that takes values at the points to those in between (barycentric)."""
    n = len(points) - 1
    weight = (-1.0) ** np.arange(n + 1)
    weight[[0, n]] /= 2.0
    apart = at[:, None] - points[None, :]
    hit = np.abs(apart) < 1e-14
    share = weight / np.where(hit, 1.0, apart)
    found: Array = share / share.sum(axis=1, keepdims=True)
    found[hit.any(axis=1)] = 0.0
    found[hit] = 1.0
    return found


def _integrals(points: Array) -> Array:
    """The matrix that takes values at the points to their integral from 0 to each point."""
    t = 2.0 * points - 1.0
    n = len(points) - 1
    values = np.polynomial.chebyshev.chebvander(t, n)
    whole = np.empty_like(values)
    for k in range(n + 1):
        one = np.zeros(n + 1)
        one[k] = 1.0
        whole[:, k] = np.polynomial.chebyshev.chebval(
            t, np.polynomial.chebyshev.chebint(one, lbnd=-1.0)
        )
    found: Array = whole @ np.linalg.inv(values) / 2.0
    return found


POINTS, SLOPE = _chebyshev(DEGREE)
SECOND = SLOPE @ SLOPE
UP_TO = _integrals(POINTS)
WHOLE = UP_TO[-1]
FINE = np.linspace(0.0, 1.0, SHOWN + 1)
TO_FINE = _between(POINTS, FINE)
SINES = np.array([np.sin(np.pi * POINTS), np.sin(2 * np.pi * POINTS)])


@dataclass(frozen=True)
class Shape:
    """A solved hose of length one: points [x, y] along it, and the greatest curvature."""

    nodes: Array
    sharpest: float
    energy: float


def solve(ends: Array) -> list[Shape | None]:
    """The shape of least energy for each end [x, y, turning]; none where none was found."""
    found: list[Shape | None] = [None] * len(ends)
    theta, of = _trials(ends) if len(ends) else (np.zeros((0, 0)), np.zeros(0, dtype=np.intp))
    if not len(theta):
        return found
    theta, good = _settled(theta, ends[of])
    energy = ((theta @ SLOPE.T) ** 2 @ WHOLE) / 2.0
    energy[~good] = np.inf
    for k in np.argsort(energy, kind="stable"):
        if np.isfinite(energy[k]) and found[of[k]] is None:
            found[of[k]] = _shape(theta[k], float(energy[k]))
    return found


def _shape(theta: Array, energy: float) -> Shape:
    path = np.stack([UP_TO @ np.cos(theta), UP_TO @ np.sin(theta)], axis=1)
    bend = np.abs(TO_FINE @ (SLOPE @ theta))
    return Shape(TO_FINE @ path, peak(bend), energy)


def peak(values: Array) -> float:
    """The greatest of values along a smooth curve, between its points too."""
    k = int(np.argmax(values))
    if 0 < k < len(values) - 1:
        a, b, c = values[k - 1], values[k], values[k + 1]
        if (bend := a - 2.0 * b + c) < 0.0:
            return float(b - (a - c) ** 2 / (8.0 * bend))
    return float(values[k])


def _trials(ends: Array) -> tuple[Array, NDArray[np.intp]]:
    """Trial shapes that close, those of least energy for each hose, and whose each is."""
    ab = np.broadcast_to(STARTS, (len(ends), *STARTS.shape)).copy()
    base, want = ends[:, None, 2:3] * POINTS, ends[:, None, :2]
    for _ in range(TRIAL_STEPS):
        theta = base + ab @ SINES
        cos, sin = np.cos(theta) * WHOLE, np.sin(theta) * WHOLE
        miss = np.stack([cos.sum(-1), sin.sum(-1)], axis=-1) - want
        dx, dy = -sin @ SINES.T, cos @ SINES.T
        det = dx[..., 0] * dy[..., 1] - dx[..., 1] * dy[..., 0]
        det = np.where(np.abs(det) < FLAT, FLAT, det)
        da = (dy[..., 1] * miss[..., 0] - dx[..., 1] * miss[..., 1]) / det
        db = (dx[..., 0] * miss[..., 1] - dy[..., 0] * miss[..., 0]) / det
        ab -= np.clip(np.stack([da, db], axis=-1), -0.8, 0.8)
    theta = base + ab @ SINES
    off = np.hypot(np.cos(theta) @ WHOLE - want[..., 0], np.sin(theta) @ WHOLE - want[..., 1])
    energy = (theta @ SLOPE.T) ** 2 @ WHOLE
    energy[off > 1e-6] = np.inf
    picked, of = [], []
    for h in range(len(ends)):
        seen: list[Array] = []
        for k in np.argsort(energy[h], kind="stable"):
            if not np.isfinite(energy[h, k]) or len(seen) == MOST_TRIALS:
                break
            if all(np.abs(ab[h, k] - s).max() > 1e-3 for s in seen):
                seen.append(ab[h, k])
                picked.append(theta[h, k])
                of.append(h)
    return np.array(picked), np.array(of, dtype=np.intp)


def _settled(theta: Array, ends: Array) -> tuple[Array, NDArray[np.bool_]]:
    """Newton on the angles and c1, c2 until all equations hold; for which of them they do."""
    m, n = theta.shape
    theta = theta.copy()
    c = _pulls(theta)
    inner = slice(1, n - 1)
    for _ in range(STEPS):
        cos, sin = np.cos(theta), np.sin(theta)
        miss, slopes = np.zeros((m, n + 2)), np.zeros((m, n + 2, n + 2))
        miss[:, inner] = (theta @ SECOND.T - c[:, :1] * cos - c[:, 1:] * sin)[:, inner]
        miss[:, 0], miss[:, n - 1] = theta[:, 0], theta[:, -1] - ends[:, 2]
        miss[:, n], miss[:, n + 1] = cos @ WHOLE - ends[:, 0], sin @ WHOLE - ends[:, 1]
        rows = np.arange(1, n - 1)
        slopes[:, inner, :n] = SECOND[inner]
        slopes[:, rows, rows] += (c[:, :1] * sin - c[:, 1:] * cos)[:, inner]
        slopes[:, inner, n], slopes[:, inner, n + 1] = -cos[:, inner], -sin[:, inner]
        slopes[:, 0, 0] = slopes[:, n - 1, n - 1] = 1.0
        slopes[:, n, :n], slopes[:, n + 1, :n] = -sin * WHOLE, cos * WHOLE
        try:
            step = np.linalg.solve(slopes, miss[..., None])[..., 0]
        except np.linalg.LinAlgError:
            step = (np.linalg.pinv(slopes) @ miss[..., None])[..., 0]
        size = np.abs(step[:, :n]).max(axis=1)
        step *= np.minimum(1.0, 1.0 / np.maximum(size, 1e-30))[:, None]
        theta -= step[:, :n]
        c -= step[:, n:]
        if size.max() < CLOSED:
            break
    off = np.hypot(np.cos(theta) @ WHOLE - ends[:, 0], np.sin(theta) @ WHOLE - ends[:, 1])
    return theta, (size < 1e-7) & (off < 1e-8)


def _pulls(theta: Array) -> Array:
    """The c1, c2 that fit θ″ of a trial shape best."""
    cos, sin, second = np.cos(theta), np.sin(theta), theta @ SECOND.T
    cc, ss, cs = (cos * cos) @ WHOLE, (sin * sin) @ WHOLE, (cos * sin) @ WHOLE
    p, q = (cos * second) @ WHOLE, (sin * second) @ WHOLE
    det = np.where(np.abs(cc * ss - cs * cs) < FLAT, FLAT, cc * ss - cs * cs)
    found: Array = np.stack([(ss * p - cs * q) / det, (cc * q - cs * p) / det], axis=1)
    return found
