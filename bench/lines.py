"""Tubes, a hose through its travel and a fuel system, each beside the general way."""

from __future__ import annotations

import json
import math
from pathlib import Path
from time import perf_counter
from typing import Any

import numpy as np
from scipy.optimize import minimize

from bench.report import Report
from core.lines.bend import bend_card, lra_to_xyz
from core.lines.elastic import solve
from core.lines.hose_moving import hang, hung, pedal_positions
from core.rulebook import rule

CASES = Path("core/rulebook/cases/lines.json")


def lines(report: Report) -> None:
    """All of it."""
    _tubes(report)
    _hose(report)
    _system(report)


def _tubes(report: Report) -> None:
    chance = np.random.default_rng(1)
    routes = []
    for _ in range(200):
        n = int(chance.integers(2, 7))
        straights, angles = chance.uniform(0.1, 0.5, n + 1), chance.uniform(0.2, 1.8, n)
        turns, radii = chance.uniform(-3, 3, n - 1), [0.03] * n
        made = lra_to_xyz(
            straights.tolist(), angles.tolist(), turns.tolist(), radii, (0, 0, 0), (1, 0, 0),
            (0, 0, 1),
        )  # fmt: skip
        routes.append((made.vertices_m, radii))
    begun = perf_counter()
    for vertices, radii in routes:
        bend_card(vertices, radii)
    report.at_most("200 tubes to cards", (perf_counter() - begun) * 1e3, 200)


def _hose(report: Report) -> None:
    """41 pedal angles at 5 adjustments, against a chain of pieces by general minimisation."""
    travel = np.linspace(-0.35, 0.35, 41).tolist()
    settings = [(-0.02 * k, 0.0) for k in range(5)]
    at = pedal_positions((0.0, 0.0), (0.0, 0.06), 4.5, travel, settings).positions
    hose = hang((0.2, 0.0), math.pi / 2, 0.44, 0.015)
    begun = perf_counter()
    found = hung(hose, at)
    own = perf_counter() - begun
    report.at_most("a hose through 41 x 5 positions", own, 1.0, "s")
    end = hose.ends(at)[0] / [hose.flexible, hose.flexible, 1.0]
    begun = perf_counter()
    energy = _chain(*end)
    report.at_least("a chain of pieces takes", (perf_counter() - begun) * len(at) / own, 40)
    (shape,) = solve(np.array([end]))
    assert shape is not None and abs(energy / shape.energy - 1) < 0.01
    assert all(h.radius is not None for h in found)


def _chain(x: float, y: float, turning: float, pieces: int = 60) -> float:
    s = (np.arange(pieces) + 0.5) / pieces
    gaps = np.concatenate([[0.5], np.ones(pieces - 1), [0.5]]) / pieces

    def energy(theta: Any) -> float:
        return float(np.sum(np.diff(np.concatenate([[0.0], theta, [turning]])) ** 2 / gaps) / 2)

    ends = [
        {"type": "eq", "fun": lambda t: np.cos(t).mean() - x},
        {"type": "eq", "fun": lambda t: np.sin(t).mean() - y},
    ]
    starts = (turning * s + a * np.sin(np.pi * s) for a in (-2.0, 0.0, 2.0))
    found = [minimize(energy, b, constraints=ends, options={"maxiter": 150}) for b in starts]
    return float(min(f.fun for f in found if f.success))


def _system(report: Report) -> None:
    """The page's fuel system, lengthened by filters and tees with sensors to 60 parts."""
    case = next(c for c in json.loads(CASES.read_text()) if c["id"] == "W22c")
    system = case["inputs"]
    parts, joined = system["components"], system["connections"]
    k = 0
    while len(parts) < 60:
        line = joined[k % 4]
        far = line["b"]
        tee, sensor = f"tee {k}", f"sensor {k}"
        parts += [{"id": tee, "kind": "tee"}, {"id": sensor, "kind": "sensor"}]
        line["b"] = f"{tee}.a"
        joined += [
            {"id": f"x{k}", "a": f"{tee}.b", "b": far},
            {"id": f"y{k}", "a": f"{tee}.c", "b": f"{sensor}.a"},
        ]
        k += 1
    run = rule("lines.fuel_topology").run
    begun = perf_counter()
    run(system)
    report.at_most("a fuel system of 60 parts, every state", (perf_counter() - begun) * 1e3, 300)
