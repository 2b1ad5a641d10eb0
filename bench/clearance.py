"""Clearances: thousands of runs at once, against numpy alone and a general collision library."""

from __future__ import annotations

import itertools
from dataclasses import replace
from time import perf_counter
from typing import Any

import numpy as np

from bench.report import Report, quantile, took
from core.clearance.many import NODES, Posed, crowd, every_pair, many_runs, near_pairs
from core.clearance.pairs import looked
from core.clearance.scene import Row, Scene
from core.runs.beside import TUBE, Beside

SEED, RUNS, SEGMENTS, MOVING, RULE = 20261, 2000, 10, 100, 0.025
FEW = 160


def clearance(report: Report) -> None:
    """The benchmark of the rule's page, and a support dragged among 200 runs."""
    many_runs(SEED, 200, SEGMENTS, 20, RULE)
    here = took(lambda: many_runs(SEED, RUNS, SEGMENTS, MOVING, RULE), 5)
    report.at_most("2,000 runs of 10 straights at 81 positions", here, 1000)
    runs = crowd(SEED, RUNS, SEGMENTS, MOVING)
    alone = took(lambda: near_pairs(runs, (NODES, NODES), RULE, True), 5) / 1e3
    few = runs[:FEW]
    begun = perf_counter()
    every_pair(few, (NODES, NODES))
    # Every straight against every one: four times the work for twice the runs.
    brute = (perf_counter() - begun) * (RUNS / FEW) ** 2
    report.at_least("than each against each in numpy", brute / alone, 20, "times as fast")
    general = _library(runs)
    if general is None:
        print("  (python-fcl is not installed: no comparison with a collision library)")
    else:
        report.at_least("than a collision library", general / alone, 3, "times as fast")
    report.at_most("a line dragged among 200 runs, p95", _drag() * 1e3, 100)


def _library(runs: list[Posed]) -> float | None:
    """Seconds for the same with capsules in trees of boxes; None where it is not installed."""
    try:
        import fcl  # type: ignore[import-not-found]
    except ImportError:
        return None

    def capsules(points: Any, radius: float) -> list[Any]:
        made = []
        for a, b in itertools.pairwise(points):
            long = float(np.linalg.norm(b - a))
            z = (b - a) / max(long, 1e-12)
            x = np.cross(z, [1.0, 0.0, 0.0] if abs(z[0]) < 0.9 else [0.0, 1.0, 0.0])
            x /= np.linalg.norm(x)
            turn = np.stack([x, np.cross(z, x), z], axis=1)
            shape = fcl.Capsule(radius + RULE / 2.0, long)
            made.append(fcl.CollisionObject(shape, fcl.Transform(turn, (a + b) / 2.0)))
        return made

    def managed(objects: list[Any]) -> Any:
        manager = fcl.DynamicAABBTreeCollisionManager()
        manager.registerObjects(objects)
        manager.setup()
        return manager

    def all_of(first: Any, other: Any = None) -> None:
        asked = fcl.CollisionRequest(num_max_contacts=200_000, enable_contact=False)
        data = fcl.CollisionData(request=asked)
        if other is None:
            first.collide(data, fcl.defaultCollisionCallback)
        else:
            first.collide(other, data, fcl.defaultCollisionCallback)

    begun = perf_counter()
    still = [c for r in runs if not r.controls for c in capsules(r.points[0], float(r.radii[0]))]
    one = managed(still)
    all_of(one)
    moving = [r for r in runs if r.controls]
    for at in itertools.product(range(NODES), repeat=2):
        posed = [
            c for r in moving for c in capsules(r.points[at[r.controls[0]]], float(r.radii[0]))
        ]
        other = managed(posed)
        all_of(one, other)
        all_of(other)
    return perf_counter() - begun


def _drag() -> float:
    """Seconds, 95 of 100, to tell all pairs of one line among 200 after a corner moved."""
    rng = np.random.default_rng(SEED)
    beside = []
    for n, r in enumerate(crowd(SEED, 200, SEGMENTS, 0)):
        way = tuple(map(tuple, r.points[0].tolist()))
        beside.append(Beside(TUBE, f"t{n}", f"Tube {n}", float(r.radii[0]), (way,), "fuel"))
    sure = Row("sureness", "sure", "Sure", {"tubes_U_m": 0.002})
    own = Row("rule", "own", "Own", {"a": "fuel", "b": "fuel", "least_m": RULE}, "maker")
    scene = Scene((sure, own), tuple(beside))
    times = []
    for _ in range(40):
        way = np.array(beside[7].ways[0])
        way[4] += rng.normal(0, 0.02, 3)
        moved = replace(beside[7], ways=(tuple(map(tuple, way.tolist())),))
        begun = perf_counter()
        there = (*beside[:7], moved, *beside[8:])
        looked(replace(scene, beside=there), ["tube t7"])
        times.append(perf_counter() - begun)
    return quantile(times, 0.95)
