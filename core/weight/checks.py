"""What is said of weighings, loadings and the aircraft as a whole, each by its rule."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict, worst
from core.weight.book import Book, Row, labels
from core.weight.rows import LIMITS, LOADING, SCALE, WEIGHING
from core.weight.saying import kg, kgm, known_mm, loads_said, mm
from core.weight.weighing import MOST_IMBALANCE
from core.worksheets.kinds import known_to, run, said, unsaid

AIRCRAFT = "aircraft"
WEIGHED, SWAPPED, LEDGER = "weight.weighing", "weight.swap_test", "weight.ledger"
LOADED, BURNED, WORST = "weight.loading_case", "weight.burn_track", "weight.worst_cases"
LATERAL, LEVEL = "weight.lateral_check", "weight.level_angle"
STATES = {"takeoff": "take-off", "landing": "landing", "zero_fuel": "without fuel"}


def judged(b: Book, row: Row) -> list[Check]:
    """Of a weighing or a loading."""
    if row.kind == WEIGHING:
        return list(weighing_checks(b, row))
    return list(loading_checks(b, row)) if row.kind == LOADING else []


def weighing_checks(b: Book, w: Row) -> Iterable[Check]:
    """Prepared, read, what it gives, and whether it agrees with its repetition."""
    yield _prepared(w)
    unread = [label for label in labels(w) if label not in w.read]
    if unread:
        yield unsaid("read", f"{w.name}: scales", f"what stands on the {', '.join(unread)} wheel")
        return
    asked, found = b.weighing(w), b.result(w)
    yield _result(b, w, asked, found)
    if not found["between_wheels"]:
        words = f"{mm(found['x_m'])} lies beyond the wheels: it would not stand so. Look for a"
        yield said("between", f"{w.name}: balance between its wheels",
                   f"{words} wrong arm or reading.", Verdict.OUT, WEIGHED, asked)  # fmt: skip
    uneven = found["main_imbalance"]
    if uneven is not None and abs(uneven) > MOST_IMBALANCE:
        yield _uneven(w, uneven, asked)
    yield from _again(b, w)


def _prepared(w: Row) -> Check:
    left = w.unprepared
    if left:
        more = f" And {len(left) - 1} more." if len(left) > 1 else ""
        return said("prepared", f"{w.name}: preparation", f"Not said: {_lower(left[0])}.{more}",
                    Verdict.NOT_MEASURED)  # fmt: skip
    return said("prepared", f"{w.name}: preparation", "All of it is said.", Verdict.IN)


def _lower(words: str) -> str:
    return words[:1].lower() + words[1:]


def _result(b: Book, w: Row, asked: Mapping[str, Any], found: Mapping[str, Any]) -> Check:
    words = (
        f"Empty {kg(found['mass_kg'])} ± {found['U_mass_kg']:.1f}, arm"
        f" {known_mm(found['x_m'], found['U_x_m'])}."
    )
    missing = []
    if any("u_x_m" not in s for s in asked["scales"]):
        missing.append("the wheels’ arms")
    if any("u_gross_kg" not in s for s in asked["scales"]):
        missing.append("the readings")
    if any("u_factor" not in s for s in asked["scales"]) and "u_factor_common" not in asked:
        missing.append("the scales’ calibration")
    if "u_datum_m" not in asked:
        missing.append("the datum’s plumb line")
    for angle, what in (("pitch", "lengthwise"), ("roll", "across")):
        if f"{angle}_rad" not in asked:
            missing.append(f"how level it stood {what}")
    if not found["attitude_in_budget"]:
        words += " Its attitude is not in the budget: say how high the balance can lie."
    if found["y_m"] is None:
        words += " Sideways it is not measured: the wheels’ places to the right are not said."
    verdict, words = known_to(Verdict.IN, words, missing)
    far = _not_here(b, w)
    if far:
        words += f" Not said where {', '.join(far)} was calibrated: gravity is not allowed for."
    return said("result", f"{w.name}: result", words, verdict, WEIGHED, asked)


def _not_here(b: Book, w: Row) -> list[str]:
    """Scales of which nobody said where they were calibrated, where the place of weighing is
    said."""
    if not any(name in w.values for name in ("here_latitude_rad", "here_g_m_s2")):
        return []
    scales = (b.named(SCALE, x["scale"]) for x in w.values["wheels"])
    return [s.name for s in scales if s and b.gravity_asked(w, s) is None]


def _uneven(w: Row, uneven: float, asked: Mapping[str, Any]) -> Check:
    side = "right" if uneven > 0 else "left"
    words = f"The {side} wheel carries {abs(uneven):.0%} more than half of both."
    if "uneven" in w.values:
        return said("uneven", f"{w.name}: left and right", f"{words} {w.values['uneven']}",
                    Verdict.ACCEPTED, WEIGHED, asked)  # fmt: skip
    words += " Check the levelling, tyres that bind on the scales, fuel left against right."
    return said("uneven", f"{w.name}: left and right", words, Verdict.TOO_CLOSE, WEIGHED, asked)


def _again(b: Book, w: Row) -> Iterable[Check]:
    """Of the first weighing: against each repetition whose scales are read."""
    read = [a for a in b.repeated(w) if all(x in a.read for x in labels(a))]
    if not read:
        return
    asked = b.swap(w, read)
    try:
        found = run(SWAPPED, asked)
    except Refused as refusal:
        yield said("again", f"{w.name}: weighed again", f"{refusal.reason.capitalize()}.",
                   Verdict.NOT_MEASURED)  # fmt: skip
        return
    for a, c in zip(read, found["compare"], strict=True):
        words = (
            f"{kg(abs(c['mass_difference_kg']), 2)} and {mm(abs(c['x_difference_m']), 1)} apart."
        )
        if c["consistent"]:
            words += " Both agree within their uncertainties."
        else:
            words += f" That is more than their uncertainties: the {c['suspect_wheel']} wheel"
            words += " differs most"
            if found["suspect_scale"]:
                words += f", {found['suspect_scale']} is to be doubted first"
            words += ". Weigh a third time, every scale under another wheel."
        if any("u_gross_kg" not in p for weighing in asked["weighings"] for p in weighing):
            words += " Not said how well a reading repeats."
        verdict = Verdict.IN if c["consistent"] else Verdict.OUT
        yield said(f"again {a.slug}", f"{w.name}: against {a.name}", words, verdict, SWAPPED, asked)


def loading_checks(b: Book, r: Row) -> Iterable[Check]:
    """In each state, every limit exceeded, and along the burn."""
    if b.empty is None:
        yield unsaid("loading", r.name, "what the aircraft weighs empty")
        return
    asked = b.loaded(r)
    found = run(LOADED, asked)
    for n, x in enumerate(found["exceeded"], 1):
        name = STATES.get(x["limit"], x["limit"])
        yield said(f"over {n}", f"{r.name}: {name}",
                   f"{kg(x['over_kg'])} over its limit.", Verdict.OUT, LOADED, asked)  # fmt: skip
    if b.envelope is None:
        yield unsaid("envelope", f"{r.name}: balance", "the envelope")
        return
    for state, word in STATES.items():
        s = found[state]
        yield said(state, f"{r.name}: {word}", _placed(s), Verdict(s["verdict"]), LOADED, asked)
    track = b.burned(r, asked, found)
    if track is not None:
        yield _burn(r, track, run(BURNED, track))
    elif len(asked["tanks"]) > 1:
        yield unsaid("burn", f"{r.name}: while fuel burns", "in which order the tanks are burned")


def _placed(s: Mapping[str, Any]) -> str:
    """A state against the limits."""
    words = f"{kg(s['mass_kg'])} at {known_mm(s['x_m'], s['U_x_m'])}"
    if s["forward_margin_m"] is None:
        return f"{words}: outside the envelope’s masses."
    return f"{words}: {_margins(s['forward_margin_m'], s['aft_margin_m'])}."


def _margins(forward: float, aft: float) -> str:
    side, margin = ("forward", forward) if forward < aft else ("aft", aft)
    if margin < 0.0:
        return f"{mm(-margin, 1)} {'ahead of' if side == 'forward' else 'behind'} the {side} limit"
    return f"{mm(margin, 1)} from the {side} limit"


def _burn(r: Row, asked: Mapping[str, Any], found: Mapping[str, Any]) -> Check:
    fuel = sum(t["mass_kg"] for t in asked["tanks"])
    outs = [c for c in found["crossings"] if c["kind"] == "exit"]
    shrunk = [c for c in found["shrunk"]["crossings"] if c["kind"] == "exit"]
    if outs:
        left = kg(fuel - outs[0]["burned_kg"])
        words = f"Leaves the envelope {outs[0]['side']} with {left} of fuel left."
    elif not found["start_inside"]:
        words = "Takes off outside the envelope."
    elif shrunk:
        left = kg(fuel - shrunk[0]["burned_kg"])
        words = f"Nearer to the {shrunk[0]['side']} limit than it is known, from {left} of fuel on."
    else:
        words = f"Stays inside from take-off to the last fuel, {kg(fuel)} of it."
    verdict = Verdict(found["verdict"])
    return said("burn", f"{r.name}: while fuel burns", words, verdict, BURNED, asked)


def aircraft_checks(b: Book) -> Iterable[Check]:
    """Of the aircraft as a whole: weighed, up to date, the worst that can be flown."""
    yield weighed_check(b)
    yield from _ledger_checks(b)
    yield from worst_checks(b)


def weighed_check(b: Book) -> Check:
    """Whether it is weighed, and how that stands."""
    w = b.last_weighing
    if w is None:
        asked = b.estimate_asked()
        words = "Not weighed yet."
        if asked:
            try:
                e = run("weight.estimate", asked)
                words += f" Its parts add up to {kg(e['mass_kg'])} ± {e['U_mass_kg']:.0f}, arm"
                words += f" {known_mm(e['x_m'], e['U_x_m'])}."
            except Refused:
                words += " Its parts do not add up yet: not said how sure they are."
        return said("weighed", "Weighing", words, Verdict.NOT_MEASURED)
    checks = list(weighing_checks(b, w))
    verdict = worst(c.verdict for c in checks)
    bad = next((c for c in checks if c.verdict is verdict), checks[0])
    result = next((c for c in checks if c.key == "result"), bad)
    words = result.said if verdict is result.verdict else f"{result.said} {bad.what}: {bad.said}"
    return said("weighed", f"Weighed on {w.values['day']}", words, verdict, WEIGHED, b.weighing(w))


def _ledger_checks(b: Book) -> Iterable[Check]:
    """Changes since the weighing against their limit; the ledger against the next weighing."""
    w = b.last_weighing
    if w is None:
        return
    since = b.since(w)
    if since:
        asked = b.ledger_asked(w)
        now = run(LEDGER, asked)
        words = f"{len(since)} since {w.name}: empty {kg(now['mass_kg'])} ±"
        words += f" {now['U_mass_kg']:.1f}, arm {known_mm(now['x_m'], now['U_x_m'])}."
        verdict, more = _due(b)
        yield said("changed", "Changes of equipment", f"{words} {more}", verdict, LEDGER, asked)
    if len(b.weighed) > 1:
        yield _compared(b, b.weighed[-2], w)


def _due(b: Book) -> tuple[Verdict, str]:
    since, limits = b.accumulated(), b.limits
    given: list[tuple[str, float, Callable[[float], str]]] = [
        ("reweigh_kg", since["mass_kg"], kg),
        ("reweigh_kg_m", since["moment_kg_m"], kgm),
    ]
    said_of = [(limits[n], value, word) for n, value, word in given if n in limits]
    if not said_of:
        return Verdict.NOT_MEASURED, "Not said after which changes it must be weighed again."
    over = [f"{w(v)} of {w(most)}" for most, v, w in said_of if v > most * (1.0 + 1e-9)]
    if over:
        return Verdict.OUT, f"Weigh it again: changed by calculation {', '.join(over)}."
    kept = ", ".join(f"{w(v)} of {w(most)}" for most, v, w in said_of)
    return Verdict.IN, f"Changed by calculation {kept}."


def _compared(b: Book, first: Row, w: Row) -> Check:
    what = f"{w.name} against {first.name} and its changes"
    asked = b.ledger_asked(first, w)
    try:
        c = run(LEDGER, asked)["compare"]
    except Refused as refusal:
        return said("compared", what, f"{refusal.reason.capitalize()}.", Verdict.NOT_MEASURED)
    words = f"{kg(abs(c['mass_difference_kg']), 2)} and {mm(abs(c['x_difference_m']), 1)} apart."
    if c["agrees"]:
        return said("compared", what, f"{words} They agree.", Verdict.IN, LEDGER, asked)
    words += " More than is known: something was changed that nobody entered, or one is wrong."
    if c["single_item_arm_m"] is not None:
        words += f" A single forgotten thing would sit at {mm(c['single_item_arm_m'])}."
    return said("compared", what, words, Verdict.OUT, LEDGER, asked)


def worst_checks(b: Book) -> Iterable[Check]:
    """The worst that can be flown, to each limit."""
    if not b.limits:
        yield unsaid("worst", "Worst loadings", "the limits")
        return
    try:
        asked = b.worst_asked()
        found = run(WORST, asked)
    except Refused as refusal:
        words = f"Not known: {refusal.reason}."
        yield said("worst", "Worst loadings", words, Verdict.NOT_MEASURED)
        return
    for side in ("forward", "aft"):
        yield _worst_side(side, found, asked)
    yield _masses(found, asked)
    yield from _lateral(b, found, asked)


def _worst_side(side: str, found: Mapping[str, Any], asked: Mapping[str, Any]) -> Check:
    what = f"Worst loading, {side} limit"
    w = found[f"{side}_worst"]
    if w is None:
        return said(f"worst {side}", what, "No loading lies in the envelope’s masses.",
                    Verdict.OUT, WORST, asked)  # fmt: skip
    margin, U, verdict = w["margin_m"], w["U_x_m"], Verdict(w["verdict"])
    where = "from" if margin >= 0.0 else ("ahead of" if side == "forward" else "behind")
    words = (
        f"{mm(abs(margin), 1)} {where} the limit, known to ± {U * 1e3:.1f} mm:"
        f" {kg(w['mass_kg'], 0)} with {loads_said(w['loads'])}."
    )
    if found["bounded"]:
        words += " A bound: a tank’s arm varies."
    return said(f"worst {side}", what, words, verdict, WORST, asked)


def _masses(found: Mapping[str, Any], asked: Mapping[str, Any]) -> Check:
    low, high = found["min_mass_kg"], found["max_mass_kg"]
    words = f"From {kg(low, 0)} to {kg(high, 0)}."
    verdict = Verdict.IN
    masses = [m for _, m in asked["envelope"]["points"]]
    if found["below_envelope_possible"]:
        words += f" The lightest loading is below the envelope, {kg(min(masses), 0)}."
        verdict = Verdict.OUT
    if high > max(masses) * (1.0 + 1e-9):
        words += f" The heaviest is above the envelope, {kg(max(masses), 0)}."
        verdict = Verdict.OUT
    if found["over_limit_possible"]:
        words += f" All full it would weigh {kg(found['all_full_mass_kg'], 0)}: reckon before each"
        words += " flight."
    return said("worst mass", "Lightest and heaviest", words, verdict, WORST, asked)


def _lateral(b: Book, found: Mapping[str, Any], asked: Mapping[str, Any]) -> Iterable[Check]:
    limits = b.limits
    moment = "left_kg_m" in limits or "right_kg_m" in limits
    names = ("left_kg_m", "right_kg_m") if moment else ("left_m", "right_m")
    given = {f"{n.split('_')[0]}_limit": limits[n] for n in names if n in limits}
    if not given:
        return
    what = "Most to a side"
    sideless = [r["name"] for r in (*asked["stations"], *asked["tanks"]) if "y_m" not in r]
    if b.empty is None or "U_y_m" not in b.empty or sideless:
        wanted = sideless[0] if sideless else "the empty aircraft, sideways"
        yield unsaid("lateral", what, f"where {wanted} lies")
        return
    for side in ("left", "right"):
        far = found[f"most_{side}"]
        one = {"y_m": far["y_m"], "U_y_m": b.empty["U_y_m"], **given}
        if moment:
            one |= {"plane": "moment", "mass_kg": far["mass_kg"], "U_mass_kg": b.empty["U_mass_kg"]}
        judged = run(LATERAL, one)
        value = kgm(judged["value"]) if moment else mm(judged["value"])
        words = f"{value}: {kg(far['mass_kg'], 0)} with {loads_said(far['loads'])}."
        verdict = Verdict(judged["verdict"])
        yield said(f"lateral {side}", f"{what}, {side}", words, verdict, LATERAL, one)


__all__ = ["AIRCRAFT", "LIMITS", "aircraft_checks", "judged"]
