"""A loop for the screen: as kept, solved, with its sides, readings and what was done."""

from __future__ import annotations

import math
from typing import Any

from core.basis.refused import Refused
from core.basis.verdicts import Verdict, worst
from core.cables.done import RIGGING
from core.cables.forces import Load, bracket_load
from core.cables.judging_ends import slide_inputs
from core.cables.judging_holes import hole_checks
from core.cables.judging_route import geometry_checks
from core.cables.lever import SIDES
from core.cables.origins import origins, with_origins
from core.cables.rigging import Rigged
from core.cables.words import CAUTION
from server.cables import shapes
from server.cables.events import told
from server.cables.keeping import file_of, rigged_of
from server.cables.models import Loop
from server.cables.standing import Stands, measured, showing, stands
from server.cables.trade import ends_of_travel
from server.config.words import Word
from server.controls.models import Control
from server.kit.models import Check
from server.kit.placing import bay_at, boxes_of, placed
from server.kit.showing import check_shown, row_shown, why
from server.kit.standing import of_subject, of_subjects

DEG = math.degrees(1.0)
SHOWN = 5
HOTTEST_K = 323.15


def rows(controls: list[Control]) -> list[shapes.LoopRow]:
    """The controls of an aircraft with what their cables say."""
    loops = {x.control_id: x for x in Loop.objects.filter(control__in=controls)}
    aircraft = controls[0].aircraft_id if controls else 0
    kept = of_subjects(aircraft, "cables", [str(x.pk) for x in loops.values()])
    found = []
    for c in controls:
        loop = loops.get(c.pk)
        checks = kept.get(str(loop.pk), []) if loop else []
        found.append(
            shapes.LoopRow(
                control=c.slug,
                name=c.name,
                has_cables=loop is not None,
                verdict=_worst(checks),
                open=sum(x.verdict not in ("in", "accepted") for x in checks),
            )
        )
    return found


def _worst(checks: list[Check]) -> Word:
    return worst(Verdict(c.verdict) for c in checks).value


def shown(control: Control, loop: Loop | None) -> shapes.CablesShown:
    """A control's cables as they stand."""
    if loop is None:
        return shapes.CablesShown(
            version=0,
            control=control.slug,
            name=control.name,
            document=None,
            verdict="not measured",
            checks=[],
            solved=None,
            sides=[],
            readings=[],
            events=[],
            steps=[],
            caution=CAUTION,
        )
    rigged, stand = rigged_of(loop), stands(loop)
    checks = of_subject(loop.aircraft_id, "cables", str(loop.pk))
    return shapes.CablesShown(
        version=loop.version,
        control=control.slug,
        name=loop.name or f"{control.name} cables",
        document=file_of(loop),
        verdict=_worst(checks),
        checks=[row_shown(c) for c in checks],
        solved=solved(rigged, control),
        sides=[_side(loop, rigged, side, stand) for side in SIDES],
        readings=[_reading(r, stand) for r in reversed(stand.readings)],
        events=[
            shapes.EventShown(
                id=e.pk,
                side=e.side,
                doing=e.doing,
                said=told(e),
                note=e.note,
                by=e.by.name,
                at=e.at.isoformat(),
            )
            for e in reversed(stand.events)
        ],
        steps=steps(stand),
        caution=CAUTION,
    )


def solved(rigged: Rigged, control: Control) -> shapes.Solved:
    """The drawing worked out: every second position of the sweep, supports, fittings."""
    boxes = boxes_of(control.aircraft_id)
    nearest = {(n.side, n.fitting): n for n in rigged.nearest()}
    supports = rigged.supports()
    drawn = (*geometry_checks(rigged, ends_of_travel(control)), *hole_checks(rigged))
    checks = placed(with_origins(drawn), boxes, [rigged.way(s) for s in SIDES])
    return shapes.Solved(
        positions=rigged.once("positions", lambda: _positions(rigged)),
        supports=[_support(a, checks, boxes) for a in supports],
        fittings=[
            _fitting(rigged, side, f, nearest.get((side, f.id)))
            for side in SIDES
            for f in rigged.rigging.cables[side].fittings
        ],
        banks=_banks(supports),
        lengths_m={s: rigged.laid[s].length_m for s in SIDES},
        gear=rigged.gear(),
        lowest_N=rigged.through.lowest_N,
        highest_N=rigged.through.highest_N,
        share=rigged.through.share,
        hottest_N=_hottest(rigged),
        pulls_positive=rigged.pulls_positive("A"),
        checks=[check_shown(c) for c in checks],
    )


def _hottest(rigged: Rigged) -> float | None:
    """The highest rigged tension at the hot end, for the brackets."""
    try:
        return max(rigged.wanted(s, HOTTEST_K).tension_N for s in SIDES)
    except Refused:
        return None


def _positions(rigged: Rigged) -> list[shapes.Position]:
    return [_position(rigged, i) for i in range(0, len(rigged.states), SHOWN)]


