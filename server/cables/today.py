"""Tension today: what to set at this temperature, what is there, what to turn."""

from __future__ import annotations

import math
from typing import Any

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.cables.done import SAME_K, SAME_N, Done, Read, best
from core.cables.judging import tension_check
from core.cables.learning import learnt_from
from core.cables.lever import SIDES
from core.cables.origins import origins
from core.cables.rigging import Rigged
from core.cables.setting import Advice, advise, today
from core.cables.temperature import tension_curve
from core.cables.turnbuckle import Threads
from core.cables.words import SOAK
from server.cables import shapes
from server.cables.keeping import rigged_of
from server.cables.models import Loop
from server.cables.standing import done_of
from server.kit.showing import why

DEG = math.degrees(1.0)
ZERO_C = 273.15
COLDEST_C, HOTTEST_C, POINTS = -30.0, 50.0, 33


def tension_today(
    loop: Loop, temperature_K: float | None, mode: str, use_learnt: bool, step: float
) -> shapes.TodayShown:
    """Everything for the page. Refuses without target or airframe, naming them."""
    rigged, stand = rigged_of(loop), done_of(loop)
    at = temperature_K if temperature_K is not None else _last_temperature(stand)
    if at is None:
        target = rigged.rigging.target
        at = target.temperature_K if target else ZERO_C + 15
    learnt = _learnt(rigged, stand)
    present = {s: best(stand.current(s)) for s in SIDES}
    made, refused = None, ""
    if all(present.values()):
        try:
            made = _advice(rigged, stand, at, mode, step, learnt if use_learnt else None)
        except Refused as refusal:
            refused = f"{refusal.reason[:1].upper()}{refusal.reason[1:]}."
    straight = stand.straight()
    curves = [_curve(rigged, s) for s in SIDES]
    asked = rigged.rigging.target
    assert asked is not None
    cited = loop.target or {}
    return shapes.TodayShown(
        temperature_C=at - ZERO_C,
        unit="N" if asked.unit == "N" else "lb",
        target_N=asked.tension_N,
        target_C=asked.temperature_K - ZERO_C,
        minus_N=asked.minus_N,
        plus_N=asked.plus_N,
        source=", ".join(x for x in (cited.get("source", ""), cited.get("page", "")) if x),
        curves=curves,
        sides=[_side(rigged, s, at, present[s], stand) for s in SIDES],
        straight_deg=straight.value * DEG if straight else None,
        said=_said(rigged, made, present, refused, stand),
        turns=_turns(rigged, stand, made) if made else [],
        shift_deg=made.turns.shift_rad * DEG * rigged.pulls_positive("A") if made else None,
        refused=refused,
        learnt=learnt,
        used_learnt=bool(learnt and use_learnt),
        why=_why(made, mode, present, step) if made else None,
        alike=_alike(rigged, at),
        caution=SOAK,
    )


def _alike(rigged: Rigged, at: float) -> bool:
    """Whether both sides are set to one and the same tension, as far as anyone can read it."""
    a, b = (today(rigged, s, at).wanted.tension_N for s in SIDES)
    return abs(a - b) < SAME_N


def _last_temperature(stand: Done) -> float | None:
    known = [r.temperature_K for r in stand.readings if r.temperature_K is not None]
    return known[-1] if known else None


def _curve(rigged: Rigged, side: str) -> shapes.CurveShown:
    line = rigged.line(side)
    wanted = rigged.wanted(side, line.temperature_ref_K)
    points = []
    for t, n in tension_curve(line, ZERO_C + COLDEST_C, ZERO_C + HOTTEST_C, POINTS).curve:
        try:
            n = rigged.wanted(side, t).tension_N
        except Refused:
            continue  # The maker's chart does not reach here.
        points.append([t - ZERO_C, n])
    slack, given = wanted.slack_temperature_K, line_inputs(rigged, side)
    return shapes.CurveShown(
        side=side,
        points=points,
        slack_C=None if slack is None else slack - ZERO_C,
        slope_N_per_K=wanted.slope_N_per_K,
        why=why("cables.tension_curve", given, origins("cables.tension_curve", given)),
    )


def line_inputs(rigged: Rigged, side: str) -> dict[str, Any]:
    """One side under the rule's names."""
    line = rigged.line(side)
    pieces = {
        name: [
            {"length_m": s.length_m, "alpha_per_K": s.alpha_per_K, "u_alpha_per_K": s.u_alpha_per_K}
            for s in getattr(line, name)
        ]
        for name in ("airframe", "fittings")
    }
    plain = {k: getattr(line, k) for k in line.__dataclass_fields__ if k not in pieces}
    return plain | pieces


def _side(
    rigged: Rigged, side: str, at: float, present: Read | None, stand: Done
) -> shapes.TargetSide:
    band = today(rigged, side, at)
    judged = tension_check(rigged, side, stand)
    return shapes.TargetSide(
        side=side,
        set_N=band.wanted.tension_N,
        low_N=band.low_N,
        high_N=band.high_N,
        u_N=band.wanted.u_tension_N,
        slack=band.wanted.slack,
        may_be_slack=band.wanted.may_be_slack,
        present_N=present.value if present else None,
        present_u_N=present.u if present else None,
        verdict=judged.verdict.value,
        said=judged.said,
    )


