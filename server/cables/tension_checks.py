"""What the rules say of a cable and its tension: size, the day's band, turnbuckle, sense."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.cables.document import Cable as CoreCable
from core.cables.lever import SIDES
from core.cables.rigging import EDGE_AFT_M, Rigged
from core.cables.setting import judged as judge_tension
from core.cables.setting import today
from core.rulebook.registry import rule
from server.cables.checking import Check, check
from server.cables.models import Cable, CableReading, Loop
from server.cables.standing import SAME_K, Stands, showing
from server.controls.why import why


def size_check(cable: CoreCable, primary: bool) -> Check:
    """The least size of a primary cable."""
    inputs = {"diameter_m": cable.data.diameter_m, "primary": primary}
    verdict = Verdict(rule("cables.cable_size_check").run(inputs)["verdict"])
    said = f"{cable.construction}, {cable.data.diameter_m * 1e3:.2f} mm."
    if verdict is not Verdict.IN:
        said += " No cable under 1/8 in in a primary control system."
    return check(
        f"size {cable.side}",
        "cable",
        cable.side,
        f"{cable.name}: size",
        said,
        verdict,
        at=reached(cable),
        reason=why("cables.cable_size_check", inputs),
    )


def best(readings: list[CableReading]) -> CableReading | None:
    """The reading that speaks: the most certain of those that stand, the last among equals."""
    return min(readings, key=lambda r: (r.u, -r.pk)) if readings else None


def tension_check(rigged: Rigged, side: str, stand: Stands) -> Check:
    """The tension of a side against the band of the day on which it was measured."""
    cable = rigged.rigging.cables[side]
    what, key = f"{cable.name}: tension", f"tension {side}"
    rows = stand.current(side)
    speaks = best(rows)
    if speaks is None:
        turned = stand.last_turn
        said = "Measure it again: a turnbuckle was turned." if turned else "Measure the tension."
        return check(key, "tension", side, what, said, Verdict.NOT_MEASURED)
    if speaks.temperature_K is None:
        return check(key, "tension", side, what, "Enter the temperature.", Verdict.NOT_MEASURED)
    try:
        band = today(rigged, side, speaks.temperature_K)
    except Refused as refusal:
        return check(key, "tension", side, what, f"{refusal.reason}.", Verdict.NOT_MEASURED)
    if band.wanted.slack:
        said = "At this temperature a cable set right is slack: measure when it is warmer."
        return check(key, "tension", side, what, said, Verdict.NOT_MEASURED)
    verdict = judge_tension(band, speaks.value, speaks.u)
    U = 2.0 * math.hypot(speaks.u, band.u_model_N)
    asked = f"{rigged.said(band.low_N)} to {rigged.said(band.high_N)}"
    celsius = speaks.temperature_K - 273.15
    said = (
        f"{rigged.said(speaks.value)} ± {rigged.said(U)} at {celsius:.1f} °C;"
        f" at this temperature {asked}."
    )
    if verdict is Verdict.TOO_CLOSE:
        said += " Measure more often, or with a better instrument."
    verdict, said = _overdue(speaks, verdict, said)
    if len(rows) > 1:
        verdict, said = _agreeing(rows, verdict, said)
    return check(key, "tension", side, what, said, verdict, reason=why(speaks.rule, speaks.inputs))


def _overdue(speaks: CableReading, verdict: Verdict, said: str) -> tuple[Verdict, str]:
    due = speaks.instrument_was.get("calibration_due") or ""
    if verdict is Verdict.IN and due and due < speaks.at.date().isoformat():
        return Verdict.TOO_CLOSE, said + f" The instrument's calibration was due on {due}."
    return verdict, said


def _agreeing(rows: list[CableReading], verdict: Verdict, said: str) -> tuple[Verdict, str]:
    """Ways of measuring that contradict each other are never in."""
    speaks = best(rows)
    assert speaks is not None and speaks.temperature_K is not None
    pairs = [
        [r.value, r.u]
        for r in rows
        if r.u > 0 and abs((r.temperature_K or 0.0) - speaks.temperature_K) <= SAME_K
    ]
    if len(pairs) < 2:
        return verdict, said
    compared = rule("cables.compare_readings").run({"readings": pairs})
    if compared["agree"]:
        return verdict, said + f" {len(pairs)} ways of measuring agree."
    word = Verdict.TOO_CLOSE if verdict is Verdict.IN else verdict
    return word, said + " The ways of measuring contradict each other: find out why."


def turnbuckle_checks(cable: CoreCable, row: Cable | None, stand: Stands) -> Iterable[Check]:
    """Thread showing and lock of a side's turnbuckle, if it has one."""
    buckle = cable.turnbuckle
    now = showing(row) if row else None
    if buckle is None or now is None:
        return
    safetied = stand.safetied(cable.side)
    shown = f"Thread showing {now[0]:g} and {now[1]:g}, at most {buckle.limit:g}"
    spot = next((f for f in cable.fittings if f.kind == "turnbuckle"), None)
    at = _on_cable(cable, spot.low_m) if spot else None
    base = (f"turnbuckle {cable.side}", "turnbuckle", cable.side, f"{cable.name}: turnbuckle")
    if min(now) < 0:
        said = f"{shown}. Bottomed: shorten the cable."
        yield check(*base, said, Verdict.OUT, "joint", "bottomed", at)
        return
    inputs = {"showing": list(now), "turns": 0, "limit": buckle.limit, "safetied": safetied}
    result = rule("cables.turnbuckle_threads").run(inputs)
    said, verdict, state = f"{shown}, safetied.", Verdict.IN, "final"
    if result["after"] != "in":
        said, verdict = f"{shown}: too much thread outside.", Verdict.OUT
        state = "too many threads outside"
    elif not safetied:
        said, verdict, state = f"{shown}. Not safetied.", Verdict.NOT_MEASURED, "not safetied"
    if result["uneven"]:
        said += " The two ends differ by more than one thread."
    reason = why("cables.turnbuckle_threads", inputs)
    yield check(*base, said, verdict, "joint", state, at, reason)


