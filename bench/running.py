"""A server of its own on a fresh demo, for as long as it is measured."""

from __future__ import annotations

import contextlib
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "bin"))

from cluster import database, free_port  # noqa: E402
from serve import PYTHON, build_web, running, settings  # noqa: E402


@dataclass(frozen=True)
class Server:
    """Where it answers, how its programs are run, and how long its second start took, s."""

    address: str
    env: dict[str, str]
    second_start_s: float
    python: str = PYTHON


@contextlib.contextmanager
def served() -> Iterator[Server]:
    """The demo loaded by a first start, then served by a second."""
    build_web()
    with database("ashlane_bench", fresh=True) as url:
        with running(url, free_port()):
            pass
        begun = time.perf_counter()
        with running(url, free_port()) as address:
            took = time.perf_counter() - begun
            yield Server(address, settings(url, {"hand": 0}), took)
