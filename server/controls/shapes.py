"""What the API says of a control: angles in degrees, lengths in mm, as their names say."""

from __future__ import annotations

from typing import Any, Literal, TypedDict

from server.config.words import Word
from server.kit.showing import Why

Method = Literal["gauge_difference", "swept_gauge", "edge_offset", "included_angle"]
RequirementKind = Literal["travel", "neutral", "symmetry", "ratio", "repeatability"]


class SetShown(TypedDict):
    """Readings of one position taken in one way, judged."""

    method: Method
    practice: str
    instrument: str
    zero: str
    servo: str
    unit: Literal["°", "mm"]
    readings: list[int]
    n: int
    value_deg: float | None
    u_deg: float | None
    U_deg: float | None
    k: float | None
    verdict: Word
    missing: str
    candidates_deg: list[float]
    why: Why | None
    method_why: Why | None


class SourceShown(TypedDict):
    """A document as cited."""

    id: int
    cited: str
    page: str


class ConflictSide(TypedDict):
    """One of several requirements on the same thing."""

    requirement: int
    cited: str
    lo_deg: float | None
    hi_deg: float | None
    verdict: Word


class ConflictShown(TypedDict):
    """Sources that disagree, how, and what was decided."""

    relation: str
    sides: list[ConflictSide]
    decided: int | None
    reason: str
    decided_by: str


class ResultShown(TypedDict):
    """A requirement against what was measured. `unit` is ° or empty (ratio)."""

    verdict: Word
    unit: Literal["°", ""]
    value: float | None
    U: float | None
    k: float | None
    n: int
    margin: float | None
    p_inside: float | None
    sets: list[SetShown]
    governing: int | None
    disagree: bool
    advice: list[str]
    why: Why | None
    conflict: ConflictShown | None


class TemplateShown(TypedDict):
    """The card for a travel: the skin it stands on, and its angle if that is known."""

    skin: Literal["upper", "right"]
    included_deg: float | None


class LimitChange(TypedDict):
    """What was asked before, what after, who changed it, when and why."""

    was: str
    became: str
    by: str
    at: str
    reason: str


class RequirementShown(TypedDict):
    """What a source asks, and the result. Limits in ° (ratio: no unit)."""

    id: int
    version: int
    surface: str
    kind: RequirementKind
    position: str
    lo: float | None
    hi: float | None
    no_tolerance: bool
    as_typed: str
    source: SourceShown
    changes: list[LimitChange]
    template: TemplateShown | None
    result: ResultShown


class SurfaceShown(TypedDict):
    """A surface with its geometry."""

    id: int
    version: int
    slug: str
    name: str
    side: str
    bay: str
    positive: str
    chord_mm: float | None
    chord_typed: str
    u_chord_mm: float
    phi_deg: float
    u_phi_deg: float
    sweep_deg: float | None
    u_sweep_deg: float
    dihedral_deg: float
    neutral_included_deg: float | None
    u_neutral_included_deg: float


class ReadingShown(TypedDict):
    """A reading with everything that was recorded of it."""

    id: int
    surface: str
    position: str
    method: Method
    practice: str
    as_typed: str
    unit: str
    value: float
    instrument: str
    accuracy: str
    zero: str
    side: int | None
    skin: str
    place: str
    approach: str
    conditions: dict[str, Any]
    check_reading: bool
    taken_at: str
    taken_by: str
    rev: int
    corrects: int | None
    current: bool
    withdrawn: bool
    reason: str


class RoundShown(TypedDict):
    """A round of measuring."""

    number: int
    reason: str
    started_at: str
    started_by: str
    readings: int


class SenseShown(TypedDict):
    """A sense check as it was seen."""

    text: str
    right_way: bool
    free: bool
    note: str
    seen_by: str
    at: str


class ControlRow(TypedDict):
    """A control in the list."""

    slug: str
    name: str
    verdict: Word
    requirements: int
    in_count: int


class ControlsPage(TypedDict):
    """All controls of an aircraft (they are few)."""

    count: int
    results: list[ControlRow]


class PartShown(TypedDict):
    """A surface of a pattern."""

    name: str
    side: str
    positive: str


class PatternShown(TypedDict):
    """A control to begin with; `not_primary`: why it is none, empty where it is one."""

    name: str
    surfaces: list[PartShown]
    positions: list[str]
    sense_check: str
    not_primary: str


class PatternsShown(TypedDict):
    """All patterns."""

    results: list[PatternShown]


class SheetShown(TypedDict):
    """One control's travel sheet: surfaces, requirements with results, readings."""

    slug: str
    name: str
    sense_check: str
    positions: list[str]
    kinds: list[RequirementKind]
    version: int
    primary: bool
    primary_reason: str
    verdict: Word
    round: int
    rounds: list[RoundShown]
    surfaces: list[SurfaceShown]
    requirements: list[RequirementShown]
    readings: list[ReadingShown]
    sense_checks: list[SenseShown]


class Understood(TypedDict):
    """One typed value as it was understood."""

    as_typed: str
    value: float
    unit: str
    said: str


class Preview(TypedDict):
    """What a reading would mean, before it is kept."""

    understood: list[Understood]
    result: ResultShown | None
    said: str
