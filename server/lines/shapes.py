"""Lines as the API answers them."""

from __future__ import annotations

import math
from typing import Any, TypedDict

from core.basis.verdicts import Verdict, worst
from core.lines.again import out_of_plane
from core.lines.line import Line
from core.lines.tested import STD_ML_MIN, judged, told
from core.rulebook import rule
from core.runs.bays import OUTSIDE
from server.config.words import Word
from server.kit.models import Check
from server.kit.placing import boxes_of
from server.kit.records import held
from server.kit.showing import CheckShown, Why, row_shown, why
from server.kit.standing import of_subject
from server.lines.entering import line_of
from server.lines.testing import events_of, said_of
from server.runs.models import Run
from server.runs.places import stretches

DEG = math.degrees(1.0)
FLAT_M = 0.001  # As `lines.tube_template` takes it.
CAUTION = (
    "Cut a length of wire to the route first; make the first tube over-long. A flattened, kinked"
    " or scratched bend is scrap. The kit maker's data come first."
)


class LineRow(TypedDict):
    """A line in the list."""

    slug: str
    name: str
    service: str
    material: str
    od_mm: float
    verdict: Word
    open: list[str]


class LinesPage(TypedDict):
    """All lines of an aircraft."""

    count: int
    results: list[LineRow]


class BendShown(TypedDict):
    """One bend of the card: where to mark, how far to bend, how far to turn before it."""

    number: int
    mark_mm: float
    angle_deg: float
    bend_to_deg: float
    radius_mm: float
    plane_turns_deg: float | None
    tube_turns_deg: float | None


class CardShown(TypedDict):
    """A bend card; `bench_mm`: the tube after 0, 1, 2 ... bends, as it lies on the bench."""

    cut_mm: float
    developed_mm: float
    gain_mm: float
    straights_mm: list[float]
    bends: list[BendShown]
    springback: str
    flat: bool
    bench_mm: list[list[list[float]]]
    aircraft_mm: list[list[float]]
    why: Why


class Stretch(TypedDict):
    """Where a line lies in one bay, along its corners."""

    bay: str
    from_mm: float
    to_mm: float


class DoneShown(TypedDict):
    """One thing done to a line."""

    id: int
    doing: str
    said: str
    note: str
    by: str
    at: str
    stands: bool
    series: list[list[float]]


class LeakShown(TypedDict):
    """A leak test worked out: what leaks, what the gauge alone suggests, how long to wait."""

    said: str
    verdict: Word
    no_leak_end_kPa: float
    alone_ml_min: float
    large_drop: bool
    wait_min: float | None
    why: Why


class LineShown(LineRow):
    """A line with all that was entered, its card and its checks."""

    version: int
    typed: dict[str, Any]
    source: int | None
    cited: str
    page: str
    points_mm: list[list[float]]
    supports_mm: list[float] | None
    stretches: list[Stretch]
    checks: list[CheckShown]
    card: CardShown
    done: list[DoneShown]
    caution: str


def row(r: Run, checks: list[Check]) -> LineRow:
    """A line for a list, with its kept checks."""
    bad = [c.said for c in checks if c.verdict not in ("in", "accepted")]
    return LineRow(
        slug=r.slug,
        name=r.name,
        service=r.service,
        material=r.material,
        od_mm=r.od_m * 1e3,
        verdict=worst(Verdict(c.verdict) for c in checks).value,
        open=bad,
    )


def shown(r: Run) -> LineShown:
    """A line in full."""
    checks = of_subject(r.aircraft_id, "lines", r.slug)
    line = line_of(r)
    found = stretches(r, boxes_of(r.aircraft_id))
    return LineShown(
        **row(r, checks),
        version=r.version,
        typed=r.typed,
        source=r.source_id,
        cited=line.source,
        page=r.page,
        points_mm=[[x * 1e3 for x in p] for p in r.points_m],
        supports_mm=None if r.supports_m is None else [x * 1e3 for x in r.supports_m],
        stretches=[
            Stretch(bay="" if bay == OUTSIDE else bay, from_mm=a * 1e3, to_mm=b * 1e3)
            for bay, parts in found.items()
            for a, b in parts
        ],
        checks=[row_shown(c) for c in checks],
        card=card_shown(line),
        done=_done(r),
        caution=CAUTION,
    )


def _done(r: Run) -> list[DoneShown]:
    events = events_of(r)
    stands = {e.pk for e in held(events)}
    return [
        DoneShown(
            id=e.pk,
            doing=e.doing,
            said=said_of(e),
            note=e.note,
            by=e.by.name,
            at=e.at.isoformat(),
            stands=e.pk in stands,
            series=e.typed.get("series", []),
        )
        for e in reversed(events)
    ]


def leak_shown(inputs: dict[str, Any], result: dict[str, Any]) -> LeakShown:
    """A test for the screen; the wait where it can be said."""
    wait = None
    asked = ("allowed_std_m3_s", "u_gauge_Pa", "u_temp_K", "u_baro_Pa")
    if all(k in inputs for k in asked):
        given = {k: inputs[k] for k in ("volume_m3", *asked)}
        given |= {"gauge_Pa": inputs["start_gauge_Pa"], "temp_K": inputs["start_temp_K"]}
        found = rule("lines.leak_wait").run(given | {"baro_Pa": inputs["start_baro_Pa"]})
        wait = found["wait_s"] / 60.0
    return LeakShown(
        said=told(result, inputs),
        verdict=judged(result, inputs).value,
        no_leak_end_kPa=result["no_leak_end_gauge_Pa"] / 1e3,
        alone_ml_min=result["uncompensated_std_m3_s"] * STD_ML_MIN,
        large_drop=result["large_drop"],
        wait_min=wait,
        why=why("lines.leak_decay", inputs, dict.fromkeys(inputs, "typed with the test")),
    )


def card_shown(line: Line) -> CardShown:
    """The bend card in mm and degrees, with the tube after each bend."""
    card = line.card
    turns: list[float | None] = [None, *(x * DEG for x in card.rotations_rad)]
    inputs = line.card_inputs()
    return CardShown(
        cut_mm=card.cut_length_m * 1e3,
        developed_mm=card.developed_m * 1e3,
        gain_mm=card.gain_m * 1e3,
        straights_mm=[x * 1e3 for x in card.straights_m],
        bends=[
            BendShown(
                number=n + 1,
                mark_mm=card.marks_m[n] * 1e3,
                angle_deg=card.angles_rad[n] * DEG,
                bend_to_deg=card.bend_to_rad[n] * DEG,
                radius_mm=card.radii_m[n] * 1e3,
                plane_turns_deg=turns[n],
                tube_turns_deg=None if (turn := turns[n]) is None else -turn,
            )
            for n in range(len(card.marks_m))
        ],
        springback=_springback(line),
        flat=bool(card.angles_rad) and out_of_plane(line.tube.vertices) <= FLAT_M,
        bench_mm=[_mm(line.on_the_bench(n)) for n in range(len(card.marks_m) + 1)],
        aircraft_mm=_mm(line.in_the_aircraft()),
        why=why("lines.bend_card", inputs, dict.fromkeys(inputs, "entered for this line")),
    )


def _springback(line: Line) -> str:
    if not line.springback_a_rad and not line.springback_b:
        return "Not said: the tube comes back a little; two trial bends tell how far."
    a, b = line.springback_a_rad * DEG, line.springback_b * 100
    return f"Comes back by {a:.1f}° and {b:.1f} % of what it is bent to."


def _mm(points: Any) -> list[list[float]]:
    return [[round(float(x) * 1e3, 2) for x in p] for p in points]
