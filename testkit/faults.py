"""Faults that can be sown into a source: one small change each.

A turned sign, a moved comparison, another constant, a dropped call, an inverted condition.

Where a comparison has an allowance for rounding, whether its very edge counts cannot be told:
it is turned round instead, and the allowance itself becomes one that lets through what matters.
"""

from __future__ import annotations

import ast
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path

ROOT = Path(__file__).parent.parent
SKIPPED = ("tests", "migrations", "demo", "management", "fixtures")
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
TURNED = {ast.Lt: ast.Gt, ast.LtE: ast.GtE, ast.Gt: ast.Lt, ast.GtE: ast.LtE}
# An allowance for rounding: a number below this, or what is called so.
TINY, GROWN = 1e-6, 1e7
ALLOWANCES = ("SLACK", "ROUNDING", "SAME", "TOUCHING", "slack", "_JOIN", "POINT_M")


@dataclass(frozen=True)
class Fault:
    """One change of one piece of source. lines: of the statement it is in, up to its own end."""

    file: str
    line: int
    lines: range
    kind: str
    was: str
    now: str
    begin: int
    end: int
    around: str = ""

    @property
    def name(self) -> str:
        """As it is listed, and as it is set aside: with its line as written, not its number."""
        return f"{self.file} | {self.around} | {self.was} | {self.now}"

    def sown(self, text: bytes) -> bytes:
        """The file's text with it."""
        return text[: self.begin] + self.now.encode() + text[self.end :]


def field(part: str) -> list[Fault]:
    """Every fault that can be sown into core or server."""
    files = sources(part)
    return [f for p in files for f in faults(str(p.relative_to(ROOT)), p.read_text())]


def sources(part: str) -> list[Path]:
    """The files that faults are sown into."""
    files = sorted((ROOT / part).rglob("*.py"))
    return [p for p in files if not set(p.relative_to(ROOT).parts[:-1]) & set(SKIPPED)]


def faults(name: str, text: str) -> Iterator[Fault]:
    """All that can be sown into a text."""
    starts = [0]
    seen: Counter[tuple[int, str, str]] = Counter()
    for line in text.encode().splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    for node, statement in _walked(ast.parse(text), 1):
        for kind, changed in _changed(node):
            assert isinstance(node, (ast.expr, ast.stmt))
            last = node.end_lineno or node.lineno
            begin = starts[node.lineno - 1] + node.col_offset
            end = starts[last - 1] + (node.end_col_offset or 0)
            was = text.encode()[begin:end].decode()
            if "\n" not in was:
                lines = range(statement, last + 1)
                one = Fault(name, node.lineno, lines, kind, was, changed, begin, end)
                around = text.splitlines()[node.lineno - 1].strip()
                same = seen[node.lineno, was, changed] = seen[node.lineno, was, changed] + 1
                yield replace(one, around=around + f" (the {same}.)" * (same > 1))


def _walked(node: ast.AST, statement: int) -> Iterator[tuple[ast.AST, int]]:
    """Every node with the first line of the statement it is in."""
    if isinstance(node, ast.stmt):
        statement = node.lineno
    yield node, statement
    for child in ast.iter_child_nodes(node):
        yield from _walked(child, statement)


def _changed(node: ast.AST) -> Iterator[tuple[str, str]]:
    if isinstance(node, ast.BinOp) and type(node.op) in SIGNS:
        if not any(_is_text(x) for x in (node.left, node.right)):
            turned = ast.BinOp(node.left, SIGNS[type(node.op)](), node.right)
            yield "sign", f"({ast.unparse(turned)})"
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        yield "sign", f"({ast.unparse(node.operand)})"
    elif isinstance(node, ast.Compare) and type(node.ops[0]) in COMPARED:
        first = type(node.ops[0])
        changed = TURNED if first in TURNED and _allows(node) else COMPARED
        ops = [changed[first](), *node.ops[1:]]
        yield "comparison", f"({ast.unparse(ast.Compare(node.left, ops, node.comparators))})"
    elif isinstance(node, ast.Constant) and isinstance(value := node.value, (int, float)):
        if isinstance(value, bool):
            return
        more = value + 1 if isinstance(value, int) or not value else value * 1.07
        more = value * GROWN if 0 < value < TINY else more
        yield "constant", repr(more)
    elif isinstance(node, ast.Expr) and isinstance(node.value, ast.Call):
        yield "dropped call", "None"
    elif isinstance(node, ast.IfExp):
        turned_if = ast.IfExp(node.test, node.orelse, node.body)
        yield "inverted condition", f"({ast.unparse(turned_if)})"
    elif isinstance(node, ast.BoolOp):
        other = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        yield "inverted condition", f"({ast.unparse(ast.BoolOp(other, node.values))})"


def _allows(node: ast.AST) -> bool:
    """Whether an allowance for rounding stands in it."""
    for inner in ast.walk(node):
        named = getattr(inner, "id", getattr(inner, "attr", ""))
        value = getattr(inner, "value", None)
        if named.startswith(ALLOWANCES) or (isinstance(value, float) and 0 < value < TINY):
            return True
    return False


def _is_text(node: ast.expr) -> bool:
    return isinstance(node, ast.JoinedStr) or isinstance(getattr(node, "value", None), str)
