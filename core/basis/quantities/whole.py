"""Whole numbers as people type them: keys, counts, serial numbers."""

import re

_WHOLE = re.compile(r"-?[0-9]{1,9}")


def whole(text: str) -> int | None:
    """The number, where a text is nothing but one of at most nine digits; None: it is none."""
    return int(text) if _WHOLE.fullmatch(text) else None
