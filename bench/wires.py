"""A harness of a thousand wires, and a map of the compass error, beside the sum place by place."""

from __future__ import annotations

import random
from time import perf_counter
from typing import Any

from bench.report import Report
from core.wiring.field import Current, dc_field
from core.wiring.field_map import error_map
from core.wiring.harness import ROWS, Harness, Row
from core.wiring.harness_checks import judged
from core.worksheets.reading import read

WAY = "0; 0; 0; 1000; 0; 0; 1000; 500; 100"
HELD = {
    "supports": "300; 600; 900; 1200",
    "span": "610",
    "apart": "strobe/audio",
    "no_holes": "yes",
}
LAMP = {"current": "2.5", "duty": "continuous", "system": "14", "ambient": "45", "rating": "150",
        "back": "wire", "protector": "breaker", "protector_A": "5"}  # fmt: skip


def wires(report: Report) -> None:
    """All of it."""
    _harness(report)
    _map(report)


def _row(kind: str, name: str, typed: dict[str, Any]) -> Row:
    values, _ = read(ROWS[kind], typed, "mm", lambda *_: None)
    return Row(kind, name.lower(), name, values)


def _harness(report: Report) -> None:
    chance = random.Random(1)
    rows = [_row("bundle", f"B{n}", {"points": WAY} | HELD) for n in range(60)]
    rows += [_row("circuit", f"C{n}", LAMP) for n in range(250)]
    rows += [_row("connector", f"P{n}", {"contacts": "socket", "pins": "1-40 24 12"})
             for n in range(60)]  # fmt: skip
    for n in range(1000):
        typed = {
            "circuit": f"C{n // 4}", "part": ("feed", "return")[n % 2], "length": "2500",
            "awg": chance.choice(["20", "18", "16"]), "from": f"P{n % 60}.{n // 60 + 1}",
            "to": f"P{(n + 7) % 60}.{n // 60 + 21}", "bundles": f"B{n % 60}", "od": "2",
            "class": chance.choice(["power", "audio"]),
        }  # fmt: skip
        rows.append(_row("wire", f"W{n}", typed))
    begun = perf_counter()
    h = Harness(tuple(rows))
    checks = sum(len(judged(h, r)) for r in h.rows)
    report.at_most("1,000 wires in 60 bundles judged", (perf_counter() - begun) * 1e3, 500)
    assert checks >= 1500


def _map(report: Report) -> None:
    """200 x 100 places around two circuits, against the rule place by place."""
    chance = random.Random(2)
    ways = [
        Current([[chance.uniform(0, 4), chance.uniform(-1, 1), 0.2] for _ in range(6)], 5.0)
        for _ in range(2)
    ]
    xs, ys = [0.02 * n for n in range(200)], [-1.0 + 0.02 * n for n in range(100)]
    begun = perf_counter()
    found = error_map(xs, ys, 0.5, 20e-6, ways)
    own = perf_counter() - begun
    report.at_most("compass map of 200 x 100", own, 1.0, "s")
    begun = perf_counter()
    for n in range(200):
        one = dc_field((xs[n], ys[n % 100], 0.5), 20e-6, tuple(ways)).worst_error_rad
        assert one is None or abs(one - found[n % 100, n]) < 1e-9
    report.at_least("place by place takes", (perf_counter() - begun) * 100 / own, 10)
