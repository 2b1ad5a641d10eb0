"""A turnbuckle, terminal or sleeve that travels with its cable, past what stands still."""

from __future__ import annotations

from core.basis.verdicts import Verdict
from core.clearance import fittings, verdict  # noqa: F401
from core.clearance.sheets.crossing import mm
from core.clearance.words import FITTINGS
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, known_to, run, said

TRAVEL, GAP = "clearance.fitting_travel", "clearance.gap_verdict"


def _fitting(asked: Asked) -> Worked:
    v = asked.values
    stations = [{"id": r["id"], "from": r["from"], "to": r["to"]} for r in v["stations"]]
    inputs = asked.only("s_neutral", "travel_plus", "travel_minus", "extra")
    inputs |= {"half_length": v["length"] / 2.0, "stations": stations}
    checks = []
    for one in run(TRAVEL, inputs)["value"]:
        given = {"gap_low": one["gap"], "gap_best": one["gap"], "u": v.get("U", 0.0) / 2.0}
        if "rule" in v:
            given["rule"] = v["rule"]
        judged = run(GAP, given)
        at = {"plus": "at the plus stop", "minus": "at the minus stop"}.get(one["at"], "at rest")
        words = f"{mm(one['gap'])} left {at}."
        if one["gap"] <= 0.0:
            words = f"It runs into it by {mm(-one['gap'])} {at}: it can jam the control."
        found = Verdict(judged["judged"])
        if found is not Verdict.OUT:
            missing = [] if "U" in v else ["where the fitting and the stations are"]
            missing += [] if "rule" in v else ["how near it may come"]
            found, words = known_to(found, words, missing)
        checks.append(said(f"at {one['id']}", one["id"], words, found, GAP, given))
    return Worked(tuple(checks))


declare(
    Kind(
        "travelling fitting",
        "clearance",
        "crossings",
        "Fitting that travels",
        "Does a turnbuckle, terminal or sleeve reach a fairlead, pulley or bulkhead?",
        (
            Field("s", "s_neutral", "Its middle along the run, at neutral", "length", needed=True),
            Field("length", "length", "Its length", "length", needed=True),
            Field("plus", "travel_plus", "The cable travels forward along the run by", "length",
                  needed=True),
            Field("minus", "travel_minus", "And back by", "length", needed=True),
            Field("extra", "extra", "More, for what rigging may change", "length"),
            Field("stations", "stations", "What stands still along the run", "table", needed=True,
                  columns=(
                      Field("id", "id", "What", needed=True, hint="fairlead 4"),
                      Field("from", "from", "From", "length", needed=True),
                      Field("to", "to", "To", "length", needed=True),
                  )),
            Field("rule", "rule", "It may come as near as", "length", limit=True),
            Field("U", "U", "These places are known to ±", "length"),
        ),
        _fitting,
        FITTINGS,
        "clearance",
    )
)  # fmt: skip
