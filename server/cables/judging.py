"""Everything that the rules say of a loop, gathered, in words, and kept on its row."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any, TypedDict

from core.basis.refused import Refused
from core.basis.verdicts import Verdict, verdict_of, worst
from core.cables.document import Cable as CoreCable
from core.cables.lever import SIDES
from core.cables.rigging import EDGE_AFT_M, U_STATION_M, AtSupport, Near, Rigged
from core.cables.setting import judged as judge_tension
from core.cables.setting import today
from core.clearance.bays import bays_of
from core.rulebook.registry import rule
from server.aircraft.models import Bay
from server.cables.keeping import rigging_of
from server.cables.models import Cable, CableReading, Loop
from server.cables.standing import Stands, showing, stands
from server.controls import shapes as controls
from server.controls.models import Control
from server.controls.why import why

DEG = math.degrees(1.0)
# Tabs and flaps are no primary controls (14 CFR 23.689).
SECONDARY = ("trim", "flaps", "tab")


class Check(TypedDict):
    """One thing judged: where it stands in a gate, in words, and the rule behind it."""

    key: str
    part: str
    side: str
    what: str
    said: str
    verdict: controls.Word
    step: str
    state: str
    bays: list[str]
    due: str
    why: controls.Why | None


def check(
    key: str,
    part: str,
    side: str,
    what: str,
    said: str,
    verdict: Verdict,
    step: str = "reading",
    state: str = "",
    at: Any = None,
    reason: controls.Why | None = None,
    due: str = "",
) -> Check:
    """A check; its state in the gate is its verdict's word unless the step has its own.

    at: where it is, m, until `judge_loop` has put it into its bay (empty: along the whole run).
    """
    passes = {"clearance": "clear", "joint": "final", "test": "passed", "task": "done"}
    word = state or (passes[step] if step in passes and verdict is Verdict.IN else verdict.value)
    return Check(
        key=key,
        part=part,
        side=side,
        what=what,
        said=said,
        verdict=verdict.value,  # type: ignore[typeddict-item]
        step=step,
        state=word,
        bays=list(at) if at else [],
        due=due,
        why=reason,
    )


def judge_loop(loop: Loop) -> None:
    """Judge again and keep it on the row; the caller saves nothing else."""
    boxes = [b.box for b in Bay.objects.filter(aircraft=loop.aircraft_id)]
    found = list(checks_of(loop))
    for c in found:
        c["bays"] = list(bays_of(c["bays"], boxes)[:1]) if c["bays"] else []
    loop.judged = found  # type: ignore[assignment]
    loop.verdict = worst(Verdict(c["verdict"]) for c in found).value
    Loop.objects.filter(pk=loop.pk).update(judged=loop.judged, verdict=loop.verdict)


def checks_of(loop: Loop, rigged: Rigged | None = None) -> Iterable[Check]:
    """Every check of a loop, as kept (or, for a what-if, as `rigged`)."""
    rigged = rigged or Rigged(rigging_of(loop))
    stand = stands(loop)
    rows = {c.side: c for c in loop.sides.all()}
    primary = not any(word in loop.control.slug for word in SECONDARY)
    for side in SIDES:
        cable = rigged.rigging.cables[side]
        yield _size(cable, primary)
        found = tension_check(rigged, side, stand)
        found["bays"] = _reached(cable)  # type: ignore[typeddict-item]
        yield found
        yield from _turnbuckle(cable, rows.get(side), stand)
        yield from _ends(rigged, cable, stand)
    yield _through(rigged)
    yield from _sense(loop, rigged)
    yield from geometry_checks(rigged, ends_of_travel(loop.control))
    yield from _inspection(loop, stand)


# What the pilot does for positive and negative deflection, by how the surface counts.
PILOT = {
    "trailing_edge_right": ("full right pedal", "full left pedal"),
    "trailing_edge_up": ("stick fully aft", "stick fully forward"),
}


def ends_of_travel(control: Control) -> tuple[str, str]:
    """Both ends of the driver's travel in words; empty where they have none."""
    first = control.surfaces.first()
    paired = control.surfaces.count() > 1
    return PILOT.get(first.positive, ("", "")) if first and not paired else ("", "")


