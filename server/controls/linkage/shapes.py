"""What the API says of a linkage: aircraft axes in mm, angles in degrees."""

from __future__ import annotations

from typing import Any, TypedDict

from server.config.words import Word
from server.kit.showing import Why


class AxisShown(TypedDict):
    """One input: the values at which all was solved."""

    name: str
    unit: str
    positive: str
    values: list[float]
    detents: dict[str, float]
    limited_by: list[str]


class TrackShown(TypedDict):
    """Where a point is at every solved position, mm; null beyond lock-up."""

    body: str
    point: str
    x: list[float | None]
    y: list[float | None]
    z: list[float | None]


class OutputShown(TypedDict):
    """An output at every solved position, and its gear by the input that is moved."""

    name: str
    body: str
    unit: str
    input: str
    surface: str
    surface_name: str
    values: list[float | None]
    gear: list[float | None]


class RodShown(TypedDict):
    """A rod: its ends, length, and what happens at them at every position."""

    id: str
    a: str
    b: str
    body_a: str
    body_b: str
    length_mm: float
    drives: str
    transmission_deg: list[float | None]
    to_dead_centre_deg: list[float | None]
    cone_left_deg: list[float | None]
    least_transmission_deg: float
    least_to_dead_centre_deg: float | None
    least_cone_left_deg: float | None


class TravelRow(TypedDict):
    """What the linkage gives at one position, against what is required."""

    output: str
    surface: str
    surface_name: str
    position: str
    unit: str
    value: float | None
    input: float | None
    input_unit: str
    stop: str
    lo: float | None
    hi: float | None
    verdict: Word
    said: str


class ContactShown(TypedDict):
    """A stop in its order of contact; margin in the output's unit after the first."""

    stop: str
    kind: str
    margin: float


class WayShown(TypedDict):
    """One way of an input: stops in order of contact."""

    direction: str
    input: float | None
    output: float | None
    contacts: list[ContactShown]
    not_reached: list[str]


class StopsShown(TypedDict):
    """The order of contact for one output, and what is wrong with it."""

    output: str
    input: str
    unit: str
    input_unit: str
    ways: list[WayShown]
    throw_difference: float | None
    findings: list[str]
    verdict: Word


class Solved(TypedDict):
    """A linkage solved over its whole range."""

    axes: list[AxisShown]
    shape: list[int]
    tracks: list[TrackShown]
    outputs: list[OutputShown]
    rods: list[RodShown]
    travel: list[TravelRow]
    stops: list[StopsShown]
    cautions: list[str]
    least_transmission_deg: float
    least_to_dead_centre_deg: float


class WhatIf(TypedDict):
    """A tried file, with pasted points put in, and what it gives."""

    document: dict[str, Any]
    solved: Solved


class RodEndShown(TypedDict):
    """One end of a rod: thread engaged now, and what that means."""

    end: str
    at: str
    bay: str
    engaged_mm: float | None
    required_mm: float | None
    threads: float | None
    verdict: Word
    said: str
    why: Why | None


class RodState(TypedDict):
    """A rod as it stands."""

    id: str
    record: dict[str, str]
    half_turns: int
    least: int | None
    most: int | None
    per_half_turn_mm: float | None
    ends: list[RodEndShown]


class StopState(TypedDict):
    """A stop as it stands."""

    id: str
    half_turns: int
    adjustable: bool


class AdjustmentShown(TypedDict):
    """Half-turns that were recorded."""

    id: int
    said: str
    note: str
    by: str
    at: str
    round: int


class VariantShown(TypedDict):
    """A what-if that was kept."""

    id: int
    version: int
    name: str
    note: str
    document: dict[str, Any]


class LinkageShown(TypedDict):
    """A control's linkage: its file, solved, and as it stands."""

    version: int
    document: dict[str, Any] | None
    solved: Solved | None
    rods: list[RodState]
    stops: list[StopState]
    adjustments: list[AdjustmentShown]
    variants: list[VariantShown]


class Forecast(TypedDict):
    """One position before and, as predicted, after."""

    surface: str
    surface_name: str
    position: str
    measured_deg: float | None
    predicted_deg: float | None
    lo: float | None
    hi: float | None
    before: Word
    after: Word


class ChangeShown(TypedDict):
    """Something to turn."""

    id: str
    kind: str
    half_turns: int
    said: str


class AdviceShown(TypedDict):
    """Which half-turns mend it, or why none do."""

    output: str
    surface_name: str
    stop: str
    missing: list[str]
    suspicious: str
    fit: str
    found: bool
    guarded: bool
    said: str
    changes: list[ChangeShown]
    forecast: list[Forecast]
    engagement: list[str]
    geometry: list[str]
    before_lengths_mm: dict[str, float]
    after_lengths_mm: dict[str, float]
    before_stops: dict[str, float]
    after_stops: dict[str, float]
    why: Why | None


class PlayRow(TypedDict):
    """One joint of the chain: what its clearance gives at the surface."""

    rod: str
    clearance_mm: float
    ratio: float
    share_deg: float


class PlayShown(TypedDict):
    """Free play of an output over its chain."""

    output: str
    rows: list[PlayRow]
    worst_deg: float
    likely_deg: float
    trailing_edge_mm: float
    first: str
    verdict: Word
    said: str
    why: Why


class PartCheckShown(TypedDict):
    """A check of a part that was kept."""

    id: int
    version: int
    kind: str
    subject: str
    typed: dict[str, Any]
    verdict: Word
    result: dict[str, Any]
    said: str
    why: Why


class PartChecks(TypedDict):
    """All checks of a control's parts."""

    count: int
    results: list[PartCheckShown]
