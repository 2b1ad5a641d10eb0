"""Weight and balance: the worst of fifteen stations and four tanks, beside a general solver and
beside counting out every corner; a whole page's answers; a point that follows a load."""

from __future__ import annotations

import itertools
import random
from time import perf_counter
from typing import Any

from scipy.optimize import linprog

from bench.report import Report, took
from core.rulebook import rule

ENVELOPE = {
    "plane": "arm",
    "points": [[2.2, 380], [2.2, 480], [2.27, 900], [2.5, 900], [2.5, 380]],
}
EMPTY = {"mass_kg": 355.0, "x_m": 2.254, "y_m": 0.0, "U_mass_kg": 0.5, "U_x_m": 0.003}


def weight(report: Report) -> None:
    """All of it."""
    asked = _made(15, 4, 6)
    worst = rule("weight.worst_cases")
    here = took(lambda: worst.run(asked), 20)
    report.at_most("worst of 15 stations, 4 tanks, 6 groups", here, 100)
    report.at_least(
        "of HiGHS, solved at as many masses", _general(asked) / here, 5, "times as fast"
    )
    small = _made(12, 2, 0)
    begun = perf_counter()
    _corners(small)
    counted = (perf_counter() - begun) * 1e3
    few = took(lambda: worst.run(small), 20)
    report.at_least("of counting the corners of 14 loads out", counted / few, 5, "times as fast")
    loading = _loading()
    report.at_most(
        "a loading worked out", took(lambda: rule("weight.loading_case").run(loading), 50), 10
    )


def _made(stations: int, tanks: int, groups: int) -> dict[str, Any]:
    chance = random.Random(4)
    rows = [
        {"name": f"s{n}", "x_m": chance.uniform(1.2, 3.8), "max_kg": chance.uniform(5.0, 40.0)}
        for n in range(stations)
    ]
    full = [
        {"name": f"t{n}", "x_m": chance.uniform(2.0, 2.6), "max_kg": chance.uniform(10.0, 40.0)}
        for n in range(tanks)
    ]
    names = [x["name"] for x in rows + full]
    limits = [
        {"names": chance.sample(names, 4), "max_kg": chance.uniform(20.0, 60.0)}
        for _ in range(groups)
    ]
    return {
        "empty": EMPTY, "envelope": ENVELOPE, "max_mass_kg": 700.0, "stations": rows,
        "tanks": full, "groups": limits,
    }  # fmt: skip


def _general(asked: dict[str, Any]) -> float:
    """ms: least and greatest moment, and to each side, at every one of 20 masses."""
    every = asked["stations"] + asked["tanks"]
    rows = [[1.0 if x["name"] in g["names"] else 0.0 for x in every] for g in asked["groups"]]
    limits = [g["max_kg"] for g in asked["groups"]]
    bounds = [(0.0, x["max_kg"]) for x in every]
    begun = perf_counter()
    for n in range(20):
        for sign in (1.0, -1.0):
            linprog(
                [sign * x["x_m"] for x in every], A_ub=rows, b_ub=limits,
                A_eq=[[1.0] * len(every)], b_eq=[10.0 * n], bounds=bounds,
            )  # fmt: skip
    return (perf_counter() - begun) * 1e3


def _corners(asked: dict[str, Any]) -> float:
    """The greatest arm of all loadings in which each load is none or full."""
    every = asked["stations"] + asked["tanks"]
    best = 0.0
    for some in itertools.product((0.0, 1.0), repeat=len(every)):
        mass, moment = 355.0, 355.0 * 2.254
        for share, x in zip(some, every, strict=True):
            mass, moment = mass + share * x["max_kg"], moment + share * x["max_kg"] * x["x_m"]
        best = max(best, moment / mass)
    return best


def _loading() -> dict[str, Any]:
    asked = _made(15, 0, 0)
    loads = [
        {"name": s["name"], "x_m": s["x_m"], "mass_kg": s["max_kg"] / 2} for s in asked["stations"]
    ]
    tanks = [
        {"name": f"t{n}", "x_m": 2.3, "volume_m3": 0.03, "capacity_m3": 0.05} for n in range(4)
    ]
    return {
        "empty": EMPTY, "loads": loads, "tanks": tanks, "fuel": {"density_ref_kg_m3": 720},
        "envelope": ENVELOPE,
    }  # fmt: skip
