"""Answers of the API as typed dicts, put into the OpenAPI schema as they are."""

from __future__ import annotations

from typing import Any

from drf_spectacular.plumbing import resolve_type_hint
from drf_spectacular.utils import OpenApiResponse


def answer(shape: Any, status: int = 200) -> dict[int, Any]:
    """The `responses` of a view that answers with this typed dict (or list of them)."""
    return {status: OpenApiResponse(response=resolve_type_hint(shape))}
