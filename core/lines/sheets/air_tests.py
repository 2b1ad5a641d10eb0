"""Testing pitot and static lines: what the instruments endure, the water column, the leak; and
whether the probe stands firm."""

from __future__ import annotations

from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.lines import leak, pitot  # noqa: F401
from core.lines.sheets.saying import DEG, TRADE, caution, deg, kpa, mm
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

KNOT, FOOT_MIN, FOOT = 0.5144444444444445, 0.00508, 0.3048
LADDER_KT = (40, 50, 60, 70, 80, 90, 100, 110, 120, 140, 160, 180, 200)


def _density(asked: Asked) -> dict[str, Any]:
    return asked.only("liquid_density_kg_m3")


def _endure(asked: Asked, pitot_Pa: float, static_Pa: float, aoa_Pa: float = 0.0) -> Check:
    """Whether every connected instrument endures this point: refused by the rule, out here."""
    inputs: dict[str, Any] = {"instruments": asked.values["instruments"]}
    inputs |= {"pitot_Pa": pitot_Pa, "static_Pa": static_Pa, "aoa_Pa": aoa_Pa}
    inputs |= asked.only("station_pressure_Pa")
    origins = {"pitot_Pa": "worked out on this sheet", "static_Pa": "worked out on this sheet",
               "aoa_Pa": "worked out on this sheet"}  # fmt: skip
    try:
        run("lines.test_point", inputs)
    except Refused as refusal:
        words = f"Do not: {refusal.reason}. Disconnect it first, or test lower."
        return said("endures", "connected instruments", words, Verdict.OUT)
    names = ", ".join(i["id"] for i in inputs["instruments"])
    words = f"Connected and within their limits: {names}."
    return said(
        "endures", "connected instruments", words, Verdict.IN, "lines.test_point", inputs,
        origins=origins,
    )  # fmt: skip


def _pitot(asked: Asked) -> Worked:
    speed = asked.values["airspeed_m_s"]
    column = run("lines.pitot_column", {"airspeed_m_s": speed} | _density(asked))
    angle, more = 0.0, []
    if asked.has("port_coefficient"):
        inputs = asked.only("airspeed_m_s", "port_coefficient") | _density(asked)
        port = run("lines.aoa_pressure", inputs)
        angle = port["port_gauge_Pa"]
        more = [
            ("Angle-of-attack port", f"{angle:.0f} Pa".replace("-", "−")),
            ("Column between pitot and that port", mm(port["column_m"])),
        ]
    facts = [
        ("Pressure on the pitot line", kpa(column["impact_Pa"])),
        ("Water column", mm(column["column_m"])),
        *more,
    ]
    ladder = [
        {"kt": kt, "mm": run("lines.pitot_column", {"airspeed_m_s": kt * KNOT} | _density(asked))[
            "column_m"] * 1e3}
        for kt in LADDER_KT
        if kt * KNOT <= 1.5 * speed
    ]  # fmt: skip
    checks = [_endure(asked, column["impact_Pa"], 0.0, angle), _pitot_leak(asked)]
    return Worked(tuple(checks), tuple(facts), {"ladder": ladder})


def _pitot_leak(asked: Asked) -> Check:
    inputs = asked.only(
        "start_airspeed_m_s", "end_airspeed_m_s", "duration_s", "allowed_m_s_per_min",
        "u_airspeed_m_s",
    )  # fmt: skip
    missing = lacking(
        inputs,
        ("start_airspeed_m_s", "speed at the start"),
        ("end_airspeed_m_s", "at the end"),
        ("duration_s", "how long"),
        ("allowed_m_s_per_min", "what is allowed"),
        ("u_airspeed_m_s", "how well the speed is read"),
    )
    if missing:
        return unsaid("leak", "leak of the pitot line", *missing)
    found = run("lines.pitot_leak", inputs)
    drop, U = (found[k] / KNOT for k in ("drop_m_s_per_min", "U_m_s_per_min"))
    most = inputs["allowed_m_s_per_min"] / KNOT
    words = f"Falls {drop:.1f} ± {U:.1f} kt in the first minute; allowed {most:.1f} kt."
    return said(
        "leak", "leak of the pitot line", words, Verdict(found["verdict"]), "lines.pitot_leak",
        inputs,
    )  # fmt: skip


