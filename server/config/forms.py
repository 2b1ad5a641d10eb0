"""Forms of the API: what is sent, checked field by field; a name that no form has is told."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rest_framework import serializers
from rest_framework.request import Request

NUMBERS = (
    serializers.IntegerField,
    serializers.FloatField,
    serializers.DecimalField,
    serializers.DateField,
    serializers.DateTimeField,
)
ODD = "write it with the digits 0 to 9"


def _odd(field: serializers.Field[Any, Any, Any, Any], value: Any) -> bool:
    """Whether a number or day is written with the digits of another script."""
    return isinstance(field, NUMBERS) and isinstance(value, str) and not value.isascii()


class Form(serializers.Serializer[Any]):
    """What is sent. Refuses what is not one of its fields: a slip of the name loses nothing."""

    def to_internal_value(self, data: Any) -> Any:
        """The fields' values."""
        if isinstance(data, Mapping):
            unknown = {str(k): ["is not known here"] for k in data if k not in self.fields}
            odd = {k: [ODD] for k, f in self.fields.items() if _odd(f, data.get(k))}
            if unknown or odd:
                raise serializers.ValidationError(unknown | odd)
        return super().to_internal_value(data)


def checked(form: type[serializers.Serializer[Any]], request: Request) -> dict[str, Any]:
    """The request's body through a form, or a refusal by field."""
    asked = form(data=request.data)
    asked.is_valid(raise_exception=True)
    found: dict[str, Any] = asked.validated_data
    return found
