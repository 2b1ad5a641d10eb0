"""What the rules say of the harness: each circuit, each connector, each bundle as it stands."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.runs.holes import holes_checks
from core.runs.path import spans
from core.wiring.first_power import insulation_of, power_check
from core.wiring.harness import BUNDLE, BUS, CIRCUIT, CONNECTOR, INSULATED, Harness, Row
from core.wiring.harness_made import conduit, made_up
from core.wiring.harness_near import near_checks, thickness
from core.wiring.sheets.circuits import WHOLE, of_circuit
from core.wiring.sheets.connectors import PINS, SHIELD, UNDONE, WORDS
from core.wiring.tables import GAUGES
from core.worksheets.kinds import known_to, lacking, run, said, unsaid

CONTINUITY, INSULATION, SPANS, LOAD = (
    "wiring.continuity", "wiring.insulation", "clearance.spans", "wiring.bundle_load",
)  # fmt: skip
NEEDED = (
    ("current_A", "its current"),
    ("ambient_C", "the hottest place it passes"),
    ("rating_C", "what its wire is rated for"),
    ("back", "how it returns"),
)
# Of a wire of which nobody said it: long enough that no splice is near an end.
LONG_M = 1e3
ENTERED, MEASURED = "entered for the harness", "measured with the meter"


def circuit_checks(h: Harness, c: Row) -> Iterable[Check]:
    """A circuit: gauge and protector by its wires, and of each wire how far it is done."""
    wires = h.wires_of(c)
    if not wires:
        yield unsaid("wires", f"{c.name}: wires", "which wires it has")
    yield from _sized(h, c, wires)
    yield from _insulated(h, c)
    for w in wires:
        yield _done(h, w)
        yield from (_by_person(c, w) for c in made_checks(h, w))
        if w.test:
            yield _tested(h, w)
        yield from _odd(w)


def _sized(h: Harness, c: Row, wires: list[Row]) -> Iterable[Check]:
    """Gauge and protector, from the way to it and its return."""
    row, missing = _as_row(h, c, wires)
    if missing:
        yield unsaid(f"gauge {c.name}", f"{c.name}: gauge", *missing)
        return
    whole = {k: c.values[k] for k in WHOLE if k in c.values}
    factor = {k: c.values[k] for k in ("factor",) if k in c.values}
    try:
        found, _ = of_circuit(row, whole, factor)
    except Refused as refusal:
        words = f"{refusal.reason[:1].upper()}{refusal.reason[1:]}."
        yield said(f"gauge {c.name}", f"{c.name}: gauge", words, Verdict.NOT_MEASURED)
        return
    yield from (_from(check, c.cited) for check in found)


def _insulated(h: Harness, c: Row) -> Iterable[Check]:
    """Its last insulation test, where one was made or a limit is asked."""
    what = f"{c.name}: insulation"
    tests = [e for e in c.log if e["doing"] == INSULATED]
    if "insulation_ohm" not in c.values:
        if tests:
            yield unsaid("insulation", what, "what it needs at least")
        return
    least = f"at least {c.values['insulation_ohm'] / 1e6:g} MΩ"
    if not tests:
        yield said("insulation", what, f"Not tested yet; {least}.", Verdict.NOT_MEASURED)
        return
    verdict, inputs = insulation_of(h, c)
    words = f"{insulation_said(tests[-1])}, {least}."
    if verdict is Verdict.STALE:
        words += " Its wires were worked on since: test it again."
    if "U_rel" not in inputs and not inputs.get("over_range"):
        words += " Not said: how well the tester knows it."
    check = said("insulation", what, words, verdict, INSULATION, inputs, step="test")
    origin = dict.fromkeys(inputs, MEASURED) | {"limit_ohm": c.cited or ENTERED}
    yield replace(check, origins=origin, quiet=verdict is Verdict.IN)


def insulation_said(read: Mapping[str, Any]) -> str:
    """What a tester read, in words."""
    over = "More than " if read.get("over_range") else ""
    return f"{over}{read['measured_ohm'] / 1e6:g} MΩ"


def _from(check: Check, cited: str) -> Check:
    origin = {k: ENTERED for k in check.inputs}
    if cited:
        origin |= {
            k: cited for k in ("drop_limit_V", "table_factor", "wire_limit_A") if k in origin
        }
    return replace(check, origins=origin)


def _as_row(h: Harness, c: Row, wires: list[Row]) -> tuple[dict[str, Any], list[str]]:
    """A circuit as the table of circuits has it, and what it lacks, in words."""
    missing = [words for name, words in NEEDED if name not in c.values]
    if not {"system_V", "drop_limit_V"} & set(c.values):
        missing.append("the voltage of its bus")
    found = dict(c.values) | {"id": c.name}
    for part, name, word in (("feed", "feed_m", "the way to it"), ("return", "back_m", "return")):
        these = [w for w in wires if w.values["part"] == part]
        if part == "return" and c.values.get("back") != "wire":
            continue
        lengths = [h.length_m(w) for w in these]
        if not these:
            missing.append(f"its wires: {word}")
        missing += [f"the length of {w.name}" for w, m in zip(these, lengths, strict=True) if not m]
        found[name] = math.fsum(m for m in lengths if m)
    there = [w.values.get("awg") for w in wires if w.values["part"] != "signal"]
    if there and all(there):
        # The thinnest of them: what holds for it holds for all.
        found["awg"] = min((g for g in there if g), key=GAUGES.index)
    return found, missing


def _done(h: Harness, w: Row) -> Check:
    missing = h.missing(w)
    if not missing:
        words = "Run, terminated at both ends, tested and labelled."
        return said(f"wire {w.slug}", w.name, words, Verdict.IN, quiet=True)
    words = f"Not yet: {', '.join(missing)}."
    if not w.done:
        words = "Planned: nothing of it is done."
    return said(f"wire {w.slug}", w.name, words, Verdict.NOT_MEASURED)


def made_checks(h: Harness, w: Row) -> Iterable[Check]:
    """A wire by itself: where it goes, its splices, its shield."""
    what, ends = f"{w.name}: as it is made", [w.end(e) for e in "ab"]
    nowhere = [word for at, word in zip(ends, ("starts", "ends"), strict=True) if at is None]
    if nowhere:
        yield unsaid(f"ends {w.slug}", f"{w.name}: ends", *(f"where it {x}" for x in nowhere))
    unknown = sorted({at[0] for at in ends if at and h.named(CONNECTOR, at[0]) is None})
    if unknown:
        words = f"No connector here is called {', '.join(unknown)}: enter it with its pins."
        yield said(f"at {w.slug}", f"{w.name}: ends", words, Verdict.NOT_MEASURED)
    splices = w.values.get("splices_m")
    if not splices and "shield" not in w.values:
        return
    long = h.length_m(w)
    if splices and long is None:
        yield unsaid(f"made {w.slug}", what, "its length, for its splices")
        return
    one = _conductor(w, set()) | {"length_m": long or LONG_M}
    if splices:
        one["splices_m"] = list(splices)
    inputs = {"connectors": [], "conductors": [one]}
    bad = [WORDS[code] for code, where in run(PINS, inputs)["findings"] if where == w.name]
    words = f"{w.name} {' and '.join(bad)}." if bad else "Splices and shield as they should be."
    verdict = Verdict.OUT if bad else Verdict.IN
    check = said(f"made {w.slug}", what, words, verdict, PINS, inputs, quiet=not bad)
    yield replace(check, origins=dict.fromkeys(inputs, ENTERED))


def _tested(h: Harness, w: Row) -> Check:
    """Its last continuity test; of another gauge or length it says nothing any more."""
    inputs, what = dict(w.test), f"{w.name}: continuity"
    if not h.test_holds(w):
        words = "Its gauge or length was changed after its test: test it again."
        return said(f"test {w.slug}", what, words, Verdict.STALE, CONTINUITY, inputs)
    found = run(CONTINUITY, inputs)
    verdict, words = continuity_judged(inputs, found)
    check = said(f"test {w.slug}", what, words, verdict, CONTINUITY, inputs)
    origin = {k: MEASURED if k in ("measured_ohm", "leads_ohm") else ENTERED for k in inputs}
    return replace(check, origins=origin, step="test", quiet=verdict is Verdict.IN)


def continuity_said(inputs: Mapping[str, Any], found: Mapping[str, Any]) -> str:
    """A continuity test in words."""
    words = (
        f"{found['corrected_ohm'] * 1e3:.1f} mΩ; this wire has {found['low_ohm'] * 1e3:.1f} to"
        f" {found['high_ohm'] * 1e3:.1f} mΩ."
    )
    if found["side"] == "high":
        words += " More: a bad crimp or a thinner wire."
    if found["side"] == "low":
        words += " Less: another path, a shorter or thicker wire."
    return words


def continuity_judged(inputs: Mapping[str, Any], found: Mapping[str, Any]) -> tuple[Verdict, str]:
    """Its verdict and words: not measured where nobody said how well the meter knows it."""
    missing = lacking(inputs, ("U_ohm", "the meter"))
    return known_to(Verdict(found["verdict"]), continuity_said(inputs, found), missing)


def connector_checks(h: Harness, c: Row) -> Iterable[Check]:
    """A connector: what ends at its pins, its mate, and whether it was closed up too early."""
    at = h.wires_at(c)
    mate = h.named(CONNECTOR, str(c.values.get("mate", "")))
    there = [c, *([mate] if mate and mate.slug != c.slug else [])]
    wires = {w.slug: w for one in there for w, _, _ in h.wires_at(one)}
    inputs = {
        "connectors": [_body(x) for x in there],
        "conductors": [_conductor(w, {x.name.casefold() for x in there}) for w in wires.values()],
    }
    found = run(PINS, inputs)
    own = f"{c.name}.".casefold()
    mine = [
        (code, where) for code, where in found["findings"]
        if where.casefold().startswith(own) or c.name.casefold() in where.casefold().split("+")
        or where.casefold() == c.name.casefold()
    ]  # fmt: skip
    for code, where in mine:
        verdict = Verdict.NOT_MEASURED if code in UNDONE else Verdict.OUT
        words = f"{where} {WORDS[code]}."
        yield replace(
            said(f"{code} {where}", where, words, verdict, PINS, inputs),
            origins=dict.fromkeys(inputs, ENTERED),
        )
    if not mine:
        spare = found["spare_pins"][c.name]
        words = f"Every wire at it ends on a pin of its own that takes it; {spare} spare."
        yield replace(
            said("pins", f"{c.name}: pins", words, Verdict.IN, PINS, inputs, quiet=True),
            origins=dict.fromkeys(inputs, ENTERED),
        )
    if c.values.get("closed"):
        late = sorted(w.name for w, end, _ in at if f"end_{end}" not in w.done)
        words = "Closed up with its last wire on."
        if late:
            words = f"Closed up before its last wire: {', '.join(late)}."
        verdict = Verdict.OUT if late else Verdict.IN
        yield said("closed", f"{c.name}: closed up", words, verdict, quiet=not late)


def _body(c: Row) -> dict[str, Any]:
    contacts = c.values["contacts"]
    found = {
        "id": c.name,
        "contacts": "pin" if contacts == "terminal" else contacts,
        "pins": c.pins,
    }
    return found | ({"mate": c.values["mate"]} if c.values.get("mate") else {})


def _conductor(w: Row, here: set[str]) -> dict[str, Any]:
    """As the rule takes it: an end at another connector is none of this one's."""
    ends = {e: w.end(e) for e in "ab"}
    found: dict[str, Any] = {
        "id": w.name,
        "awg": w.values.get("awg") or GAUGES[len(GAUGES) // 2],
        "length_m": w.values.get("length_m") or LONG_M,
    }
    for e, at in ends.items():
        if at and at[0].casefold() in here:
            found[e] = {"connector": at[0], "pin": at[1]}
    if w.values.get("shield"):
        a, b = SHIELD[w.values["shield"]]
        found["shield"] = {"a": a, "b": b}
    return found


def bundle_checks(h: Harness, b: Row) -> Iterable[Check]:
    """A bundle: what shares it, how it is held, its conduit, its load, its holes."""
    wires = h.wires_in(b)
    yield from _classes(b, wires)
    yield from _held(b)
    thick = thickness(b, wires)
    if thick is None:
        names = [w.name for w in wires if "od_m" not in w.values] or ["its wires"]
        yield unsaid("thickness", f"{b.name}: thickness", f"the diameter of {', '.join(names)}")
    else:
        inputs, found = thick
        if found["verdict"] is not None:
            yield conduit(b, inputs, found)
    yield from _load(h, b, wires)
    yield from made_up(h, b, None if thick is None else thick[1]["diameter_m"])
    yield from near_checks(h, b, None if thick is None else thick[1]["diameter_m"] / 2.0)
    if not b.way_m:
        yield unsaid("way", f"{b.name}: way", "the corners of its way")
    elif thick is not None or b.holes is None or not b.holes:
        radius = thick[1]["diameter_m"] / 2.0 if thick else 0.0
        gap = b.values.get("edge_gap_m")
        for c in holes_checks(b.way_m, radius, b.holes, gap, {"edge_gap": b.cited or ENTERED}):
            yield replace(c, what=f"{b.name}: {c.what}")


def _classes(b: Row, wires: list[Row]) -> Iterable[Check]:
    pairs = [p.split("/") for p in b.values.get("apart", ())]
    what = f"{b.name}: who shares it"
    if not pairs:
        yield unsaid("apart", what, "which classes must not share it")
        return
    of = {w.name: str(w.values.get("class", "")).casefold() for w in wires}
    found = []
    for pair in pairs:
        one, other = (p.strip().casefold() for p in pair)
        loud, quiet = ([n for n, k in of.items() if k == x] for x in (one, other))
        if loud and quiet:
            found.append(f"{', '.join(loud)} ({one}) with {', '.join(quiet)} ({other})")
    unnamed = [n for n, k in of.items() if not k]
    if found:
        words = f"{'; '.join(found)}: another bundle, or twist and shield them."
        yield said("apart", what, words, Verdict.OUT)
    elif unnamed:
        yield unsaid("apart", what, f"the class of {', '.join(unnamed)}")
    else:
        yield said("apart", what, "No two that must stay apart share it.", Verdict.IN, quiet=True)


def _held(b: Row) -> Iterable[Check]:
    what, v = f"{b.name}: supports", b.values
    lacking = [
        w for n, w in (("supports_m", "where it is held"), ("span_m", "the longest span allowed"))
        if n not in v
    ]  # fmt: skip
    if lacking or not b.way_m:
        yield unsaid("supports", what, *(lacking or ["its way"]))
        return
    inputs = {"pts": b.way_m, "supports_s": list(v["supports_m"]), "limit": v["span_m"]}
    found = spans(**inputs)
    longest = max(found.spans)
    words = (
        f"{found.length:.2f} m long, longest span {longest * 1e3:.0f} mm, at most"
        f" {v['span_m'] * 1e3:.0f} mm."
    )
    if found.over:
        words += f" {len(found.over)} over it; it needs {found.least_supports} supports or more."
    verdict = Verdict.OUT if found.over else Verdict.IN
    check = said("supports", what, words, verdict, SPANS, inputs, quiet=not found.over)
    yield replace(
        check, step="clearance", origins=dict.fromkeys(inputs, ENTERED) | {"limit": b.cited}
    )


def _load(h: Harness, b: Row, wires: list[Row]) -> Iterable[Check]:
    """Whether the wire table holds for it: of wires that carry a circuit's current."""
    rows, lacking = [], []
    for w in (w for w in wires if w.values["part"] != "signal"):
        c = h.named(CIRCUIT, w.values["circuit"])
        v = c.values if c else {}
        if "awg" in w.values and {"rating_C", "current_A"} <= set(v):
            rows.append(
                {
                    "awg": w.values["awg"],
                    "rating_C": int(v["rating_C"]),
                    "current_A": v["current_A"],
                }
            )
        else:
            lacking.append(w.name)
    what = f"{b.name}: load"
    if lacking:
        yield unsaid("load", what, f"gauge, rating or current of {', '.join(lacking)}")
    elif len({r["rating_C"] for r in rows}) > 1:
        words = "Its wires have several temperature ratings: the table holds for one alone."
        yield said("load", what, words, Verdict.NOT_MEASURED)
    elif rows:
        found = run(LOAD, {"wires": rows})
        words = (
            f"{found['share']:.0%} of its capacity in use; the table holds to {found['limit']:.0%}."
        )
        verdict = Verdict(found["verdict"])
        check = said("load", what, words, verdict, LOAD, {"wires": rows})
        yield replace(check, origins={"wires": ENTERED}, quiet=verdict is Verdict.IN)


def what_is_out(h: Harness) -> dict[str, str]:
    """Of every circuit and connector: the first thing that is out, by slug."""
    found: dict[str, str] = {}
    for row in (*h.of(CIRCUIT), *h.of(CONNECTOR)):
        for c in judged(h, row):
            if c.verdict is Verdict.OUT:
                found.setdefault(row.slug, f"{c.what}: {c.said}")
    return found


def bus_checks(h: Harness, b: Row) -> Iterable[Check]:
    """A bus: whether it may have power, and how far its first power is."""
    check = power_check(h, b, what_is_out(h))
    origin = dict.fromkeys(check.inputs, ENTERED)
    yield replace(check, origins=origin, quiet=check.verdict is Verdict.IN)


CHECKS: dict[str, Callable[[Harness, Row], Iterable[Check]]] = {
    CIRCUIT: circuit_checks,
    CONNECTOR: connector_checks,
    BUNDLE: bundle_checks,
    BUS: bus_checks,
}


def _by_person(c: Check, row: Row) -> Check:
    """What is out and accepted as it is, with its reason."""
    why = row.accepted.get(c.key.partition(" ")[0])
    if why is None or c.verdict is not Verdict.OUT:
        return c
    return replace(c, verdict=Verdict.ACCEPTED, said=f"{c.said} Accepted: {why}.", quiet=False)


def _odd(row: Row) -> Iterable[Check]:
    if row.values.get("odd"):
        words = f"{row.values['odd']}."
        yield said(f"odd {row.slug}", f"{row.name}: odd", words, Verdict.ACCEPTED)


def judged(h: Harness, row: Row) -> list[Check]:
    """Every check of a row; a wire's are its circuit's."""
    checks = CHECKS.get(row.kind)
    found = checks(h, row) if checks else ()
    return [*(_by_person(c, row) for c in found), *_odd(row)]
