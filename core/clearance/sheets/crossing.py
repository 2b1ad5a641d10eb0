"""Two cables, or a cable and a tube, that cross: taut, slack, and where a sleeve would lie."""

from __future__ import annotations

from typing import Any

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.clearance import crossing  # noqa: F401
from core.clearance.words import SLEEVES
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, known_to, run, said

CROSSING = "clearance.cable_crossing"
POINT = "station; butt line; water line"
VERDICTS = {"touch": Verdict.OUT, "close": Verdict.OUT, "clear": Verdict.IN}


def _ends(v: dict[str, Any], side: str) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name in ("from", "to", "radius", "along", "from_move", "to_move", "slack_m"):
        if f"{side}_{name}" in v:
            found[name] = v[f"{side}_{name}"]
    if f"{side}_od" in v:
        found["radius"] = v[f"{side}_od"] / 2.0
    return found


def mm(metres: float) -> str:
    """Short, with a real minus."""
    return f"{metres * 1e3:.1f} mm".replace("-", "−")


def _crossing(asked: Asked) -> Worked:
    v = dict(asked.values)
    inputs = {
        "a": _ends(v, "a"), "b": _ends(v, "b"), "lo_m": v["lo_m"], "hi_m": v["hi_m"],
        "rule_m": v["rule_m"], "sleeve_margin_m": v.get("sleeve_margin_m", 0.0),
    }  # fmt: skip
    try:
        found = run(CROSSING, inputs)
    except Refused as refusal:
        side, _, part = refusal.field.partition(".")
        name = f"{side}_{'od' if part == 'radius' else part}" if part else side
        raise Refused(name, refusal.reason) from None
    words = f"Taut {mm(found['taut']['gap_m'])} apart, slack {mm(found['slack']['gap_m'])}"
    touch = found["slack"]["first_touch"]
    words += f"; they touch first at {mm(touch['at_m'])} of travel." if touch else "."
    verdict = VERDICTS[found["verdict"]]
    missing = [
        f"how slack {side} can get" for side in ("a", "b")
        if f"{side}_slack_m" not in v and found["verdict"] == "clear"
    ]  # fmt: skip
    verdict, words = known_to(verdict, words, missing)
    checks = [said("gap", "where they cross", words, verdict, CROSSING, inputs)]
    facts = []
    for side in ("a", "b"):
        sleeve = found[f"sleeve_{side}"]
        if sleeve is None:
            continue
        long = f"{mm(sleeve['length_m'])} long, from {mm(sleeve['from_m'])} to {mm(sleeve['to_m'])}"
        facts.append((f"A sleeve on {side} would be", f"{long} along it, at neutral"))
        if sleeve["meets_end"]:
            checks.append(
                said(f"sleeve {side}", f"sleeve on {side}",
                     "It would run into the fairlead or pulley at an end of its stretch.",
                     Verdict.OUT, CROSSING, inputs)
            )  # fmt: skip
    return Worked(tuple(checks), tuple(facts))


def _side(side: str) -> tuple[Field, ...]:
    before = f"{side}: "

    def point(key: str, label: str) -> Field:
        words = f"{before}{label}, {POINT}"
        return Field(f"{side}_{key}", f"{side}_{key}", words, "length", many=3, needed=True)

    return (
        point("from", "one end"),
        point("to", "other end"),
        Field(f"{side}_od", f"{side}_od", f"{before}thickness", "length", needed=True),
        Field(f"{side}_along", f"{side}_along", f"{before}runs along itself, for each metre",
              "number", hint="1"),
        Field(f"{side}_to_move", f"{side}_to_move",
              f"{before}its other end moves for each metre of travel", "length", "m", many=3,
              hint="0; 0; 0"),
        Field(f"{side}_slack", f"{side}_slack_m", f"{before}longer than its stretch when slack by",
              "length"),
    )  # fmt: skip


declare(
    Kind(
        "crossing",
        "clearance",
        "crossings",
        "Lines that cross",
        "Do they touch, taut or slack, and where would a sleeve have to lie?",
        (
            *_side("a"),
            *_side("b"),
            Field("lo", "lo_m", "Travel from, below 0", "length", needed=True),
            Field("hi", "hi_m", "Travel to", "length", needed=True),
            Field("rule", "rule_m", "Apart by at least", "length", needed=True, limit=True),
            Field("margin", "sleeve_margin_m", "A sleeve is longer at both ends by", "length"),
        ),
        _crossing,
        SLEEVES,
        "clearance",
    )
)