def reached(cable: CoreCable) -> list[float]:
    """Where hands have to get at a cable: its turnbuckle; without one, its middle support."""
    spot = next((f for f in cable.fittings if f.kind == "turnbuckle"), None)
    if spot is not None:
        return _on_cable(cable, spot.low_m)
    middle = cable.supports[len(cable.supports) // 2] if cable.supports else None
    return list(middle.centre) if middle else []


def _on_cable(cable: CoreCable, station: float) -> list[float]:
    """A place on the cable at a station: between the supports beside it."""
    near = min(cable.supports, key=lambda s: abs(s.centre[0] - station), default=None)
    return [station, near.centre[1], near.centre[2]] if near else [station, 0.0, 0.0]


def through_check(rigged: Rigged) -> Check:
    """How the tension changes through the travel."""
    t = rigged.through
    limit = rigged.rigging.band_share
    said = (
        f"Between {rigged.said(t.lowest_N)} and {rigged.said(t.highest_N)} through the travel,"
        f" rigged at {rigged.said(t.neutral_N)}: changes by {t.share * 100:.0f} %, at most"
        f" {limit * 100:.0f} %."
    )
    if t.verdict is not Verdict.IN:
        said += " The levers' geometry is wrong or the drawing was misread: do not tighten it away."
    state = rigged.states[-1]
    inputs = {"loop": loop_inputs(rigged), "driver_rad": state.driver_rad}
    return check(
        "through travel",
        "tension",
        "",
        "tension through the travel",
        said,
        t.verdict,
        at=rigged.rigging.driven.A,
        reason=why("cables.loop_solve", inputs),
    )


def sense_checks(loop: Loop, rigged: Rigged) -> Iterable[Check]:
    """From the pilot's motion to the surface, through the cables as drawn."""
    try:
        sense = rigged.sense(loop.control.slug)
    except Refused as refusal:
        said = f"{refusal.field}: {refusal.reason}."
        yield check("sense", "route", "", "sense", said, Verdict.NOT_MEASURED)
        return
    if sense is None:
        return
    motion = rigged.rigging.positive.capitalize()
    verdict = Verdict.IN if sense.correct else Verdict.OUT
    said = f"{motion}: the surface goes the right way in the drawing."
    if not sense.correct:
        said = f"{motion}: crossed, the surface goes the wrong way in the drawing."
    said += " See it on the aircraft with your eyes."
    d = rigged.rigging.driven
    inputs = {
        "control": loop.control.slug,
        "pilot_motion": rigged.rigging.positive,
        "gains": [sense.overall_gain],
        "surface_axis": list(d.axis),
        "hinge_point": list(d.pivot),
        "trailing_edge": [d.pivot[0] + EDGE_AFT_M, *d.pivot[1:]],
    }
    reason = why("cables.sense_check", inputs)
    yield check("sense", "route", "", "sense", said, verdict, at=d.A, reason=reason)


def loop_inputs(rigged: Rigged) -> dict[str, Any]:
    """The loop under the rule's names."""
    r = rigged.rigging
    return {
        **{
            n: {"pivot": list(x.pivot), "axis": list(x.axis), "A": list(x.A), "B": list(x.B)}
            for n, x in (("driver", r.driver), ("driven", r.driven))
        },
        "sides": {
            s: {
                "pulleys": [
                    {
                        "centre": list(p.centre),
                        "axis": list(p.axis),
                        "radius_m": p.radius_m,
                        "sense": p.sense,
                    }
                    for p in r.cables[s].pulleys
                ],
                "compliance_m_per_N": rigged.laid[s].compliance_m_per_N,
                "tension_N": rigged.tension_N,
            }
            for s in SIDES
        },
    }
