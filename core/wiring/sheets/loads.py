"""Loads: the bus through every phase, the battery alone, and what shedding buys."""

from __future__ import annotations

from typing import Any

from core.wiring import battery, loads  # noqa: F401
from core.wiring.sheets.asking import (
    Asked,
    Field,
    Refused,
    Verdict,
    Worked,
    amps,
    ident,
    number,
    ohms,
    plain,
    run,
    said,
    sheet,
)  # fmt: skip
from core.wiring.words import CAUTION

PHASES, LASTS, SHED = "wiring.load_analysis", "wiring.battery_endurance", "wiring.shed_plan"


def duty(text: list[str], load: str) -> dict[str, float]:
    """`cruise 1`, `taxi 0.5`: the share of each phase. Refuses what is neither."""
    found = {}
    for part in text:
        name, _, share = part.rpartition(" ")
        try:
            found[name.strip()] = float(share.replace(",", "."))
        except ValueError:
            raise Refused("loads", f"{load}: write each phase and its share, as taxi 0.5") from None
    return found


def _phases(asked: Asked) -> Worked:
    v = asked.values
    inputs: dict[str, Any] = asked.only("bus_V", "alternator_A", "usable_fraction")
    inputs["phases"] = [
        {"name": p["id"]} | plain(p, "duration_s", "alternator_factor", "charge_A")
        for p in v["phases"]
    ]
    inputs["loads"] = [
        {"name": x["id"], "duty": duty(x["duty"], x["id"])} | plain(x, "current_A", "power_W")
        for x in v["loads"]
    ]
    found = run(PHASES, inputs)
    checks = []
    for p in found["phases"]:
        name = p["phase"]
        words = f"{p['average_A']:.1f} A of {p['allowed_A']:.1f} A; at once {p['peak_A']:.1f} A."
        verdict = Verdict(p["verdict"]) if p["verdict"] else Verdict.NOT_MEASURED
        if p["verdict"] is None:
            words = (
                f"The battery alone gives {p['average_A']:.1f} A, {p['battery_Ah']:.2f} Ah:"
                " see how long it lasts."
            )
        elif p["battery_Ah"] > 0.0:
            words += f" The battery gives {p['battery_Ah']:.2f} Ah."
        checks.append(said(f"phase {name}", name, words, verdict, PHASES, inputs))
    total = sum(p["battery_Ah"] for p in found["phases"])
    facts = [("The battery gives in all", f"{total:.2f} Ah")]
    if found["governing"]:
        margin = f"{found['least_margin_A']:.1f} A".replace("-", "−")
        facts.insert(0, ("Least margin", f"{margin} in {found['governing']}"))
    figure = {"phases": [_bar(p, inputs) for p in found["phases"]]}
    return Worked(tuple(checks), tuple(facts), figure)


def _bar(p: dict[str, Any], inputs: dict[str, Any]) -> dict[str, Any]:
    """A phase for the chart: each load's average on top of the others, A."""
    bus = inputs.get("bus_V", 1.0)
    parts = [
        {"name": x["name"], "A": (x.get("current_A") or x.get("power_W", 0.0) / bus) * share}
        for x in inputs["loads"]
        if (share := x["duty"].get(p["phase"], 0.0)) > 0.0
    ]
    charge = next(q.get("charge_A", 0.0) for q in inputs["phases"] if q["name"] == p["phase"])
    if charge:
        parts.append({"name": "recharging", "A": charge})
    return {"name": p["phase"], "parts": parts, "allowed_A": p["allowed_A"], "peak_A": p["peak_A"]}


sheet(
    "phases", "loads", "Loads by phase of flight",
    "What does the bus carry in each phase, against what there is?",
    (
        Field("alternator", "alternator_A", "Alternator’s rated output", "current", "A",
              needed=True, limit=True),
        Field("bus", "bus_V", "Bus voltage, for loads in W", "voltage", "V", hint="14"),
        number("usable", "usable_fraction", "Usable share, %", scale=0.01, hint="80", limit=True),
        Field("phases", "phases", "Phases", "table", needed=True, columns=(
            ident("Phase", "cruise"),
            Field("lasts", "duration_s", "Lasts", "time", "min", needed=True),
            number("factor", "alternator_factor", "Alternator, %", scale=0.01, hint="100"),
            amps("charge", "charge_A", "Recharging"),
        )),
        Field("loads", "loads", "Loads", "table", needed=True, columns=(
            ident("Load", "radio"),
            amps("current", "current_A", "Current"),
            number("power", "power_W", "Or power, W"),
            Field("duty", "duty", "On, by phase; as taxi 0.5; cruise 1", "words", needed=True),
        )),
    ),
    _phases, CAUTION,
)  # fmt: skip

DATA = "The battery"
BATTERY = (
    number("capacity", "capacity_Ah", "Rated capacity, Ah", needed=True, under=DATA, limit=True),
    number("rate", "rate_h", "Given in, hours", needed=True, under=DATA, limit=True, hint="20"),
    number("peukert", "peukert", "Peukert’s exponent, 1 to 1.6", needed=True, under=DATA,
           limit=True, hint="1.2"),
    number("cold", "temperature_factor", "Left of it at this temperature, %", scale=0.01,
           under=DATA, limit=True, hint="85"),
    number("age", "age_factor", "Left of it at its age, %", scale=0.01, under=DATA, hint="90"),
    number("reserve", "reserve_fraction", "Kept back, %", scale=0.01, under=DATA, hint="10"),
)  # fmt: skip
NAMES = ("capacity_Ah", "rate_h", "peukert", "temperature_factor", "age_factor",
         "reserve_fraction")  # fmt: skip