def _static(asked: Asked) -> Worked:
    inputs = asked.only("station_pressure_Pa", "climb_m") | _density(asked)
    found = run("lines.static_suction", inputs)
    facts = (
        ("Suction for that climb", kpa(found["suction_Pa"])),
        ("Water column", mm(found["column_m"])),
        (
            "The field stands at a pressure altitude of",
            f"{found['field_pressure_altitude_m']:.0f} m",
        ),
        (
            "If the pitot stays open, the airspeed shows",
            f"{found['asi_if_pitot_open_m_s'] / KNOT:.0f} kt: join pitot and static",
        ),
    )
    joined = asked.values.get("pitot_joined")
    at = -found["suction_Pa"]
    checks = [_endure(asked, at if joined else 0.0, at), _static_leak(asked)]
    return Worked(tuple(checks), facts)


def _static_leak(asked: Asked) -> Check:
    inputs = asked.only(
        "field_altitude_m", "start_altitude_m", "end_altitude_m", "duration_s", "u_altitude_m"
    )
    missing = lacking(
        inputs,
        ("field_altitude_m", "altimeter on the field"),
        ("start_altitude_m", "at the start"),
        ("end_altitude_m", "at the end"),
        ("duration_s", "how long"),
        ("u_altitude_m", "how well it is read"),
    )
    if missing:
        return unsaid("leak", "leak of the static line", *missing)
    found = run("lines.static_leak", inputs)
    loss, U = found["loss_m_per_min"] / FOOT, found["U_m_per_min"] / FOOT
    words = f"Falls {loss:.0f} ± {U:.0f} ft in the first minute; 100 ft are allowed."
    return said(
        "leak", "leak of the static line", words, Verdict(found["verdict"]), "lines.static_leak",
        inputs,
    )  # fmt: skip


def _instruments() -> Field:
    return Field(
        "instruments", "instruments", "Instruments that stay connected, with their limits",
        "table", needed=True,
        columns=(
            Field("id", "id", "Instrument", needed=True, hint="airspeed"),
            Field("speed", "max_airspeed_m_s", "Highest airspeed", "speed", "kt"),
            Field("high", "max_altitude_m", "Highest altitude", "length", "m", hint="20000 ft"),
            Field("low", "min_altitude_m", "Lowest", "length", "m", hint="-1000 ft"),
            Field("rate", "max_rate_m_s", "Greatest rate", "speed", "ft/min"),
            Field("aoa", "max_aoa_Pa", "Between pitot and angle port", "pressure", "kPa"),
        ),
    )  # fmt: skip


LIQUID = Field("liquid", "liquid_density_kg_m3", "Liquid of the column, kg/m³ (none: water)",
               "number", "1")  # fmt: skip
STATION = Field("station", "station_pressure_Pa", "Barometer at the field", "pressure", "hPa",
                "989 hPa", needed=True)  # fmt: skip
