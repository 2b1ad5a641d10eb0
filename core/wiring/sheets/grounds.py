"""Grounds: rings by name, what a shared return couples, bonds."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from core.wiring import grounding  # noqa: F401
from core.wiring.sheets.asking import (
    Asked,
    Check,
    Field,
    Verdict,
    Worked,
    amps,
    checked,
    ident,
    ohms,
    plain,
    run,
    said,
    sheet,
    shown,
)  # fmt: skip
from core.wiring.words import CAUTION

LOOPS, COUPLING, BOND = "wiring.ground_loops", "wiring.ground_coupling", "wiring.bond_check"
BREAK = {
    "shield": "lift one end of the shield, and leave the source’s or maker’s end",
    "case": "isolate the case, or take its wire off",
    "return": "take one of the returns off",
}
SCHOOLS = (("single", "single point"), ("tabs", "block of tabs"), ("local", "local, to structure"))


def _grounds(asked: Asked) -> Worked:
    v = asked.values
    edges = [plain(e, "id", "a", "b", "kind", "ohm") for e in v["edges"]]
    inputs = {"edges": edges}
    found = run(LOOPS, inputs)
    excepted = {r["edge"]: r["why"] for r in v.get("excepted", [])}
    checks, rings = [], []
    for loop in found["loops"]:
        ring = ", ".join(loop["edges"])
        why = next((excepted[e] for e in loop["edges"] if e in excepted), None)
        words = f"A ring of {ring}: {BREAK[loop['class']]}."
        verdict = Verdict.OUT
        if why is not None:
            verdict, words = Verdict.ACCEPTED, f"A ring of {ring}, accepted: {why}."
        elif "school" not in v:
            verdict, words = (
                Verdict.NOT_MEASURED,
                words + " Not said which school this aircraft has.",
            )
        elif v["school"] == "local" and loop["class"] == "case":
            verdict = Verdict.TOO_CLOSE
        checks.append(said(f"loop {ring}", f"{loop['class']} loop", words, verdict, LOOPS, inputs))
        rings.append(_ring(edges, loop["edges"]) | {"said": words, "verdict": verdict.value})
    if not checks:
        checks.append(said("loops", "loops", "No ring.", Verdict.IN, LOOPS, inputs))
    facts = (("Rings to break", str(found["independent"])),)
    return Worked((*checks, *_coupled(asked, edges)), facts, {"rings": rings} if rings else {})


def _ring(edges: Sequence[Mapping[str, Any]], ids: Sequence[str]) -> dict[str, Any]:
    """A loop in the order in which it is walked: its nodes, and the conductor after each."""
    left = [e for e in edges if e["id"] in ids]
    at = left[0]["a"]
    nodes, way = [], []
    while left:
        e = next(e for e in left if at in (e["a"], e["b"]))
        left.remove(e)
        nodes.append(at)
        way.append({"id": e["id"], "kind": e["kind"]})
        at = e["b"] if e["a"] == at else e["a"]
    return {"nodes": nodes, "edges": way}


def _coupled(asked: Asked, edges: list[dict[str, Any]]) -> Iterable[Check]:
    names = ("return_node", "noisy_node", "noise_A", "victim_node", "victim_reference_node")
    if not asked.has(*names):
        return
    if any("ohm" not in e for e in edges):
        words = "Not said of every conductor: its resistance."
        yield said("coupling", "noise coupled in", words, Verdict.NOT_MEASURED)
        return
    inputs = {"edges": edges} | asked.only(*names)
    found = run(COUPLING, inputs)
    words = f"{found['coupled_V'] * 1e3:.1f} mV"
    shared = found["shared_edges"]
    if shared:
        words += f" through {', '.join(shared)}, which both use"
    most = asked.values.get("most_V")
    if most is None:
        verdict, words = Verdict.NOT_MEASURED, words + "; not said how much is allowed."
    else:
        verdict = Verdict.IN if found["coupled_V"] <= most else Verdict.OUT
        words += f"; at most {most * 1e3:.1f} mV."
    yield said("coupling", "noise coupled in", words, verdict, COUPLING, inputs)


NOISE = "Noise from one into another"
KIND = (("wire", "wire"), ("shield", "shield"), ("case", "case to structure"),
        ("structure", "bond or structure"))  # fmt: skip
sheet(
    "grounds", "grounds", "Ground loops", "Which grounds form a ring, and how is it broken?",
    (
        Field("school", "school", "School of this aircraft", "choice", choices=SCHOOLS),
        Field("edges", "edges", "All ground conductors", "table", needed=True, columns=(
            ident("Conductor", "g-strobe"), Field("a", "a", "From", needed=True, hint="strobe"),
            Field("b", "b", "To", needed=True, hint="block"),
            Field("kind", "kind", "It is", "choice", choices=KIND, needed=True),
            ohms("ohm", "ohm", "Resistance", "mohm"),
        )),
        Field("excepted", "excepted", "Accepted on purpose", "table", columns=(
            Field("edge", "edge", "Conductor", needed=True),
            Field("why", "why", "Because", needed=True),
        )),
        Field("back", "return_node", "Battery negative", under=NOISE, hint="battery-"),
        Field("noisy", "noisy_node", "Noisy device", under=NOISE, hint="strobe"),
        amps("amps", "noise_A", "Its current", under=NOISE),
        Field("quiet", "victim_node", "Quiet device", under=NOISE, hint="audio"),
        Field("to", "victim_reference_node", "Its signal is referred to", under=NOISE,
              hint="block"),
        Field("most", "most_V", "At most", "voltage", "mV", under=NOISE, limit=True),
    ),
    _grounds, CAUTION,
)  # fmt: skip


def _bonds(asked: Asked) -> Worked:
    checks = []
    for row in asked.values["bonds"]:
        inputs = plain(row, "measured_ohm", "U_ohm", "limit_ohm")
        if "measured_ohm" not in row:
            checks.append(checked(row, "bond", "Not measured.", Verdict.NOT_MEASURED, "", {}))
            continue
        found = run(BOND, inputs)
        least = row.get("limit_ohm", 0.003)
        words = f"{row['measured_ohm'] * 1e3:.2f} mΩ, at most {least * 1e3:.2f} mΩ."
        missing = [] if "U_ohm" in row else ["how well the meter knows it"]
        verdict, words = shown(found["verdict"], words, missing)
        checks.append(checked(row, "bond", words, verdict, BOND, inputs))
    return Worked(tuple(checks))


sheet(
    "bonds", "grounds", "Bonds", "Does each bond conduct well enough?",
    (
        Field("bonds", "bonds", "Bonds", "table", needed=True, columns=(
            ident("Bond", "engine to firewall"),
            ohms("measured", "measured_ohm", "Measured, four wires", "mohm"),
            ohms("u", "U_ohm", "U of that", "mohm"), ohms("limit", "limit_ohm", "At most", "mohm",
                                                          limit=True),
        )),
    ),
    _bonds, CAUTION,
)  # fmt: skip
