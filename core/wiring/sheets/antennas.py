"""Coax, ground planes, antennas apart, and what they see of the sky."""

from __future__ import annotations

from typing import Any

from core.wiring import antennas  # noqa: F401
from core.wiring.sheets.asking import (
    Asked,
    Field,
    Verdict,
    Worked,
    ident,
    number,
    plain,
    run,
    said,
    sheet,
    shown,
)  # fmt: skip
from core.wiring.sheets.bundles import mm
from core.wiring.words import CAUTION

COAX, ANTENNA, SKY = "wiring.coax_loss", "wiring.antenna", "wiring.sky_view"
DEG = 57.29577951308232


def _coax(asked: Asked) -> Worked:
    inputs = asked.only("length_m", "loss_dB_per_m", "connector_dB", "vswr")
    found = run(COAX, inputs)
    words = f"{found['delivered_fraction']:.0%} arrives: {found['total_dB']:.2f} dB lost."
    most = asked.values.get("most_dB")
    if most is None:
        verdict, words = Verdict.NOT_MEASURED, words + " Not said how much may be lost."
    else:
        verdict = Verdict.IN if found["total_dB"] <= most else Verdict.OUT
        words += f" At most {most:.2f} dB."
    return Worked((said("loss", "loss", words, verdict, COAX, inputs),))


sheet(
    "coax", "antennas", "What the coax loses", "How much of the power arrives at the antenna?",
    (
        Field("length", "length_m", "Length of the coax", "length", "m", needed=True),
        number("loss", "loss_dB_per_m", "Loss at this frequency, dB/m", needed=True, limit=True),
        Field("connectors", "connector_dB", "Of each connector, dB", "number", "1", many=0,
              hint="0.1; 0.1"),
        number("vswr", "vswr", "Standing wave ratio"),
        number("most", "most_dB", "It may lose, dB", limit=True),
    ),
    _coax, CAUTION,
)  # fmt: skip


def _antennas(asked: Asked) -> Worked:
    v = asked.values
    inputs: dict[str, Any] = asked.only("frequency_Hz", "ground_plane_radius_m")
    inputs["antennas_m"] = {a["id"]: a["at_m"] for a in v.get("antennas", [])}
    inputs["separations"] = [
        {"between": [s["a"], s["b"]]} | plain(s, "least_m", "U_m") for s in v.get("apart", [])
    ]
    found = run(ANTENNA, inputs)
    checks = []
    plane = found["ground_plane"]
    quarter = mm(found["quarter_wave_m"], 0)
    if plane is None:
        words = f"Not said how large it is; a quarter wave is {quarter}."
        checks.append(said("plane", "ground plane", words, Verdict.NOT_MEASURED))
    else:
        words = (
            f"{mm(inputs['ground_plane_radius_m'], 0)} on all sides, a quarter wave is {quarter}."
        )
        checks.append(said("plane", "ground plane", words, Verdict(plane), ANTENNA, inputs))
    for s, row in zip(found["separations"], v.get("apart", []), strict=True):
        name = " and ".join(s["between"])
        words = f"{mm(s['distance_m'], 0)} apart, at least {mm(row['least_m'], 0)}."
        missing = [] if "U_m" in row else ["how well the distance is known"]
        verdict, words = shown(s["verdict"], words, missing)
        checks.append(said(f"apart {name}", name, words, verdict, ANTENNA, inputs))
    return Worked(tuple(checks))


sheet(
    "antenna", "antennas", "Ground plane and antennas apart",
    "Is the ground plane large enough, and are the antennas far enough apart?",
    (
        number("frequency", "frequency_Hz", "Frequency, MHz", scale=1e6, needed=True),
        Field("plane", "ground_plane_radius_m", "Ground plane, least on all sides", "length"),
        Field("antennas", "antennas", "Antennas", "table", columns=(
            ident("Antenna", "com"), Field("at", "at_m", "At", "length", many=3, needed=True),
        )),
        Field("apart", "apart", "Which stay apart", "table", limit=True, columns=(
            Field("a", "a", "Antenna", needed=True), Field("b", "b", "From", needed=True),
            Field("least", "least_m", "By", "length", needed=True),
            Field("u", "U_m", "U", "length"),
        )),
    ),
    _antennas, CAUTION,
)  # fmt: skip


def _sky(asked: Asked) -> Worked:
    v = asked.values
    inputs: dict[str, Any] = asked.only("antenna_m", "mask_rad", "least_free")
    inputs["attitudes"] = [plain(a, "pitch_rad", "roll_rad") for a in v["attitudes"]]
    inputs["boxes"] = [plain(b, "id", "min_m", "max_m") for b in v.get("boxes", [])]
    inputs["segments"] = [plain(s, "id", "a_m", "b_m", "radius_m") for s in v.get("segments", [])]
    found = run(SKY, inputs)
    words = f"Sees {found['free']:.0%} of the sky at the worst, row {found['worst'] + 1}."
    if "least_free" in inputs:
        verdict = Verdict(found["verdict"])
        words += f" At least {inputs['least_free']:.0%}."
    else:
        verdict, words = Verdict.NOT_MEASURED, words + " Not said how much it must see."
    facts = []
    for a in found["attitudes"]:
        name = f"Pitch {a['pitch_rad'] * DEG:.0f}°, roll {a['roll_rad'] * DEG:.0f}°"
        told = f"{a['free']:.0%}"
        if a["worst_azimuth_rad"] is not None:
            told += f"; worst at {a['worst_azimuth_rad'] * DEG:.0f}° clockwise from ahead"
        facts.append((name.replace("-", "−"), told))
    return Worked((said("sky", "sky", words, verdict, SKY, inputs),), tuple(facts))


sheet(
    "sky", "antennas", "What the antenna sees of the sky",
    "How much of the sky does the airframe hide, and where?",
    (
        Field("at", "antenna_m", "Antenna: station; butt line; water line", "length", many=3,
              needed=True),
        Field("attitudes", "attitudes", "As it flies", "table", needed=True, columns=(
            Field("pitch", "pitch_rad", "Nose up", "angle", "deg", needed=True),
            Field("roll", "roll_rad", "Right wing down", "angle", "deg"),
        )),
        Field("boxes", "boxes", "Boxes of the airframe", "table", columns=(
            ident("Box", "fin"), Field("low", "min_m", "Low corner", "length", many=3, needed=True),
            Field("high", "max_m", "High corner", "length", many=3, needed=True),
        )),
        Field("rods", "segments", "Masts and struts", "table", columns=(
            ident("Mast", "mast"), Field("a", "a_m", "One end", "length", many=3, needed=True),
            Field("b", "b_m", "Other end", "length", many=3, needed=True),
            Field("radius", "radius_m", "Its radius", "length", "mm", needed=True),
        )),
        Field("mask", "mask_rad", "Lowest elevation that counts", "angle", "deg"),
        number("least", "least_free", "It must see, %", scale=0.01, limit=True),
    ),
    _sky, CAUTION,
)  # fmt: skip
