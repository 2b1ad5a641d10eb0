"""Sow faults into a copy and see which the tests find: `bin/sow core|server [COUNT] [SEED]`.

A fault is a turned sign, a moved comparison, another constant, a dropped call or an inverted
condition, one at a time. What cannot make a difference is set aside in `equivalent.txt`, a
line each: file, what stood there, what it became, and why that is the same.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

ROOT = Path(__file__).parent.parent
ASIDE = Path(__file__).with_name("equivalent.txt")
SKIPPED = ("tests", "migrations", "demo", "management", "fixtures")
WANTED = {"core": 0.90, "server": 0.85}
LONGEST = 900
# Those that take longest come last.
SLOW = ("test_laws", "test_schemas", "test_plucks", "test_linkages")
# What runs against a fault, the quickest first.
RUNS = {
    "core": [sys.executable, "-m", "unittest", "-f", "-q"],
    "server": [sys.executable, "manage.py", "test", "--noinput", "--failfast", "server"],
}
SIGNS = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}
COMPARED = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
}


@dataclass(frozen=True)
class Fault:
    """One change of one piece of source."""

    file: str
    line: int
    kind: str
    was: str
    now: str
    begin: int
    end: int

    @property
    def name(self) -> str:
        """As it is listed, and as it is set aside (without its line)."""
        return f"{self.file} | {self.was} | {self.now}"

    def sown(self, text: bytes) -> bytes:
        """The file's text with it."""
        return text[: self.begin] + self.now.encode() + text[self.end :]


def faults(path: Path) -> Iterator[Fault]:
    """All that can be sown into a file."""
    text = path.read_text()
    starts = [0]
    for line in text.encode().splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    name = str(path.relative_to(ROOT))
    for node in ast.walk(ast.parse(text)):
        for kind, changed in _changed(node):
            assert isinstance(node, (ast.expr, ast.stmt))
            begin = starts[node.lineno - 1] + node.col_offset
            end = starts[(node.end_lineno or 0) - 1] + (node.end_col_offset or 0)
            was = text.encode()[begin:end].decode()
            if "\n" not in was:
                yield Fault(name, node.lineno, kind, was, changed, begin, end)


def _changed(node: ast.AST) -> Iterator[tuple[str, str]]:
    if isinstance(node, ast.BinOp) and type(node.op) in SIGNS:
        if not any(isinstance(x, (ast.Constant, ast.JoinedStr)) and _text(x) for x in _sides(node)):
            turned = ast.BinOp(node.left, SIGNS[type(node.op)](), node.right)
            yield "sign", f"({ast.unparse(turned)})"
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        yield "sign", f"({ast.unparse(node.operand)})"
    elif isinstance(node, ast.Compare) and type(node.ops[0]) in COMPARED:
        ops = [COMPARED[type(node.ops[0])](), *node.ops[1:]]
        yield "comparison", f"({ast.unparse(ast.Compare(node.left, ops, node.comparators))})"
    elif isinstance(node, ast.Constant) and isinstance(value := node.value, (int, float)):
        if isinstance(value, bool):
            return
        more = value + 1 if isinstance(value, int) else value * 1.07 + 1e-9
        yield "constant", repr(more)
    elif isinstance(node, ast.Expr) and isinstance(node.value, ast.Call):
        yield "dropped call", "None"
    elif isinstance(node, ast.IfExp):
        turned_if = ast.IfExp(node.test, node.orelse, node.body)
        yield "inverted condition", f"({ast.unparse(turned_if)})"
    elif isinstance(node, ast.BoolOp):
        other = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        yield "inverted condition", f"({ast.unparse(ast.BoolOp(other, node.values))})"


def _sides(node: ast.BinOp) -> tuple[ast.expr, ast.expr]:
    return node.left, node.right


def _text(node: ast.expr) -> bool:
    return isinstance(node, ast.JoinedStr) or isinstance(getattr(node, "value", None), str)


def field(part: str) -> list[Fault]:
    """Every fault that can be sown into core or server."""
    files = sorted((ROOT / part).rglob("*.py"))
    kept = (p for p in files if not set(p.relative_to(ROOT).parts[:-1]) & set(SKIPPED))
    return [f for p in kept for f in faults(p)]


def copied(at: Path) -> Path:
    """The tree as it stands, in a folder of its own."""
    aside = shutil.ignore_patterns(".git", ".ashlane", "node_modules", "__pycache__", "screenshots")
    shutil.copytree(ROOT, at, ignore=aside)
    return at


def found(fault: Fault, where: Path, part: str) -> bool:
    """Whether the tests notice it. The copy is as before afterwards."""
    path = where / fault.file
    before = path.read_bytes()
    path.write_bytes(fault.sown(before))
    env = os.environ | {
        "PYTHONPATH": str(where),
        "PYTHONDONTWRITEBYTECODE": "1",
        "PYTHONWARNINGS": "ignore",
        "ASHLANE_TEST_DB": f"test_sow_{where.name}",
    }
    try:
        for command in commands(part):
            done = subprocess.run(command, cwd=where, env=env, capture_output=True, timeout=LONGEST)
            if done.returncode:
                return True
    except subprocess.TimeoutExpired:
        return True
    finally:
        path.write_bytes(before)
    return False


def commands(part: str) -> list[list[str]]:
    """What runs: for the core one test module after the other, so that the first finds it."""
    if part != "core":
        return [RUNS[part]]
    tests = ROOT / "core" / "tests"
    modules = sorted(tests.rglob("test_*.py"), key=lambda p: (p.stem in SLOW, p.parent == tests, p))
    modules.sort(key=lambda p: p.stem != "test_worked_cases")
    named = (".".join(p.relative_to(ROOT).with_suffix("").parts) for p in modules)
    return [[*RUNS[part], name] for name in named]


def main() -> int:
    """Sow, report each that nobody found, and how many of all were."""
    parser = argparse.ArgumentParser(prog="bin/sow", description=__doc__)
    parser.add_argument("part", choices=sorted(WANTED))
    parser.add_argument("count", nargs="?", type=int, default=100)
    parser.add_argument("seed", nargs="?", type=int, default=1)
    asked = parser.parse_args()
    aside = {line.rpartition(" | ")[0] for line in ASIDE.read_text().splitlines()}
    every = [f for f in field(asked.part) if f.name not in aside]
    sown = random.Random(asked.seed).sample(every, min(asked.count, len(every)))
    caught = 0
    with tempfile.TemporaryDirectory(prefix="sow-") as folder:
        free: Queue[Path] = Queue()
        for n in range(2):
            free.put(copied(Path(folder) / f"field{n}"))

        def one(fault: Fault) -> tuple[Fault, bool]:
            where = free.get()
            try:
                return fault, found(fault, where, asked.part)
            finally:
                free.put(where)

        with ThreadPoolExecutor(2) as two:
            for fault, noticed in two.map(one, sown):
                caught += noticed
                if not noticed:
                    print(f"not found: {fault.kind}, line {fault.line}: {fault.name}", flush=True)
    share = caught / len(sown)
    word = "within" if share >= WANTED[asked.part] else "under"
    print(f"{caught} of {len(sown)} found (wanted: {WANTED[asked.part]:.0%}) {word}")
    return 0 if word == "within" else 1


if __name__ == "__main__":
    sys.exit(main())
