"""What the API says of cables: m and N as such, angles in °, temperatures in °C."""

from __future__ import annotations

from typing import Any, TypedDict

from server.config.words import Word
from server.kit.showing import CheckShown, ShiftShown, Why


class LoopRow(TypedDict):
    """A control that has cables, or could have."""

    control: str
    name: str
    has_cables: bool
    verdict: Word
    open: int


class LoopsPage(TypedDict):
    """The controls of an aircraft, with their cables' verdicts."""

    count: int
    results: list[LoopRow]


class Position(TypedDict):
    """The loop at one driver angle: tensions, the way of each cable, how far it has moved."""

    driver_deg: float
    driven_deg: float
    status: str
    A_N: float
    B_N: float
    way_A: list[list[float]]
    way_B: list[list[float]]
    moved_A_m: float
    moved_B_m: float


class SupportShown(TypedDict):
    """A support with what the cable does there."""

    side: str
    id: str
    kind: str
    centre: list[float]
    radius_m: float
    half_m: float
    bay: str
    wrap_deg: float | None
    misalignment_deg: float | None
    deflection_deg: float | None
    force_N: float
    verdict: Word


class FittingShown(TypedDict):
    """A moving fitting, its travel, and the gap to the nearest support."""

    side: str
    id: str
    kind: str
    low_m: float
    high_m: float
    travel_low_m: float
    travel_high_m: float
    gap_m: float | None
    near: str
    required_m: float
    verdict: Word


class BankShown(TypedDict):
    """The forces of one stack of pulleys together."""

    bank: str
    force_N: list[float]
    magnitude_N: float


class Solved(TypedDict):
    """A loop worked out from its drawing."""

    positions: list[Position]
    supports: list[SupportShown]
    fittings: list[FittingShown]
    banks: list[BankShown]
    lengths_m: dict[str, float]
    gear: float
    lowest_N: float
    highest_N: float
    share: float
    hottest_N: float | None
    pulls_positive: int
    checks: list[CheckShown]


class ReadingShown(TypedDict):
    """A reading that was taken."""

    id: int
    side: str
    method: str
    typed: dict[str, Any]
    value: float
    u: float
    temperature_C: float | None
    instrument: str
    by: str
    at: str
    current: bool
    check_reading: bool
    why: Why | None
    recording: bool


class SideShown(TypedDict):
    """One cable as it stands."""

    side: str
    name: str
    cable: str
    diameter_m: float
    breaking_N: float
    ae_N: float
    u_ae_N: float
    measured_stiffness: bool
    compliance_m_per_N: float
    travel_per_turn_m: float | None
    showing: list[float] | None
    limit: float
    safetied: bool
    ends: dict[str, str]
    slide_on: list[str]
    on: list[str]
    missing: list[str]
    pressed: list[str]


class EventShown(TypedDict):
    """A thing done."""

    id: int
    side: str
    doing: str
    said: str
    note: str
    by: str
    at: str


class StepShown(TypedDict):
    """A step of the rigging, in order, and whether it was done since the last turn."""

    step: str
    done: bool
    by: str
    at: str


class CablesShown(TypedDict):
    """A control's cables."""

    version: int
    control: str
    name: str
    document: Any
    verdict: Word
    checks: list[CheckShown]
    solved: Solved | None
    sides: list[SideShown]
    readings: list[ReadingShown]
    events: list[EventShown]
    steps: list[StepShown]
    caution: str


class CurveShown(TypedDict):
    """Tension over temperature of one side: [°C, N], where it goes slack."""

    side: str
    points: list[list[float]]
    slack_C: float | None
    slope_N_per_K: float
    why: Why | None


class TargetSide(TypedDict):
    """What one side is to have today, and what it has."""

    side: str
    set_N: float
    low_N: float
    high_N: float
    u_N: float
    slack: bool
    may_be_slack: bool
    present_N: float | None
    present_u_N: float | None
    verdict: Word
    said: str


class TurnsShown(TypedDict):
    """What to turn on one side: whole steps, and the thread after it."""

    side: str
    turns: float | None
    exact: float | None
    after_N: float
    showing: list[float] | None
    after_showing: list[float] | None
    state: str
    said: str


class LearntShown(TypedDict):
    """The compliance that the last turns showed."""

    learnt_m_per_N: float
    u_m_per_N: float
    model_m_per_N: float
    said: str


class TodayShown(TypedDict):
    """Tension today: what to set, what is there, what to turn. `unit`: lb or N, as asked;
    `alike`: both sides are set to one tension."""

    temperature_C: float
    unit: str
    target_N: float
    target_C: float
    minus_N: float
    plus_N: float
    source: str
    curves: list[CurveShown]
    sides: list[TargetSide]
    straight_deg: float | None
    said: str
    turns: list[TurnsShown]
    shift_deg: float | None
    refused: str
    learnt: LearntShown | None
    used_learnt: bool
    alike: bool
    why: Why | None
    caution: str


class WhatIf(TypedDict):
    """A changed drawing worked out, and each verdict that keeping it would change."""

    document: Any
    solved: Solved
    shifts: list[ShiftShown]


class Heard(TypedDict):
    """A recording worked out; nothing is kept."""

    seconds: float
    rate_Hz: float
    channels: int
    kept_as: str
    band_Hz: list[float]
    spectrum: list[list[float]]
    peaks: list[list[float]]
    floor: float
    frequency_Hz: float
    partials: list[int]
    inferred: bool
    alternatives_Hz: list[float]
    confirm: list[str]
    ideal_N: float
    low_N: float
    high_N: float
    tension_N: float
    u_N: float
    why: Why


class Tried(TypedDict):
    """A way of measuring tried out; nothing is kept."""

    tension_N: float
    u_N: float
    said: str
    result: dict[str, Any]
    why: Why | None


class CardShown(TypedDict):
    """A calibration card as typed and as understood."""

    instrument: int
    version: int
    typed: str
    u_typed: str
    tables: list[dict[str, Any]]


class CardsPage(TypedDict):
    """The cards of an aircraft's instruments."""

    count: int
    results: list[CardShown]


class ReferenceShown(TypedDict):
    """The shipped cables and expansions, with their sources."""

    cables: dict[str, Any]
    expansion: dict[str, Any]
