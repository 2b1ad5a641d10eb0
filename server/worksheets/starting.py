"""Sheets begun from what another trade knows already: registered by who knows it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

# (aircraft's key, kinds) -> kind -> what is typed then.
Starts = Callable[[int, list[str]], Mapping[str, Mapping[str, Any]]]
_known: dict[str, tuple[str, Starts]] = {}


def starts(trade: str, name: str) -> Callable[[Starts], Starts]:
    """Register who begins a trade's sheets, and what the button says."""

    def kept(told: Starts) -> Starts:
        _known[trade] = (name, told)
        return told

    return kept


def begun(aircraft: int, trade: str, kinds: list[str]) -> dict[str, tuple[str, Mapping[str, Any]]]:
    """Of each kind that can be begun so: the button and what is typed."""
    if trade not in _known:
        return {}
    name, told = _known[trade]
    return {kind: (name, typed) for kind, typed in told(aircraft, kinds).items() if typed}
