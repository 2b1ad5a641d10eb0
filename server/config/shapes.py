"""Answers of the API as typed dicts, put into the OpenAPI schema as they are."""

from __future__ import annotations

from typing import Any

from drf_spectacular.plumbing import resolve_type_hint
from drf_spectacular.utils import OpenApiResponse


def answer(shape: Any, status: int = 200) -> dict[int, Any]:
    """The `responses` of a view that answers with this typed dict (or list of them)."""
    return {status: OpenApiResponse(response=_ordered(resolve_type_hint(shape)))}


def _ordered(schema: Any) -> Any:
    """Required fields come as a set: sorted, so that the schema is the same every time."""
    if isinstance(schema, list):
        return [_ordered(item) for item in schema]
    if not isinstance(schema, dict):
        return schema
    return {
        key: sorted(value) if key == "required" and isinstance(value, list) else _ordered(value)
        for key, value in schema.items()
    }
