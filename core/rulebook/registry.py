"""The registry of all rules: one entry serves the command, the API, the page and the tests."""

from __future__ import annotations

import importlib
import json
import pkgutil
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources
from typing import Any

from core.basis.refused import Refused
from core.basis.rules import DECLARED, Declared

CONFIRM = "Confirm against the current edition."


@dataclass(frozen=True)
class Case:
    """A worked case: inputs and what they must give, to relative `rtol`, absolute `atol`."""

    id: str
    inputs: dict[str, Any]
    expect: dict[str, Any]
    rtol: float
    atol: float


@dataclass(frozen=True)
class Rule:
    """A declared rule with its worked cases."""

    entry: Declared

    @property
    def id(self) -> str:
        """The id that its page gives it, such as `controls.edge_offset`."""
        return self.entry.id

    @property
    def edition(self) -> int:
        """A whole number, raised whenever its result may change."""
        return self.entry.edition

    def run(self, inputs: Any) -> dict[str, Any]:
        """The outputs for these inputs, both under the page's names and units.

        Raises Refused with the page's field name.
        """
        return self.entry.run(inputs)

    def input_schema(self) -> dict[str, Any]:
        """JSON Schema of the inputs."""
        return self.entry.input_schema()

    def output_schema(self) -> dict[str, Any]:
        """JSON Schema of the outputs."""
        return self.entry.output_schema()

    @property
    def cases(self) -> tuple[Case, ...]:
        """The worked cases of this rule."""
        return _cases().get(self.id, ())

    def shown(self) -> dict[str, Any]:
        """Everything a reader wants to know of the rule, as plain data."""
        e = self.entry
        return {
            "id": e.id,
            "title": e.title,
            "purpose": e.purpose,
            "edition": e.edition,
            "source": f"{e.source} {CONFIRM}",
            "validity": e.validity,
            "caution": e.caution,
            "inputs": self.input_schema(),
            "outputs": self.output_schema(),
            "cases": [{"id": c.id, "inputs": c.inputs, "expect": c.expect} for c in self.cases],
        }


@lru_cache(maxsize=1)
def _cases() -> dict[str, tuple[Case, ...]]:
    found: dict[str, list[Case]] = {}
    for path in sorted(
        (p for p in resources.files("core.rulebook.cases").iterdir() if p.name.endswith(".json")),
        key=lambda p: p.name,
    ):
        for c in json.loads(path.read_text(encoding="utf-8")):
            case = Case(c["id"], c["inputs"], c["expect"], c.get("rtol", 1e-6), c.get("atol", 1e-8))
            found.setdefault(c["rule"], []).append(case)
    return {name: tuple(cases) for name, cases in found.items()}


CAPABILITIES = (
    "controls", "cables", "hardware", "lines", "wiring", "weight", "clearance", "plan", "signoff",
)  # fmt: skip


def _gather() -> None:
    """Import every module of the core's capabilities, so that all their rules are declared."""
    for name in (*CAPABILITIES, "runs", "rulebook.rules"):
        package = importlib.import_module(f"core.{name}")
        for found in pkgutil.walk_packages(package.__path__, f"core.{name}."):
            if ".tests" not in found.name:
                importlib.import_module(found.name)


_gather()
RULES: dict[str, Rule] = {
    name: Rule(entry)
    for name, entry in sorted(
        DECLARED.items(), key=lambda pair: (CAPABILITIES.index(pair[0].partition(".")[0]), pair[0])
    )
}


def rule(rule_id: str) -> Rule:
    """The rule of that id; refuses one that is not in the book."""
    try:
        return RULES[rule_id]
    except KeyError:
        raise Refused("rule", f"{rule_id} is not in the rule book") from None