def minutes(seconds: float | None, endless: str) -> str:
    """A time in minutes."""
    return endless if seconds is None else f"{seconds / 60.0:.0f} min"


def _unsaid(asked: Asked) -> list[str]:
    asks = (
        ("temperature_factor", "what the cold leaves of it"),
        ("age_factor", "what its age leaves"),
    )
    return [words for name, words in asks if name not in asked.values]


def _lasts(asked: Asked) -> Worked:
    inputs: dict[str, Any] = asked.only(
        *NAMES, "emf_full_V", "emf_end_V", "resistance_ohm", "least_bus_V", "valid_to_A"
    )
    inputs["steps"] = [
        plain(s, "current_A", "power_W", "duration_s") for s in asked.values["steps"]
    ]
    found = run(LASTS, inputs)
    lasts = found["endurance_s"]
    must = asked.values.get("must_s")
    if lasts is None:
        words = f"The steps end first; {found['used_fraction']:.0%} is used by then."
        verdict = Verdict.IN
    else:
        by = f"ended by its {found['ended_by']} in step {found['step'] + 1}"
        words = f"Lasts {minutes(lasts, '')}, {by}."
        verdict = Verdict.NOT_MEASURED if must is None else (
            Verdict.IN if lasts >= must else Verdict.OUT)  # fmt: skip
    if must is None and lasts is not None:
        words += " Not said how long it must last."
    elif lasts is not None:
        words += f" It must last {minutes(must, '')}."
    if unsaid := _unsaid(asked):
        verdict, words = Verdict.NOT_MEASURED, f"{words} Not said: {', '.join(unsaid)}."
    return Worked((said("endurance", "endurance", words, verdict, LASTS, inputs),))


VOLTS = "Its voltage"
sheet(
    "endurance", "loads", "How long the battery lasts",
    "How long does the battery carry this once the alternator is gone?",
    (
        Field("steps", "steps", "What is drawn, in order; the last may be open", "table",
              needed=True, columns=(
            amps("current", "current_A", "Current"),
            number("power", "power_W", "Or power, W"),
            Field("lasts", "duration_s", "For", "time", "min"),
        )),
        Field("must", "must_s", "It must last", "time", "min", limit=True, hint="30"),
        *BATTERY,
        Field("full", "emf_full_V", "Open, full", "voltage", "V", under=VOLTS),
        Field("end", "emf_end_V", "Open, used up", "voltage", "V", under=VOLTS),
        ohms("inside", "resistance_ohm", "Battery and feed", "mohm", under=VOLTS),
        Field("least", "least_bus_V", "Least that the bus may fall to", "voltage", "V",
              under=VOLTS, limit=True),
        Field("valid", "valid_to_A", "The data hold to", "current", "A", under=VOLTS, limit=True),
    ),
    _lasts, CAUTION,
)  # fmt: skip


def _shed(asked: Asked) -> Worked:
    inputs: dict[str, Any] = asked.only(*NAMES, "required_s", "keep_A", "decide_s")
    inputs["shed"] = [{"name": r["id"], "current_A": r["current_A"]} for r in asked.values["shed"]]
    found = run(SHED, inputs)
    last = found["after"][-1]
    none, by = minutes(found["endurance_none_s"], "for ever"), minutes(found["latest_shed_s"], "")
    words = {
        "no shedding needed": f"It lasts {none} with all on.",
        "not even at once": "Not even shedding all at once reaches it.",
        "shed in time": f"Shed all within {by} and it lasts as long as it must.",
        "decided too late": f"Shed all within {by}: that is before one would act.",
    }[found["note"]]
    verdict = Verdict(found["verdict"])
    if unsaid := _unsaid(asked):
        verdict, words = Verdict.NOT_MEASURED, f"{words} Not said: {', '.join(unsaid)}."
    checks = (said("shedding", "shedding", words, verdict, SHED, inputs),)
    facts = [("With nothing shed", minutes(found["endurance_none_s"], "endless"))]
    facts += [
        (
            f"After {a['name']}",
            f"{minutes(a['endurance_s'], 'endless')}, {minutes(a['gain_s'], 'endless')} more",
        )
        for a in found["after"]
    ]
    return Worked(checks, (*facts, ("Left on", f"{last['current_A']:.1f} A")))


sheet(
    "shedding", "loads", "What to shed, and by when",
    "After the alternator fails: what must go off, and how late may one decide?",
    (
        amps("keep", "keep_A", "What stays on", needed=True),
        Field("shed", "shed", "What goes off, in this order", "table", needed=True, columns=(
            ident("Load", "landing light"), amps("current", "current_A", "Current", needed=True),
        )),
        Field("must", "required_s", "It must last", "time", "min", needed=True, limit=True,
              hint="30"),
        Field("decide", "decide_s", "The pilot acts after", "time", "min", needed=True, hint="2"),
        *BATTERY,
    ),
    _shed, CAUTION,
)  # fmt: skip
