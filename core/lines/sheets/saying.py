"""Figures and findings of lines in words, and the fields that several sheets ask alike."""

from __future__ import annotations

import math
import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from typing import Any

from core.basis.checks import Check
from core.basis.rules import DECLARED
from core.basis.verdicts import Verdict
from core.worksheets.kinds import Field, said

TRADE = "lines"
DEG = math.degrees(1.0)
MAKER = "The maker’s figures"


def mm(metres: float, digits: int = 0) -> str:
    """A length in mm."""
    return f"{metres * 1e3:.{digits}f} mm".replace("-", "−")


def deg(radians: float) -> str:
    """An angle in degrees."""
    return f"{radians * DEG:.1f}°".replace("-", "−")


def kpa(pascal: float) -> str:
    """A pressure in kPa."""
    return f"{pascal / 1e3:.2f} kPa".replace("-", "−")


def lph(m3_s: float) -> str:
    """A flow in litres an hour."""
    return f"{m3_s * 3.6e6:.1f} l/h".replace("-", "−")


def points_mm(points: Iterable[Sequence[float]], digits: int = 2) -> list[list[float]]:
    """Points for a drawing."""
    return [[round(float(x) * 1e3, digits) for x in p] for p in points]


def joined(
    findings: Sequence[Sequence[str]],
    words: Mapping[str, str],
    rule: str,
    inputs: Mapping[str, Any],
    fine: str,
    what: str,
    unsaid: Collection[tuple[str, str]] = (),
) -> list[Check]:
    """One check for each finding on a plumbing, or one that nothing is wrong. unsaid: those that
    are only so because nobody said otherwise."""
    found = [
        said(
            f"{code} {subject}",
            f"{what}: {_named(subject)}",
            words[code].format(_named(subject)),
            Verdict.NOT_MEASURED if (code, subject) in unsaid else Verdict.OUT,
            rule,
            inputs,
        )
        for code, subject in findings
    ]
    return found or [said("joined", what, fine, Verdict.IN, rule, inputs)]


def _named(subject: str) -> str:
    """A state of selectors in words: which one at which position."""
    return subject.replace("=", " at ").replace(",", ", ")


def part_of(at: str, parts: Collection[str]) -> str:
    """The part of `part.port`; the text itself where there is none."""
    return max((p for p in parts if at.startswith(f"{p}.")), key=len, default=at)


def schematic(
    inputs: Mapping[str, Any], findings: Sequence[Sequence[str]], words: Mapping[str, str]
) -> dict[str, Any]:
    """Parts and lines for a drawing, each finding at the part or line that it is of."""
    parts = [c["id"] for c in inputs["components"]]
    known = {*parts, *(x["id"] for x in inputs["connections"])}

    def marked(subject: str) -> str:
        heads = (subject, part_of(subject, parts), *re.split("[=<>]", subject)[:1])
        if found := next((h for h in heads if h in known), ""):
            return found
        # Of a whole line of air, its port.
        kinds = subject.split("+")
        ports = (c["id"] for c in inputs["components"] if c["kind"].partition("_")[0] in kinds)
        return next(ports, "")

    return {
        "nodes": [{"id": c["id"], "kind": c["kind"]} for c in inputs["components"]],
        "edges": [
            {"id": x["id"], "from": part_of(x["a"], parts), "to": part_of(x["b"], parts)}
            for x in inputs["connections"]
        ],
        "bad": [{"at": marked(s), "said": words[c].format(_named(s))} for c, s in findings],
    }


def caution(rule: str) -> str:
    """That of a rule."""
    return DECLARED[rule].caution


def connections() -> Field:
    """Lines between ports."""
    return Field(
        "lines",
        "connections",
        "Lines between them",
        "table",
        needed=True,
        columns=(
            Field("id", "id", "Line", needed=True, hint="L1"),
            Field("a", "a", "From: part.port", needed=True, hint="left tank.outlet"),
            Field("b", "b", "To: part.port", needed=True, hint="selector.left"),
        ),
    )
