"""Hoses: free length between ties, twist, supports, life; materials and sizes side by side."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from typing import Any

from core.basis.checks import Check, Later
from core.basis.verdicts import Verdict
from core.lines import fittings, flow, hose  # noqa: F401
from core.lines.sheets.saying import TRADE, mm
from core.lines.words import HOSE
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

FOUND = {
    "none": (Verdict.IN, ""),
    "shorter_than_route": (Verdict.OUT, " It is shorter than its route."),
    "too_little_slack": (Verdict.OUT, " Too little slack: it may pull taut under pressure."),
    "much_slack": (Verdict.TOO_CLOSE, " Much slack: look for rubbing."),
}
LIFE = ("cure_date", "install_date", "life_from_cure_months", "life_from_install_months")


def _hose(asked: Asked) -> Worked:
    spans = asked.values.get("spans", [])
    rows = spans or [asked.only("route_length_m", "hose_length_m")]
    checks = [_length(n, row, len(rows)) for n, row in enumerate(rows, 1)]
    return Worked((*checks, *_twist(asked), *_held(asked), *_life(asked)))


def _length(n: int, row: dict[str, Any], of: int) -> Check:
    row = dict(row)
    name = row.pop("id", "")
    key = "length" if of == 1 and not name else f"length {name or n}"
    what = f"length, {name or f'span {n}'}" if of > 1 or name else "length"
    if "route_length_m" not in row:
        return unsaid(key, what, "how long its route is")
    found = run("lines.hose_length", row)
    wanted = f"{mm(found['shortest_m'])} to {mm(found['longest_m'])}"
    if found["finding"] is None:
        return said(
            key,
            what,
            f"Not said how long the hose is; it should be {wanted}.",
            Verdict.NOT_MEASURED,
            "lines.hose_length",
            row,
        )
    verdict, word = FOUND[found["finding"]]
    words = f"Slack {found['slack'] * 100:.1f} % of its length; right from {wanted}.{word}"
    return said(key, what, words, verdict, "lines.hose_length", row)


def _twist(asked: Asked) -> Iterable[Check]:
    given = asked.only("lay_line_turn_rad", "free_length_m", "limit_rad_per_m", "u_turn_rad")
    missing = lacking(
        given,
        ("lay_line_turn_rad", "how far its lay line turns"),
        ("free_length_m", "its free length"),
        ("limit_rad_per_m", "the maker’s limit of twist"),
    )
    if missing:
        yield unsaid("twist", "twist", *missing)
        return
    found = run("lines.hose_twist", given)
    turn, most = (x * 57.29577951 for x in (found["twist_rad_per_m"], given["limit_rad_per_m"]))
    words = f"Turns {turn:.0f}° in a metre, at most {most:.0f}°."
    sure = lacking(given, ("u_turn_rad", "the turn"))
    verdict, words = known_to(Verdict(found["verdict"]), words, sure)
    yield said("twist", "twist", words, verdict, "lines.hose_twist", given)


def _held(asked: Asked) -> Iterable[Check]:
    given = asked.only("support_positions_m", "length_m", "od_m", "max_spacing_m")
    missing = lacking(
        given,
        ("support_positions_m", "where it is held"),
        ("length_m", "how long it is there"),
        ("od_m", "its outside diameter"),
    )
    if missing:
        yield unsaid("supports", "supports", *missing)
        return
    inputs = {"material": "hose"} | given
    found = run("lines.support_spacing", inputs)
    at = ", ".join(mm(x) for x in found["add_at_m"])
    words = f"Longest span {mm(found['worst_span_m'])}, at most {mm(found['max_spacing_m'])}."
    words += f" Clamps are missing at {at}." if at else ""
    verdict = Verdict(found["verdict"])
    told = {"material": "a hose; the figure is FAA-H-8083-31's"}
    yield said(
        "supports", "supports", words, verdict, "lines.support_spacing", inputs, origins=told
    )


def _life(asked: Asked) -> Iterable[Check]:
    given: dict[str, Any] = {"today": asked.today.isoformat()} | asked.only(*LIFE, "warn_days")
    if not asked.has("life_from_cure_months") and not asked.has("life_from_install_months"):
        if asked.values.get("on_condition"):
            words = "The maker names no life: it stays on condition, looked at each inspection."
            yield said("life", "life", words, Verdict.IN)
        else:
            yield unsaid("life", "life", "how long its maker lets it stay")
        return
    found = run("lines.hose_due", given)
    due, warn = date.fromisoformat(found["due"]), int(given.get("warn_days", 90))
    since = "its cure" if found["basis"] == "cure" else "the day it went in"
    until = f"until {due.isoformat()}, counted from {since}"
    past = Later(due + timedelta(days=1), "out", Verdict.OUT, f"life: past since {due}")
    soon = Later(due - timedelta(days=warn), "due", Verdict.TOO_CLOSE, f"life: ends {due}")
    later: tuple[Later, ...] = (soon, past)
    verdict, words = Verdict.IN, f"May stay {until}."
    if found["status"] == "due soon":
        verdict, later, words = Verdict.TOO_CLOSE, (past,), f"Its life ends soon: {until}."
    elif found["status"] == "past life":
        verdict, later, words = Verdict.OUT, (), f"Past its life: it might stay {until}."
    yield said(
        "life",
        "life",
        words,
        verdict,
        "lines.hose_due",
        given,
        later=later,
        origins={"today": "the day on which this sheet was kept"},
    )


TWIST, TIES, DAYS = "Twist", "Clamps along it", "Life"
declare(
    Kind(
        "hose",
        TRADE,
        "hoses",
        "Hose",
        "Is it long enough between its ties, untwisted, held, and within its life?",
        (
            Field("route", "route_length_m", "Along its route", "length", hint="620 mm"),
            Field("hose", "hose_length_m", "Length of the hose", "length", hint="660 mm"),
            Field(
                "spans",
                "spans",
                "Each free span between ties, if there are several",
                "table",
                columns=(
                    Field("id", "id", "Span", hint="wall to tie"),
                    Field("route", "route_length_m", "Route", "length", needed=True),
                    Field("hose", "hose_length_m", "Hose there", "length"),
                ),
            ),
            Field("turn", "lay_line_turn_rad", "Its lay line turns by", "angle", "deg",
                  under=TWIST),
            Field("free", "free_length_m", "Between the fittings", "length", under=TWIST),
            Field(
                "most_turn",
                "limit_rad_per_m",
                "The maker’s limit, ° in a metre",
                "number",
                scale=0.017453292519943295,
                limit=True,
                under=TWIST,
            ),
            Field("u_turn", "u_turn_rad", "u of the turn", "angle", "deg", "2°", under=TWIST),
            Field("ties", "support_positions_m", "Held at, along it", "length", many=0, under=TIES,
                  hint="200; 480"),
            Field("held_length", "length_m", "Length there", "length", under=TIES),
            Field("od", "od_m", "Outside diameter", "length", under=TIES),
            Field("span", "max_spacing_m", "The maker’s greatest span", "length", limit=True,
                  under=TIES, hint="none: 24 in"),
            Field("cure", "cure_date", "Cured on", "date", under=DAYS, hint="2029-03-31"),
            Field("installed", "install_date", "Went in on", "date", under=DAYS),
            Field("life_cure", "life_from_cure_months", "Life from cure, months", "whole",
                  limit=True, under=DAYS),
            Field("life_in", "life_from_install_months", "Life once in, months", "whole",
                  limit=True, under=DAYS),
            Field("on_condition", "on_condition", "Its maker names no life", "yes", under=DAYS),
            Field("warn", "warn_days", "Warn so many days before", "whole", under=DAYS, hint="90"),
        ),
        _hose,
        HOSE,
    )
)  # fmt: skip


def _compare(asked: Asked) -> Worked:
    inputs = asked.only(
        "candidates", "length_m", "flow_m3_s", "density_kg_m3", "viscosity_Pa_s", "horizon_months"
    )
    found = run("lines.line_compare", inputs)["candidates"]
    rows = [
        {
            "id": c["id"],
            "weight": f"{c['wet_kg'] * 1e3:.0f} g",
            "outside": mm(c["od_m"], 1),
            "least bend radius": mm(c["min_radius_m"]),
            "loss": f"{c['loss_Pa']:.0f} Pa",
            "speed": f"{c['speed_m_s']:.2f} m/s",
            "fitted": f"{c['fits']} ×",
            "cost": "not said" if c.get("cost") is None else f"{c['cost']:.0f}",
        }
        for c in found
    ]
    return Worked(figure={"rows": rows, "rule": "lines.line_compare", "inputs": inputs})


declare(
    Kind(
        "compare",
        TRADE,
        "hoses",
        "Materials and sizes side by side",
        "What does each weigh, lose, bend and cost until then?",
        (
            Field("length", "length_m", "Length of the line", "length", needed=True),
            Field("flow", "flow_m3_s", "Flow", "flow", "l/h", "40 l/h", needed=True),
            Field("density", "density_kg_m3", "Density of the fluid, kg/m³", "number", "1",
                  needed=True, hint="720"),
            Field("viscosity", "viscosity_Pa_s", "Its viscosity, mPa·s", "number", "1",
                  needed=True, scale=1e-3, hint="0.5"),
            Field("horizon", "horizon_months", "Looked ahead, months", "whole", needed=True,
                  hint="240"),
            Field(
                "candidates",
                "candidates",
                "Hoses and tubes that might serve",
                "table",
                needed=True,
                columns=(
                    Field("id", "id", "Which", needed=True),
                    Field("bore", "bore_m", "Bore", "length", needed=True),
                    Field("od", "od_m", "Outside", "length", needed=True),
                    Field("dry", "dry_kg_per_m", "Dry, g/m", "number", "1", needed=True,
                          scale=1e-3),
                    Field("fittings", "fittings_kg", "Fittings", "mass", "g"),
                    Field("radius", "min_radius_m", "Least radius", "length", needed=True,
                          limit=True),
                    Field("price", "price", "Price", "number", "1"),
                    Field("life", "life_months", "Life, months", "whole"),
                    Field("k", "k", "Loss coefficient", "number", "1"),
                    Field("rough", "roughness_m", "Roughness", "length"),
                ),
            ),
        ),
        _compare,
        HOSE,
    )
)  # fmt: skip
