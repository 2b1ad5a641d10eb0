"""Words that every answer uses."""

from __future__ import annotations

from typing import Literal

Word = Literal["in", "out", "too close", "not measured", "stale", "accepted"]
