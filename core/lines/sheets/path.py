"""Fuel along one path from a tank to the engine: what each piece takes, whether enough arrives in
every attitude, and whether it arrives as liquid."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.lines import flow, fuel_flow, vapour  # noqa: F401
from core.lines.sheets.saying import TRADE, caution, deg, kpa, lph
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, lacking, run, said, unsaid

FLOWS, DROPS, BOILS = "lines.fuel_flow", "lines.pressure_drop", "lines.vapour_margin"
OF_ELEMENT = ("id", "bore_m", "length_m", "k", "roughness_m", "dp_ref_Pa", "q_ref_m3_s")
FLUID = ("density_kg_m3", "viscosity_Pa_s")
HIGHEST_M, WARMER_K = (0.0, 1500.0, 3000.0, 4500.0), (-10.0, 0.0, 10.0)
THIRD = "between laminar and turbulent: the true drop may differ by a third"


def _path(asked: Asked) -> Worked:
    pieces = asked.values["elements"]
    plain = [{k: e[k] for k in OF_ELEMENT if k in e} for e in pieces]
    flow_check, need = _flow(asked, plain)
    drops = run(DROPS, {"elements": plain, "flow_m3_s": need} | asked.only(*FLUID))
    boils, profile = _vapour(asked, pieces)
    rows = [
        {
            "id": e["id"],
            "loss": f"{e['loss_Pa']:.0f} Pa",
            "speed": "" if e.get("speed_m_s") is None else f"{e['speed_m_s']:.2f} m/s",
            "flow": THIRD if e.get("regime") == "transition" else e.get("regime") or "measured",
        }
        for e in drops["elements"]
    ]
    facts = (
        ("Lost along it at the required flow", kpa(drops["total_Pa"])),
        *profile,
    )
    figure: dict[str, Any] = {
        "rows": rows,
        "rule": DROPS,
        "inputs": {"elements": plain, "flow_m3_s": need} | asked.only(*FLUID),
    }
    if boils.rule:
        points = run(BOILS, boils.inputs)["points"]
        figure["pressure"] = [
            {"id": p["id"], "kPa": p["pressure_Pa"] / 1e3, "boils_kPa": p["vapour_Pa"] / 1e3,
             "U_kPa": p["U_Pa"] / 1e3}
            for p in points
        ]  # fmt: skip
    return Worked((flow_check, boils), facts, figure)


def _flow(asked: Asked, plain: list[dict[str, Any]]) -> tuple[Check, float]:
    v = asked.values
    inputs = asked.only(
        "takeoff_flow_m3_s", "feed", "fuel_surface_m", "outlet_m", *FLUID,
        "inlet_pressure_needed_Pa", "vent_pressure_Pa", "return_flow_m3_s",
    )  # fmt: skip
    inputs["elements"] = plain
    inputs["attitudes"] = v["attitudes"]
    if "pump_curve" in v:
        inputs["pump_curve"] = [[r["q"], r["p"]] for r in v["pump_curve"]]
    found = run(FLOWS, inputs)
    worst = inputs["attitudes"][found["worst"]]
    at = f"pitch {deg(worst.get('pitch_rad', 0.0))}, roll {deg(worst.get('roll_rad', 0.0))}"
    words = (
        f"{lph(found['achieved_m3_s'])} arrive at {at}; {lph(found['required_m3_s'])} are"
        f" required. The flow test decides."
    )
    check = said("flow", "fuel flow", words, Verdict(found["verdict"]), FLOWS, inputs)
    return check, found["required_m3_s"]


def _vapour(asked: Asked, pieces: list[dict[str, Any]]) -> tuple[Check, Iterable[tuple[str, str]]]:
    v = asked.values
    missing = lacking(v, ("altitude_m", "how high"), ("flow_m3_s", "what the engine takes there"))
    if any("end_m" not in e or "temperature_K" not in e for e in pieces):
        missing.append("where each piece ends and how warm the fuel is there")
    if "rvp_Pa" not in v and "vapour_curve" not in v:
        missing.append("the fuel’s vapour pressure")
    if missing:
        return unsaid("vapour", "vapour margin", *missing), ()
    inputs = {"elements": pieces} | asked.only(
        "fuel_surface_m", "flow_m3_s", *FLUID, "altitude_m", "pitch_rad", "roll_rad",
        "vent_pressure_Pa", "rvp_Pa", "fuel", "vapour_rel_U", "margin_wanted_Pa",
        "return_flow_m3_s",
    )  # fmt: skip
    if "vapour_curve" in v:
        inputs["vapour_curve"] = [[r["t"], r["p"]] for r in v["vapour_curve"]]
    found = run(BOILS, inputs)
    least = found["least_margin_Pa"]
    words = (
        f"Least {kpa(least)} above boiling, at {found['least_at']}."
        if least >= 0
        else f"It boils: {kpa(-least)} short at {found['least_at']}."
    )
    check = said("vapour", "vapour margin", words, Verdict(found["verdict"]), BOILS, inputs)
    return check, _profile(inputs)


def _profile(inputs: Mapping[str, Any]) -> Iterable[tuple[str, str]]:
    """The least margin over altitude and temperature, in words."""
    for warmer in WARMER_K:
        told = []
        for height in HIGHEST_M:
            pieces = [
                e | {"temperature_K": e["temperature_K"] + warmer} for e in inputs["elements"]
            ]
            try:
                found = run(BOILS, {**inputs, "elements": pieces, "altitude_m": height})
            except Refused:
                told.append(f"{height:.0f} m: beyond the vapour pressures known")
                continue
            told.append(f"{height:.0f} m: {kpa(found['least_margin_Pa'])}")
        name = "as entered" if warmer == 0 else f"{warmer:+.0f} °C".replace("-", "−")
        yield f"Least margin, fuel {name}", "; ".join(told)


WHERE, FEED, HOT = "Where it flows", "Feed and pump", "Whether it stays liquid"
declare(
    Kind(
        "fuel path",
        TRADE,
        "fuel",
        "Flow and vapour along a path",
        "Does enough fuel arrive in every attitude, and does it arrive as liquid?",
        (
            Field(
                "elements", "elements", "From the tank to the engine, in order", "table",
                needed=True,
                columns=(
                    Field("id", "id", "Piece", needed=True, hint="wing tube"),
                    Field("bore", "bore_m", "Bore", "length"),
                    Field("length", "length_m", "Length", "length"),
                    Field("k", "k", "Loss coefficient", "number", "1"),
                    Field("rough", "roughness_m", "Roughness", "length"),
                    Field("dp", "dp_ref_Pa", "Measured drop", "pressure", "Pa"),
                    Field("q", "q_ref_m3_s", "At a flow of", "flow", "l/h"),
                    Field("end", "end_m", "Ends at: st; bl; wl", "length", many=3),
                    Field("t", "temperature_K", "Fuel there", "temperature", "C"),
                ),
            ),
            Field("takeoff", "takeoff_flow_m3_s", "The engine takes at take-off", "flow", "l/h",
                  "28 l/h", needed=True),
            Field("feed", "feed", "Fed by", "choice", needed=True,
                  choices=(("gravity", "gravity"), ("pump", "a pump"))),
            Field("density", "density_kg_m3", "Density of the fuel, kg/m³", "number", "1",
                  "720", needed=True),
            Field("viscosity", "viscosity_Pa_s", "Its viscosity, mPa·s", "number", "1", "0.52",
                  needed=True, scale=1e-3),
            Field("surface", "fuel_surface_m", "Surface of unusable fuel: st; bl; wl", "length",
                  many=3, needed=True, under=WHERE),
            Field("outlet", "outlet_m", "The line ends at: st; bl; wl", "length", many=3,
                  needed=True, under=WHERE),
            Field(
                "attitudes", "attitudes", "Attitudes in which it must feed", "table",
                needed=True, under=WHERE,
                columns=(
                    Field("pitch", "pitch_rad", "Pitch, nose up +", "angle", "deg", needed=True),
                    Field("roll", "roll_rad", "Roll, right wing down +", "angle", "deg"),
                ),
            ),
            Field("inlet", "inlet_pressure_needed_Pa", "Needed where it ends", "pressure", "kPa",
                  under=FEED, limit=True),
            Field("vent", "vent_pressure_Pa", "In the tank, over outside", "pressure", "Pa",
                  under=FEED),
            Field("returns", "return_flow_m3_s", "Goes back to the tank", "flow", "l/h",
                  under=FEED),
            Field(
                "pump", "pump_curve", "The pump’s curve, from no flow on", "table", under=FEED,
                columns=(
                    Field("q", "q", "Flow", "flow", "l/h", needed=True),
                    Field("p", "p", "Rise", "pressure", "kPa", needed=True),
                ),
            ),
            Field("altitude", "altitude_m", "At a pressure altitude of", "length", "m",
                  "10000 ft", under=HOT),
            Field("flow", "flow_m3_s", "The engine takes there", "flow", "l/h", under=HOT),
            Field("pitch", "pitch_rad", "Pitch there", "angle", "deg", under=HOT),
            Field("rvp", "rvp_Pa", "Reid vapour pressure", "pressure", "kPa", under=HOT,
                  limit=True),
            Field("fuel", "fuel", "Fuel", "choice", under=HOT,
                  choices=(("aviation gasoline", "aviation gasoline"),
                           ("motor gasoline", "motor gasoline without ethanol"))),
            Field(
                "curve", "vapour_curve", "Or its measured vapour pressure", "table", under=HOT,
                columns=(
                    Field("t", "t", "Temperature", "temperature", "C", needed=True),
                    Field("p", "p", "Pressure", "pressure", "kPa", needed=True),
                ),
            ),
            Field("curve_u", "vapour_rel_U", "U of that curve, %", "number", "1", scale=0.01,
                  under=HOT),
            Field("wanted", "margin_wanted_Pa", "Least margin wanted", "pressure", "kPa",
                  under=HOT),
        ),
        _path,
        caution(FLOWS) + " " + caution(BOILS),
    )
)  # fmt: skip
