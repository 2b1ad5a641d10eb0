"""JSON Schema of a form, from the same declaration that reads it."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping, Sequence
from datetime import date
from enum import Enum
from typing import Any, get_args, get_origin

from core.basis.forms.fields import Field, fields_of, flattened, is_form, of_item


def schema(form: type) -> dict[str, Any]:
    """JSON Schema of a form: exactly what `read` takes, limits in the page's units."""
    return object_schema(fields_of(form))


def object_schema(fields: Sequence[Field]) -> dict[str, Any]:
    """JSON Schema of an object with these fields and no others."""
    every = list(flattened(fields))
    return {
        "type": "object",
        "properties": {f.name: field_schema(f) for f in every},
        "required": [f.name for f in every if f.required and not f.optional],
        "additionalProperties": False,
    }


def field_schema(f: Field) -> dict[str, Any]:
    """JSON Schema of one field, with its words and unit."""
    found = _schema_of(f, f.kind)
    nullable = f.optional or not f.required
    if nullable and "type" in found:
        found["type"] = [found["type"], "null"]
    if nullable and "enum" in found:
        found["enum"] = [*found["enum"], None]
    if f.words:
        found["enum"] = [*f.words, *([None] if nullable else [])]
    if f.doc:
        found["description"] = f.doc
    if f.unit:
        found["x-unit"] = f.unit
    return found


def _schema_of(f: Field, kind: Any) -> dict[str, Any]:
    if kind is float or kind is int:
        found: dict[str, Any] = {"type": "number" if kind is float else "integer"}
        for name, limit in _limits(f).items():
            found[name] = limit
        return found
    simple: dict[Any, dict[str, Any]] = {
        str: {"type": "string"},
        bool: {"type": "boolean"},
        dict: {"type": "object"},
        list: {"type": "array"},
        date: {"type": "string", "format": "date"},
    }
    if kind in simple:
        return dict(simple[kind])
    if is_form(kind):
        return schema(kind)
    origin, args = get_origin(kind), get_args(kind)
    if origin in (tuple, list, Sequence) and args:
        return _array_schema(f, origin, args)
    if origin in (dict, Mapping):
        inner = field_schema(dataclasses.replace(of_item(f, args[1]), doc="", unit=""))
        return {"type": "object", "additionalProperties": inner}
    if isinstance(kind, type) and issubclass(kind, Enum):
        return {"type": "string", "enum": [str(m.value) for m in kind]}
    return {}


def _array_schema(f: Field, origin: Any, args: tuple[Any, ...]) -> dict[str, Any]:
    inner = [
        field_schema(dataclasses.replace(of_item(f, a), doc="", unit=""))
        for a in args
        if a is not ...
    ]
    if origin is tuple and args[-1] is not ...:
        n = len(args)
        return {"type": "array", "prefixItems": inner, "minItems": n, "maxItems": n}
    return {"type": "array", "items": inner[0]}


def _limits(f: Field) -> dict[str, float]:
    if f.bound is None:
        return {}
    limits = {
        "exclusiveMinimum": f.bound.over,
        "minimum": f.bound.at_least,
        "maximum": f.bound.at_most,
    }
    return {k: v * f.per_si for k, v in limits.items() if v is not None}
