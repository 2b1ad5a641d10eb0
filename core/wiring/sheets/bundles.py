"""Bundles: thickness, load and bend; ties; what wires keep away from; noisy and quiet ones."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from core.wiring import bundles, separation  # noqa: F401
from core.wiring.sheets.asking import (
    RATED,
    Asked,
    Check,
    Field,
    Verdict,
    Worked,
    amps,
    awg,
    checked,
    ident,
    number,
    plain,
    points,
    run,
    said,
    sheet,
    shown,
    triples,
    yes,
)  # fmt: skip
from core.wiring.words import CAUTION, TIES

THICK, LOAD, BEND = "wiring.bundle_diameter", "wiring.bundle_load", "wiring.bend_radius"
TIED, FLUID = "wiring.ties", "wiring.fluid_separation"
CONTROL, NOISE = "wiring.control_cable_separation", "wiring.segregation"


def mm(metres: float, digits: int = 1) -> str:
    """A length in mm."""
    return f"{metres * 1e3:.{digits}f} mm".replace("-", "−")


def _bundle(asked: Asked) -> Worked:
    v = asked.values
    inputs: dict[str, Any] = asked.only("k", "wrap_m", "conduit_id_m", "conduit_ratio")
    inputs["od_m"] = [w["od_m"] for w in v["wires"]]
    found = run(THICK, inputs)
    checks = [_conduit(asked, found, inputs), *_load(asked), *_bend(asked, found)]
    facts = (
        ("About as thick as", mm(found["diameter_m"])),
        ("A conduit needs, inside", mm(found["least_conduit_id_m"])),
    )
    return Worked(tuple(c for c in checks if c is not None), facts)


def _conduit(asked: Asked, found: dict[str, Any], inputs: dict[str, Any]) -> Check | None:
    if found["verdict"] is None:
        return None
    words = (
        f"{mm(inputs['conduit_id_m'])} inside, at least {mm(found['least_conduit_id_m'])};"
        f" {found['fill']:.0%} full."
    )
    return said("conduit", "conduit", words, Verdict(found["verdict"]), THICK, inputs)


def _load(asked: Asked) -> Iterable[Check]:
    rows = [w for w in asked.values["wires"] if {"awg", "rating_C", "current_A"} <= w.keys()]
    if len(rows) < len(asked.values["wires"]):
        words = "Not said of every wire: gauge, rating and current."
        yield said("load", "load", words, Verdict.NOT_MEASURED)
        return
    inputs = {
        "wires": [
            {"awg": w["awg"], "rating_C": int(w["rating_C"]), "current_A": w["current_A"]}
            for w in rows
        ]
    } | asked.only("limit")
    found = run(LOAD, inputs)
    words = f"{found['share']:.0%} of its capacity in use, the table holds to {found['limit']:.0%}."
    if found["enter"]:
        words += " Enter a derating of the table with its circuits."
    yield said("load", "load", words, Verdict(found["verdict"]), LOAD, inputs)


def _bend(asked: Asked, bundle: dict[str, Any]) -> Iterable[Check]:
    inputs = asked.only("radius_m", "U_m", "kind", "coax_multiple")
    if "radius_m" not in inputs:
        yield said("bend", "tightest bend", "Not said how tightly it bends.", Verdict.NOT_MEASURED)
        return
    inputs["largest_od_m"] = max(w["od_m"] for w in asked.values["wires"])
    found = run(BEND, inputs)
    words = f"{mm(inputs['radius_m'])} inside, at least {mm(found['least_m'])}."
    missing = [] if "U_m" in inputs else ["how well the radius is known"]
    verdict, words = shown(found["verdict"], words, missing)
    yield said("bend", "tightest bend", words, verdict, BEND, inputs)


CONDUIT, BENT = "Wrap and conduit", "Its tightest bend"
KINDS = (("wire", "bundle"), ("supported", "at a terminal, supported"), ("coax", "coax"),
         ("coax semi-rigid", "semi-rigid coax"))  # fmt: skip
sheet(
    "bundle", "bundles", "Bundle", "How thick does it get, how loaded is it, may it bend so?",
    (
        Field("wires", "wires", "Wires of the bundle", "table", needed=True, columns=(
            Field("id", "id", "Wire", hint="W12"),
            Field("od", "od_m", "Outside diameter", "length", "mm", needed=True),
            awg("awg", "awg", "Gauge"),
            Field("rating", "rating_C", "Rated", "choice", choices=RATED),
            amps("current", "current_A", "Current"),
        )),
        number("limit", "limit", "Share of the capacity, %", scale=0.01, hint="20", limit=True),
        number("k", "k", "Packing factor", under=CONDUIT, hint="1.25"),
        Field("wrap", "wrap_m", "Thickness of its wrap", "length", "mm", under=CONDUIT),
        Field("conduit", "conduit_id_m", "Conduit, inside", "length", "mm", under=CONDUIT),
        number("ratio", "conduit_ratio", "Conduit over bundle", under=CONDUIT, hint="1.25"),
        Field("kind", "kind", "It is", "choice", choices=KINDS, under=BENT),
        Field("radius", "radius_m", "Inside of its tightest bend", "length", "mm", under=BENT),
        Field("u", "U_m", "U of that", "length", "mm", under=BENT),
        number("multiple", "coax_multiple", "Coax: its maker’s multiple", under=BENT, limit=True),
    ),
    _bundle, CAUTION, "clearance",
)  # fmt: skip

FINDINGS = {
    "temporary_tie": "is temporary: take it off or replace it",
    "only_separation_from_fuel": "is all that keeps it off a fuel line: a tie is no clamp",
    "tight_on_coax": "is drawn tight on a coax",
    "tie_over_moving_parts": "is over moving parts",
    "tie_in_hot_zone": "is plastic in a hot zone",
    "other_school": "is of the other school",
}


def _ties(asked: Asked) -> Worked:
    inputs: dict[str, Any] = asked.only(
        "length_m", "diameter_m", "school", "spacing_m", "ends_held"
    )
    if "spacing_m" in inputs:
        inputs["source"] = asked.cited or "entered on this sheet"
    inputs["fitted"] = [
        plain(t, "id", "at_m", "kind", "place", "tight") for t in asked.values.get("fitted", [])
    ]
    found = run(TIED, inputs)
    told = [f"{name} {FINDINGS[code]}" for code, name in found["findings"]]
    if found["to_add"]:
        told.append(f"{found['to_add']} more are wanted, every {mm(found['spacing_m'], 0)}")
    words = "; ".join(told) or f"Longest without one {mm(found['worst_span_m'], 0)}."
    words = f"{words[:1].upper()}{words[1:]}" + ("" if words.endswith(".") else ".")
    verdict = Verdict(found["verdict"])
    facts = (("Wanted along the whole length", str(found["needed"])),)
    return Worked((said("ties", "ties", words, verdict, TIED, inputs),), facts)


PLACES = "coax dielectric; only separation from fuel; moving parts; hot zone"
sheet(
    "ties", "bundles", "Ties or lacing", "How many ties, and which of those fitted are wrong?",
    (
        Field("length", "length_m", "Bundle between its ends", "length", needed=True),
        Field("thick", "diameter_m", "Its thickness", "length", "mm", needed=True),
        Field("school", "school", "School", "choice", needed=True,
              choices=(("ties", "ties, one strap a place"), ("lacing", "lacing, flat cord"))),
        yes("held", "ends_held", "A clamp at each end"),
        Field("spacing", "spacing_m", "Spacing of your own", "length", limit=True),
        Field("fitted", "fitted", "Those that are there", "table", columns=(
            ident("Tie", "t1"), Field("at", "at_m", "At", "length", needed=True),
            Field("kind", "kind", "It is", "choice", needed=True,
                  choices=(("tie", "a tie"), ("lacing", "lacing"), ("temporary", "temporary"))),
            Field("place", "place", "There is", "words", hint=PLACES),
            yes("tight", "tight", "Drawn tight"),
        )),
    ),
    _ties, CAUTION + TIES, "clearance",
)  # fmt: skip


def _apart(asked: Asked) -> Worked:
    checks = []
    for row in asked.values["rows"]:
        fluid = row["of"] == "fluid"
        rule = FLUID if fluid else CONTROL
        names = ("distance_m", "U_m", "above", "parallel", "clamped")
        inputs = plain(row, *(names if fluid else ("distance_m", "U_m", "guard", "required_m")))
        missing = [] if "U_m" in row else ["how well the distance is known"]
        if fluid:
            asks = {
                "above": "whether the wire is above",
                "parallel": "whether they run side by side",
            }
            missing += [words for name, words in asks.items() if name not in row]
            # Until somebody says so it is the worse of both.
            inputs = {"above": False, "parallel": True} | inputs
        found = run(rule, inputs)
        words = f"{mm(row['distance_m'])}, at least {mm(found['required_m'])}."
        if found.get("remarks"):
            words += f" Mind: {'; '.join(found['remarks'])}."
        verdict, words = shown(found["verdict"], words, missing)
        what = "fluid line" if fluid else "control cable"
        checks.append(checked(row, f"beside a {what}", words, verdict, rule, inputs))
    return Worked(tuple(checks))


sheet(
    "wire apart", "bundles", "Wire beside fuel, oil or a control cable",
    "Is it far enough from fluid lines and control cables?",
    (
        Field("rows", "rows", "Where they come near", "table", needed=True, columns=(
            ident("Place", "W12 at the selector"),
            Field("of", "of", "Beside", "choice", needed=True,
                  choices=(("fluid", "fuel, oil, brake or oxygen"), ("control", "control cable"))),
            Field("distance", "distance_m", "Surface to surface, least", "length", needed=True),
            Field("u", "U_m", "U of that", "length"),
            yes("above", "above", "Wire above"), yes("parallel", "parallel", "Side by side"),
            yes("clamped", "clamped", "Held to it"), yes("guard", "guard", "Guard between"),
            Field("required", "required_m", "Cable: your own least", "length"),
        )),
    ),
    _apart, CAUTION, "clearance",
)  # fmt: skip


def _noise(asked: Asked) -> Worked:
    v = asked.values
    inputs: dict[str, Any] = {
        "runs": [
            {"id": r["id"], "class": r["class"], "points_m": triples(r["points_m"], "runs")}
            | plain(r, "radius_m", "bundle")
            for r in v["runs"]
        ],
        "pairs": [{"classes": [p["a"], p["b"]], "least_m": p["least_m"]} for p in v["pairs"]],
        "sensitive": v.get("sensitive", []),
    }
    found = run(NOISE, inputs)
    checks = []
    for p in found["pairs"]:
        name = " and ".join(p["runs"])
        if p["same_bundle"]:
            words = "They lie in one bundle."
        else:
            words = f"{mm(p['distance_m'], 0)} apart at the nearest"
            near = p["exposed_m"]
            words += f", {mm(near, 0)} of the quiet one within the distance." if near else "."
        checks.append(said(f"pair {name}", name, words, Verdict(p["verdict"]), NOISE, inputs))
    if not checks:
        checks.append(
            said("pairs", "noisy and quiet", "No two of them are to stay apart.",
                 Verdict.NOT_MEASURED, NOISE, inputs)
        )  # fmt: skip
    return Worked(tuple(checks))


sheet(
    "noise", "bundles", "Noisy and quiet wires apart",
    "Which noisy wires come too near to which sensitive ones, and along how much?",
    (
        Field("runs", "runs", "Wires and bundles", "table", needed=True, columns=(
            ident("Run", "headset"), Field("class", "class", "Class", needed=True, hint="audio"),
            points("points", "points_m", "Corners", needed=True),
            Field("radius", "radius_m", "Half its thickness", "length", "mm"),
            Field("bundle", "bundle", "In bundle", hint="B1"),
        )),
        Field("pairs", "pairs", "Which stay apart", "table", needed=True, limit=True, columns=(
            Field("a", "a", "Class", needed=True, hint="strobe"),
            Field("b", "b", "From", needed=True, hint="audio"),
            Field("least", "least_m", "By", "length", needed=True),
        )),
        Field("sensitive", "sensitive", "Classes that are disturbed", "words",
              hint="audio; sensor; magnetometer; receive coax"),
    ),
    _noise, CAUTION, "clearance",
)  # fmt: skip
