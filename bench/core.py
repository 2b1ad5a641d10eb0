"""The computation alone: travel, linkages, cables, against a general root finder."""

from __future__ import annotations

import json
import math
from pathlib import Path
from time import perf_counter
from typing import Any

import numpy as np
from scipy.optimize import fsolve

from bench.clearance import clearance
from bench.lines import lines
from bench.report import Report, took
from bench.weight import weight
from bench.wires import wires
from core.cables.loop import loop_sweep
from core.cables.pluck_check import assess_pluck
from core.cables.pluck_signal import Signal, made
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.controls.linkage.advising import Aim, Item, advise
from core.controls.linkage.document import Document, document_from
from core.controls.linkage.mechanism import ByBody, ByInput, ByRod
from core.controls.linkage.rod_ends import rod_states
from core.controls.linkage.solving import Placed, gear, solve
from core.controls.travel import ReadingSet, Surface, judge_sets, measurement

DEMO = Path("demo")
r = math.radians
ENDS = {"fenlark-flaps": (0.0, 0.046), "fenlark-trim": (-0.14, 0.28)}


def core(report: Report) -> None:
    """All of it."""
    report.title("core")
    travel(report)
    linkages(report)
    cables(report)
    lines(report)
    wires(report)
    weight(report)
    clearance(report)


def travel(report: Report) -> None:
    """Ten thousand readings, judged."""
    surface = Surface("trailing_edge_up", chord=0.281, u_chord=0.0006)
    sets = [
        ReadingSet(
            "gauge_difference",
            tuple(r(-17.8 - 0.0004 * (i % 997) - 0.05 * (j % 3)) for j in range(4)),
            r(0.2),
            r(0.1),
            -1,
            neutral=(r(0.1), r(0.15), r(0.1)),
        )
        for i in range(2500)
    ]
    begun = perf_counter()
    for one in sets:
        judge_sets([measurement(surface, one)], r(17.5), r(20.5))
    report.at_most("10,000 readings assessed", perf_counter() - begun, 1.0, "s")


def _documents() -> dict[str, Document]:
    files = (DEMO / "mechanisms").glob("*.json")
    return {p.stem: document_from(json.loads(p.read_text())) for p in files}


def _first(d: Document) -> str:
    return next(iter(d.inputs))


def linkages(report: Report) -> None:
    """The demo's linkages over 201 positions, the mixer's grid, and advice."""
    every = _documents()
    ours = {n: d for n, d in every.items() if n.startswith("fenlark")}
    places = {n: np.linspace(*ENDS.get(n, (-0.4, 0.4)), 201) for n in ours}

    def sweep() -> dict[str, Any]:
        return {n: solve(d.plan, {_first(d): places[n]}) for n, d in ours.items()}

    def ends() -> None:
        for n, m in sweep().items():
            rod_states(m)
            gear(m, _first(ours[n]))

    whole = took(sweep)
    report.at_most("all Fenlark linkages, 201 positions", whole, 20)
    begun = perf_counter()
    slow = {n: _by_root_finder(d, places[n]) for n, d in ours.items()}
    report.at_least("the general root finder takes", (perf_counter() - begun) * 1e3 / whole, 100)
    fast = sweep()
    worst = max(
        float(np.max(np.abs(rows[:, i] - fast[n].q[b])))
        for n, (ids, rows) in slow.items()
        for i, b in enumerate(ids)
    )
    report.at_most("both agree to", worst, 1e-9, "rad")
    report.at_most("with arms, transmission, dead centre", took(ends), 60)
    mixer, grid = every["moorhen-mixer"], np.linspace(-0.3, 0.3, 41)
    inputs = {"roll": grid[:, None], "flap": grid[None, :] / 2}
    report.at_most("mixer, 41 x 41", took(lambda: solve(mixer.plan, inputs)), 50)
    report.at_most("advice over three rods", _advice(every["fenlark-elevator"]), 1000)


def _advice(elevator: Document) -> float:
    measured = {"neutral": r(2.5), "plus": r(23), "minus": r(-22)}
    asked = {
        "neutral": (r(-0.5), r(0.5)),
        "plus": (r(25), r(28)),
        "minus": (r(-20.5), r(-17.5)),
    }
    rods = [Item(n, 0.00045357, -6, 6) for n in ("fwd", "mid", "aft")]
    bench, aim = elevator.bench("elevator"), Aim(measured, asked, r(0.25))
    return took(lambda: advise(bench, aim, rods, []), 5)


def _by_root_finder(d: Document, places: Any) -> tuple[list[str], Any]:
    """The same positions by scipy's fsolve: rod lengths met, each from the one before."""
    m = d.mechanism
    driven = [b for b in m.bodies if isinstance(b.driven_by, ByRod)]
    guess: Any = [0.0] * len(driven)
    rows = []
    for x in places:

        def off(q: Any, x: float = x) -> list[float]:
            free = dict(zip((b.id for b in driven), q, strict=True))
            at: dict[str, Placed] = {}
            for name in d.plan.order:
                b = m.body(name)
                by = b.driven_by
                if isinstance(by, ByInput):
                    v = by.ratio * (x if by.input == _first(d) else 0.0)
                elif isinstance(by, ByBody):
                    v = by.ratio * at[by.body].q + by.offset
                else:
                    v = free[name]
                carrier = at[b.carried_by] if b.carried_by else None
                at[name] = Placed(b, v, math.cos(v), math.sin(v), carrier)
            return [
                math.dist(
                    at[k.a.body].move(m.body(k.a.body).points[k.a.point]),
                    at[k.b.body].move(m.body(k.b.body).points[k.b.point]),
                )
                - d.plan.lengths[k.id]
                for k in m.rods
            ]

        guess = fsolve(off, guess)
        if max(map(abs, off(guess))) > 1e-9:  # Stuck where it starts at exactly 0.
            guess = fsolve(off, guess + 1e-3)
        rows.append(guess)
    return [b.id for b in driven], np.array(rows)


def cables(report: Report) -> None:
    """The demo's loops over 101 positions, and a recorded pluck."""
    files = sorted((DEMO / "cables").glob("*.json"))
    loops = [Rigged(rigging_from(json.loads(p.read_text()))) for p in files]

    def ours() -> list[Any]:
        return [loop_sweep(x.loop, x.angles) for x in loops]

    whole = took(ours)
    report.at_most("all demo loops, 101 positions", whole, 10)
    begun, worst = perf_counter(), 0.0
    for x, states in zip(loops, ours(), strict=True):
        for way in (1, -1):
            near = 0.0
            there = [s for s in states if s.driver_rad * way >= 0]
            for s in sorted(there, key=lambda s: abs(s.driver_rad)):

                def rest(t: Any, s: Any = s, x: Any = x) -> Any:
                    return x.loop.moment(s.driver_rad, float(t[0]))

                near = float(fsolve(rest, [near], xtol=1e-12)[0])
                if s.driven_rad is not None:
                    worst = max(worst, abs(near - s.driven_rad))
    report.at_least("the general root finder takes", (perf_counter() - begun) * 1e3 / whole, 40)
    report.at_most("both agree to", worst, 1e-9, "rad")
    partials = [[0.3, 0.9, 0], [0.18, 0.7, 0.5], [0.12, 0.5, 1.1]]
    x = made(Signal(48000, 5.0, 24.6, partials, 0.2, 2e-4, 0.004, 11))  # type: ignore[arg-type]
    report.at_most(
        "5 s of sound at 48 kHz assessed", took(lambda: assess_pluck(x, 48000, 12, 45)), 200
    )
