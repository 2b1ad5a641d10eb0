"""Questions about a tube that is entered: through bulkheads, why its end misses, where water
stands, its flat template."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from core.basis.checks import Check
from core.basis.verdicts import Verdict
from core.lines import pitot, shaping, threading  # noqa: F401
from core.lines.line import Line
from core.lines.sheets.saying import TRADE, caution, deg, mm, points_mm
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, run, said

THROUGH, CLOSES, WATER = "lines.thread_through", "lines.closing_error", "lines.low_points"
TUBE = Field("line", "line", "Tube", "thing", needed=True)
LARGE = 0.1


def _tube(asked: Asked) -> tuple[dict[str, Any], dict[str, str]]:
    """Corners and finished radii of the tube, and where they come from."""
    line: Line = asked.things["line"]
    found = {"vertices_m": [list(v) for v in line.vertices_m], "radii_m": list(line.card.radii_m)}
    return found, dict.fromkeys(found, f"the tube {line.name}")


def _through(asked: Asked) -> Worked:
    line: Line = asked.things["line"]
    tube, origins = _tube(asked)
    inputs = tube | {"od_m": line.od_m, "holes": asked.values["holes"]}
    inputs |= asked.only("start_fitting_m", "end_fitting_m", "bender_grip_m")
    found = run(THROUGH, inputs)
    lead = {"end": "its far end", "start": "its start"}.get(found.get("lead") or "", "")
    words = found["answer"][:1].upper() + found["answer"][1:]
    words += f", {lead} first." if lead else "."
    verdict = Verdict.OUT if found["answer"].startswith("never") else Verdict.IN
    origins |= {"od_m": f"the tube {line.name}"}
    checks = [
        said("through", "through its holes", words, verdict, THROUGH, inputs, origins=origins)
    ]
    checks += [
        said(f"rubs {at}", f"hole {at}", "The tube rubs in it once in place: a larger hole.",
             Verdict.OUT, THROUGH, inputs, origins=origins)
        for code, at in found["findings"]
    ]  # fmt: skip
    for end in ("start_fitting_m", "end_fitting_m"):
        if end not in inputs and not asked.values.get("bare"):
            checks.append(
                said(
                    end.partition("_")[0],
                    f"fitting on the {end.partition('_')[0]}",
                    "Not said whether a nut and sleeve are on it already.",
                    Verdict.NOT_MEASURED,
                )
            )
    return Worked(tuple(checks), tuple(_needs(found)))


def _needs(found: dict[str, Any]) -> Iterable[tuple[str, str]]:
    for hole in found["holes"]:
        inside = hole.get("in_place_m")
        needs = "" if inside is None else f", needs {mm(inside, 1)} in place"
        yield f"Hole {hole['id']}", f"tilted {deg(hole['tilt_rad'])}{needs}"
    for way in found["ways"]:
        lead = "far end" if way["lead"] == "end" else "start"
        for need in way["needs"]:
            width = need.get("width_m")
            said_ = "the bent tube does not pass" if width is None else (
                f"the bent tube needs {mm(width, 1)}"
                + (f" × {mm(need['length_m'], 1)}" if need["length_m"] != width else "")
            )  # fmt: skip
            yield f"{need['id']}, {lead} first", said_


declare(
    Kind(
        "through",
        TRADE,
        "tubes",
        "A bent tube through bulkheads",
        "Does the bent tube still pass its holes, or which bends must be made in place?",
        (
            TUBE,
            Field(
                "holes", "holes", "Holes that it goes through", "table", needed=True,
                columns=(
                    Field("id", "id", "Hole", needed=True, hint="bulkhead 3"),
                    Field("centre", "centre_m", "Centre: st; bl; wl", "length", many=3,
                          needed=True),
                    Field("axis", "axis", "Square to its plate", "number", "1", many=3,
                          needed=True, hint="1; 0; 0"),
                    Field("d", "diameter_m", "Clear, in its grommet", "length", needed=True),
                    Field("t", "thickness_m", "Plate and grommet", "length", needed=True),
                    Field("slot", "slot_m", "Slot, overall", "length"),
                ),
            ),
            Field("start", "start_fitting_m", "Nut already on its start, diameter", "length"),
            Field("end", "end_fitting_m", "Nut already on its far end", "length"),
            Field("bare", "bare", "Its other ends are bare", "yes"),
            Field("grip", "bender_grip_m", "A bend in place needs a straight of", "length"),
        ),
        _through,
        caution(THROUGH),
        "clearance",
    )
)  # fmt: skip


def _closing(asked: Asked) -> Worked:
    tube, origins = _tube(asked)
    inputs = tube | asked.only("measured_end_m", "u_length_m", "u_angle_rad", "u_rotation_rad")
    found = run(CLOSES, inputs)
    line: Line = asked.things["line"]
    U = 2.0 * found["u_end_m"]
    facts = [("Its far end may miss by, U", mm(U, 1))]
    if found.get("error_size_m") is None:
        words = "Not said where its far end came out."
        check = said("end", "far end", words, Verdict.NOT_MEASURED)
        return Worked((check,), tuple(facts))
    size = found["error_size_m"]
    facts += [
        (_cause(c), f"explains it but for {mm(c['left_over_m'], 1)}")
        for c in found["single_causes"][:4]
    ]
    words = f"Misses by {mm(size, 1)}: {mm(found['along_last_m'], 1)} along its last straight,"
    words += f" {mm(found['across_last_m'], 1)} across."
    verdict = _missed(size, asked)
    if size > LARGE * line.card.developed_m:
        verdict, words = Verdict.OUT, words + " That is no bending error: measure again."
    elif "allowed_m" in asked.values:
        words += f" {mm(asked.values['allowed_m'], 1)} are allowed."
    else:
        words += " Not said how far it may miss."
    check = said("end", "far end", words, verdict, CLOSES, inputs, origins=origins)
    return Worked((check,), tuple(facts), {"end_mm": points_mm([asked.values["measured_end_m"]])})


def _missed(size: float, asked: Asked) -> Verdict:
    if "allowed_m" not in asked.values:
        return Verdict.NOT_MEASURED
    return Verdict.IN if size <= asked.values["allowed_m"] + 1e-9 else Verdict.OUT


def _cause(c: dict[str, Any]) -> str:
    if c["kind"] == "straight":
        much = "longer" if c["change"] > 0 else "shorter"
        return f"Straight {c['index'] + 1} {mm(abs(c['change']), 1)} {much}"
    if c["kind"] == "angle":
        much = "more" if c["change"] > 0 else "less"
        return f"Bend {c['index']} bent {deg(abs(c['change']))} {much}"
    way = "clockwise" if c["change"] > 0 else "counter-clockwise"
    return f"Bends {c['index']} and {c['index'] + 1} turned {deg(abs(c['change']))} {way}"


declare(
    Kind(
        "far end",
        TRADE,
        "tubes",
        "Why does the far end miss?",
        "Which single error of bending explains where its far end came out?",
        (
            TUBE,
            Field("end", "measured_end_m", "Its far end came out at: st; bl; wl", "length",
                  many=3),
            Field("allowed", "allowed_m", "It may miss by", "length", hint="2"),
            Field("u_length", "u_length_m", "u of each straight", "length", hint="0.5"),
            Field("u_angle", "u_angle_rad", "u of each bend", "angle", "deg", "0.5°"),
            Field("u_turn", "u_rotation_rad", "u of each turn", "angle", "deg", "0.5°"),
        ),
        _closing,
        caution(CLOSES),
        "clearance",
    )
)  # fmt: skip


def _water(asked: Asked) -> Worked:
    line: Line = asked.things["line"]
    drains = [n - 1 for n in asked.values.get("drains", [])]
    checks = []
    for key, what, pitch in (
        ("level", "water, level", 0.0),
        ("parked", "water, parked", asked.values.get("pitch_rad")),
    ):
        if pitch is None:
            words = "Not said how it stands parked."
            checks.append(said(key, what, words, Verdict.NOT_MEASURED))
            continue
        checks.append(_standing(key, what, line, drains, pitch, asked))
    return Worked(tuple(checks))


def _standing(
    key: str, what: str, line: Line, drains: list[int], pitch: float, asked: Asked
) -> Check:
    inputs = {
        "vertices_m": [list(v) for v in line.vertices_m],
        "drains": drains,
        "pitch_rad": pitch,
    } | asked.only("tolerance_m")
    found = run(WATER, inputs)
    dry = ", ".join(str(n + 1) for n in found["undrained"])
    words = (
        f"Water stands at corner {dry}: a drain or trap is missing." if dry else "Water runs off."
    )
    verdict = Verdict.OUT if dry else Verdict.IN
    origins = {"vertices_m": f"the tube {line.name}", "drains": "the corners with a drain, from 0"}
    origins |= {"pitch_rad": "as it stands"}
    return said(key, what, words, verdict, WATER, inputs, origins=origins)


declare(
    Kind(
        "water",
        TRADE,
        "tubes",
        "Where does water stand?",
        "Which low points of a tube have no drain, level and parked?",
        (
            TUBE,
            Field("drains", "drains", "Drains or traps at its corners, from 1", "numbers"),
            Field("pitch", "pitch_rad", "Parked, nose up by", "angle", "deg", "8°"),
            Field("tolerance", "tolerance_m", "A climb counts from", "length", hint="2"),
        ),
        _water,
        caution(CLOSES),
    )
)  # fmt: skip
