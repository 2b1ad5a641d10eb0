"""Circuits: gauge and protection of each, inrush, links, dead shorts, what is fed past them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from core.wiring import protection, wire  # noqa: F401
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
    each,
    ident,
    number,
    ohms,
    plain,
    run,
    said,
    sheet,
)  # fmt: skip
from core.wiring.tables import GAUGES, PROTECTORS
from core.wiring.words import CAUTION

SIZE, PROTECT, TRIP = "wiring.size_wire", "wiring.protect", "wiring.trip_check"
LINK, SHORT, COVER = "wiring.fusible_link", "wiring.fault_current", "wiring.coverage"
STRUCTURE_OHM = 0.005
REMEDIES = "a shorter way, two wires, better contacts or a wired return"


WHOLE = ("system_V", "drop_limit_V", "temperature_method", "table_factor")


def _circuits(asked: Asked) -> Worked:
    rows = asked.values["circuits"]
    whole = asked.only(*WHOLE)
    checks, table = [], []
    for row in rows:
        found, shown = of_circuit(row, whole, asked.only("factor"))
        checks += found
        table.append(shown)
    figure = {"rows": table, "rule": SIZE, "inputs": _size_inputs(rows[0], whole)}
    return Worked(tuple(checks), (), figure)


def of_circuit(
    row: Mapping[str, Any], whole: Mapping[str, Any], factor: Mapping[str, Any]
) -> tuple[list[Check], dict[str, str]]:
    """One circuit's gauge and protector, and its row of the table. whole: what the system says
    of all; factor: of protector over load, where one was said."""
    _, inputs, found = next(iter(each([row], "circuits", SIZE, lambda r: _size_inputs(r, whole))))
    checks = [_gauge(row, inputs, found)]
    allowed = {row["awg"]: _allowed_here(row, inputs)} if "awg" in row else {}
    guard = _guard_inputs(row, factor, allowed)
    if guard is None:
        unsaid = checked(row, "protector", _unguarded(row), Verdict.NOT_MEASURED, "", {})
        return [*checks, unsaid], _row(row, found, "not said")
    got = next(iter(each([row], "circuits", PROTECT, lambda _: guard)))[2]
    checks.append(_protector(row, guard, got))
    return checks, _row(row, found, f"{got['rating_A'] or '–'} A")


def _size_inputs(row: Mapping[str, Any], whole: Mapping[str, Any]) -> dict[str, Any]:
    back: dict[str, Any] = {"kind": row["back"]}
    if "back_m" in row:
        back["length_m"] = row["back_m"]
    if "structure_ohm" in row:
        back["ohm"] = row["structure_ohm"]
    return {
        **whole,
        **plain(row, "current_A", "duty", "feed_m", "contacts_ohm", "ambient_C", "least_awg"),
        "rating_C": int(row["rating_C"]),
        "return": back,
    }


def _allowed_here(row: Mapping[str, Any], inputs: Mapping[str, Any]) -> float:
    """What the gauge that is there may carry where it runs, A."""
    own = {k: v for k, v in inputs.items() if k != "least_awg"} | {"least_awg": row["awg"]}
    # The smallest current and no drop to speak of: only what that gauge allows is wanted.
    found = run(SIZE, own | {"current_A": 1e-6, "drop_limit_V": 1e6})
    return float(found["allowable_A"])


def _gauge(row: Mapping[str, Any], inputs: dict[str, Any], found: Mapping[str, Any]) -> Any:
    needed = found["awg"]
    if needed is None:
        words = f"No gauge does: {found['reason']}. Try {REMEDIES}."
        return checked(row, "gauge", words, Verdict.OUT, SIZE, inputs)
    words = (
        f"Needs AWG {needed} by {found['governing']}: drops {found['drop_V']:.2f} V of"
        f" {found['limit_V']:.2f} V, {found['conductor_C']:.0f} °C."
    )
    smaller = found.get("next_smaller")
    if smaller:
        words += f" AWG {smaller['awg']} misses {_misses(smaller)}."
    if inputs["return"].get("ohm", 0.0) > STRUCTURE_OHM:
        words += " The structure has more than the 5 mΩ that AC 43.13-1B accepts."
        return checked(row, "gauge", words, Verdict.OUT, SIZE, inputs)
    if "awg" not in row:
        words += " Not said which gauge is there."
        return checked(row, "gauge", words, Verdict.NOT_MEASURED, SIZE, inputs)
    good = GAUGES.index(row["awg"]) >= GAUGES.index(needed)
    word = "" if good else f"AWG {row['awg']} is too thin. "
    return checked(row, "gauge", word + words, Verdict.IN if good else Verdict.OUT, SIZE, inputs)


def _misses(smaller: Mapping[str, Any]) -> str:
    drop, heat = smaller["drop_margin_V"], smaller["thermal_margin_A"]
    told = []
    if drop is None or drop < 0.0:
        told.append("no equilibrium" if drop is None else f"{-drop:.2f} V")
    if heat < 0.0:
        told.append(f"{-heat:.1f} A")
    return " and ".join(told) or "only the least size that was asked"


def _unguarded(row: Mapping[str, Any]) -> str:
    """Why a circuit's protector cannot be judged yet."""
    if "awg" in row and "protector_A" in row:
        return f"No limit is built in for AWG {row['awg']}: enter your own, with its document."
    return "Not said what protects it, or which gauge is there."


