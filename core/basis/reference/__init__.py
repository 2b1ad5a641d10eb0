"""Tables of reference figures, each with its source beside it."""

from __future__ import annotations

import json
from functools import lru_cache
from importlib import resources
from typing import Any


@lru_cache(maxsize=16)
def table(name: str) -> dict[str, Any]:
    """The table of that name: `source`, `confirm`, and `rows`."""
    text = resources.files(__package__).joinpath(f"{name}.json").read_text(encoding="utf-8")
    found: dict[str, Any] = json.loads(text)
    return found
