"""What is sent as JSON: refused where no database, no paper and no reader could keep it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import IO, Any

from rest_framework.exceptions import ValidationError
from rest_framework.parsers import JSONParser

DEEPEST = 40
TOO_DEEP = f"has lists in lists more than {DEEPEST} deep"


class Json(JSONParser):
    """JSON whose every text can be kept."""

    def parse(
        self,
        stream: IO[Any],
        media_type: str | None = None,
        parser_context: Mapping[str, Any] | None = None,
    ) -> Any:
        """The value; refuses depth beyond reason and what is no text."""
        try:
            value = super().parse(stream, media_type, parser_context)
        except RecursionError:
            raise ValidationError({"body": [TOO_DEEP]}) from None
        _sound(value, "", 0)
        return value


def unsound(text: str) -> str | None:
    """Why a text cannot be kept as it is; None: it can."""
    for c in text:
        if c == "\0":
            return "holds a character that is no text (NUL): type it anew"
        if "\ud800" <= c <= "\udfff":
            return "holds half a character: type it anew"
    return None


def _sound(value: Any, path: str, depth: int) -> None:
    if depth > DEEPEST:
        raise ValidationError({path.partition(".")[0] or "body": [TOO_DEEP]})
    if isinstance(value, str) and (why := unsound(value)):
        raise ValidationError({path or "body": [why]})
    if isinstance(value, dict):
        for key, inner in value.items():
            if why := unsound(key):
                raise ValidationError({path or "body": [f"has a name that {why}"]})
            _sound(inner, f"{path}.{key}" if path else key, depth + 1)
    elif isinstance(value, list):
        for n, inner in enumerate(value):
            _sound(inner, f"{path}.{n}" if path else str(n), depth + 1)
