"""A form as plain data, under the page's names and in its units."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping
from datetime import date
from enum import Enum
from typing import Any

from core.basis.forms.fields import fields_of


def write(form: Any, lean: bool = False) -> dict[str, Any]:
    """Plain data under the page's names and in its units; `lean` leaves out what is None."""
    found: dict[str, Any] = {}
    for f in fields_of(form.__class__):
        value = getattr(form, f.core)
        if f.flat:
            found |= {} if value is None else write(value, lean)
        elif value is not None or not (lean or f.absent):
            found[f.name] = plain(value, f.per_si)
    return found


def plain(value: Any, per_si: float = 1.0) -> Any:
    """A value as JSON has it: numbers in the page's unit, forms as objects, tuples as lists."""
    if isinstance(value, Enum):
        return value.value
    if isinstance(value, bool) or value is None or isinstance(value, (str, int)):
        return value
    if isinstance(value, float):
        return value * per_si
    if isinstance(value, date):
        return value.isoformat()
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return write(value)
    if isinstance(value, Mapping):
        return {str(k): plain(v, per_si) for k, v in value.items()}
    if isinstance(value, (list, tuple)):
        return [plain(v, per_si) for v in value]
    raise TypeError(f"{type(value).__name__} cannot be written as plain data")