def geometry_checks(rigged: Rigged, ends: tuple[str, str]) -> Iterable[Check]:
    """What follows from the drawing alone: gaps, supports, crossings."""
    for near in rigged.nearest():
        yield _near(rigged, near, ends)
    for at in rigged.supports():
        yield from _support(rigged, at)
    source = rigged.rigging.crossing_source
    for bank, name in rigged.skipped():
        said = f"{name} does not run over stack {bank}, the other cable does."
        verdict = Verdict.ACCEPTED if source else Verdict.TOO_CLOSE
        said += f" Shown by {source}." if source else " Has it skipped a pulley?"
        yield check(f"skipped {bank} {name}", "route", "", "order of cables", said, verdict)
    for bank, p, q in rigged.order():
        said = f"{p} and {q} cross between bank {bank + 1} and the next."
        verdict = Verdict.ACCEPTED if source else Verdict.TOO_CLOSE
        said += f" Shown by {source}." if source else " A finding unless the drawing shows it."
        yield check(f"crossing {bank} {p} {q}", "route", "", "order of cables", said, verdict)


def _size(cable: CoreCable, primary: bool) -> Check:
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
        at=_reached(cable),
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
    ways = {r.method: r for r in sorted(rows, key=lambda r: -r.u)}
    pairs = [[r.value, r.u] for r in ways.values() if r.u > 0]
    if len(pairs) < 2:
        return verdict, said
    compared = rule("cables.compare_readings").run({"readings": pairs})
    if compared["agree"]:
        return verdict, said + f" {len(pairs)} ways of measuring agree."
    word = Verdict.TOO_CLOSE if verdict is Verdict.IN else verdict
    return word, said + " The ways of measuring contradict each other: find out why."


def _turnbuckle(cable: CoreCable, row: Cable | None, stand: Stands) -> Iterable[Check]:
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


def _reached(cable: CoreCable) -> list[float]:
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


def _through(rigged: Rigged) -> Check:
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


def _sense(loop: Loop, rigged: Rigged) -> Iterable[Check]:
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


def _near(rigged: Rigged, n: Near, ends: tuple[str, str]) -> Check:
    r = rigged.rigging
    cable = r.cables[n.side]
    item = next(f for f in cable.fittings if f.id == n.fitting)
    support = next(s for s in cable.supports if s.id == n.support)
    at = support.centre[0]
    inputs = {
        "item": [item.low_m, item.high_m],
        "obstacle": [at - support.half_m, at + support.half_m],
        "travel": list(n.travel_m),
        "required_m": r.gap_m,
        "u_m": U_STATION_M,
    }
    word = n.gap.verdict
    where = f"with the {r.bodies[0] or 'driver'} at {n.driver_rad * DEG:+.1f}°"
    positive = (rigged.gear() > 0) is (n.driver_rad > 0)
    if all(ends):
        where = f"at {ends[0] if positive else ends[1]}"
    said = (
        f"{n.gap.gap_m * 1e3:.0f} mm from {n.support} {where}; at least {r.gap_m * 1e3:.0f} mm"
        " (2 in is a customary default: confirm with the maker)."
    )
    if n.gap.fouls:
        said = f"Meets {n.support} {where}."
    if word is not Verdict.IN:
        short = r.gap_m + 2 * U_STATION_M - n.gap.gap_m
        said += f" Move one of them by {math.ceil(short * 1e3):d} mm or more."
    return check(
        f"gap {n.side} {n.fitting}",
        "route",
        n.side,
        f"{cable.name}: {n.fitting} near {n.support}",
        said,
        word,
        "clearance",
        at=n.at,
        reason=why("cables.travel_gap", inputs),
    )


