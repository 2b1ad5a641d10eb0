"""What the rules say of a loop: every check, from the rigged loop and what was done to it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any

from core.basis.checks import Check
from core.basis.quantities import LBF
from core.basis.refused import Refused
from core.basis.surer import Part, rounded_down, would_settle
from core.basis.verdicts import Verdict
from core.cables.cable import cable_size_check
from core.cables.compare import compare_readings
from core.cables.document import Cable
from core.cables.done import SAME_K, Done, Read, best
from core.cables.judging_ends import end_checks, inspection_checks
from core.cables.judging_holes import hole_checks
from core.cables.judging_route import geometry_checks
from core.cables.lever import SIDES
from core.cables.origins import origins, with_origins
from core.cables.rigging import EDGE_AFT_M, Rigged
from core.cables.setting import Today, today
from core.cables.setting import judged as judge_tension
from core.cables.turnbuckle import turnbuckle_threads


def judge(
    rigged: Rigged, done: Done, control: str, primary: bool, ends: tuple[str, str]
) -> Iterable[Check]:
    """Every check of a loop, with where its inputs come from.

    control: which it moves. primary: a person's word, for the least cable size. ends: both
    ends of the driver's travel in words, empty where they have none.
    """
    return with_origins(_judge(rigged, done, control, primary, ends))


def _judge(
    rigged: Rigged, done: Done, control: str, primary: bool, ends: tuple[str, str]
) -> Iterable[Check]:
    for side in SIDES:
        cable = rigged.rigging.cables[side]
        yield size_check(cable, primary)
        yield replace(tension_check(rigged, side, done), at=tuple(reached(cable)))
        yield from turnbuckle_checks(cable, done)
        yield from end_checks(rigged, cable, done)
    yield through_check(rigged)
    yield from sense_checks(rigged, control)
    yield from geometry_checks(rigged, ends)
    yield from hole_checks(rigged)
    yield from inspection_checks(done)


def size_check(cable: Cable, primary: bool) -> Check:
    """The least size of a primary cable."""
    verdict = cable_size_check(cable.data.diameter_m, primary)
    said = f"{cable.construction}, {cable.data.diameter_m * 1e3:.2f} mm."
    if verdict is not Verdict.IN:
        said += " No cable under 1/8 in in a primary control system."
    return Check(
        key=f"size {cable.side}",
        what=f"{cable.name}: size",
        said=said,
        verdict=verdict,
        at=tuple(reached(cable)),
        rule="cables.cable_size_check",
        inputs={"diameter_m": cable.data.diameter_m, "primary": primary},
        part="cable",
        side=cable.side,
    )


def tension_check(rigged: Rigged, side: str, done: Done) -> Check:
    """The tension of a side against the band of the day on which it was measured."""
    cable = rigged.rigging.cables[side]
    blank = Check(
        f"tension {side}",
        f"{cable.name}: tension",
        "",
        Verdict.NOT_MEASURED,
        part="tension",
        side=side,
    )
    rows = done.current(side)
    speaks = best(rows)
    if speaks is None:
        turned = done.last("turned")
        said = "Measure it again: a turnbuckle was turned." if turned else "Measure the tension."
        return replace(blank, said=said)
    if speaks.temperature_K is None:
        return replace(blank, said="Enter the temperature.")
    try:
        band = today(rigged, side, speaks.temperature_K)
    except Refused as refusal:
        return replace(blank, said=f"{refusal.reason}.")
    if band.wanted.slack:
        said = "At this temperature a cable set right is slack: measure when it is warmer."
        return replace(blank, said=said)
    verdict = judge_tension(band, speaks.value, speaks.u)
    U = 2.0 * math.hypot(speaks.u, band.u_model_N)
    asked = f"{rigged.said(band.low_N)} to {rigged.said(band.high_N)}"
    celsius = speaks.temperature_K - 273.15
    said = (
        f"{rigged.said(speaks.value)} ± {rigged.said(U)} at {celsius:.1f} °C;"
        f" at this temperature {asked}."
    )
    if verdict is Verdict.TOO_CLOSE:
        said += f" {_to_settle(rigged, band, speaks)}"
    verdict, said = overdue(speaks, verdict, said)
    verdict, said = agreeing(rows, verdict, said)
    return replace(
        blank,
        said=said,
        verdict=verdict,
        rule=speaks.rule,
        inputs=speaks.inputs,
        origins=origins(speaks.rule, speaks.inputs, speaks.origin),
    )


def _to_settle(rigged: Rigged, band: Today, speaks: Read) -> str:
    """What would settle a tension too close to its band: the last reading of a way counts, so
    that reading it again in the same way never does."""
    away = min(speaks.value - band.low_N, band.high_N - speaks.value)
    found = would_settle(away, (Part("reading", speaks.u), Part("band", band.u_model_N)))
    if away < 0.0:
        return "It reads outside, by less than it is known: turn it towards the middle of the band."
    if found is None:
        return "It lies at the edge of the band: turn it towards the middle."
    allowed = dict(zip(found.names, found.U, strict=True))
    said = []
    if "reading" in allowed:
        better = _good_to(rigged, allowed["reading"])
        said.append(
            f"A way of measuring good to ±{better} would settle it (this one:"
            f" ±{rigged.said(2.0 * speaks.u)}, however often it is read)."
        )
    if "band" in allowed and rigged.rigging.target:
        at = rigged.rigging.target.temperature_K - 273.15
        said.append(
            f"The band at this temperature is known to ±{rigged.said(2.0 * band.u_model_N)}:"
            f" measure nearer to {at:.0f} °C."
        )
    return " ".join(said) + " Or turn it towards the middle of the band."


def _good_to(rigged: Rigged, U_N: float) -> str:
    in_newton = rigged.rigging.target is not None and rigged.rigging.target.unit == "N"
    return f"{rounded_down(U_N)} N" if in_newton else f"{rounded_down(U_N / LBF)} lb"


def overdue(speaks: Read, verdict: Verdict, said: str) -> tuple[Verdict, str]:
    """A gauge past its calibration on the day cannot make a tension in."""
    due = speaks.calibration_due
    if verdict is Verdict.IN and due is not None and due < speaks.at.date():
        said += f" The instrument's calibration was due on {due.isoformat()}."
        return Verdict.TOO_CLOSE, said
    return verdict, said


def agreeing(rows: Sequence[Read], verdict: Verdict, said: str) -> tuple[Verdict, str]:
    """Ways of measuring that contradict each other are never in.

    Only those at the temperature of the one that speaks are compared.
    """
    speaks = best(rows)
    assert speaks is not None and speaks.temperature_K is not None
    pairs = [
        [r.value, r.u]
        for r in rows
        if r.u > 0
        and r.temperature_K is not None
        and abs(r.temperature_K - speaks.temperature_K) <= SAME_K
    ]
    if len(pairs) < 2:
        return verdict, said
    if compare_readings(pairs).agree:
        return verdict, said + f" {len(pairs)} ways of measuring agree."
    word = Verdict.TOO_CLOSE if verdict is Verdict.IN else verdict
    return word, said + " The ways of measuring contradict each other: find out why."


def turnbuckle_checks(cable: Cable, done: Done) -> Iterable[Check]:
    """Thread showing and lock of a side's turnbuckle, if it has one that was counted."""
    buckle, now = cable.turnbuckle, done.showing.get(cable.side)
    if buckle is None or now is None:
        return
    spot = next((f for f in cable.fittings if f.kind == "turnbuckle"), None)
    shown = f"Thread showing {now[0]:g} and {now[1]:g}, at most {buckle.limit:g}"
    base = Check(
        f"turnbuckle {cable.side}",
        f"{cable.name}: turnbuckle",
        f"{shown}. Bottomed: shorten the cable.",
        Verdict.OUT,
        "joint",
        "bottomed",
        at=tuple(_on_cable(cable, spot.low_m)) if spot else (),
        part="turnbuckle",
        side=cable.side,
    )
    if min(now) < 0:
        yield base
        return
    safetied = done.safetied(cable.side)
    threads = turnbuckle_threads(now, 0, buckle.limit, safetied)
    said, verdict, state = f"{shown}, safetied.", Verdict.IN, "final"
    if threads.after != "in":
        said, verdict = f"{shown}: too much thread outside.", Verdict.OUT
        state = "too many threads outside"
    elif not safetied:
        said, verdict, state = f"{shown}. Not safetied.", Verdict.NOT_MEASURED, "not safetied"
    if threads.uneven:
        said += " The two ends differ by more than one thread."
    inputs = {"showing": list(now), "turns": 0, "limit": buckle.limit, "safetied": safetied}
    rule = "cables.turnbuckle_threads"
    yield replace(base, said=said, verdict=verdict, state=state, rule=rule, inputs=inputs)


