"""The fields of a rule as its page names them, and their conversion at the rule book's edge.

A page's names carry units (`chord_mm`, `lo_deg`); the core takes SI under the bare name
(`chord`, `lo`). Values are converted on the way in and out, and a refusal of the core's
field comes back under the page's name.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from core.basis.refused import Refused

# Page suffix -> (unit shown, how many of it make one SI unit).
SUFFIXES: dict[str, tuple[str, float]] = {
    "_deg": ("°", 180.0 / math.pi),
    "_mm2": ("mm²", 1e6),
    "_mm4": ("mm⁴", 1e12),
    "_mm": ("mm", 1e3),
    "_GPa": ("GPa", 1e-9),
    "_MPa": ("MPa", 1e-6),
}

# Names that carry an SI unit already: shown, not converted.
SI_UNITS: dict[str, str] = {
    "_m_per_N": "m/N",
    "_N_per_m": "N/m",
    "_N_per_K": "N/K",
    "_per_K": "1/K",
    "_kg_m": "kg/m",
    "_Nm2": "N·m²",
    "_m2": "m²",
    "_Hz": "Hz",
    "_in": "in",
    "_m": "m",
    "_rad": "rad",
    "_K": "K",
    "_Nm": "N·m",
    "_s": "s",
    "_V": "V",
    "_N": "N",
    "_kg": "kg",
}
# Outputs whose names are the ids of what was asked: one field describes them all.
ANY_NAME = "*"

KINDS = ("number", "integer", "text", "flag", "numbers", "object", "list", "any")


@dataclass(frozen=True)
class Field:
    """One input or output: its name on the page, kind, and what it means.

    `scale` overrides the suffix where the unit is composed (page value = SI value x scale).
    """

    name: str
    kind: str = "number"
    doc: str = ""
    required: bool = False
    choices: tuple[str, ...] = ()
    unit: str | None = None
    scale: float | None = None

    @property
    def bare(self) -> str:
        """The core's name: without the unit."""
        suffix = next((s for s in SUFFIXES if self.name.endswith(s)), "")
        return self.name.removesuffix(suffix)

    @property
    def shown_unit(self) -> str:
        """The unit to print beside the field, empty if it has none."""
        if self.unit is not None:
            return self.unit
        suffix = next((u for s, (u, _) in SUFFIXES.items() if self.name.endswith(s)), "")
        return suffix or next((u for s, u in SI_UNITS.items() if self.name.endswith(s)), "")

    @property
    def per_si(self) -> float:
        """How many of the page's unit make one SI unit."""
        if self.scale is not None:
            return self.scale
        return next((k for s, (_, k) in SUFFIXES.items() if self.name.endswith(s)), 1.0)

    def schema(self) -> dict[str, Any]:
        """JSON Schema of this field."""
        kinds: dict[str, dict[str, Any]] = {
            "number": {"type": "number"},
            "integer": {"type": "integer"},
            "text": {"type": "string"},
            "flag": {"type": "boolean"},
            "numbers": {"type": "array", "items": {"type": "number"}},
            "object": {"type": "object"},
            "list": {"type": "array"},
            "any": {},
        }
        schema = dict(kinds[self.kind])
        if not self.required and "type" in schema:
            schema["type"] = [schema["type"], "null"]
        if self.choices:
            schema["enum"] = [*self.choices, *([] if self.required else [None])]
        if self.doc:
            schema["description"] = self.doc
        if self.shown_unit:
            schema["x-unit"] = self.shown_unit
        return schema

    def read(self, value: Any) -> Any:
        """A value of the page in SI; refuses one of another kind."""
        if self.kind == "number":
            return _number(value, self.name) / self.per_si
        if self.kind == "numbers":
            if not isinstance(value, (list, tuple)):
                raise Refused(self.name, "must be a list of numbers")
            return tuple(_number(v, self.name) / self.per_si for v in value)
        if self.kind == "integer":
            number = _number(value, self.name)
            if number != int(number):
                raise Refused(self.name, "must be a whole number")
            return int(number)
        kinds: dict[str, tuple[type, str]] = {
            "text": (str, "text"),
            "flag": (bool, "true or false"),
            "object": (dict, "an object"),
            "list": (list, "a list"),
        }
        if self.kind in kinds and not isinstance(value, kinds[self.kind][0]):
            raise Refused(self.name, f"must be {kinds[self.kind][1]}")
        if self.choices and value not in self.choices:
            raise Refused(self.name, "must be one of: " + ", ".join(self.choices))
        return value

    def write(self, value: Any) -> Any:
        """An SI result in the page's unit; lists and points item by item."""
        if isinstance(value, (list, tuple)):
            return [self.write(v) for v in value]
        if isinstance(value, float):
            return value * self.per_si
        return value


def read_all(fields: Sequence[Field], inputs: Any) -> dict[str, Any]:
    """All inputs in SI under the core's names; absent and null ones are left out.

    Refuses inputs that the rule does not know, and missing ones that it needs.
    """
    if not isinstance(inputs, dict):
        raise Refused("inputs", "must be an object")
    known = {f.name for f in fields}
    for name in inputs:
        if name not in known:
            raise Refused(str(name), "is not an input of this rule")
    values: dict[str, Any] = {}
    for field in fields:
        value = inputs.get(field.name)
        if value is not None:
            values[field.bare] = field.read(value)
        elif field.required:
            raise Refused(field.name, "is needed")
    return values


def write_all(fields: Sequence[Field], outputs: dict[str, Any]) -> dict[str, Any]:
    """Outputs (SI, under the page's names) in the page's units."""
    named = {f.name: f for f in fields}
    return {
        name: (named.get(name) or named[ANY_NAME]).write(value) for name, value in outputs.items()
    }


def page_name(fields: Sequence[Field], core_field: str) -> str:
    """The page's name of a field that the core refused; dotted paths keep their tail."""
    head, dot, tail = core_field.partition(".")
    names = {f.bare: f.name for f in reversed(fields)}
    return names.get(head, head) + dot + tail


def _number(value: Any, field: str) -> float:
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        raise Refused(field, "must be a number")
    try:
        number = float(value)
    except OverflowError:
        number = math.inf
    if not math.isfinite(number):
        raise Refused(field, "must be a finite number")
    return number
