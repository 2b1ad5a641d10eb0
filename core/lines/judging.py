"""What the rules say of a line: every check, from what was entered."""

from __future__ import annotations

from collections.abc import Iterable

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.lines.fittings import Spacing, support_spacing
from core.lines.line import Line
from core.lines.shaping import TubeChecked, tube_checks
from core.lines.tables import MATERIALS
from core.runs.holes import holes_checks

SAID = {
    "radius_below_minimum": "bend {} is tighter than {:.1f} mm",
    "straight_too_short": "straight {} is shorter than the bender grips",
    "start_straight_too_short": "the first straight is too short for its fitting",
    "end_straight_too_short": "the last straight is too short for its fitting",
}
GIVEN = "entered for this line"


def judge(line: Line) -> Iterable[Check]:
    """Whether it can be bent so, is held often enough, and is kept off the edges of its holes."""
    yield _bent(line)
    if not _can_be_bent(line):
        return
    yield _supports(line)
    if line.placed:
        yield from _holes(line)
    if line.measured:
        said = "; ".join(line.measured)
        yield Check(
            key="measured",
            what="the tube as it was measured",
            said=f"{said[:1].upper()}{said[1:]}: measure again before cutting.",
            verdict=Verdict.TOO_CLOSE,
            part="bends",
        )


def _can_be_bent(line: Line) -> bool:
    try:
        line.card  # noqa: B018
    except Refused:
        return False
    return True


def _bent(line: Line) -> Check:
    try:
        card = line.card
    except Refused as refusal:
        return _bends(f"Cannot be bent so: {refusal.reason}.", Verdict.OUT, {})
    inputs = {
        "vertices_m": [list(v) for v in line.vertices_m],
        "radii_m": list(card.radii_m),
        "od_m": line.od_m,
        "min_between_m": line.grip_m,
        "min_start_m": line.start_straight_m,
        "min_end_m": line.end_straight_m,
    }
    if line.min_radius_m is not None:
        inputs["min_radius_m"] = line.min_radius_m
    elif line.material in MATERIALS:
        inputs["material"] = line.material
    else:
        said = "Enter the maker's least bend radius: none is built in for this material."
        return _bends(said, Verdict.NOT_MEASURED, {})
    given = {k: v for k, v in inputs.items() if v is not None}
    try:
        found = tube_checks(**given)  # type: ignore[arg-type]
    except Refused as refusal:
        said = f"{refusal.reason[:1].upper()}{refusal.reason[1:]}."
        return _bends(said, Verdict.NOT_MEASURED, {})
    verdict, said = _told(line, found)
    return _bends(said, verdict, given, _origins(line, given))


def _told(line: Line, found: TubeChecked) -> tuple[Verdict, str]:
    least = found.min_radius_m * 1e3
    if found.findings:
        told = "; ".join(SAID[code].format(n, least) for code, n in found.findings)
        return Verdict.OUT, f"{told[:1].upper()}{told[1:]}."
    unsaid = [
        word
        for word, value in (
            ("what the bender grips", line.grip_m),
            ("the first straight that its fitting needs", line.start_straight_m),
            ("the last", line.end_straight_m),
        )
        if value is None and line.radii_m
    ]
    if unsaid:
        return Verdict.NOT_MEASURED, f"Radii are wide enough; not said: {', '.join(unsaid)}."
    return Verdict.IN, f"No bend tighter than {least:.1f} mm, straights long enough."


def _bends(
    said: str, verdict: Verdict, inputs: dict[str, object], origins: dict[str, str] | None = None
) -> Check:
    return Check(
        key="bends",
        what="bends and straights",
        said=said,
        verdict=verdict,
        rule="lines.tube_checks" if inputs else "",
        inputs=inputs,
        origins=origins or {},
        part="bends",
    )


def _holes(line: Line) -> Iterable[Check]:
    gap = {
        "edge_gap": line.source or "entered without a document",
        "pts": "the centreline with its bends; for ribs span and length are changed over",
        "bulkheads": GIVEN,
        "supports": GIVEN,
        "radius": "half the outside diameter",
        "tol": "a guard counts in the plate that it is said for",
    }
    return holes_checks(
        line.in_the_aircraft().tolist(), line.od_m / 2.0, line.holes, line.edge_gap_m, gap
    )


def _supports(line: Line) -> Check:
    """Spans between clamps; not measured until somebody said where it is held."""

    def check(
        said: str, verdict: Verdict, inputs: dict[str, object], at: tuple[float, ...] = ()
    ) -> Check:
        return Check(
            key="supports",
            what="supports",
            said=said,
            verdict=verdict,
            step="clearance",
            rule="lines.support_spacing" if inputs else "",
            inputs=inputs,
            origins=_origins(line, inputs),
            part="supports",
            at=at,
        )

    if line.supports_m is None:
        return check("Not said where it is held.", Verdict.NOT_MEASURED, {})
    if line.material not in MATERIALS and line.max_spacing_m is None:
        return check("Enter the maker's greatest span.", Verdict.NOT_MEASURED, {})
    inputs: dict[str, object] = {
        "od_m": line.od_m,
        "material": line.material if line.material in MATERIALS else "hose",
        "support_positions_m": list(line.supports_m),
        "length_m": line.card.developed_m,
    }
    if line.max_spacing_m is not None:
        inputs["max_spacing_m"] = line.max_spacing_m
    try:
        found = support_spacing(**inputs)  # type: ignore[arg-type]
    except Refused as refusal:
        return check(f"{refusal.reason[:1].upper()}{refusal.reason[1:]}.", Verdict.NOT_MEASURED, {})
    return check(_spans(found), found.verdict, inputs)


def _spans(found: Spacing) -> str:
    most, worst = found.max_spacing_m * 1e3, found.worst_span_m * 1e3
    if not found.add_at_m:
        return f"Longest span {worst:.0f} mm of {most:.0f} mm."
    at = ", ".join(f"{x * 1e3:.0f}" for x in found.add_at_m)
    many = "a clamp is" if len(found.add_at_m) == 1 else f"{len(found.add_at_m)} clamps are"
    return f"Longest span {worst:.0f} mm, at most {most:.0f} mm: {many} missing at {at} mm."


def _origins(line: Line, inputs: dict[str, object]) -> dict[str, str]:
    """Where each input comes from, in words."""
    maker = line.source or "entered without a document"
    names = {
        "min_radius_m": maker,
        "max_spacing_m": maker,
        "material": "the line's material; the figure is AC 43.13-1B's",
        "radii_m": "finished radii of the bend card",
        "length_m": "developed length of the bend card",
    }
    return {k: names.get(k, GIVEN) for k in inputs}