def reached(cable: Cable) -> list[float]:
    """Where hands have to get at a cable: its turnbuckle; without one, its middle support."""
    spot = next((f for f in cable.fittings if f.kind == "turnbuckle"), None)
    if spot is not None:
        return _on_cable(cable, spot.low_m)
    middle = cable.supports[len(cable.supports) // 2] if cable.supports else None
    return list(middle.centre) if middle else []


def _on_cable(cable: Cable, station: float) -> list[float]:
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
    return Check(
        key="through travel",
        what="tension through the travel",
        said=said,
        verdict=t.verdict,
        at=tuple(rigged.rigging.driven.A),
        rule="cables.loop_solve",
        inputs={"loop": loop_inputs(rigged), "driver_rad": rigged.states[-1].driver_rad},
        part="tension",
    )


def sense_checks(rigged: Rigged, control: str) -> Iterable[Check]:
    """From the pilot's motion to the surface, through the cables as drawn."""
    base = Check("sense", "sense", "", Verdict.NOT_MEASURED, part="route")
    try:
        sense = rigged.sense(control)
    except Refused as refusal:
        yield replace(base, said=f"{refusal.field}: {refusal.reason}.")
        return
    if sense is None:
        return
    motion = rigged.rigging.positive.capitalize()
    verdict = Verdict.IN if sense.correct else Verdict.OUT
    said = f"{motion}: the surface goes the right way in the drawing."
    if not sense.correct:
        said = f"{motion}: crossed, the surface goes the wrong way in the drawing."
    d = rigged.rigging.driven
    inputs = {
        "control": control,
        "pilot_motion": rigged.rigging.positive,
        "gains": [sense.overall_gain],
        "surface_axis": list(d.axis),
        "hinge_point": list(d.pivot),
        "trailing_edge": [d.pivot[0] + EDGE_AFT_M, *d.pivot[1:]],
    }
    yield replace(
        base,
        said=said + " See it on the aircraft with your eyes.",
        verdict=verdict,
        at=tuple(d.A),
        rule="cables.sense_check",
        inputs=inputs,
    )


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