def _support(rigged: Rigged, a: AtSupport) -> Iterable[Check]:
    s, name = a.support, f"{rigged.rigging.cables[a.side].name}: {a.support.id}"
    where = f"at {a.worst_at_rad * DEG:+.1f}°"
    base = ("route", a.side, name)
    if a.fairlead is not None:
        said = f"Bends the cable by {a.fairlead.deflection_rad * DEG:.1f}° {where}, at most 3°."
        yield check(f"fairlead {a.side} {s.id}", *base, said, a.fairlead.verdict, at=s.centre)
    if a.pulley is None:
        return
    p = a.pulley
    alignment, size = verdict_of(p.alignment), verdict_of(p.diameter)
    said = f"Runs {p.misalignment_rad * DEG:.1f}° out of line {where}"
    if p.alignment == "not judged":
        said += ": enter the maker's limit, or the flange and rim as measured"
    elif s.misalignment_limit_rad is not None:
        said += f", at most {s.misalignment_limit_rad * DEG:.1f}°"
    said += f"; {p.ratio:.1f} cable diameters"
    if p.diameter == "not judged":
        said += ": enter the least that the maker asks"
    word = worst([alignment, size])
    yield check(f"pulley {a.side} {s.id}", *base, said + ".", word, at=s.centre)
    d = rigged.rigging.cables[a.side].data.diameter_m
    yield _guard(a, name, d)


def _guard(a: AtSupport, name: str, diameter: float) -> Check:
    s = a.support
    base = (f"guard {a.side} {s.id}", "route", a.side, f"{name}, guard")
    if s.guard == "not looked" or (s.guard == "yes" and s.guard_gap_m is None):
        said = "Look for the guard and measure its gap."
        return check(*base, said, Verdict.NOT_MEASURED, at=s.centre)
    inputs = {
        "present": s.guard == "yes",
        "gap_m": s.guard_gap_m,
        "cable_diameter_m": diameter,
        "u_m": 0.0001,
    }
    inputs = {k: v for k, v in inputs.items() if v is not None}
    result = rule("cables.guard_check").run(inputs)
    said = "No guard: the cable can leave its groove."
    if s.guard_gap_m is not None:
        said = f"Gap {s.guard_gap_m * 1e3:.1f} mm, cable {diameter * 1e3:.1f} mm."
    return check(
        *base,
        said,
        Verdict(result["verdict"]),
        at=s.centre,
        reason=why("cables.guard_check", inputs),
    )


def _ends(rigged: Rigged, cable: CoreCable, stand: Stands) -> Iterable[Check]:
    levers = {
        "A": getattr(rigged.rigging.driver, cable.side),
        "B": getattr(rigged.rigging.driven, cable.side),
    }
    for name, end in cable.ends.items():
        at = levers[name]
        where = f"{cable.name}, end {name}"
        if end.kind.startswith("sleeve"):
            yield _sleeve(cable, name, where, stand, at)
        if end.pin == "cotter only":
            told = end.pin_source
            said = "Clevis pin kept by a cotter pin alone: 14 CFR 23.689(d) does not allow it under"
            said += f" load or motion. {told}" if told else " load or motion: ask the maker."
            word = Verdict.ACCEPTED if told else Verdict.TOO_CLOSE
            yield check(
                f"pin {cable.side} {name}", "ends", cable.side, f"{where}: pin", said, word, at=at
            )
    if any(e.made_by == "builder" for e in cable.ends.values()):
        yield _proof(cable, stand, levers["A"])
    if cable.slide_on:
        yield _slid(cable, stand, levers["A"])