def _present(rigged: Rigged, stand: Done, at: float) -> dict[str, float]:
    """The measured tension of each side; refuses one that was measured at another temperature."""
    found = {}
    for side in SIDES:
        r = best(stand.current(side))
        assert r is not None
        if r.temperature_K is not None and abs(r.temperature_K - at) > SAME_K:
            name = rigged.rigging.cables[side].name.lower()
            then = f"{r.temperature_K - ZERO_C:.1f} °C"
            raise Refused(
                "temperature",
                f"the {name} was measured at {then}: measure again at today's temperature",
            )
        found[side] = r.value
    return found


def _advice(
    rigged: Rigged,
    stand: Done,
    at: float,
    mode: str,
    step: float,
    learnt: shapes.LearntShown | None,
) -> Advice:
    straight = stand.straight()
    return advise(
        rigged,
        at,
        _present(rigged, stand, at),
        stand.showing,
        straight.value if straight else 0.0,
        mode,
        step,
        learnt["learnt_m_per_N"] if learnt else None,
    )


def _turns(rigged: Rigged, stand: Done, a: Advice) -> list[shapes.TurnsShown]:
    found = []
    for side in SIDES:
        t: Threads | None = a.threads[side]
        turns = getattr(a.turns, f"rounded_{side}")
        now = stand.showing.get(side)
        found.append(
            shapes.TurnsShown(
                side=side,
                turns=turns,
                exact=getattr(a.turns, f"turns_{side}"),
                after_N=getattr(a.turns, f"after_{side}_N"),
                showing=list(now) if now else None,
                after_showing=list(t.after_threads) if t else None,
                state=t.after if t else "not counted",
                said=_turn_said(rigged, side, turns, t),
            )
        )
    return found


def _turn_said(rigged: Rigged, side: str, turns: float | None, t: Threads | None) -> str:
    name = rigged.rigging.cables[side].name
    if turns is None:
        return f"{name}: no turnbuckle."
    if turns == 0:
        said = f"{name}: leave it."
    else:
        way = "shorter" if turns > 0 else "longer"
        said = f"{name}: {_many(abs(turns))} {way}."
    if t is None:
        return said
    a, b = t.after_threads
    if t.after == "bottomed":
        return said + " Stop: it bottoms before that. Shorten the cable."
    if t.after == "out":
        return said + f" Then {a:g} and {b:g} threads show: too many."
    return said + f" Then {a:g} and {b:g} threads show."


def _many(turns: float) -> str:
    """Turns as one says them."""
    if turns == 0.5:
        return "half a turn"
    if turns == 0.25:
        return "a quarter turn"
    return f"{turns:g} {'turn' if turns <= 1 else 'turns'}"


def _said(
    rigged: Rigged,
    made: Advice | None,
    present: dict[str, Read | None],
    refused: str,
    stand: Done,
) -> str:
    if refused:
        return refused
    missing = [rigged.rigging.cables[s].name.lower() for s in SIDES if present[s] is None]
    if missing or made is None:
        return f"Measure the {' and the '.join(missing)}."
    checks = [tension_check(rigged, s, stand).verdict for s in SIDES]
    turned = [made.turns.rounded_A, made.turns.rounded_B]
    if all(v is Verdict.IN for v in checks):
        return "Both are in." + (
            " Look whether the surface stands straight." if stand.straight() is None else ""
        )
    if not any(turned):
        return "Nothing to turn: half a turn would be too much. Each cable says what settles it."
    if stand.straight() is None:
        return "Measure where the surface stands: then the turns keep it straight."
    return "Make half of the turns first, measure, then the rest."


def _why(a: Advice, mode: str, present: dict[str, Read | None], step: float) -> Any:
    now = {s: r.value for s, r in present.items() if r}
    if mode == "free":
        mean = sum(now.values()) / 2.0
        now = {"A": mean, "B": mean}
    b = a.buckles
    inputs = {
        "mode": mode,
        "target_N": a.target_N,
        "present_A_N": now["A"],
        "present_B_N": now["B"],
        "compliance_A_m_per_N": b.compliance_A_m_per_N,
        "compliance_B_m_per_N": b.compliance_B_m_per_N,
        "travel_per_turn_A_m": b.travel_per_turn_A_m,
        "travel_per_turn_B_m": b.travel_per_turn_B_m,
        "driven_arm_m": b.driven_arm_m,
        "recentre_rad": a.recentre_rad,
        "step_turns": step,
    }
    return why("cables.turnbuckle_turns", inputs, origins("cables.turnbuckle_turns", inputs))


def _learnt(rigged: Rigged, stand: Done) -> shapes.LearntShown | None:
    """What the turns between the last two measurements showed, in words."""
    found = learnt_from(rigged, stand)
    if found is None:
        return None
    model = sum(rigged.compliance)
    said = (
        f"Your turns show {found.loop_compliance_m_per_N * 1e6:.1f} ±"
        f" {2 * found.u_m_per_N * 1e6:.1f} µm/N for the loop; the model says {model * 1e6:.1f}."
    )
    return shapes.LearntShown(
        learnt_m_per_N=found.loop_compliance_m_per_N,
        u_m_per_N=found.u_m_per_N,
        model_m_per_N=model,
        said=said,
    )
