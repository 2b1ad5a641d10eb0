"""The least ballast that brings every loading into the envelope (`weight.ballast`).

For a given mass of ballast its moment may lie between what filling the stations from the front and
from the back gives; each loading demands a moment between two curves, at most quadratic in the
mass. Where all demands and what the stations can give have a moment in common is found between
the points where two of these curves meet.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated

from core.basis.forms import ABSENT, Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.weight.burn import quadratic
from core.weight.envelope import Envelope, Line, Outline, outline
from core.weight.words import CAUTION, SLACK, STATICS, rule

STATIONS = "the places for ballast,"


@dataclass(frozen=True)
class Case:
    """A loading without ballast."""

    mass_kg: Annotated[float, "Of the aircraft."]
    x_m: Annotated[float, "Its arm."]
    name: Annotated[str, "What it is called."] = ""


@dataclass(frozen=True)
class Place:
    """Where ballast may sit."""

    name: Annotated[str, "Which."]
    x_m: Annotated[float, "Its arm."]
    max_kg: Annotated[float, "At most."]


@dataclass(frozen=True)
class Conflict:
    """Two demands that no ballast meets together."""

    ballast_kg: Annotated[float, "Where they come nearest."]
    needs: Annotated[str, "What needs its moment aft of what the other allows."]
    forbids: Annotated[str, "What forbids that."]
    apart_kg_m: Annotated[float, "How far apart they are there.", Unit("kg·m")]


@dataclass(frozen=True)
class Ballast:
    """The least, and how to spread it."""

    feasible: Annotated[bool, "Whether any helps."]
    feasible_kg: Annotated[tuple[tuple[float, float], ...], "From and to."] = ()
    least_kg: Annotated[float | None, "0: none is needed.", ABSENT] = None
    moment_range_kg_m: Annotated[
        tuple[float, float] | None, "Its moment at the least.", Unit("kg·m"), ABSENT
    ] = None
    split_kg: Annotated[dict[str, float] | None, "How much where.", ABSENT] = None
    conflict: Annotated[Conflict | None, "Why none helps.", ABSENT] = None


@dataclass(frozen=True)
class Curve:
    """a + b B + c B² of the ballast B: a moment, and whose demand it is."""

    a: float
    b: float
    c: float
    whose: str

    def at(self, ballast: float) -> float:
        """kg·m."""
        return self.a + (self.b + self.c * ballast) * ballast


@rule(
    "weight.ballast",
    title="Ballast",
    purpose="The least ballast that brings every loading into the envelope, and where it sits.",
    source=STATICS,
    validity="The same ballast is on board in all loadings.",
    caution="Ballast is fastened as the structure and local rules require for the load factors of"
    " the seat or bulkhead it is fixed to, and placarded. " + CAUTION,
)
def ballast(
    envelope: Annotated[Envelope, "The maker's."],
    cases: Annotated[tuple[Case, ...], "All loadings that must be inside."],
    stations: Annotated[tuple[Place, ...], "Where it may sit."],
    U_x_m: Annotated[float, "Margin to keep to both limits."] = 0.0,
    max_mass_kg: Annotated[float | None, "Left out: the top of the envelope."] = None,
) -> Ballast:
    """kg, m. Refuses no station, no loading, a negative greatest load, a name twice."""
    o = outline(envelope).moved(not_negative(U_x_m, "U_x_m"))
    _refuse(cases, stations)
    gross = o.highest
    if max_mass_kg is not None:
        gross = min(gross, positive(max_mass_kg, "max_mass_kg"))
    most = math.fsum(s.max_kg for s in stations)
    top = min([most, *(gross - c.mass_kg for c in cases)])
    bottom = max([0.0, *(o.lowest - c.mass_kg for c in cases)])
    if bottom > top + SLACK * gross:
        return Ballast(False, conflict=_by_mass(cases, gross, most, top, bottom))
    top = max(top, bottom)
    spans = _feasible(o, cases, stations, bottom, top)
    if not spans:
        cap = _cap(cases, gross, most, top)
        return Ballast(False, conflict=_conflict(o, cases, stations, bottom, top, cap))
    least = spans[0][0]
    low, high = _window(o, cases, stations, least)
    return Ballast(
        True, tuple(spans), least, (low, high), _split(stations, least, (low + high) / 2.0)
    )


def _refuse(cases: Sequence[Case], stations: Sequence[Place]) -> None:
    if not stations:
        raise Refused("stations", "needs a place for ballast")
    if not cases:
        raise Refused("cases", "needs a loading")
    for n, c in enumerate(cases):
        positive(c.mass_kg, f"cases.{n}.mass_kg")
        finite(c.x_m, f"cases.{n}.x_m")
    for n, s in enumerate(stations):
        finite(s.x_m, f"stations.{n}.x_m")
        not_negative(s.max_kg, f"stations.{n}.max_kg")
        if any(s.name == other.name for other in stations[:n]):
            raise Refused(f"stations.{n}.name", "is there twice")


def fill(stations: Sequence[Place], ballast_kg: float, aft: bool) -> dict[str, float]:
    """All of it as far forward, or as far aft, as the stations take it."""
    left, found = ballast_kg, {s.name: 0.0 for s in stations}
    for s in sorted(stations, key=lambda s: s.x_m, reverse=aft):
        found[s.name] = min(s.max_kg, left)
        left -= found[s.name]
    return found


def _moment(stations: Sequence[Place], loads: Mapping[str, float]) -> float:
    return math.fsum(loads[s.name] * s.x_m for s in stations)


def _filled(stations: Sequence[Place], aft: bool) -> Iterable[tuple[float, float, float]]:
    """Of each station in the order of filling: (from, to, arm) in kg of all ballast."""
    start = 0.0
    for s in sorted(stations, key=lambda s: s.x_m, reverse=aft):
        yield start, start + s.max_kg, s.x_m
        start += s.max_kg


def _curves(
    o: Outline, cases: Sequence[Case], stations: Sequence[Place], at: float
) -> tuple[list[Curve], list[Curve]]:
    """What the moment must not be below, and not above, around a ballast."""
    low: list[Curve] = []
    high: list[Curve] = []
    for n, c in enumerate(cases):
        name, m = _name(cases, n), c.mass_kg
        piece = o.at(m + at)[0]
        for line, curves, words in (
            (piece.forward, low, "forward limit"),
            (piece.aft, high, "aft limit"),
        ):
            curves.append(_demand(o, line, c, f"{name} at the {words}"))
    for aft, curves in ((False, low), (True, high)):
        moment = 0.0
        for a, b, x in _filled(stations, aft):
            if at <= b or math.isclose(at, b, rel_tol=1e-12):
                words = f"{STATIONS} filled from the " + ("back" if aft else "front")
                curves.append(Curve(moment - x * a, x, 0.0, words))
                break
            moment += x * (b - a)
    return low, high


def _demand(o: Outline, line: Line, c: Case, words: str) -> Curve:
    """The moment that ballast must bring to put a loading on an edge."""
    m, own = c.mass_kg, c.mass_kg * c.x_m
    if o.moment:
        return Curve(line.at(m) - own, line.q, 0.0, words)
    # (p + q M) M with M = m + B
    return Curve(line.at(m) * m - own, line.p + 2.0 * line.q * m, line.q, words)


def _breaks(
    o: Outline, cases: Sequence[Case], stations: Sequence[Place], bottom: float, top: float
) -> list[float]:
    """Between two of these all curves keep their shape."""
    found = {bottom, top}
    for c in cases:
        found |= {m - c.mass_kg for m in o.masses}
    for aft in (False, True):
        found |= {b for _, b, _ in _filled(stations, aft)}
    return sorted(b for b in found if bottom <= b <= top)


def _window(
    o: Outline, cases: Sequence[Case], stations: Sequence[Place], at: float
) -> tuple[float, float]:
    """The moments that all allow at a ballast; at a step of the envelope the wider range."""
    reach = [_moment(stations, fill(stations, at, aft)) for aft in (False, True)]
    low, high = [reach[0]], [reach[1]]
    for c in cases:
        limits = o.limits(c.mass_kg + at)
        if limits is None:
            return math.inf, -math.inf
        m = c.mass_kg + at
        low.append(limits[0] * m - c.mass_kg * c.x_m)
        high.append(limits[1] * m - c.mass_kg * c.x_m)
    return max(low), min(high)


def _feasible(
    o: Outline, cases: Sequence[Case], stations: Sequence[Place], bottom: float, top: float
) -> list[tuple[float, float]]:
    """Spans of ballast that all allow, joined where they touch."""
    scale = SLACK * max(1.0, *(c.mass_kg * abs(c.x_m) for c in cases))

    def allowed(at: float) -> bool:
        low, high = _window(o, cases, stations, at)
        return low <= high + scale

    spans: list[list[float]] = []
    breaks = _breaks(o, cases, stations, bottom, top)
    cuts = sorted({*breaks, *(z for a, b in pairwise(breaks)
                              for z in _meets(o, cases, stations, a, b))})  # fmt: skip
    for n, at in enumerate(cuts):
        if allowed(at) and not (spans and spans[-1][1] == at):
            spans.append([at, at])
        if n + 1 < len(cuts):
            following = cuts[n + 1]
            if allowed((at + following) / 2.0):
                if spans and spans[-1][1] == at:
                    spans[-1][1] = following
                else:
                    spans.append([at, following])
    return [(a, b) for a, b in spans]


def _meets(
    o: Outline, cases: Sequence[Case], stations: Sequence[Place], a: float, b: float
) -> Iterable[float]:
    """Where what is demanded at least meets what is allowed at most, between two breaks."""
    low, high = _curves(o, cases, stations, (a + b) / 2.0)
    for x in low:
        for y in high:
            for z in quadratic(y.c - x.c, y.b - x.b, y.a - x.a):
                if a < z < b:
                    yield z


def _split(stations: Sequence[Place], ballast_kg: float, moment: float) -> dict[str, float]:
    """Between filled from the front and filled from the back, so that it has this moment."""
    front, back = (fill(stations, ballast_kg, aft) for aft in (False, True))
    low, high = _moment(stations, front), _moment(stations, back)
    t = 0.0 if high - low < 1e-12 else min(max((moment - low) / (high - low), 0.0), 1.0)
    return {s.name: front[s.name] + t * (back[s.name] - front[s.name]) for s in stations}


def _conflict(
    o: Outline,
    cases: Sequence[Case],
    stations: Sequence[Place],
    bottom: float,
    top: float,
    cap: str,
) -> Conflict:
    """The two demands that are nearest to each other, where they are nearest; cap: what forbids
    more ballast than `top`."""
    best: Conflict | None = None
    breaks = _breaks(o, cases, stations, bottom, top)
    for a, b in pairwise(breaks) if len(breaks) > 1 else [(bottom, top)]:
        low, high = _curves(o, cases, stations, (a + b) / 2.0)
        for at in sorted({a, b, *_turning(low, high, a, b)}):
            needs = max(low, key=lambda c: c.at(at))
            forbids = min(high, key=lambda c: c.at(at))
            apart = needs.at(at) - forbids.at(at)
            if best is None or apart < best.apart_kg_m:
                best = Conflict(at, needs.whose, forbids.whose, apart)
    assert best is not None
    if best.ballast_kg >= top and top > bottom:
        # More of it would bring them nearer: what forbids more is in the way.
        whose = best.forbids if best.needs.startswith(STATIONS) else best.needs
        return Conflict(best.ballast_kg, f"{whose} (more ballast)", cap, best.apart_kg_m)
    return best


def _turning(low: Sequence[Curve], high: Sequence[Curve], a: float, b: float) -> Iterable[float]:
    """Where two curves of one kind meet, or a difference turns."""
    for curves in (low, high):
        for x in curves:
            for y in curves:
                yield from (z for z in quadratic(x.c - y.c, x.b - y.b, x.a - y.a) if a < z < b)
    for x in low:
        for y in high:
            if x.c != y.c and a < (z := (y.b - x.b) / (2.0 * (x.c - y.c))) < b:
                yield z


def _cap(cases: Sequence[Case], gross: float, most: float, top: float) -> str:
    """What forbids more ballast: the places are full, or the heaviest loading is at gross."""
    if top >= most:
        return f"{STATIONS} which take no more"
    heavy = max(range(len(cases)), key=lambda n: cases[n].mass_kg)
    return f"{_name(cases, heavy)} at {gross:g} kg"


def _name(cases: Sequence[Case], n: int) -> str:
    return cases[n].name or f"loading {n + 1}"


def _by_mass(
    cases: Sequence[Case], gross: float, most: float, top: float, bottom: float
) -> Conflict:
    """A loading that is too light needs what another, or the places, cannot take."""
    light = min(range(len(cases)), key=lambda n: cases[n].mass_kg)
    heavy = max(range(len(cases)), key=lambda n: cases[n].mass_kg)
    needs = f"{_name(cases, light)}, below the envelope’s masses,"
    if bottom <= 0.0:
        needs = f"{_name(cases, heavy)}, over the greatest mass already,"
    return Conflict(max(top, 0.0), needs, _cap(cases, gross, most, top), 0.0)
