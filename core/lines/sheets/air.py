"""Pitot, static and angle lines as they are joined, and how late the instruments are."""

from __future__ import annotations

from collections.abc import Iterable

from core.lines import pitot, pitot_topology  # noqa: F401
from core.lines.sheets.saying import TRADE, caution, connections, joined, schematic
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, run

JOINED, LAG = "lines.pitot_static_topology", "lines.line_lag"
WORDS = {
    "port_open": "{} leads nowhere: no line is joined to it.",
    "port_multiple": "{} has more than one line on it.",
    "spare_end_open": "{}: the end of a spare tube is open; cap it.",
    "spare_connected": "{} is a spare and is joined to the system.",
    "sources_joined": "{} are joined to each other.",
    "no_source": "{} gets no air of any port.",
    "wrong_source": "{} gets the air of another kind of port: they are swapped.",
    "no_drain": "Water in the {} line cannot drain.",
}
KINDS = (
    ("pitot_probe", "pitot probe"), ("static_port", "static port"),
    ("aoa_port", "angle-of-attack port"), ("airspeed", "airspeed indicator"),
    ("altimeter", "altimeter"), ("vertical_speed", "vertical speed indicator"),
    ("encoder", "encoder"), ("air_data", "air data box with angle of attack"), ("tee", "tee"),
    ("drain", "drain"), ("cap", "cap"), ("spare", "spare tube"),
)  # fmt: skip


def _air(asked: Asked) -> Worked:
    inputs = asked.only("components", "connections")
    found = run(JOINED, inputs)["findings"]
    fine = "Each instrument gets its own air, and each line drains."
    checks = joined(found, WORDS, JOINED, inputs, fine, "air data")
    return Worked(tuple(checks), tuple(_late(asked)), schematic(inputs, found, WORDS))


def _late(asked: Asked) -> Iterable[tuple[str, str]]:
    """How far each tube makes its instrument late, in words."""
    if not asked.has("segments", "altitude_m"):
        return
    inputs = asked.only("altitude_m", "vertical_speed_m_s", "temperature_K")
    rows = asked.values["segments"]
    inputs["segments"] = [{"parent": None} | row for row in rows]
    found = run(LAG, inputs)
    for name, s in found["segments"].items():
        late = max(s["lag_s"], s["acoustic_s"]) * 1e3
        off = (
            f", altimeter {abs(s['altitude_error_m']):.2f} m behind"
            if ("vertical_speed_m_s" in inputs)
            else ""
        )
        yield f"{name}: late by", f"{late:.0f} ms{off}"


DELAY = "How late the instruments are"
declare(
    Kind(
        "air data",
        TRADE,
        "air data",
        "Pitot, static and angle lines",
        "Does each instrument get its own air, does each line drain, how late are they?",
        (
            Field(
                "parts", "components", "Parts", "table", needed=True,
                columns=(
                    Field("id", "id", "Part", needed=True, hint="probe"),
                    Field("kind", "kind", "Kind", "choice", needed=True, choices=KINDS),
                ),
            ),
            connections(),
            Field("altitude", "altitude_m", "At an altitude of", "length", "m", "5000 ft",
                  under=DELAY),
            Field("climb", "vertical_speed_m_s", "Climbing at", "speed", "ft/min", under=DELAY),
            Field(
                "segments", "segments", "Tubes from the port on", "table", under=DELAY,
                columns=(
                    Field("id", "id", "Tube", needed=True),
                    Field("parent", "parent", "Hangs on (none: the port)"),
                    Field("length", "length_m", "Length", "length", needed=True),
                    Field("bore", "bore_m", "Bore", "length", needed=True),
                    Field("end", "end_volume_m3", "Instrument’s volume", "volume", "ml"),
                ),
            ),
        ),
        _air,
        caution(JOINED),
        "test",
        starters={
            "Probe, static port, three instruments": {
                "parts": [
                    {"id": "probe", "kind": "pitot_probe"},
                    {"id": "static port", "kind": "static_port"},
                    {"id": "airspeed", "kind": "airspeed"},
                    {"id": "altimeter", "kind": "altimeter"},
                    {"id": "vertical speed", "kind": "vertical_speed"},
                    {"id": "T1", "kind": "tee"},
                    {"id": "T2", "kind": "tee"},
                    {"id": "T3", "kind": "tee"},
                    {"id": "T4", "kind": "tee"},
                    {"id": "pitot drain", "kind": "drain"},
                    {"id": "static drain", "kind": "drain"},
                ],
                "lines": [
                    {"id": "P1", "a": "probe.pitot", "b": "T1.a"},
                    {"id": "P2", "a": "T1.b", "b": "airspeed.pitot"},
                    {"id": "P3", "a": "T1.c", "b": "pitot drain.a"},
                    {"id": "S1", "a": "static port.static", "b": "T2.a"},
                    {"id": "S2", "a": "T2.b", "b": "static drain.a"},
                    {"id": "S3", "a": "T2.c", "b": "T3.a"},
                    {"id": "S4", "a": "T3.b", "b": "airspeed.static"},
                    {"id": "S5", "a": "T3.c", "b": "T4.a"},
                    {"id": "S6", "a": "T4.b", "b": "altimeter.static"},
                    {"id": "S7", "a": "T4.c", "b": "vertical speed.static"},
                ],
            }
        },
    )
)  # fmt: skip