def _guard_inputs(
    row: Mapping[str, Any], factor: Mapping[str, Any], allowed: Mapping[str, float]
) -> dict[str, Any] | None:
    kind = row.get("protector", "breaker")
    known = row.get("awg") in PROTECTORS[kind] or "limit_A" in row
    if "awg" not in row or "protector_A" not in row or not known:
        return None
    found: dict[str, Any] = {
        "load_A": row["current_A"],
        "wires": [row["awg"]],
        "kind": kind,
        "rating_A": row["protector_A"],
        "allowable_A": dict(allowed),
    }
    if "limit_A" in row:
        found["wire_limit_A"] = {row["awg"]: row["limit_A"]}
    return found | dict(factor)


def _protector(row: Mapping[str, Any], inputs: Any, found: Mapping[str, Any]) -> Any:
    fitted = row["protector_A"]
    words = (
        f"{fitted:g} A: the load asks {found['least_rating_A']:.1f} A, the wire allows"
        f" {found['wire_limit_A']:g} A, here {found['least_allowable_A']:.1f} A."
    )
    if found.get("reason"):
        words = f"{found['reason'][:1].upper()}{found['reason'][1:]}. {words}"
    if found["wire_needed"]:
        words += f" It would suit AWG {found['wire_needed']}."
    return checked(row, "protector", words, found["verdict"], PROTECT, inputs)


def _row(row: Mapping[str, Any], found: Mapping[str, Any], guard: str) -> dict[str, str]:
    def told(key: str, digits: int, unit: str) -> str:
        value = found.get(key)
        return "–" if value is None else f"{value:.{digits}f} {unit}"

    return {
        "id": str(row["id"]),
        "by drop": f"AWG {found['by_drop']}" if found["by_drop"] else "none",
        "by heat": f"AWG {found['by_thermal']}" if found["by_thermal"] else "none",
        "needs": f"AWG {found['awg']}" if found["awg"] else "none",
        "there is": f"AWG {row['awg']}" if "awg" in row else "not said",
        "drop": told("drop_V", 2, "V"),
        "warm": told("conductor_C", 0, "°C"),
        "protector": guard,
    }


DUTY = (("continuous", "continuous"), ("intermittent", "2 min at most"))
BACK = (("wire", "wire"), ("structure", "structure"))
CIRCUITS = (
    ident("Circuit", "strobe"),
    amps("current", "current_A", "Current", needed=True),
    awg("awg", "awg", "Gauge there"),
    amps("protector_A", "protector_A", "Protector"),
    Field("feed", "feed_m", "Feed", "length", needed=True),
    Field("back", "back", "Returns by", "choice", choices=BACK, needed=True),
    Field("back_long", "back_m", "Return wire", "length"),
    ohms("structure", "structure_ohm", "Structure", "mohm"),
    ohms("contacts", "contacts_ohm", "Contacts", "mohm"),
    number("ambient", "ambient_C", "Hottest place, °C", needed=True),
    Field("rating", "rating_C", "Wire rated", "choice", choices=RATED, needed=True),
    Field("duty", "duty", "Duty", "choice", choices=DUTY),
    Field("protector", "protector", "It is a", "choice",
          choices=(("breaker", "breaker"), ("fuse", "fuse"))),
    amps("limit", "limit_A", "Your limit for it", limit=True),
    awg("least", "least_awg", "Least size"),
)  # fmt: skip
SYSTEM = "The system"
sheet(
    "circuits", "circuits", "Circuits: gauge and protection",
    "Which gauge does each circuit need, and does its protector protect it?",
    (
        Field("circuits", "circuits", "Circuits", "table", needed=True, columns=CIRCUITS),
        Field("system", "system_V", "Bus: 14 or 28", "voltage", "V", under=SYSTEM, hint="14"),
        Field("limit", "drop_limit_V", "Or a drop limit of your own", "voltage", "V",
              under=SYSTEM, limit=True),
        Field("method", "temperature_method", "Temperature of the wire by", "choice",
              under=SYSTEM, choices=(("ac", "AC 43.13-1B"), ("joule", "I²R"))),
        number("factor", "table_factor", "Derating of the table, up to 1", under=SYSTEM,
               limit=True),
        number("over", "factor", "Protector over load, at least 1", under=SYSTEM, hint="1.25"),
    ),
    _circuits, CAUTION, "clearance",
)  # fmt: skip


def _curve(text: Any, field: str) -> list[list[float]]:
    return [[r["multiple"], r["least_s"]] for r in text]


def _inrush(asked: Asked) -> Worked:
    inputs = asked.only("inrush_A", "inrush_s", "rating_A")
    inputs["curve"] = _curve(asked.values["curve"], "curve")
    found = run(TRIP, inputs)
    least = found.get("least_trip_s")
    told = "outside the curve" if least is None else f"trips after {least:.2f} s at the earliest"
    words = f"{found['multiple']:.1f} times its rating for {inputs['inrush_s']:.2f} s; {told}."
    return Worked((said("inrush", "inrush", words, Verdict(found["verdict"]), TRIP, inputs),))


