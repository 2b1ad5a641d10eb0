"""Sow faults into a copy and see which the tests find: `bin/sow core|server [COUNT] [SEED]
[--within core/lines core/runs]`.

What cannot make a difference is set aside in `equivalent.txt`, a line each: file, what stood
there, what it became, and why that is the same.
"""

from __future__ import annotations

import argparse
import random
import re
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path
from queue import Queue
from typing import TypeVar

from testkit.faults import ROOT, Fault, field, sources
from testkit.reach import RUNS, Reach, digest, environment, measured, modules

T = TypeVar("T")
R = TypeVar("R")
ASIDE = Path(__file__).with_name("equivalent.txt")
KEPT = ROOT / ".ashlane"
WANTED = {"core": 0.90, "server": 0.85}
FELL = re.compile(r"^(?:FAIL|ERROR): (.+?)(?: \[.*)?$", re.MULTILINE)
# The demo's database that each run of the server's tests is cloned from.
PREPARED = "sow_prepared"
# What the core's own tests do not find, what the demo answers may show.
DEMO = ["server.tests.test_answers_kept"]


class Field:
    """Two copies of the tree, each with its own tests and database."""

    def __init__(self, folder: Path, part: str) -> None:
        self.part = part
        self.reach = Reach(KEPT / f"reach-{part}.json", sources=digest(sources(part)))
        self.free: Queue[Path] = Queue()
        for n in range(2):
            self.free.put(copied(folder / f"field{n}"))

    @contextmanager
    def plot(self) -> Iterator[Path]:
        """One of the copies, for oneself."""
        where = self.free.get()
        try:
            yield where
        finally:
            self.free.put(where)

    def prepare(self) -> None:
        """Load the demo once, and see which tests pass over which lines."""
        with self.plot() as where:
            run = [sys.executable, "manage.py", "test", "--noinput", "server.tests.test_level"]
            env = environment(where) | {"ASHLANE_TEST_KEPT_AS": PREPARED}
            subprocess.run(run, cwd=where, env=env, check=True, capture_output=True)
        self.reach.read()
        try:
            for _ in self._both(modules(self.part), self._measure):
                pass
        finally:
            self.reach.keep()

    def _measure(self, module: str) -> None:
        with self.plot() as where:
            measured(self.part, module, where, PREPARED, self.reach)

    def _both(self, what: list[T], do: Callable[[T], R]) -> Iterator[R]:
        with ThreadPoolExecutor(2) as two:
            yield from two.map(do, what)

    def sow(self, faults: list[Fault]) -> Iterator[tuple[Fault, str]]:
        """Each with the test that fell by it, empty where none did."""
        return zip(faults, self._both(faults, self._try), strict=True)

    def _try(self, fault: Fault) -> str:
        with self.plot() as where:
            path = where / fault.file
            before = path.read_bytes()
            path.write_bytes(fault.sown(before))
            try:
                return self._fallen(where, self.part, self.reach.of(fault)) or (
                    self._fallen(where, "server", DEMO) if self.part == "core" else ""
                )
            finally:
                path.write_bytes(before)

    def _fallen(self, where: Path, part: str, tests: list[str]) -> str:
        if not tests:
            return ""
        longest = 60 + 4 * sum(self.reach.seconds.get(t, 60) for t in tests)
        try:
            done = subprocess.run(
                [sys.executable, *RUNS[part], *tests],
                cwd=where,
                env=environment(where, PREPARED),
                capture_output=True,
                text=True,
                timeout=longest,
            )
        except subprocess.TimeoutExpired:
            return "it never ended"
        if not done.returncode:
            return ""
        fell = FELL.search(done.stderr)
        return fell.group(1) if fell else "it did not start"


def copied(at: Path) -> Path:
    """The tree as it stands, in a folder of its own."""
    aside = shutil.ignore_patterns(".git", ".ashlane", "node_modules", "__pycache__", "screenshots")
    shutil.copytree(ROOT, at, ignore=aside)
    return at


def main() -> int:
    """Sow, report each that nobody found, the tests that fell, and how many of all were found."""
    parser = argparse.ArgumentParser(prog="bin/sow", description=__doc__)
    parser.add_argument("part", choices=sorted(WANTED))
    parser.add_argument("count", nargs="?", type=int, default=100)
    parser.add_argument("seed", nargs="?", type=int, default=1)
    parser.add_argument("--within", nargs="+", default=[""], help="only files that begin so")
    asked = parser.parse_args()
    within = tuple(asked.within)
    aside = {line.rpartition(" | ")[0] for line in ASIDE.read_text().splitlines()}
    every = [f for f in field(asked.part) if f.name not in aside and f.file.startswith(within)]
    sown = random.Random(asked.seed).sample(every, min(asked.count, len(every)))
    fallen: Counter[str] = Counter()
    with tempfile.TemporaryDirectory(prefix="sow-") as folder:
        ground = Field(Path(folder), asked.part)
        ground.prepare()
        for fault, fell in ground.sow(sown):
            print(
                f"{fell or 'NOT FOUND'}: {fault.kind}, line {fault.line}: {fault.name}", flush=True
            )
            fallen[fell] += 1
    caught = len(sown) - fallen.pop("", 0)
    print(f"{len(fallen)} tests fell")
    share = caught / len(sown)
    word = "within" if share >= WANTED[asked.part] else "under"
    print(f"{caught} of {len(sown)} found (wanted: {WANTED[asked.part]:.0%}) {word}")
    return 0 if word == "within" else 1
