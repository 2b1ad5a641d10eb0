"""Reading a request's body through a form."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers
from rest_framework.request import Request


def checked(form: type[serializers.Serializer[Any]], request: Request) -> dict[str, Any]:
    """The request's body through a form, or a refusal by field."""
    asked = form(data=request.data)
    asked.is_valid(raise_exception=True)
    found: dict[str, Any] = asked.validated_data
    return found
