"""Plain data into a form: SI under the core's names, refusals by path."""

from __future__ import annotations

import types
from collections.abc import Callable, Mapping, Sequence
from datetime import date
from enum import Enum
from typing import Any, Union, get_args, get_origin

from core.basis.forms.fields import Field, bare, fields_of, flattened, is_form, of_item
from core.basis.refused import Refused, finite

UNKNOWN = "is not an input here"


def read(form: type, data: Any, at: str = "") -> Any:
    """The form from plain data under the page's names. Refuses by path what does not fit."""
    return form(**read_fields(fields_of(form), data, at))


def read_fields(fields: Sequence[Field], data: Any, at: str = "") -> dict[str, Any]:
    """Values by the core's names; null counts as absent. Unknown keys are refused."""
    if not isinstance(data, dict):
        raise Refused(at or "inputs", "must be an object")
    known = {f.name for f in flattened(fields)}
    for key in data:
        if key not in known:
            raise Refused(_join(at, str(key)), UNKNOWN)
    return _values(fields, data, at)


def _values(fields: Sequence[Field], data: dict[str, Any], at: str) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for f in fields:
        if f.flat:
            inner = _values(fields_of(f.kind), data, at)
            found[f.core] = f.kind(**inner)
            continue
        value = data.get(f.name)
        where = _join(at, f.name)
        if value is not None:
            found[f.core] = _read(f, f.kind, value, where)
        elif f.required and not f.optional:
            raise Refused(where, "is needed")
        elif f.required:
            found[f.core] = None
    return found


def _join(at: str, name: str) -> str:
    return f"{at}.{name}" if at else name


def number(value: Any, at: str) -> float:
    """A finite number; refuses text, flags, NaN and what is too large."""
    return finite(value, at)


def _read(f: Field, kind: Any, value: Any, at: str) -> Any:
    plain = _PLAIN.get(kind)
    if plain is not None:
        return plain(f, value, at)
    if kind is Any or kind is object:
        return value
    if is_form(kind):
        return read(kind, value, at)
    origin, args = get_origin(kind), get_args(kind)
    if origin in (tuple, list, Sequence):
        return _items(f, origin, args, value, at)
    if origin in (dict, Mapping):
        if not isinstance(value, dict):
            raise Refused(at, "must be an object")
        inner, item = of_item(f, args[1]), bare(args[1])
        return {
            str(k): None
            if v is None and inner.optional
            else _read(inner, item, v, _join(at, str(k)))
            for k, v in value.items()
        }
    if origin in (Union, types.UnionType):
        if value is None:
            return None
        return _read(f, bare(kind), value, at)
    if isinstance(kind, type) and issubclass(kind, Enum):
        words = tuple(str(m.value) for m in kind)
        if value not in words:
            raise Refused(at, "must be one of: " + ", ".join(words))
        return kind(value)
    raise TypeError(f"{at}: a form cannot hold {kind}")


def _items(f: Field, origin: Any, args: tuple[Any, ...], value: Any, at: str) -> Any:
    numbers = args and bare(args[0]) is float and (len(args) == 1 or args[1] is ...)
    if not isinstance(value, (list, tuple)):
        raise Refused(at, "must be a list of numbers" if numbers else "must be a list")
    if origin is tuple and args and args[-1] is not ...:
        if len(value) != len(args):
            raise Refused(at, f"must be a list of {len(args)}")
        return tuple(
            _read(of_item(f, a), bare(a), v, f"{at}.{i}" if is_form(bare(a)) else at)
            for i, (a, v) in enumerate(zip(args, value, strict=True))
        )
    inner, item = of_item(f, args[0]), bare(args[0])
    return tuple(
        None
        if v is None and inner.optional
        else _read(inner, item, v, at if item is float else f"{at}.{i}")
        for i, v in enumerate(value)
    )


def _float(f: Field, value: Any, at: str) -> float:
    found = number(value, at) / f.per_si
    if f.bound:
        f.bound.refuse(found, at)
    return found


def _int(f: Field, value: Any, at: str) -> int:
    found = number(value, at)
    if found != int(found):
        raise Refused(at, "must be a whole number")
    if f.bound:
        f.bound.refuse(found, at)
    return int(found)


def _str(f: Field, value: Any, at: str) -> str:
    if not isinstance(value, str):
        raise Refused(at, "must be text")
    if f.words and value not in f.words:
        raise Refused(at, "must be one of: " + ", ".join(f.words))
    return value


def _bool(f: Field, value: Any, at: str) -> bool:
    if not isinstance(value, bool):
        raise Refused(at, "must be true or false")
    return value


def _dict(f: Field, value: Any, at: str) -> dict[str, Any]:
    if not isinstance(value, dict):
        raise Refused(at, "must be an object")
    return value


def _list(f: Field, value: Any, at: str) -> list[Any]:
    if not isinstance(value, (list, tuple)):
        raise Refused(at, "must be a list")
    return list(value)


def _date(f: Field, value: Any, at: str) -> date:
    try:
        return date.fromisoformat(value)
    except (ValueError, TypeError):
        raise Refused(at, "must be a date, YYYY-MM-DD") from None


_PLAIN: dict[Any, Callable[[Field, Any, str], Any]] = {
    float: _float,
    int: _int,
    str: _str,
    bool: _bool,
    dict: _dict,
    list: _list,
    date: _date,
}