sheet(
    "inrush", "circuits", "Inrush against a protector",
    "Does the protector hold while a lamp, motor or supply starts?",
    (
        amps("inrush", "inrush_A", "Inrush", needed=True),
        Field("lasts", "inrush_s", "It lasts", "time", "s", needed=True),
        amps("rating", "rating_A", "Protector’s rating", needed=True),
        Field("curve", "curve", "Its maker’s curve", "table", needed=True, limit=True, columns=(
            number("multiple", "multiple", "Times its rating", needed=True),
            Field("least", "least_s", "Least trip time", "time", "s", needed=True),
        )),
    ),
    _inrush, CAUTION,
)  # fmt: skip


def _link(asked: Asked) -> Worked:
    inputs = asked.only("awg", "steps")
    found = run(LINK, inputs)
    there = asked.values.get("link")
    words = f"AWG {found['link_awg']}, by practice, not by a standard."
    verdict = Verdict.NOT_MEASURED
    if there is None:
        words += " Not said which is there."
    else:
        verdict = Verdict.IN if there == found["link_awg"] else Verdict.OUT
        words = f"There is AWG {there}; " + words[:1].lower() + words[1:]
    return Worked((said("link", "fusible link", words, verdict, LINK, inputs),))


sheet(
    "link", "circuits", "Fusible link", "How thin is the link for this wire?",
    (
        awg("awg", "awg", "The wire", needed=True),
        Field("steps", "steps", "Numbers thinner", "whole", hint="4"),
        awg("link", "link", "The link that is there"),
    ),
    _link, CAUTION,
)  # fmt: skip


def _short(asked: Asked) -> Worked:
    inputs = asked.only("emf_V", "battery_ohm", "loop_ohm", "interrupting_A", "U_rel")
    found = run(SHORT, inputs)
    words = (
        f"{found['fault_A']:.0f} ± {found['U_A']:.0f} A, it breaks {inputs['interrupting_A']:g} A."
    )
    verdict = Verdict(found["verdict"])
    if "U_rel" not in inputs:
        verdict, words = Verdict.NOT_MEASURED, words + " Not said how well that is known."
    return Worked((said("short", "dead short", words, verdict, SHORT, inputs),))


sheet(
    "dead short", "circuits", "Dead short", "Can the protector break a dead short?",
    (
        Field("emf", "emf_V", "Battery, open and full", "voltage", "V", needed=True),
        ohms("battery", "battery_ohm", "Inside the battery", "mohm", needed=True),
        ohms("loop", "loop_ohm", "Feed and return up to the short, cold", "mohm"),
        amps("breaks", "interrupting_A", "Rated interrupting current", needed=True, limit=True),
        number("u", "U_rel", "Uncertainty of the current, %", scale=0.01),
    ),
    _short, CAUTION,
)  # fmt: skip


def _coverage(asked: Asked) -> Worked:
    v = asked.values
    edges = [{"id": r["id"], "a": r["a"], "b": r["b"], "kind": r["kind"]} for r in v["edges"]]
    exempt = {r["load"]: r["why"] for r in v.get("exempt", [])}
    checks = []
    for source in v["sources"]:
        inputs = {"source": source, "edges": edges, "loads": v["loads"], "exempt": exempt}
        found = run(COVER, inputs)
        bare, dead = found["unprotected"], found["unfed"]
        words = "Everything is fed through a protector."
        if bare:
            words = f"Fed past every protector: {', '.join(bare)}."
        elif dead:
            words = f"Has no way from it: {', '.join(dead)}."
        if found["exempt"]:
            words += f" Exempt with a reason: {', '.join(found['exempt'])}."
        verdict = Verdict.OUT if bare else Verdict.NOT_MEASURED if dead else Verdict.IN
        checks.append(said(f"from {source}", f"from {source}", words, verdict, COVER, inputs))
    return Worked(tuple(checks))


KIND = tuple((k, k) for k in ("wire", "switch", "splice", "protector"))
sheet(
    "coverage", "circuits", "Is everything behind a protector?",
    "Which loads can be fed past every breaker and fuse?",
    (
        Field("sources", "sources", "Sources, parted by ;", "words", needed=True,
              hint="battery; alternator"),
        Field("loads", "loads", "Loads, parted by ;", "words", needed=True,
              hint="radio; strobe; starter"),
        Field("edges", "edges", "What lies between", "table", needed=True, columns=(
            ident("Piece", "W1"), Field("a", "a", "From", needed=True, hint="battery"),
            Field("b", "b", "To", needed=True, hint="bus"),
            Field("kind", "kind", "It is", "choice", choices=KIND, needed=True),
        )),
        Field("exempt", "exempt", "Loads that may do without", "table", columns=(
            Field("load", "load", "Load", needed=True, hint="starter"),
            Field("why", "why", "Because", needed=True, hint="starter cable, kept short"),
        )),
    ),
    _coverage, CAUTION,
)  # fmt: skip
