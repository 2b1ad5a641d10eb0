"""Many rows read at once, each then found where it belongs."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from typing import Any, TypeVar

Row = TypeVar("Row")


def by_key(rows: Iterable[Row], key: Callable[[Row], Any]) -> defaultdict[Any, list[Row]]:
    """Rows by what they belong to, in their order; none where nothing belongs to it."""
    found: defaultdict[Any, list[Row]] = defaultdict(list)
    for row in rows:
        found[key(row)].append(row)
    return found
