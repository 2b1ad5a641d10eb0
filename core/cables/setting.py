"""What to turn today: the target at this temperature, the turns, the thread after them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from core.basis.refused import Refused
from core.basis.verdicts import Verdict, judge
from core.cables.lever import SIDES
from core.cables.rigging import Rigged
from core.cables.temperature import Tension
from core.cables.turnbuckle import Buckles, Threads, Turns, turnbuckle_threads, turnbuckle_turns


@dataclass(frozen=True)
class Today:
    """The tension to set at a temperature, its band, and the model's own uncertainty, N."""

    wanted: Tension
    low_N: float
    high_N: float
    u_model_N: float


def today(rigged: Rigged, side: str, temperature_K: float) -> Today:
    """The band of one side at a temperature. Refuses without target or airframe."""
    target = rigged.rigging.target
    wanted = rigged.wanted(side, temperature_K)
    assert target is not None
    # The maker's own uncertainty lies in the band; what the conversion adds does not.
    added = max(0.0, wanted.u_tension_N**2 - target.u_N**2) ** 0.5
    low = max(0.0, wanted.tension_N - target.minus_N)
    return Today(wanted, low, wanted.tension_N + target.plus_N, added)


def judged(band: Today, tension_N: float, u_N: float) -> Verdict:
    """A measured tension against the band of its day."""
    U = 2.0 * (u_N**2 + band.u_model_N**2) ** 0.5
    return judge(tension_N, U, band.low_N, band.high_N)


@dataclass(frozen=True)
class Advice:
    """Turns by side and thread after them; the target they aim at, N."""

    target_N: float
    turns: Turns
    threads: Mapping[str, Threads | None]
    buckles: Buckles
    recentre_rad: float


def advise(
    rigged: Rigged,
    temperature_K: float,
    present_N: Mapping[str, float],
    showing: Mapping[str, tuple[float, float] | None],
    straight_rad: float = 0.0,
    mode: str = "free",
    step_turns: float = 0.5,
    loop_compliance: float | None = None,
) -> Advice:
    """The turns that bring both sides to today's tension with the surface straight.

    present_N: measured, by side. showing: thread outside at both ends now, None: not counted.
    straight_rad: where the driven lever stands now. loop_compliance: learnt from turns made,
    m/N, else the model's. Refuses what `turnbuckle_turns` refuses.
    """
    r = rigged.rigging
    target = sum(rigged.wanted(s, temperature_K).tension_N for s in SIDES) / 2.0
    if target <= 0:
        raise Refused("temperature", "at this temperature the cable is to be slack: warm it up")
    a, b = rigged.compliance
    if loop_compliance is not None:
        a, b = a * loop_compliance / (a + b), b * loop_compliance / (a + b)
    travel = {s: t.travel_per_turn_m if (t := r.cables[s].turnbuckle) else None for s in SIDES}
    buckles = Buckles(a, b, travel["A"], travel["B"], rigged.driven_arm_m())
    recentre = 0.0
    if mode == "free" and buckles.both:
        recentre = -straight_rad * rigged.pulls_positive("A")
    present = dict(present_N)
    if mode == "free":
        mean = (present["A"] + present["B"]) / 2.0
        present = {"A": mean, "B": mean}
    turns = turnbuckle_turns(
        mode, target, present["A"], present["B"], buckles, recentre, step_turns
    )
    made = {"A": turns.rounded_A, "B": turns.rounded_B}
    threads = {
        s: _threads(showing.get(s), made[s], t.limit if (t := r.cables[s].turnbuckle) else 3.0)
        for s in SIDES
    }
    return Advice(target, turns, threads, buckles, recentre)


def _threads(
    showing: tuple[float, float] | None, turns: float | None, limit: float
) -> Threads | None:
    if showing is None or turns is None:
        return None
    return turnbuckle_threads(showing, turns, limit)