READ = "What was read"
declare(
    Kind(
        "pitot test",
        TRADE,
        "air data",
        "Test of the pitot line",
        "How high is the column for this airspeed, do the instruments endure it, does it leak?",
        (
            Field("speed", "airspeed_m_s", "Test at an airspeed of", "speed", "kt", "100 kt",
                  needed=True),
            _instruments(),
            LIQUID,
            Field("port", "port_coefficient", "Angle port’s coefficient, −3 to 1", "number", "1"),
            Field("start", "start_airspeed_m_s", "Speed at the start", "speed", "kt", under=READ),
            Field("end", "end_airspeed_m_s", "At the end", "speed", "kt", under=READ),
            Field("seconds", "duration_s", "After, s", "number", "1", "60", under=READ),
            Field("u", "u_airspeed_m_s", "u of a reading", "speed", "kt", "0.3 kt", under=READ),
            Field("allowed", "allowed_m_s_per_min", "Allowed in the first minute", "speed", "kt",
                  limit=True, under=READ),
        ),
        _pitot,
        caution("lines.test_point"),
        "test",
        to_scale=True,
    )
)  # fmt: skip
declare(
    Kind(
        "static test",
        TRADE,
        "air data",
        "Test of the static line",
        "How much suction for this climb, do the instruments endure it, does it leak?",
        (
            STATION,
            Field("climb", "climb_m", "Test at a climb of", "length", "m", "1000 ft", needed=True),
            Field("joined", "pitot_joined", "Pitot and static are joined for it", "yes"),
            _instruments(),
            LIQUID,
            Field("field", "field_altitude_m", "Altimeter on the field", "length", "m",
                  under=READ),
            Field("start", "start_altitude_m", "At the start", "length", "m", under=READ),
            Field("end", "end_altitude_m", "At the end", "length", "m", under=READ),
            Field("seconds", "duration_s", "After, s", "number", "1", "60", under=READ),
            Field("u", "u_altitude_m", "u of a reading", "length", "m", "5 ft", under=READ),
        ),
        _static,
        caution("lines.test_point"),
        "test",
    )
)  # fmt: skip


def _probe(asked: Asked) -> Worked:
    inputs = asked.only(
        "test_load_N", "test_arm_m", "deflection_m", "deflection_arm_m", "load_N", "load_arm_m",
        "allowed_rad", "slope_factor", "u_test_load_N", "u_deflection_m", "u_arm_m", "u_load_N",
    )  # fmt: skip
    found = run("lines.probe_rigidity", inputs)
    words = f"Turns {found['angle_rad'] * DEG:.2f} ± {found['U_rad'] * DEG:.2f}° under that load;"
    words += f" allowed {deg(inputs['allowed_rad'])}."
    missing = lacking(
        inputs,
        ("u_test_load_N", "the push"),
        ("u_deflection_m", "the movement"),
        ("u_arm_m", "the arms"),
        ("u_load_N", "the load"),
    )
    verdict, words = known_to(Verdict(found["verdict"]), words, missing)
    check = said("probe", "probe", words, verdict, "lines.probe_rigidity", inputs)
    facts = (
        ("Stiffness of its mount", f"{found['stiffness_Nm_per_rad']:.0f} N·m/rad"),
        ("Moves under that load, where it was read", mm(found["deflection_m"], 2)),
    )
    return Worked((check,), facts)


PUSH, SURE = "Under the load", "How well these are known"
declare(
    Kind(
        "probe",
        TRADE,
        "air data",
        "Does the probe stand firm?",
        "How far does it turn under air load or a hand, from a push with a known force?",
        (
            Field("push", "test_load_N", "Pushed with", "force", "N", "20 N", needed=True),
            Field("arm", "test_arm_m", "At, from its root", "length", hint="180", needed=True),
            Field("moved", "deflection_m", "It moved", "length", hint="1.1", needed=True),
            Field("read", "deflection_arm_m", "Read at, from its root", "length", needed=True),
            Field("load", "load_N", "Air load or a hand", "force", "N", needed=True, under=PUSH),
            Field("load_arm", "load_arm_m", "At, from its root", "length", needed=True,
                  under=PUSH),
            Field("allowed", "allowed_rad", "It may turn by", "angle", "deg", needed=True,
                  limit=True, under=PUSH),
            Field("factor", "slope_factor", "1: stiff mast on a soft mount; 1.5: the mast bends",
                  "number", "1", under=PUSH),
            Field("u_push", "u_test_load_N", "u of the push", "force", "N", under=SURE),
            Field("u_moved", "u_deflection_m", "u of the movement", "length", under=SURE),
            Field("u_arm", "u_arm_m", "u of each arm", "length", under=SURE),
            Field("u_load", "u_load_N", "u of the load", "force", "N", under=SURE),
        ),
        _probe,
        caution("lines.probe_rigidity"),
    )
)  # fmt: skip
