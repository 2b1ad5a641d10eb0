"""Every operation of the API, taken from its own schema: where it is, what it asks, and a place
in the demo at which to try it."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from pathlib import Path
from typing import Any

import jsonschema
from drf_spectacular.generators import SchemaGenerator

# A thing of the demo for each name in a path; by the operation's path where it needs another.
PLACES: dict[str, str] = json.loads(
    Path(__file__).with_name("places.json").read_text(encoding="utf-8")
)
# Text that no field of any form is called.
UNKNOWN = "no_such_field"


@lru_cache(maxsize=1)
def schema() -> dict[str, Any]:
    """The schema, made once."""
    generator: Any = SchemaGenerator
    made = generator()
    found: dict[str, Any] = made.get_schema(request=None, public=True)
    return found


@dataclass(frozen=True)
class Operation:
    """One method at one path."""

    method: str
    path: str
    spec: dict[str, Any]

    @property
    def name(self) -> str:
        """As a person would say it."""
        return f"{self.method.upper()} {self.path}"

    @property
    def of_aircraft(self) -> bool:
        """Whether it belongs to one aircraft."""
        return "{slug}" in self.path

    def at(self, **other: str) -> str:
        """Its address in the demo."""
        return self.path.format(**(PLACES | other))

    @cached_property
    def body(self) -> dict[str, Any] | None:
        """What it asks as JSON, references resolved; None: nothing, or a file."""
        content = self.spec.get("requestBody", {}).get("content", {})
        if "application/json" not in content:
            return None
        return resolved(content["application/json"]["schema"])

    def wrong(self, status: int, answer: Any) -> str | None:
        """Where an answer is not as the schema says."""
        if str(status) not in self.spec["responses"]:
            return f"{status} is no answer of it"
        validator = _validator(self.path, self.method, status)
        found = next(validator.iter_errors(answer), None) if validator else None
        return None if found is None else f"{list(found.path)}: {found.message[:300]}"


@cache
def _validator(path: str, method: str, status: int) -> Any:
    """Of what is answered with this status; None: nothing is said of it."""
    content = resolved(schema()["paths"][path][method]["responses"][str(status)]).get("content", {})
    kind = "application/json" if status < 400 else "application/problem+json"
    if kind not in content:
        return None
    asked = {"components": schema()["components"]} | content[kind]["schema"]
    return jsonschema.Draft202012Validator(asked)


def operations() -> Iterator[Operation]:
    """All of them."""
    for path, methods in schema()["paths"].items():
        for method, spec in methods.items():
            yield Operation(method, path, spec)


def resolved(part: dict[str, Any]) -> dict[str, Any]:
    """A part of the schema without a reference at its top."""
    while "$ref" in part:
        _, kind, name = part["$ref"].removeprefix("#/").split("/")
        part = schema()["components"][kind][name]
    return part
