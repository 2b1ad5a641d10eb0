"""Tanks: where a hole goes, how large it is, what the washer covers; and a tank's leak test."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.lines import leak, tank  # noqa: F401
from core.lines.sheets.saying import TRADE, caution, kpa, mm, points_mm
from core.lines.tested import STD_ML_MIN, judged, told
from core.worksheets.kinds import (
    Asked,
    Field,
    Kind,
    Worked,
    declare,
    known_to,
    lacking,
    run,
    said,
    unsaid,
)

LAYOUT, SIZE, SEAT, COVER = (
    "lines.hole_layout",
    "lines.hole_size",
    "lines.washer_seat",
    "hardware.washer_cover",
)
FROM_TABLE = {"edges": "the edges entered on this sheet", "check": "the second layout entered here"}


def _hole(asked: Asked) -> Worked:
    found, place = _place(asked)
    size = _size(asked)
    return Worked(
        (place, size, *_seat(asked), *_cover(asked), *_margin(asked, found)),
        (
            ("The hole lies at", f"{mm(found['point_m'][0], 1)}; {mm(found['point_m'][1], 1)}"),
            ("Known to, U", mm(2 * found["u_position_m"], 2)),
        ),
        _figure(asked, found),
    )


def _place(asked: Asked) -> tuple[dict[str, Any], Check]:
    v = asked.values
    inputs: dict[str, Any] = {"edges": v["edges"]} | asked.only("u_distance_m", "tolerance_m")
    second = asked.only("a_m", "b_m", "along_m")
    if "left_m" in v:
        second["offset_m"] = v["left_m"]
    if second and len(second) < 4:
        raise Refused("a_m", "the second layout needs A, B, along and to the left")
    if second:
        inputs["check"] = second
    found = run(LAYOUT, inputs)
    if "check" not in inputs:
        words = "Only one layout: a second, independent one must agree before it is drilled."
    else:
        most = mm(inputs.get("tolerance_m", 0.001), 1)
        words = f"Both layouts lie {mm(found['difference_m'], 2)} apart, at most {most}."
    sure = lacking(inputs, ("u_distance_m", "the distances"))
    verdict, words = known_to(Verdict(found["verdict"]), words, sure)
    check = said("place", "where the hole goes", words, verdict, LAYOUT, inputs, origins=FROM_TABLE)
    return found, check


def _size(asked: Asked) -> Check:
    inputs = asked.only("body_m", "flange_m", "min_clearance_m", "min_overlap_m", "drilled_m")
    missing = lacking(
        inputs,
        ("body_m", "what goes through"),
        ("flange_m", "its flange or washer"),
        ("min_clearance_m", "least clearance"),
        ("min_overlap_m", "least overlap"),
    )
    if missing:
        return unsaid("size", "how large the hole", *missing)
    found = run(SIZE, inputs)
    wanted = f"from {mm(found['smallest_m'], 1)} to {mm(found['largest_m'], 1)}"
    if found.get("worst_overlap_m") is None:
        words = f"Drill it {wanted}; not said how it was drilled."
    else:
        words = (
            f"Drilled {mm(inputs['drilled_m'], 1)}, right {wanted}; still covered by"
            f" {mm(found['worst_overlap_m'], 1)} pushed to one side."
        )
    return said("size", "how large the hole", words, Verdict(found["verdict"]), SIZE, inputs)


def _seat(asked: Asked) -> Iterable[Check]:
    shape = asked.only("surface_radius_m", "distance_to_bend_m", "bend_radius_m")
    if not shape:
        if asked.values.get("flat") is not True:
            yield unsaid("seat", "washer’s seat", "whether the skin is flat, curved or near a bend")
        return
    inputs = shape | asked.only("washer_m", "max_gap_m", "min_margin_m")
    if not asked.has("washer_m", "max_gap_m"):
        yield unsaid("seat", "washer’s seat", "the washer and the gap that it may have")
        return
    found = run(SEAT, inputs)
    words = f"Gap under its rim {mm(found['rim_gap_m'], 2)}, at most {mm(inputs['max_gap_m'], 2)}."
    if found.get("edge_margin_m") is not None:
        words += f" Its rim ends {mm(found['edge_margin_m'], 1)} before the bend."
    yield said("seat", "washer’s seat", words, Verdict(found["verdict"]), SEAT, inputs)


def _cover(asked: Asked) -> Iterable[Check]:
    """What the washer still covers where the hole wandered."""
    if not asked.has("offset_m"):
        return
    names = {"washer_od_m": "washer_m", "hole_m": "drilled_m", "offset_m": "offset_m",
             "u_offset_m": "u_offset_m", "u_hole_m": "u_hole_m", "bolt_m": "body_m",
             "overlap_min_m": "min_overlap_m"}  # fmt: skip
    inputs = {k: asked.values[v] for k, v in names.items() if v in asked.values}
    if not {"washer_od_m", "hole_m"} <= inputs.keys():
        yield unsaid("cover", "what the washer covers", "the washer and the hole as drilled")
        return
    found = run(COVER, inputs)
    words = f"Covers the hole by {mm(found['overlap_m'], 1)} ± {mm(found['U_m'], 1)} at its worst"
    words += f"; a washer of {mm(found['least_washer_m'], 1)} would do."
    sure = lacking(inputs, ("u_offset_m", "how far it wandered"), ("u_hole_m", "the hole"))
    verdict, words = known_to(Verdict(found["verdict"]), words, sure)
    yield said("cover", "what the washer covers", words, verdict, COVER, inputs)


def _margin(asked: Asked, found: dict[str, Any]) -> Iterable[Check]:
    """Whether the rim stays inside the edges by the margin that is wanted."""
    if not asked.has("edge_margin_m", "washer_m"):
        yield unsaid("margin", "margin to the edges", "the margin wanted, and the washer")
        return
    rim, U = asked.values["washer_m"] / 2.0, 2.0 * found["u_position_m"]
    least = min(abs(e["distance_m"]) for e in asked.values["edges"]) - rim
    wanted = asked.values["edge_margin_m"]
    verdict = Verdict.TOO_CLOSE
    if least - U >= wanted - 1e-9:
        verdict = Verdict.IN
    elif least + U < wanted - 1e-9:
        verdict = Verdict.OUT
    words = f"The rim stays {mm(least, 1)} from the nearer edge, at least {mm(wanted, 1)}."
    sure = lacking(asked.values, ("u_distance_m", "the distances"))
    verdict, words = known_to(verdict, words, sure)
    yield said("margin", "margin to the edges", words, verdict)


def _figure(asked: Asked, found: dict[str, Any]) -> dict[str, Any]:
    v = asked.values
    edges = [
        {"point_mm": points_mm([e["point_m"]])[0], "direction": e["direction"]} for e in v["edges"]
    ]
    second = found.get("check_point_m")
    return {
        "edges": edges,
        "hole_mm": points_mm([found["point_m"]])[0],
        "second_mm": points_mm([second])[0] if second else None,
        "drilled_mm": v.get("drilled_m", v.get("body_m", 0.006)) * 1e3,
        "washer_mm": v["washer_m"] * 1e3 if "washer_m" in v else None,
    }


SECOND, FITTING, SKIN = "A second, independent layout", "What goes through", "The skin under it"
declare(
    Kind(
        "tank hole",
        TRADE,
        "tanks",
        "Hole in a tank’s skin",
        "Where does it go, how large is it, does the washer seat and cover?",
        (
            Field(
                "edges", "edges", "Two edges; the hole lies to the left of each direction",
                "table", needed=True,
                columns=(
                    Field("point", "point_m", "A point on it: x; y", "length", many=2,
                          needed=True, hint="0; 0"),
                    Field("along", "direction", "Its direction: x; y", "number", "1", many=2,
                          needed=True, hint="1; 0"),
                    Field("distance", "distance_m", "The hole is left of it by", "length",
                          needed=True),
                ),
            ),
            Field("u", "u_distance_m", "u of each distance", "length", hint="0.5"),
            Field("a", "a_m", "From hole A: x; y", "length", many=2, under=SECOND),
            Field("b", "b_m", "Towards hole B: x; y", "length", many=2, under=SECOND),
            Field("along", "along_m", "Along by", "length", under=SECOND),
            Field("left", "left_m", "Then to the left by", "length", under=SECOND),
            Field("tolerance", "tolerance_m", "Both may differ by", "length", under=SECOND,
                  hint="1"),
            Field("body", "body_m", "Diameter that goes through", "length", under=FITTING),
            Field("flange", "flange_m", "Diameter of its flange", "length", under=FITTING),
            Field("clear", "min_clearance_m", "Least clearance around it", "length",
                  under=FITTING, limit=True),
            Field("overlap", "min_overlap_m", "Least overlap of the flange", "length",
                  under=FITTING, limit=True),
            Field("drilled", "drilled_m", "The hole as drilled", "length", under=FITTING),
            Field("washer", "washer_m", "Washer’s outside diameter", "length", under=SKIN),
            Field("margin", "edge_margin_m", "Margin wanted from rim to edge", "length",
                  under=SKIN, limit=True),
            Field("flat", "flat", "The skin is flat there", "yes", under=SKIN),
            Field("curve", "surface_radius_m", "Or curved, radius", "length", under=SKIN),
            Field("bend", "distance_to_bend_m", "Or beside a bend: hole to its tangent line",
                  "length", under=SKIN),
            Field("bend_radius", "bend_radius_m", "Radius of that bend", "length", under=SKIN),
            Field("gap", "max_gap_m", "Gap that its rim may have", "length", under=SKIN,
                  limit=True),
            Field("least", "min_margin_m", "Least margin to the bend", "length", under=SKIN),
            Field("wandered", "offset_m", "The hole wandered by", "length", under=SKIN),
            Field("u_wandered", "u_offset_m", "u of that", "length", under=SKIN),
            Field("u_hole", "u_hole_m", "u of the hole", "length", under=SKIN),
        ),
        _hole,
        caution(LAYOUT),
        to_scale=True,
    )
)  # fmt: skip


def _leaks(asked: Asked) -> Worked:
    names = (
        "volume_m3", "start_gauge_Pa", "end_gauge_Pa", "start_temp_K", "end_temp_K",
        "start_baro_Pa", "end_baro_Pa", "duration_s", "max_test_Pa", "allowed_std_m3_s",
        "u_gauge_Pa", "u_temp_K", "u_baro_Pa", "u_volume_rel",
    )  # fmt: skip
    inputs = asked.only(*names)
    found = run("lines.leak_decay", inputs)
    words, verdict = told(found, inputs), judged(found, inputs)
    tested, opened = asked.values.get("tested_on"), asked.values.get("opened_on")
    if tested is not None:
        words = f"{words} Tested on {tested}."
    if opened is not None and (tested is None or opened >= tested):
        # Of one day nobody knows which came first: it is not taken in the tank's favour.
        words, verdict = f"Opened on {opened}: test it again.", Verdict.STALE
    check = said("leak", "leak test", words, verdict, "lines.leak_decay", inputs)
    facts = [
        ("Without a leak the gauge would show", kpa(found["no_leak_end_gauge_Pa"])),
        (
            "The gauge alone suggests",
            f"{found['uncompensated_std_m3_s'] * STD_ML_MIN:.2f} ml of air a minute".replace(
                "-", "−"
            ),
        ),
    ]
    metre = run("lines.column_pressure", {"height_m": 1.0})["pressure_Pa"]
    facts.append(
        ("Relief column of water for the highest pressure", mm(inputs["max_test_Pa"] / metre))
    )
    if found["large_drop"]:
        facts.append(("It fell by more than a fifth", "at the start it leaked faster than this"))
    wait = {
        "volume_m3": inputs["volume_m3"], "gauge_Pa": inputs["start_gauge_Pa"],
        "temp_K": inputs["start_temp_K"], "baro_Pa": inputs["start_baro_Pa"],
    }  # fmt: skip
    sure = asked.only("allowed_std_m3_s", "u_gauge_Pa", "u_temp_K", "u_baro_Pa")
    if len(sure) == 4 and any(sure[k] for k in ("u_gauge_Pa", "u_temp_K", "u_baro_Pa")):
        must = run("lines.leak_wait", wait | sure)["wait_s"]
        left = (must - inputs["duration_s"]) / 60.0
        told_ = f"{must / 60.0:.0f} minutes" + (f": {left:.0f} more" if left > 0 else "")
        facts.append(("To tell the allowed leak from none it must last", told_))
    figure = {
        "gauge": [
            {"minutes": 0.0, "kPa": inputs["start_gauge_Pa"] / 1e3},
            {"minutes": inputs["duration_s"] / 60.0, "kPa": inputs["end_gauge_Pa"] / 1e3},
        ],
        "no_leak_kPa": found["no_leak_end_gauge_Pa"] / 1e3,
    }
    return Worked((check,), tuple(facts), figure)


SURE = "How well each is known"
declare(
    Kind(
        "tank leak",
        TRADE,
        "tanks",
        "Leak test of a tank",
        "Does it leak, or did it only cool down and the weather change?",
        (
            Field("volume", "volume_m3", "Air space of tank and lines", "volume", "l", "52 l",
                  needed=True),
            Field("most", "max_test_Pa", "Highest pressure it may be tested at", "pressure",
                  "kPa", needed=True, limit=True),
            Field("allowed", "allowed_std_m3_s", "Allowed leak, ml of air a minute", "number",
                  "1", scale=1e-6 / 60.0, limit=True),
            Field("minutes", "duration_s", "It lasted, minutes", "number", "1", "60",
                  needed=True, scale=60.0),
            Field("start", "start_gauge_Pa", "Gauge at the start", "pressure", "kPa",
                  needed=True),
            Field("end", "end_gauge_Pa", "Gauge at the end", "pressure", "kPa", needed=True),
            Field("start_t", "start_temp_K", "Temperature at the start", "temperature", "C",
                  needed=True),
            Field("end_t", "end_temp_K", "At the end", "temperature", "C", needed=True),
            Field("start_b", "start_baro_Pa", "Barometer at the start, as it stands", "pressure",
                  "hPa", needed=True),
            Field("end_b", "end_baro_Pa", "At the end", "pressure", "hPa", needed=True),
            Field("on", "tested_on", "Tested on", "date"),
            Field("opened", "opened_on", "Opened since then, on", "date"),
            Field("u_gauge", "u_gauge_Pa", "u of the gauge", "pressure", "Pa", under=SURE),
            Field("u_t", "u_temp_K", "u of the thermometer, K", "number", "1", under=SURE),
            Field("u_b", "u_baro_Pa", "u of the barometer", "pressure", "Pa", under=SURE),
            Field("u_volume", "u_volume_rel", "u of the air space, %", "number", "1",
                  scale=0.01, under=SURE),
        ),
        _leaks,
        caution("lines.leak_decay"),
        "test",
    )
)  # fmt: skip
