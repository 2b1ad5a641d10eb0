"""Answers of the API as typed dicts: each becomes a named component of the OpenAPI schema."""

from __future__ import annotations

import types
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints, is_typeddict

from drf_spectacular.utils import OpenApiResponse

Schema = dict[str, Any]
_components: dict[str, Schema] = {}
PLAIN: dict[Any, Schema] = {
    str: {"type": "string"},
    int: {"type": "integer"},
    float: {"type": "number", "format": "double"},
    bool: {"type": "boolean"},
    Any: {},
    dict: {"type": "object", "additionalProperties": {}},
    list: {"type": "array", "items": {}},
    type(None): {"type": "null"},
}


def answer(shape: Any, status: int = 200) -> dict[int, Any]:
    """The `responses` of a view that answers with this typed dict (or list of them)."""
    return {status: OpenApiResponse(response=described(shape))}


def described(hint: Any) -> Schema:
    """The schema of a type; a typed dict by its name."""
    if is_typeddict(hint):
        return {"$ref": f"#/components/schemas/{_component(hint)}"}
    if hint in PLAIN:
        return dict(PLAIN[hint])
    origin, args = get_origin(hint), get_args(hint)
    if origin is list:
        return {"type": "array", "items": described(args[0])}
    if origin is dict:
        return {"type": "object", "additionalProperties": described(args[1])}
    if origin is Literal:
        return {"type": "string", "enum": list(args)}
    if origin in (Union, types.UnionType):
        return _either(args)
    raise TypeError(f"an answer cannot hold {hint}")


def _either(kinds: tuple[Any, ...]) -> Schema:
    found = [described(k) for k in kinds]
    simple = [s.get("type") for s in found]
    if all(isinstance(t, str) and t not in ("object", "array") for t in simple):
        merged: Schema = {}
        for s in found:
            merged |= {k: v for k, v in s.items() if k != "type"}
        if "enum" in merged and "null" in simple:
            merged["enum"] = [*merged["enum"], None]
        return merged | {"type": simple}
    return {"oneOf": found}


def _component(shape: Any) -> str:
    """The name of a typed dict's component: its app's name goes before its own."""
    app = shape.__module__.split(".")[1]
    name = f"{app.capitalize()}{shape.__name__}"
    if name not in _components:
        _components[name] = {}
        hints = get_type_hints(shape)
        _components[name] = {
            "type": "object",
            "description": (shape.__doc__ or "").strip(),
            "properties": {k: described(v) for k, v in hints.items()},
            "required": sorted(shape.__required_keys__),
        }
    return name


def add_components(result: Any, generator: Any, request: Any, public: bool) -> Any:
    """Hook of the schema: the components that the answers name."""
    schemas = result.setdefault("components", {}).setdefault("schemas", {})
    for name in sorted(_components):
        schemas[name] = _components[name]
    return result
