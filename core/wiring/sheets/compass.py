"""The compass sensor: what currents and steel do to it, and where it may go."""

from __future__ import annotations

from typing import Any

from core.wiring import field, siting  # noqa: F401
from core.wiring.field_map import error_map
from core.wiring.sheets.asking import (
    Asked,
    Field,
    Refused,
    Verdict,
    Worked,
    amps,
    ident,
    number,
    plain,
    points,
    run,
    said,
    sheet,
    triples,
)  # fmt: skip
from core.wiring.sheets.bundles import mm
from core.wiring.words import CAUTION

FIELD, HEADINGS = "wiring.dc_field", "wiring.heading_table"
PAIR, PLACE = "wiring.pair_field", "wiring.sensor_siting"
DEG = 57.29577951308232
MICRO = 1e-6
# The map: how far beyond the sensor it goes at most, its margin, its cells along and across.
REACH_M, EDGE_M, CELLS, MOST_CELLS = 1.5, 0.2, 48, 48


def _field(asked: Asked) -> Worked:
    v = asked.values
    inputs: dict[str, Any] = asked.only("sensor_m", "horizontal_T", "limit_rad")
    inputs["circuits"] = [
        {"current_A": c["current_A"], "points_m": triples(c["points_m"], "circuits")}
        for c in v.get("circuits", [])
    ]
    inputs["dipoles"] = [
        {"moment_Am2": d["moment_Am2"], "at_m": d["at_m"]} for d in v.get("dipoles", [])
    ]
    if not inputs["circuits"] and not inputs["dipoles"]:
        raise Refused("circuits", "enter a current or a magnet")
    found = run(FIELD, inputs)
    worst = found["worst_error_rad"]
    told = "as large as the earth’s field" if worst is None else f"at most {worst * DEG:.2f}°"
    words = f"Turns the needle {told}: {found['B_horizontal_T'] / MICRO:.3f} µT level."
    if "limit_rad" in inputs:
        verdict = Verdict(found["verdict"])
        words += f" Allowed {inputs['limit_rad'] * DEG:.2f}°."
    else:
        verdict, words = Verdict.NOT_MEASURED, words + " Not said how much is allowed."
    check = said("field", "field at the sensor", words, verdict, FIELD, inputs)
    figure, quiet = _map(inputs)
    return Worked((check,), (("Quietest place at this height", quiet),), figure)


def _map(inputs: dict[str, Any]) -> tuple[dict[str, Any], str]:
    """The error around the sensor, in its plane, and the quietest place of the map."""
    at, ways = inputs["sensor_m"], [c["points_m"] for c in inputs["circuits"]]
    near = [at, *(p for way in ways for p in way), *(d["at_m"] for d in inputs["dipoles"])]
    (x0, x1), (y0, y1) = (
        (max(min(p[k] for p in near), at[k] - REACH_M) - EDGE_M,
         min(max(p[k] for p in near), at[k] + REACH_M) + EDGE_M)
        for k in (0, 1)
    )  # fmt: skip
    across = min(MOST_CELLS, max(8, round((y1 - y0) / (x1 - x0) * CELLS)))
    xs, ys = (
        [lo + (n + 0.5) * (hi - lo) / count for n in range(count)]
        for lo, hi, count in ((x0, x1, CELLS), (y0, y1, across))
    )
    error = error_map(
        xs, ys, at[2], inputs["horizontal_T"],
        [field.Current(c["points_m"], c["current_A"]) for c in inputs["circuits"]],
        [field.Dipole(d["moment_Am2"], d["at_m"]) for d in inputs["dipoles"]],
    )  # fmt: skip
    n, k = divmod(int(error.argmin()), CELLS)
    quiet = (
        f"station {xs[k] * 1e3:.0f}, butt line {ys[n] * 1e3:.0f} mm:"
        f" {float(error[n, k]) * DEG:.2f}°, of what is entered here"
    )
    figure = {
        "x_mm": [x0 * 1e3, x1 * 1e3],
        "y_mm": [y0 * 1e3, y1 * 1e3],
        "z_mm": at[2] * 1e3,
        "error_deg": [[round(float(e) * DEG, 3) for e in row] for row in error],
        "limit_deg": inputs["limit_rad"] * DEG if "limit_rad" in inputs else None,
        "sensor_mm": [v * 1e3 for v in at],
        "ways_mm": [[[v * 1e3 for v in p] for p in way] for way in ways],
        "magnets_mm": [[v * 1e3 for v in d["at_m"]] for d in inputs["dipoles"]],
    }
    return figure, quiet


EARTH = number("earth", "horizontal_T", "Earth’s horizontal field, µT", scale=MICRO, needed=True,
               hint="20")  # fmt: skip
AT = Field("at", "sensor_m", "Sensor: station; butt line; water line", "length", many=3,
           needed=True, hint="4900; 100; 550")  # fmt: skip
sheet(
    "field", "compass", "Field of currents and magnets",
    "By how much do these turn the compass at most?",
    (
        AT, EARTH,
        Field("limit", "limit_rad", "Error allowed", "angle", "deg", limit=True),
        Field("circuits", "circuits", "Currents", "table", columns=(
            Field("id", "id", "Wire", hint="flap supply"),
            amps("current", "current_A", "Current, + along it", needed=True),
            points("points", "points_m", "Its way", needed=True),
        )),
        Field("dipoles", "dipoles", "Magnets", "table", columns=(
            Field("id", "id", "Magnet", hint="speaker"),
            Field("moment", "moment_Am2", "Moment x; y; z, A·m²", "number", "1", many=3,
                  needed=True),
            Field("at", "at_m", "At", "length", many=3, needed=True),
        )),
    ),
    _field, CAUTION,
)  # fmt: skip


