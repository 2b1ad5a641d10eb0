"""Which tests pass over which line, measured once before faults are sown.

A fault is tried only against the tests that run its statement; those that run most of its file
for their time come first. Tests in the browser are left out: they take minutes, so what only
they would notice counts as not found.
"""

from __future__ import annotations

import hashlib
import json
import os
import subprocess
import sys
import time
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path

from coverage import CoverageData

from testkit.faults import ROOT, Fault

LEFT_OUT = ("_in_the_browser", "_scripts", "_web_units")
# Seconds of tests that are asked about one fault: who does not notice by then, does not.
LONG_ENOUGH = 240
# These pass over nearly all of it and are asked about every fault that they pass over.
BROAD = ("server.tests.test_answers_kept",)
# What runs the named tests, until the first that fails.
RUNS = {
    "core": ["-m", "unittest", "-f", "-q"],
    "server": ["manage.py", "test", "--noinput", "--failfast"],
}


@dataclass
class Reach:
    """seconds: of each module of tests; ran: module -> file -> lines; kept in a file, module by
    module, as long as neither the sources nor that module's own text changed."""

    kept_in: Path | None = None
    sources: str = ""
    seconds: dict[str, float] = field(default_factory=dict)
    ran: dict[str, dict[str, list[int]]] = field(default_factory=dict)
    texts: dict[str, str] = field(default_factory=dict)

    def read(self) -> None:
        """What an earlier run kept, where it still holds."""
        if self.kept_in is None or not self.kept_in.is_file():
            return
        kept = json.loads(self.kept_in.read_text())
        if kept["sources"] == self.sources:
            self.seconds, self.ran, self.texts = kept["seconds"], kept["ran"], kept["texts"]

    def keep(self) -> None:
        """Put it into its file."""
        if self.kept_in is not None:
            what = {k: getattr(self, k) for k in ("sources", "seconds", "ran", "texts")}
            self.kept_in.write_text(json.dumps(what))

    def knows(self, module: str) -> bool:
        """Whether it was measured with its text of now."""
        return self.texts.get(module) == digest([file_of(module)])

    def add(self, module: str, seconds: float, lines: dict[str, list[int]], text: str) -> None:
        """What one module of tests ran, with the digest of its text."""
        self.seconds[module], self.ran[module], self.texts[module] = seconds, lines, text

    def of(self, fault: Fault) -> list[str]:
        """The modules of tests that run the fault's statement, the likeliest to notice first."""
        lines = {m: files.get(fault.file, []) for m, files in self.ran.items()}
        passing = [m for m in lines if set(fault.lines) & set(lines[m])]
        # What every module runs, as an import does, says nothing of which would notice.
        often = Counter(n for m in passing for n in lines[m])
        worth = {m: sum(1 / often[n] for n in lines[m]) / (self.seconds[m] + 2) for m in passing}
        asked: list[str] = []
        for m in sorted(passing, key=lambda m: -worth[m]):
            if m in BROAD or sum(self.seconds[a] for a in asked) < LONG_ENOUGH:
                asked.append(m)
        return asked


def file_of(module: str) -> Path:
    """Where a module of tests stands."""
    return ROOT / (module.replace(".", "/") + ".py")


def digest(files: Iterable[Path]) -> str:
    """One word for what the files hold."""
    return hashlib.sha256(b"".join(f.read_bytes() for f in files if f.is_file())).hexdigest()


def modules(part: str) -> list[str]:
    """All modules of a part's tests."""
    found = sorted((ROOT / part / "tests").rglob("test_*.py"))
    kept = (p for p in found if not p.stem.endswith(LEFT_OUT))
    return [".".join(p.relative_to(ROOT).with_suffix("").parts) for p in kept]


def environment(where: Path, prepared: str = "") -> dict[str, str]:
    """For tests of a copy."""
    more = {
        "PYTHONPATH": str(where),
        "PYTHONDONTWRITEBYTECODE": "1",
        "PYTHONWARNINGS": "ignore",
        "ASHLANE_SECURITY_LOG": os.devnull,
        # The pictures of the prepared demo are on the disk beside both copies.
        "ASHLANE_MEDIA": str(where.parent / "media"),
        "ASHLANE_TEST_DB": f"test_sow_{where.name}",
        "ASHLANE_TEST_PREPARED": prepared,
    }
    return os.environ | more


def measured(part: str, module: str, where: Path, prepared: str, into: Reach) -> None:
    """Run one module of tests on the copy as it is, and keep what it passes over."""
    if into.knows(module):
        return
    file = where / f".reach-{module}"
    watch = [sys.executable, "-m", "coverage", "run", f"--data-file={file}", f"--source={part}"]
    began = time.monotonic()
    done = subprocess.run(
        [*watch, *RUNS[part], module],
        cwd=where,
        env=environment(where, prepared),
        capture_output=True,
        text=True,
    )
    if done.returncode:
        raise SystemExit(f"{module} fails without any fault:\n{done.stderr[-3000:]}")
    data = CoverageData(str(file))
    data.read()
    names = {str(Path(name).relative_to(where)): name for name in data.measured_files()}
    lines = {short: list(data.lines(name) or ()) for short, name in names.items()}
    text = digest([where / file_of(module).relative_to(ROOT)])
    into.add(module, time.monotonic() - began, lines, text)
