"""How a bundle is made up: its tightest bend, its ties or lacing."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused, positive
from core.basis.verdicts import Verdict
from core.wiring.harness import Harness, Row, along_m
from core.wiring.harness_near import THICK
from core.wiring.sheets.bundles import BEND, FINDINGS, TIED, mm
from core.worksheets.kinds import known_to, lacking, run, said, unsaid

ENTERED = "entered for the harness"
MOST_TIES = 2000


def made_up(h: Harness, b: Row, thick_m: float | None) -> Iterable[Check]:
    """thick_m: how thick it is; None: not known."""
    yield _bend(b, h.wires_in(b))
    yield _ties(b, thick_m)


CORDS = {True: " A spare cord lies in it.", False: " No spare cord lies in it."}


def conduit(b: Row, inputs: dict[str, Any], found: Mapping[str, Any]) -> Check:
    """Whether it fits into its conduit, and whether one more wire would, as thick as its
    thickest; whether a cord lies there to pull one in."""
    one_more = run(THICK, inputs | {"od_m": [*inputs["od_m"], max(inputs["od_m"])]})
    room = "there is room for one more" if one_more["verdict"] == "in" else "no room for one more"
    words = (
        f"{mm(found['diameter_m'])} thick: its conduit needs {mm(found['least_conduit_id_m'])}"
        f" inside; {found['fill']:.0%} full, {room}."
    )
    cord = b.values.get("spare_cord")
    words += " Not said: whether a spare cord lies in it." if cord is None else CORDS[bool(cord)]
    verdict = Verdict(found["verdict"])
    return _check("conduit", f"{b.name}: conduit", words, verdict, THICK, inputs, quiet=False)


def _bend(b: Row, wires: list[Row]) -> Check:
    what = f"{b.name}: tightest bend"
    missing = [w.name for w in wires if "od_m" not in w.values]
    if "bend_m" not in b.values or missing or not wires:
        asked = [] if "bend_m" in b.values else ["how tightly it bends"]
        if missing or not wires:
            asked.append(f"the diameter of {', '.join(missing) or 'its wires'}")
        return unsaid("bend", what, *asked)
    inputs: dict[str, Any] = {"radius_m": b.values["bend_m"]}
    inputs["largest_od_m"] = max(w.values["od_m"] for w in wires)
    if "bend_U_m" in b.values:
        inputs["U_m"] = b.values["bend_U_m"]
    found = run(BEND, inputs)
    words = f"{mm(inputs['radius_m'])} inside, at least {mm(found['least_m'])}."
    verdict, words = known_to(
        Verdict(found["verdict"]), words, lacking(inputs, ("U_m", "the radius"))
    )
    return _check("bend", what, words, verdict, BEND, inputs)


def _ties(b: Row, thick_m: float | None) -> Check:
    what, v = f"{b.name}: ties or lacing", b.values
    asked = lacking(v, ("school", "whether it is tied or laced"),
                    ("ends_held", "whether a clamp holds each end"))  # fmt: skip
    if "ties_m" not in v and "every_m" not in v:
        asked.append("where its ties are")
    if not b.way_m:
        asked.append("its way")
    if thick_m is None:
        asked.append("how thick it is")
    if asked or thick_m is None:
        return unsaid("ties", what, *asked)
    long = along_m(b.way_m)
    kind = {"ties": "tie"}.get(v["school"], v["school"])
    inputs = {
        "length_m": long,
        "diameter_m": thick_m,
        "school": v["school"],
        "ends_held": v["ends_held"],
        "fitted": [
            {"id": f"{at * 1e3:g} ({n})", "at_m": at, "kind": kind}
            for n, at in enumerate(_places(v, long), 1)
        ],
    }
    try:
        found = run(TIED, inputs)
    except Refused as refusal:
        raise Refused("ties", refusal.reason) from None
    told = [f"{name} {FINDINGS[code]}" for code, name in found["findings"]]
    if found["to_add"]:
        told.append(f"{found['to_add']} more are wanted, every {mm(found['spacing_m'], 0)}")
    words = "; ".join(told) or f"longest without one {mm(found['worst_span_m'], 0)}"
    words = f"{words[:1].upper()}{words[1:]}."
    return _check("ties", what, words, Verdict(found["verdict"]), TIED, inputs)


def _places(v: Mapping[str, Any], long: float) -> list[float]:
    """Where the ties are: as said, else evenly. Refuses more of them than a bundle has."""
    if "ties_m" in v:
        if "every_m" in v:
            raise Refused("every", "is said beside the ties themselves: say one of both")
        return list(v["ties_m"])
    every = positive(v["every_m"], "every")
    count = int(long / every + 1e-9)
    if count > MOST_TIES:
        raise Refused("every", f"would be more than {MOST_TIES} ties")
    return [every * n for n in range(1, count + 1)]


def _check(
    key: str, what: str, words: str, verdict: Verdict, rule: str, inputs: dict[str, Any],
    quiet: bool = True,
) -> Check:  # fmt: skip
    found = said(key, what, words, verdict, rule, inputs, step="clearance")
    quiet = quiet and verdict is Verdict.IN
    return replace(found, quiet=quiet, origins=dict.fromkeys(inputs, ENTERED))