def _sleeve(cable: CoreCable, end: str, where: str, stand: Stands, at: Any) -> Check:
    rows = [e for e in stand.done("sleeve", cable.side) if e.data.get("end") == end]
    base = (f"sleeve {cable.side} {end}", "ends", cable.side, f"{where}: sleeve")
    if not rows:
        said = "Count the presses and gauge the sleeve."
        return check(*base, said, Verdict.NOT_MEASURED, "test", "not gauged", at)
    r = rows[-1].result
    parts = [("thimble", r["thimble"]), ("presses", r["presses"]), ("size", r["dimension"])]
    said = ", ".join(f"{n} {word}" for n, word in parts) + "."
    verdict = Verdict(r["verdict"])
    if r["thimble"] == "deviation":
        source, reason = rows[-1].inputs["deviation_source"], rows[-1].inputs["deviation_reason"]
        said += f" Without a thimble after {source}: {reason}."
        verdict = worst([verdict, Verdict.ACCEPTED])
    passed = verdict in (Verdict.IN, Verdict.ACCEPTED)
    state = "passed" if passed else verdict.value
    return check(
        *base, said, verdict, "test", state, at, why("cables.sleeve_check", rows[-1].inputs)
    )


def _proof(cable: CoreCable, stand: Stands, at: Any) -> Check:
    last = stand.last("proof", cable.side)
    base = (f"proof {cable.side}", "ends", cable.side, f"{cable.name}: proof load")
    if last is None:
        said = "Its ends were made here: load it to 60 % of its breaking strength."
        return check(*base, said, Verdict.NOT_MEASURED, "test", "not tested", at)
    r = last.result
    said = ", ".join(f"{n} {r[n]}" for n in ("force", "time", "set", "slip")) + "."
    return check(
        *base,
        said,
        Verdict(r["verdict"]),
        "test",
        at=at,
        reason=why("cables.proof_load", last.inputs),
    )


def slide_inputs(cable: CoreCable, stand: Stands) -> dict[str, Any]:
    """What was slid on and pressed so far, under the rule's names."""
    steps = []
    for e in stand.events:
        if e.side == cable.side and e.doing in ("slid on", "pressed"):
            do = (
                {"do": "slide", "item": e.data["item"]} if e.doing == "slid on" else {"do": "press"}
            )
            steps.append(do | {"end": e.data["end"]})
    bores = {i.name: i.bore_m for i in cable.slide_on}
    return {
        "required": [i.name for i in cable.slide_on],
        "bores_m": bores,
        "ends_m": {name: end.size_m for name, end in cable.ends.items()},
        "steps": steps,
    }


def _slid(cable: CoreCable, stand: Stands, at: Any) -> Check:
    inputs = slide_inputs(cable, stand)
    r = rule("cables.slide_on_order").run(inputs)
    base = (f"slide on {cable.side}", "ends", cable.side, f"{cable.name}: what goes on first")
    reason = why("cables.slide_on_order", inputs)
    if r["complete"]:
        return check(*base, "All are on, in order.", Verdict.IN, "task", at=at, reason=reason)
    if not r["possible"]:
        return check(*base, f"{r['why']}.", Verdict.OUT, "task", "cannot be put on", at, reason)
    said = "Still to go on: " + ", ".join(r["missing"]) + "."
    if "why" in r:
        said = r["why"] + "."
    return check(*base, said, Verdict.NOT_MEASURED, "task", "not on yet", at, reason)


def _inspection(loop: Loop, stand: Stands) -> Iterable[Check]:
    for side in SIDES:
        last = stand.last("inspected", side)
        if last is None:
            continue
        bad = not last.data["fit"]
        said = f"Looked over on {last.at.date().isoformat()}: {last.data['found']}."
        if last.data.get("next_due"):
            said += f" Next due {last.data['next_due']}."
        yield check(
            f"inspection {side}",
            "cable",
            side,
            f"Side {side}: wear and broken wires",
            said,
            Verdict.OUT if bad else Verdict.IN,
            "task",
            "replace" if bad else "done",
            due=last.data.get("next_due") or "",
        )