def _position(rigged: Rigged, i: int) -> shapes.Position:
    s = rigged.states[i]
    at = (s.driver_rad, s.middle_rad)
    return shapes.Position(
        driver_deg=s.driver_rad * DEG,
        driven_deg=s.middle_rad * DEG,
        status=s.status,
        A_N=s.tension_A_N,
        B_N=s.tension_B_N,
        way_A=[list(p) for p in rigged.way("A", *at)],
        way_B=[list(p) for p in rigged.way("B", *at)],
        moved_A_m=rigged.moved("A", s.driver_rad),
        moved_B_m=rigged.moved("B", s.driver_rad),
    )


def _support(a: Any, checks: list[Any], boxes: list[Any]) -> shapes.SupportShown:
    s = a.support
    mine = [c for c in checks if c.key.endswith(f" {a.side} {s.id}") and "gap" not in c.key]
    inside = bay_at(s.centre, boxes)
    return shapes.SupportShown(
        side=a.side,
        id=s.id,
        kind=s.kind,
        centre=list(s.centre),
        radius_m=s.pulley.radius_m,
        half_m=s.half_m,
        bay=inside[0] if inside else "",
        wrap_deg=a.pulley.wrap_rad * DEG if a.pulley else None,
        misalignment_deg=a.pulley.misalignment_rad * DEG if a.pulley else None,
        deflection_deg=a.fairlead.deflection_rad * DEG if a.fairlead else None,
        force_N=a.force.magnitude_N,
        verdict=worst(c.verdict for c in mine).value if mine else "in",
    )


def _fitting(rigged: Rigged, side: str, f: Any, near: Any) -> shapes.FittingShown:
    low, high = near.travel_m if near else rigged.item_travel(side, (f.low_m + f.high_m) / 2.0)
    return shapes.FittingShown(
        side=side,
        id=f.id,
        kind=f.kind,
        low_m=f.low_m,
        high_m=f.high_m,
        travel_low_m=low,
        travel_high_m=high,
        gap_m=near.gap.gap_m if near else None,
        near=near.support if near else "",
        required_m=rigged.rigging.gap_m,
        verdict=near.gap.verdict.value if near else "not measured",
    )


def _banks(supports: list[Any]) -> list[shapes.BankShown]:
    loads: dict[str, list[Load]] = {}
    for a in supports:
        if a.support.bank:
            loads.setdefault(a.support.bank, []).append(Load(a.force.force_N, a.support.centre))
    found = []
    for bank, forces in loads.items():
        b = bracket_load(forces, list(forces[0].point), 1.0)
        found.append(
            shapes.BankShown(bank=bank, force_N=list(b.force_N), magnitude_N=b.magnitude_N)
        )
    return found


def _side(loop: Loop, rigged: Rigged, side: str, stand: Stands) -> shapes.SideShown:
    cable, laid = rigged.rigging.cables[side], rigged.laid[side]
    row = loop.sides.get(side=side)
    now = showing(row)
    inputs = slide_inputs(cable, stand.done)
    on = [s["item"] for s in inputs["steps"] if s["do"] == "slide"]
    buckle = cable.turnbuckle
    return shapes.SideShown(
        side=side,
        name=cable.name,
        cable=f"{cable.construction} {cable.material}",
        diameter_m=cable.data.diameter_m,
        breaking_N=cable.data.breaking_N,
        ae_N=cable.data.ae_N,
        u_ae_N=cable.data.u_ae_N,
        measured_stiffness="ae" in row.figures,
        compliance_m_per_N=laid.compliance_m_per_N,
        travel_per_turn_m=buckle.travel_per_turn_m if buckle else None,
        showing=list(now) if now else None,
        limit=buckle.limit if buckle else 3.0,
        safetied=stand.done.safetied(side),
        ends={name: e.kind for name, e in cable.ends.items()},
        slide_on=[i.name for i in cable.slide_on],
        on=on,
        missing=[i.name for i in cable.slide_on if i.name not in on],
        pressed=[s["end"] for s in inputs["steps"] if s["do"] == "press"],
    )


def _reading(r: Any, stand: Stands) -> shapes.ReadingShown:
    straight = r.method == "straight"
    last = stand.done.straight()
    standing = [x.key for x in stand.done.current(r.side)] if not straight else []
    current = r.pk in (standing if not straight else [last.key] if last else [])
    per = DEG if straight else 1.0
    return shapes.ReadingShown(
        id=r.pk,
        side=r.side,
        method=r.method,
        typed=r.typed,
        value=r.value * per,
        u=r.u * per,
        temperature_C=None if r.temperature_K is None else r.temperature_K - 273.15,
        instrument=r.instrument_was.get("name", ""),
        by=r.by.name,
        at=r.at.isoformat(),
        current=current,
        check_reading=r.check_reading,
        why=why(r.rule, r.inputs, origins(r.rule, r.inputs, measured(r))) if r.rule else None,
        recording=bool(r.recording),
    )


def steps(stand: Stands) -> list[shapes.StepShown]:
    """The rigging in order; a step counts only if done after the last turn (neutral: before)."""
    by = {(e.doing, e.at): e.by.name for e in stand.events}
    found = []
    for name in RIGGING:
        held = stand.done.step_holds(name)
        found.append(
            shapes.StepShown(
                step=name,
                done=held is not None,
                by=by[held.doing, held.at] if held else "",
                at=held.at.isoformat() if held else "",
            )
        )
    return found
