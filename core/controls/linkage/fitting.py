"""The built aircraft from its readings: rod lengths and stops within stated tolerances.

Least squares in units of U, with the smallest departures that explain the readings. Readings
that no mechanism within the tolerances could give are named. Also: does it move the wrong way?
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from core.basis.refused import Refused, positive
from core.basis.vectors import Num
from core.controls.linkage.contact import AtStops, Bench, at_stops, check

KEYS = ("neutral", "plus", "minus")
# Weight of a departure as large as its tolerance, against a residual of one U.
PRIOR = 0.05
# What counts as explained, in U.
EXPLAINED = 1.0
UNREACHABLE = 1e3


@dataclass(frozen=True)
class Fitted:
    """`lengths`, m, and `stops` (q) of the built aircraft; `residuals` rad or m by key.

    `suspicious`: the reading without which the others are explained; None if all are, or if
    no single one is to blame (then `explained` is False too).
    """

    lengths: Mapping[str, float]
    stops: Mapping[str, float]
    residuals: Mapping[str, float]
    explained: bool
    suspicious: str | None


def fit(
    b: Bench,
    measured: Mapping[str, float],
    U: float,
    rod_tol: Mapping[str, float],
    stop_tol: Mapping[str, float],
) -> Fitted:
    """Fit the mechanism to readings of one output at rest and at the stop each way.

    measured: rad or m by `neutral`, `plus`, `minus`. U: their expanded uncertainty, over 0.
    rod_tol: ± m by rod; stop_tol: ± q by stop. Refuses unknown names, and no readings.
    """
    check(b)
    positive(U, "U")
    keys = tuple(k for k in KEYS if k in measured)
    if not keys:
        raise Refused("measured", "needs a reading")
    for name in rod_tol:
        if name not in b.plan.lengths:
            raise Refused(f"rod_tol.{name}", "is not a rod of this mechanism")
    for name in stop_tol:
        if name not in {s.id for s in b.stops}:
            raise Refused(f"stop_tol.{name}", "is not a stop of this mechanism")
    model = _Model(b, dict(rod_tol), dict(stop_tol), U)
    x, _ = model.fitted(measured, keys)
    residuals = model.residuals(x, measured, keys)
    explained = bool(np.all(np.abs(residuals) <= EXPLAINED * U))
    suspicious = None if explained else _suspicious(model, measured, keys)
    lengths, at = model.built(x)
    return Fitted(
        lengths=lengths,
        stops=at,
        residuals=dict(zip(keys, residuals.tolist(), strict=True)),
        explained=explained,
        suspicious=suspicious,
    )


def _suspicious(model: _Model, measured: Mapping[str, float], keys: tuple[str, ...]) -> str | None:
    """The reading without which the rest is explained best, if it is explained at all."""
    best: tuple[float, str] | None = None
    for key in keys:
        rest = tuple(k for k in keys if k != key)
        if not rest:
            return key
        x, cost = model.fitted(measured, rest)
        left = np.abs(model.residuals(x, measured, rest))
        if np.all(left <= EXPLAINED * model.U) and (best is None or cost < best[0]):
            best = (cost, key)
    return best[1] if best else None


def wrong_way(b: Bench, measured: Mapping[str, float], U: float) -> tuple[str, ...]:
    """Directions (`plus`, `minus`) in which the output moved against the mechanism.

    Movement counts from the neutral that was read, and only where it exceeds U.
    """
    check(b)
    one = np.zeros(1, dtype=int)
    model = at_stops(b, {}, one, np.array([[s.at] for s in b.stops], dtype=float).reshape(-1, 1))
    rest, found = measured.get("neutral", 0.0), []
    for key in ("plus", "minus"):
        if key not in measured:
            continue
        asked = float(getattr(model, key)[0] - model.neutral[0])
        moved = measured[key] - rest
        if abs(moved) > U and not np.isnan(asked) and moved * asked < 0.0:
            found.append(key)
    return tuple(found)


class _Model:
    def __init__(
        self, b: Bench, rod_tol: dict[str, float], stop_tol: dict[str, float], U: float
    ) -> None:
        self.b, self.rods, self.stops, self.U = b, rod_tol, stop_tol, U
        self.count = len(rod_tol) + len(stop_tol)

    def at(self, variants: Num) -> AtStops:
        """Outputs for variants (N, parameters), each parameter in units of its tolerance."""
        n = len(variants)
        lengths = {
            name: self.b.plan.lengths[name] + tol * variants[:, i]
            for i, (name, tol) in enumerate(self.rods.items())
        }
        places = np.repeat(np.array([[s.at] for s in self.b.stops]).reshape(-1, 1), n, axis=1)
        ids = [s.id for s in self.b.stops]
        for j, (name, tol) in enumerate(self.stops.items(), start=len(self.rods)):
            places[ids.index(name)] += tol * variants[:, j]
        which = np.arange(n) if lengths else np.zeros(n, dtype=int)
        return at_stops(self.b, lengths, which, places)

    def predicted(self, variants: Num, keys: tuple[str, ...]) -> Num:
        """(N, keys); far away where it locks up or meets no stop."""
        found = self.at(variants)
        stacked = np.stack(
            [np.broadcast_to(getattr(found, k), (len(variants),)) for k in keys], axis=1
        )
        return np.where(np.isnan(stacked), UNREACHABLE * self.U, stacked)

    def residuals(self, x: Num, measured: Mapping[str, float], keys: tuple[str, ...]) -> Num:
        """Model minus measured, rad or m."""
        return self.predicted(x[None, :], keys)[0] - np.array([measured[k] for k in keys])

    def fitted(self, measured: Mapping[str, float], keys: tuple[str, ...]) -> tuple[Num, float]:
        """Parameters within ±1, and the cost."""
        if not self.count:
            nothing = np.zeros(0)
            r = self.residuals(nothing, measured, keys) / self.U
            return nothing, float(np.sum(r * r))
        target = np.array([measured[k] for k in keys])

        def off(x: Num) -> Num:
            r = (self.predicted(x[None, :], keys)[0] - target) / self.U
            return np.concatenate([r, PRIOR * x])

        def slope(x: Num) -> Num:
            step = 1e-5
            moved = x[None, :] + step * np.concatenate([np.eye(self.count), -np.eye(self.count)])
            both = self.predicted(moved, keys) / self.U
            upper = (both[: self.count] - both[self.count :]).T / (2.0 * step)
            return np.concatenate([upper, PRIOR * np.eye(self.count)])

        found = least_squares(
            off, np.zeros(self.count), jac=slope, bounds=(-1.0, 1.0), x_scale=1.0, max_nfev=40
        )
        return found.x, float(found.cost)

    def built(self, x: Num) -> tuple[dict[str, float], dict[str, float]]:
        """Rod lengths, m, and stop places of these parameters."""
        n = len(self.rods)
        lengths = {
            name: self.b.plan.lengths[name] + tol * float(x[i])
            for i, (name, tol) in enumerate(self.rods.items())
        }
        at = {s.id: s.at for s in self.b.stops}
        return lengths, {
            name: at[name] + tol * float(x[n + j])
            for j, (name, tol) in enumerate(self.stops.items())
        }