def _headings(asked: Asked) -> Worked:
    v = asked.values
    inputs: dict[str, Any] = asked.only("horizontal_T", "heading_rad")
    inputs["states_T"] = [[x * MICRO for x in s["field"]] for s in v["states"]]
    found = run(HEADINGS, inputs)
    swing, most = found["swing_rad"], v.get("swing_limit_rad")
    words = (
        f"Swings by {swing * DEG:.2f}° between states, which no calibration takes away; wrong by"
        f" up to {found['worst_error_rad'] * DEG:.2f}° before one."
    )
    if most is None:
        verdict, words = Verdict.NOT_MEASURED, words + " Not said how much it may swing."
    else:
        verdict = Verdict.IN if swing <= most else Verdict.OUT
        words += f" It may swing {most * DEG:.2f}°."
    facts = []
    for s, e in zip(v["states"], found.get("errors_rad") or [], strict=False):
        facts.append((f"At that heading, {s['id']}", f"{e * DEG:+.2f}°".replace("-", "−")))
    return Worked((said("swing", "swing", words, verdict, HEADINGS, inputs),), tuple(facts))


sheet(
    "headings", "compass", "Swing as things move or switch",
    "How far is the heading wrong as steel moves or currents switch?",
    (
        EARTH,
        Field("states", "states", "The disturbance in each state", "table", needed=True, columns=(
            ident("State", "flaps down"),
            Field("field", "field", "x; y; z, µT", "number", "1", many=3, needed=True),
        )),
        Field("limit", "swing_limit_rad", "It may swing by", "angle", "deg", limit=True),
        Field("heading", "heading_rad", "Tell the errors at heading", "angle", "deg"),
    ),
    _headings, CAUTION,
)  # fmt: skip


def _pair(asked: Asked) -> Worked:
    inputs = asked.only("current_A", "distance_m", "spacing_m", "pitch_m")
    found = run(PAIR, inputs)
    rows = [{"id": "one wire alone", "µT": f"{found['single_T'] / MICRO:.3f}"},
            {"id": "feed and return together", "µT": f"{found['pair_T'] / MICRO:.4f}"}]  # fmt: skip
    if found.get("twisted_T") is not None:
        rows.append({"id": "twisted, at most", "µT": f"{found['twisted_T'] / MICRO:.5f}"})
    return Worked((), (), {"rows": rows, "rule": PAIR, "inputs": inputs})


sheet(
    "pair", "compass", "A pair, plain or twisted",
    "What does running feed and return together, and twisting them, gain?",
    (
        amps("current", "current_A", "Current", needed=True),
        Field("distance", "distance_m", "Distance of the sensor", "length", needed=True),
        Field("spacing", "spacing_m", "Between the wires’ centres", "length", "mm", needed=True),
        Field("pitch", "pitch_m", "Pitch of the twist", "length", "mm"),
    ),
    _pair, CAUTION,
)  # fmt: skip


def _place(asked: Asked) -> Worked:
    v = asked.values
    required = {r["id"]: r["least_m"] for r in v["required"]}
    items: dict[str, dict[str, Any]] = {}
    for r in v["items"]:
        one = items.setdefault(
            r["id"], {"name": r["id"], "class": r["class"], "positions_m": []}
            | plain(r, "radius_m")
        )  # fmt: skip
        one["positions_m"].append(triples(r["points_m"], "items"))
    inputs: dict[str, Any] = asked.only("sensor_m", "move_axis", "move_limit_m")
    inputs |= {"required_m": required, "items": list(items.values())}
    found = run(PLACE, inputs)
    checks = []
    excepted = {r["item"]: r["why"] for r in v.get("excepted", [])}
    for i in found["items"]:
        verdict = Verdict.IN if i["margin_m"] >= -1e-12 else Verdict.OUT
        words = f"{mm(i['distance_m'], 0)} away, at least {mm(i['required_m'], 0)}."
        if verdict is Verdict.OUT and i["name"] in excepted:
            verdict, words = Verdict.ACCEPTED, f"{words} Accepted: {excepted[i['name']]}."
        checks.append(said(f"item {i['name']}", i["name"], words, verdict, PLACE, inputs))
    facts = [("Nearest to its limit", found["governing"])]
    if found["verdict"] == "out" and "move_axis" in inputs:
        move = found["move_m"]
        told = "nowhere within reach" if move is None else f"by {mm(move, 0)} along the axis"
        facts.append(("It would do, moved", told))
    return Worked(tuple(checks), tuple(facts))


sheet(
    "sensor place", "compass", "Where the sensor goes",
    "Is everything magnetic far enough from it, and where would it be?",
    (
        AT,
        Field("required", "required", "Distances that its maker asks", "table", needed=True,
              limit=True, columns=(
            ident("Class", "small steel"),
            Field("least", "least_m", "Least", "length", needed=True),
        )),
        Field("items", "items", "What is magnetic; a row for each position of it", "table",
              needed=True, columns=(
            ident("Item", "rudder cable"),
            Field("class", "class", "Class", needed=True, hint="steel moving"),
            points("points", "points_m", "A point, or its line", needed=True),
            Field("radius", "radius_m", "Half its thickness", "length", "mm"),
        )),
        Field("excepted", "excepted", "Accepted on purpose", "table", columns=(
            Field("item", "item", "Item", needed=True),
            Field("why", "why", "Because", needed=True),
        )),
        Field("axis", "move_axis", "It could move along x; y; z", "number", "1", many=3,
              hint="1; 0; 0"),
        Field("reach", "move_limit_m", "By at most", "length"),
    ),
    _place, CAUTION,
)  # fmt: skip
