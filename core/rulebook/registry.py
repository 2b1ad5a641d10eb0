"""The registry of all rules: one entry serves the command, the API, the page and the tests."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources
from typing import Any

from core.basis.refused import Refused
from core.basis.rules import DECLARED, Declared
from core.rulebook.fields import ANY_NAME, Field, page_name, read_all, write_all
from core.rulebook.rules import (
    cables_loops,
    cables_measuring,
    cables_routes,
    cables_tension,
    clearance,
    controls_checks,
    controls_deflection,
    controls_linkage,
    controls_rods,
    controls_surfaces,
    controls_template,
    hardware_bolts,
    hardware_fits,
    signoff,
)
from core.rulebook.rules.entry import Entry

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
    """A rule of the book. `edition` is raised whenever its result may change."""

    entry: Entry | Declared

    @property
    def id(self) -> str:
        """The id that its page gives it, such as `controls.edge_offset`."""
        return self.entry.id

    def run(self, inputs: Any) -> dict[str, Any]:
        """The outputs for these inputs, both under the page's names and units.

        Raises Refused with the page's field name.
        """
        e = self.entry
        if isinstance(e, Declared):
            return e.run(inputs)
        values = read_all(e.inputs, inputs)
        try:
            return write_all(e.outputs, e.compute(values))
        except Refused as refusal:
            raise Refused(page_name(e.inputs, refusal.field), refusal.reason) from None

    def input_schema(self) -> dict[str, Any]:
        """JSON Schema of the inputs."""
        if isinstance(self.entry, Declared):
            return self.entry.input_schema()
        return _schema(self.entry.inputs)

    def output_schema(self) -> dict[str, Any]:
        """JSON Schema of the outputs."""
        if isinstance(self.entry, Declared):
            return self.entry.output_schema()
        return _schema(self.entry.outputs)

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


def _schema(fields: tuple[Field, ...]) -> dict[str, Any]:
    return {
        "type": "object",
        "properties": {f.name: f.schema() for f in fields if f.name != ANY_NAME},
        "required": [f.name for f in fields if f.required],
        "additionalProperties": next((f.schema() for f in fields if f.name == ANY_NAME), False),
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


MODULES = (
    controls_deflection,
    controls_checks,
    controls_template,
    controls_linkage,
    controls_rods,
    controls_surfaces,
    cables_tension,
    cables_measuring,
    cables_loops,
    cables_routes,
    hardware_bolts,
    hardware_fits,
    clearance,
    signoff,
)
RULES: dict[str, Rule] = {
    name: Rule(entry)
    for name, entry in sorted(
        {e.id: e for module in MODULES for e in module.ENTRIES}.items() | DECLARED.items()
    )
}


def rule(rule_id: str) -> Rule:
    """The rule of that id; refuses one that is not in the book."""
    try:
        return RULES[rule_id]
    except KeyError:
        raise Refused("rule", f"{rule_id} is not in the rule book") from None
