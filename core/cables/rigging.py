"""A loop as it is rigged: lengths, compliance, its sweep, what moves near what, what is asked.

Everything a page or a gate says of a loop comes from here, from the file and the tension that
the loop has at neutral. Deflections are those of the levers; moving fittings are followed from
the driver along their cable; stretch is small beside their travel and is left out of it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Sequence
from functools import cached_property
from typing import Any, TypeVar

import numpy as np

from core.basis.quantities import LBF
from core.basis.refused import Refused
from core.basis.vectors import Vec, minus, unit
from core.basis.verdicts import judge
from core.cables.apart import Apart, apart
from core.cables.document import Cable, Rigging, Support
from core.cables.forces import pulley_force
from core.cables.item import item_travel
from core.cables.laid import AtSupport, Laid, Near, Through
from core.cables.lever import SIDES
from core.cables.loop import Loop, Side, State, loop_sweep
from core.cables.path import Path
from core.cables.route import (
    Groove,
    fairlead_check,
    order_check,
    pulley_check,
    travel_gap,
)
from core.cables.sense import MEANT, Sense, sense_check
from core.cables.temperature import Line, Segment, Tension, tension_at_temperature

POSITIONS = 101
U_STATION_M = 0.0015
U_ANGLE_RAD = math.radians(0.2)
FITTING_ALPHA = Segment(1.0, 11.7e-6, 5e-7)
T = TypeVar("T")
# A loop is solved at this tension where the maker gives none yet, N.
NOMINAL_N = 133.0
EDGE_AFT_M = 0.4


class Rigged:
    """A rigging file worked out for a tension at neutral, N."""

    def __init__(self, rigging: Rigging, tension_N: float | None = None) -> None:
        """Refuses a path that cannot be, and a fitting that is not on its cable."""
        self.rigging = rigging
        wanted = rigging.target.tension_N if rigging.target else NOMINAL_N
        self.tension_N = tension_N or wanted
        self.laid = {s: self._lay(rigging.cables[s]) for s in SIDES}
        self._once: dict[Hashable, Any] = {}

    def once(self, what: Hashable, make: Callable[[], T]) -> T:
        """What follows from it alone, made when it is first asked for."""
        if what not in self._once:
            self._once[what] = make()
        found: T = self._once[what]
        return found

    def _lay(self, cable: Cable) -> Laid:
        r = self.rigging
        a, b = getattr(r.driver, cable.side), getattr(r.driven, cable.side)
        path = Path(cable.pulleys, f"sides.{cable.side}.supports")
        path.refuse_at(a, b)
        length = float(path.length(a, b))
        laid = Laid(cable, path, length, 0.0)
        if laid.wire_m <= 0:
            raise Refused(f"sides.{cable.side}.fittings", "take up the whole cable")
        share = r.frame_compliance_m_per_N / 2.0
        return Laid(cable, path, length, laid.wire_m / cable.data.ae_N + share)

    def said(self, force_N: float) -> str:
        """A force in the unit in which the target was typed."""
        target = self.rigging.target
        if target is not None and target.unit == "N":
            return f"{force_N:.0f} N"
        return f"{force_N / LBF:.1f} lb"

    @property
    def compliance(self) -> tuple[float, float]:
        """Of sides A and B, m/N."""
        return self.laid["A"].compliance_m_per_N, self.laid["B"].compliance_m_per_N

    @cached_property
    def loop(self) -> Loop:
        """The loop as the core solves it."""
        r = self.rigging
        sides = {
            s: Side(r.cables[s].pulleys, self.laid[s].compliance_m_per_N, self.tension_N)
            for s in SIDES
        }
        return Loop(r.driver, r.driven, sides)

    @cached_property
    def angles(self) -> tuple[float, ...]:
        """Driver angles over its range, 0 among them."""
        low, high = self.rigging.range_rad
        half = POSITIONS // 2
        return (*np.linspace(low, 0.0, half + 1)[:-1], *np.linspace(0.0, high, half + 1))

    @cached_property
    def states(self) -> tuple[State, ...]:
        """The loop over the driver's range."""
        return loop_sweep(self.loop, self.angles)

    @cached_property
    def through(self) -> Through:
        """How the tension changes through the travel, against the maker's share."""
        tensions = [t for s in self.states for t in (s.tension_A_N, s.tension_B_N)]
        low, high = min(tensions), max(tensions)
        share = max(high - self.tension_N, self.tension_N - low) / self.tension_N
        verdict = judge(share, 0.0, None, self.rigging.band_share)
        return Through(self.states, low, high, self.tension_N, share, verdict)

    def driven_arm_m(self) -> float:
        """Arm of side A at the driven lever, at neutral."""
        return abs(float(self.loop.pulls(self.loop.held(0.0), 0.0)["A"][2]))

    def pulls_positive(self, side: str = "A") -> int:
        """Which way this side turns the driven lever: +1 about its axis, or -1."""
        return -1 if float(self.loop.pulls(self.loop.held(0.0), 0.0)[side][2]) > 0 else 1

    def gear(self) -> float:
        """Driven angle per driver angle about neutral."""
        step = self.angles[POSITIONS // 2 + 1]
        found = loop_sweep(self.loop, [-step, step])
        return (found[1].middle_rad - found[0].middle_rad) / (2.0 * step)

    def curve(self) -> list[list[float]]:
        """[driver, driven] angles about the travel and half as far again on either side."""
        low, high = (max(-1.5, min(1.5, 1.5 * a)) for a in self.rigging.range_rad)
        try:
            states = loop_sweep(self.loop, np.linspace(low, high, POSITIONS))
        except Refused:
            states = self.states
        return [[s.driver_rad, s.middle_rad] for s in states]

    def line(self, side: str) -> Line:
        """One side as the thermal model takes it. Refuses without target or airframe."""
        r, laid = self.rigging, self.laid[side]
        if r.target is None:
            raise Refused("target", "enter what the maker asks: tension and its temperature")
        if not r.airframe:
            raise Refused("airframe", "enter of what the airframe along the run is made")
        run = math.fsum(s.length_m for s in r.airframe)
        # The airframe's pieces are given once for the run; each side follows its own length.
        pieces = tuple(
            Segment(s.length_m * laid.length_m / run, s.alpha_per_K, s.u_alpha_per_K)
            for s in r.airframe
        )
        if abs(run - laid.length_m) > 0.05 * run:
            raise Refused(
                "airframe",
                f"its pieces add up to {run:.3f} m, but {laid.cable.name} is"
                f" {laid.length_m:.3f} m long: they must agree within 5 %",
            )
        rigid = laid.fittings_m
        fittings = (
            (Segment(rigid, FITTING_ALPHA.alpha_per_K, FITTING_ALPHA.u_alpha_per_K),)
            if rigid > 0
            else ()
        )
        steel = r.cable_alpha
        return Line(
            r.target.tension_N,
            r.target.temperature_K,
            laid.wire_m,
            laid.cable.data.ae_N,
            steel.alpha_per_K,
            pieces,
            fittings,
            r.frame_compliance_m_per_N,
            r.target.u_N,
            laid.cable.data.u_ae_N,
            steel.u_alpha_per_K,
        )

    def wanted(self, side: str, temperature_K: float) -> Tension:
        """The tension to set at a temperature: the maker's chart or word first, else the model."""
        modelled = tension_at_temperature(self.line(side), temperature_K)
        target = self.rigging.target
        assert target is not None
        charted = target.charted(temperature_K)
        if charted is None:
            return modelled
        return Tension(
            charted,
            charted <= 0,
            charted - 2 * target.u_N <= 0,
            modelled.slope_N_per_K,
            None,
            target.u_N,
            modelled.stiffness_N_per_m,
        )

    # What moves near what

    def way(self, side: str, driver_rad: float = 0.0, driven_rad: float = 0.0) -> list[Vec]:
        """The cable as a row of points, with entry and exit of each support."""
        r = self.rigging
        a = r.driver.attachment(side, driver_rad)
        b = r.driven.attachment(side, driven_rad)
        start: Vec = (float(a[0]), float(a[1]), float(a[2]))
        end: Vec = (float(b[0]), float(b[1]), float(b[2]))
        points = [start]
        for entry, leave in self.laid[side].path.shape(start, end):
            points.extend(
                [_vec(entry)] if math.dist(entry, leave) < 1e-9 else [_vec(entry), _vec(leave)]
            )
        return [*points, end]

    def order(self) -> list[tuple[int, str, str]]:
        """Crossings between the pulley banks, in the order in which side A meets them."""
        banks: dict[str, list[tuple[int, str]]] = {}
        for side in SIDES:
            for s in self.rigging.cables[side].supports:
                if s.bank:
                    banks.setdefault(s.bank, []).append((s.place, self.rigging.cables[side].name))
        return list(order_check([[name for _, name in sorted(b)] for b in banks.values()]))

    def closest(self) -> tuple[Apart, float]:
        """Where both cables come nearest to each other through the travel, and the driver's
        angle there, rad."""
        found = []
        for s in (self.states[0], self.states[POSITIONS // 2], self.states[-1]):
            ways = (self.way(side, s.driver_rad, s.middle_rad) for side in SIDES)
            found.append((apart(*ways), s.driver_rad))
        return min(found, key=lambda pair: pair[0].distance_m)

    def skipped(self) -> list[tuple[str, str]]:
        """Stacks of pulleys that one cable runs over and the other does not: (stack, cable)."""
        banks = {
            side: {s.bank for s in self.rigging.cables[side].supports if s.bank} for side in SIDES
        }
        return [
            (bank, self.rigging.cables[side].name)
            for side, other in (("A", "B"), ("B", "A"))
            for bank in sorted(banks[other] - banks[side])
        ]

    def sense(self, control: str) -> Sense | None:
        """Whether the surface goes the way the pilot means, through these cables.

        None where the file does not say what moves the driver, or the rule knows no such
        control. The trailing edge is taken aft of the driven lever's pivot.
        """
        r = self.rigging
        if control not in MEANT or not r.positive:
            return None
        p = r.driven.pivot
        edge = (p[0] + EDGE_AFT_M, p[1], p[2])
        return sense_check(control, r.positive, [self.gear()], r.driven.axis, p, edge)

    def item_travel(self, side: str, station: float) -> tuple[float, float]:
        """How far what is fixed to the cable at a station moves aft along it, m."""
        before = [s for s in self.rigging.cables[side].supports if self._before(s, station)]
        after = [s for s in self.rigging.cables[side].supports if not self._before(s, station)]
        far = after[0].centre if after else getattr(self.rigging.driven, side)
        pulleys = [s.pulley for s in before]
        return item_travel(self.rigging.driver, side, pulleys, list(far), self.angles)

    def _before(self, s: Support, station: float) -> bool:
        aft = self.rigging.driven.pivot[0] > self.rigging.driver.pivot[0]
        return (s.centre[0] < station) is aft

    def nearest(self) -> list[Near]:
        """Each moving fitting against every support that it could meet; the nearest of each."""
        return self.once("nearest", self._nearest)

    def _nearest(self) -> list[Near]:
        found = []
        for side in SIDES:
            cable = self.rigging.cables[side]
            for f in cable.fittings:
                middle = (f.low_m + f.high_m) / 2.0
                travel = self.item_travel(side, middle)
                aft = self.rigging.driven.pivot[0] > self.rigging.driver.pivot[0]
                run = travel if aft else (-travel[1], -travel[0])
                nears = [
                    self._near(side, f.id, (f.low_m, f.high_m), s, run) for s in cable.supports
                ]
                if nears:
                    found.append(min(nears, key=lambda n: n.gap.gap_m))
        return found

    def _near(
        self, side: str, name: str, at: tuple[float, float], s: Support, run: tuple[float, float]
    ) -> Near:
        x = s.centre[0]
        try:
            gap = travel_gap(at, (x - s.half_m, x + s.half_m), run, self.rigging.gap_m, U_STATION_M)
        except Refused as refusal:
            field = f"sides.{side}.fittings.{name}"
            raise Refused(field, f"lies in {s.id} at neutral: {refusal.reason}") from None
        aft = self.rigging.driven.pivot[0] > self.rigging.driver.pivot[0]
        moves_aft = [self.moved(side, a) for a in (self.angles[0], self.angles[-1])]
        wanted_high = (gap.at == "high") is aft
        driver = self.angles[0] if (moves_aft[0] > moves_aft[1]) is wanted_high else self.angles[-1]
        return Near(side, name, s.id, s.centre, run, gap, driver)

    def moved(self, side: str, angle: float) -> float:
        """How far along the run from driver to driven the cable moves at one driver angle."""
        r = self.rigging
        path, at = self.laid[side].path, getattr(r.driver, side)
        b = getattr(r.driven, side)
        return float(path.length(at, b)) - float(path.length(r.driver.attachment(side, angle), b))

    def supports(self) -> list[AtSupport]:
        """Every support at its worst position."""
        return self.once("supports", self._supports)

    def _supports(self) -> list[AtSupport]:
        found = []
        for side in SIDES:
            cable = self.rigging.cables[side]
            ways = [
                (s.driver_rad, self._directions(side, s.driver_rad, s.middle_rad))
                for s in (self.states[0], self.states[POSITIONS // 2], self.states[-1])
            ]
            for i, support in enumerate(cable.supports):
                found.append(self._at_support(side, support, i, ways))
        return found

    def _directions(self, side: str, driver: float, driven: float) -> list[tuple[Vec, Vec]]:
        """Running directions into and out of each support."""
        r = self.rigging
        a, b = _vec(r.driver.attachment(side, driver)), _vec(r.driven.attachment(side, driven))
        spots = self.laid[side].path.shape(a, b)
        found = []
        for i, (entry, leave) in enumerate(spots):
            before = spots[i - 1][1] if i else a
            after = spots[i + 1][0] if i + 1 < len(spots) else b
            found.append((unit(minus(entry, before), "d_in"), unit(minus(after, leave), "d_out")))
        return found

    def _at_support(
        self,
        side: str,
        s: Support,
        i: int,
        ways: Sequence[tuple[float, list[tuple[Vec, Vec]]]],
    ) -> AtSupport:
        d = self.rigging.cables[side].data.diameter_m
        highest = self.through.highest_N
        forces = [pulley_force(highest, highest, *w[i]) for _, w in ways]
        force = max(forces, key=lambda f: f.magnitude_N)
        if s.kind != "pulley":
            checks = [(at, fairlead_check(*w[i], U_ANGLE_RAD)) for at, w in ways]
            at, worst = max(checks, key=lambda c: c[1].deflection_rad)
            shown = worst if s.kind == "fairlead" else None
            return AtSupport(side, s, shown, None, at, force)
        groove = Groove(
            s.groove_radius_m or s.pulley.radius_m - d / 2.0,
            s.flange_radius_m,
            s.rim_width_m,
            s.misalignment_limit_rad,
            s.ratio_min,
        )
        runs = [(at, pulley_check(*w[i], s.pulley.axis, d, groove, U_ANGLE_RAD)) for at, w in ways]
        at, check = max(runs, key=lambda c: c[1].misalignment_rad)
        return AtSupport(side, s, None, check, at, force)


def _vec(p: Sequence[float]) -> Vec:
    return (float(p[0]), float(p[1]), float(p[2]))
