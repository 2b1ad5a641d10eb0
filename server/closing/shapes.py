"""Closures, gates and the lane as the API shows them."""

from __future__ import annotations

from typing import Any, TypedDict


class ItemShown(TypedDict):
    """One thing behind a closure."""

    step: str
    id: str
    subject: str
    state: str
    verdict: str
    owner: str
    link: str
    bays: list[str]
    hash: str


class StepShown(TypedDict):
    """One step of the gate."""

    step: str
    passing: int
    failing: int


class OverrideShown(TypedDict):
    """An override: it stays visible for ever."""

    seq: int
    by: str
    at: str
    reason: str
    covers: list[str]


class ClosingRow(TypedDict):
    """A closure with its gate, in short."""

    slug: str
    name: str
    permanent: bool
    above: bool
    closed: bool
    bays: list[str]
    planned_on: str
    state: str
    blockers: int
    steps: list[StepShown]
    first: list[ItemShown]
    overrides: list[OverrideShown]


class LaneShown(TypedDict):
    """The next closures in order, each with its gate, and what lies in no bay: the first of it,
    and how much there is."""

    closings: list[ClosingRow]
    outside: list[ItemShown]
    outside_count: int
    done: int
    open: int


class BayContents(TypedDict):
    """Everything in a bay: what is open first, then what is done; what nobody described."""

    slug: str
    name: str
    items: list[ItemShown]
    done: list[ItemShown]
    undescribed: list[str]
    none_here: list[str]
    closings: list[ClosingRow]


class ToolShown(TypedDict):
    """A tool counted for this closing."""

    id: int
    version: int
    name: str
    went_in: int
    came_out: int


class EventShown(TypedDict):
    """A closing or an opening."""

    doing: str
    purpose: str
    reason: str
    by: str
    at: str
    gate: dict[str, Any]
    counted: list[dict[str, Any]]


class ClosureShown(ClosingRow):
    """A closure with everything behind it."""

    version: int
    items: list[ItemShown]
    carried: list[ItemShown]
    tools: list[ToolShown]
    events: list[EventShown]
    inspection_needed: bool
    photo_needed: bool
    for_now: bool
    can_close: bool
