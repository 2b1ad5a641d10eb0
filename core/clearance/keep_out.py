"""Volumes that runs must stay out of (`clearance.keep_out`).

Box, cylinder and cut cone are convex, so that the signed distance is convex along every straight:
one search finds its least, and what lies inside is one stretch.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np

from core.basis.forms import Named, Unit
from core.basis.refused import Refused, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict, worst
from core.clearance.distance import Array, BoxIn, block_of, coordinates, line_of, listed
from core.clearance.words import ZONES

ANY = "any"
GOLDEN = (math.sqrt(5.0) - 1.0) / 2.0
STEPS, HALVINGS = 90, 60
Away = Callable[[Array], float]


@dataclass(frozen=True)
class Volume:
    """A volume: box (centre, half, axes), cylinder (from, to, radius), cone (from, to and both
    radii; one may be 0)."""

    kind: Annotated[Literal["box", "cylinder", "cone"], "Its shape."]
    centre: Annotated[Sequence[float] | None, "Of a box, m."] = None
    half: Annotated[Sequence[float] | None, "Of a box, m."] = None
    axes: Annotated[Sequence[Sequence[float]] | None, "Of a box: three rows."] = None
    from_: Annotated[Sequence[float] | None, "One end of its axis, m.", Named("from")] = None
    to: Annotated[Sequence[float] | None, "The other end, m."] = None
    radius: Annotated[float | None, "Of a cylinder.", Unit("m")] = None
    radius_from: Annotated[float | None, "Of a cone at from.", Unit("m")] = None
    radius_to: Annotated[float | None, "Of a cone at to.", Unit("m")] = None


@dataclass(frozen=True)
class RunIn:
    """A run by itself."""

    id: Annotated[str, "What it is called."]
    kind: Annotated[str, "wire, fuel, control cable …"]
    points: Annotated[Sequence[Sequence[float]], "Corners, m."]
    radius: Annotated[float, "Outer, with its sleeve.", Unit("m")]
    u_m: Annotated[float, "Standard uncertainty of its points."] = 0.0


@dataclass(frozen=True)
class Inside:
    """A run beside a volume."""

    gap_m: Annotated[float, "Least; below 0: inside."]
    length_inside_m: Annotated[float, "Of it nearer than the margin."]
    at_s_m: Annotated[float, "Where the least is, along it."]
    deepest: Annotated[tuple[float, ...], "That point, m."]
    verdict: Annotated[Verdict, "Against the margin, with its uncertainty."]


@dataclass(frozen=True)
class KeptOut:
    """All runs."""

    runs: Annotated[dict[str, Inside], "By their id."]
    skipped: Annotated[tuple[str, ...], "Of other kinds: not looked at."]
    verdict: Annotated[Verdict, "The worst."]


def away_of(volume: Volume) -> Away:
    """Signed distance of a point from a volume's skin, m; below 0 inside. Refuses what is none."""
    if volume.kind == "box":
        for name in ("centre", "half"):
            if getattr(volume, name) is None:
                raise Refused(f"volume.{name}", "is needed of a box")
        given = BoxIn(volume.centre or (), volume.half or (), volume.axes or BoxIn.axes)
        block = block_of(given, "volume")

        def from_box(p: Array) -> float:
            beyond = np.abs(block.inside(p)) - block.half
            outside = float(np.linalg.norm(np.maximum(beyond, 0.0)))
            return outside if outside > 0.0 else float(beyond.max())

        return from_box
    for name in ("from", "to"):
        if getattr(volume, "from_" if name == "from" else name) is None:
            raise Refused(f"volume.{name}", f"is needed of a {volume.kind}")
    start = np.array(coordinates(volume.from_ or (), "volume.from"))
    end = np.array(coordinates(volume.to or (), "volume.to"))
    long = float(np.linalg.norm(end - start))
    if long < 1e-12:
        raise Refused("volume.to", "there is no axis: both ends are one point")
    r0, r1 = _radii(volume)
    return _of_revolution(start, (end - start) / long, long, r0, r1)


def _radii(volume: Volume) -> tuple[float, float]:
    asked = ("radius",) if volume.kind == "cylinder" else ("radius_from", "radius_to")
    for name in asked:
        if getattr(volume, name) is None:
            raise Refused(f"volume.{name}", f"is needed of a {volume.kind}")
    if volume.kind == "cylinder":
        r = positive(volume.radius or 0.0, "volume.radius")
        return r, r
    r0 = not_negative(volume.radius_from or 0.0, "volume.radius_from")
    r1 = not_negative(volume.radius_to or 0.0, "volume.radius_to")
    if r0 == r1 == 0.0:
        raise Refused("volume.radius_to", "both radii are 0: there is no volume")
    return r0, r1


def _of_revolution(start: Array, axis: Array, long: float, r0: float, r1: float) -> Away:
    """Seen along with the axis it is a trapezium: its two ends and its slant."""
    slant = math.hypot(long, r1 - r0)

    def away(p: Array) -> float:
        w = p - start
        h = float(w @ axis)
        r = math.sqrt(max(0.0, float(w @ w) - h * h))
        out = ((r - r0) * long - h * (r1 - r0)) / slant
        beyond = (-h, h - long, out)
        if max(beyond) <= 0.0:
            return max(beyond)
        edges = ((0.0, 0.0, 0.0, r0), (long, 0.0, long, r1), (0.0, r0, long, r1))
        return min(_to_piece(h, r, *e) for e in edges)

    return away


def _to_piece(h: float, r: float, h0: float, r0: float, h1: float, r1: float) -> float:
    u, v = h1 - h0, r1 - r0
    squared = u * u + v * v
    t = 0.0 if squared == 0.0 else min(1.0, max(0.0, ((h - h0) * u + (r - r0) * v) / squared))
    return math.hypot(h - h0 - t * u, r - r0 - t * v)


def lowest(f: Callable[[float], float]) -> tuple[float, float]:
    """(share, value) of the least of a convex function on 0 to 1, its ends included."""
    left, right = 0.0, 1.0
    c, d = right - GOLDEN * (right - left), left + GOLDEN * (right - left)
    fc, fd = f(c), f(d)
    for _ in range(STEPS):
        if fc <= fd:
            right, d, fd = d, c, fc
            c = right - GOLDEN * (right - left)
            fc = f(c)
        else:
            left, c, fc = c, d, fd
            d = left + GOLDEN * (right - left)
            fd = f(d)
    value, share = min((fc, c), (fd, d), (f(0.0), 0.0), (f(1.0), 1.0))
    return share, value


def below(f: Callable[[float], float], at: float, level: float) -> tuple[float, float]:
    """The stretch round `at`, where a convex function has its least, on which it is under a
    level; empty where it never is."""
    if f(at) >= level:
        return at, at
    ends = []
    for far in (0.0, 1.0):
        if f(far) < level:
            ends.append(far)
            continue
        inner, outer = at, far
        for _ in range(HALVINGS):
            middle = (inner + outer) / 2.0
            if f(middle) < level:
                inner = middle
            else:
                outer = middle
        ends.append(inner)
    return ends[0], ends[1]


@rule(
    "clearance.keep_out",
    title="A volume that runs must stay out of",
    purpose="Does a line stay out of the exhaust jet, a hot region, an occupant’s or a device’s"
    " path?",
    source="Convex distance. Volume and margin are its maker’s or yours.",
    validity="Straight runs between their corners.",
    caution=ZONES,
)
def keep_out(
    volume: Annotated[Volume, "kind, with centre, half, axes or from, to and radii."],
    kinds: Annotated[Sequence[str], "Kinds of runs that must not enter, or any."],
    margin_m: Annotated[float, "Yours."],
    runs: Annotated[tuple[RunIn, ...], "id, kind, points, radius, u_m."],
) -> KeptOut:
    """Each run of these kinds beside the volume. Refuses what is no volume, no kinds, two runs of
    one id."""
    away = away_of(volume)
    if not kinds:
        raise Refused("kinds", "needs at least one, or any")
    margin = not_negative(margin_m, "margin_m")
    found: dict[str, Inside] = {}
    skipped: list[str] = []
    for r in runs:
        at = f"runs.{r.id}"
        if r.id in found or r.id in skipped:
            raise Refused(f"{at}.id", "is there twice")
        if ANY not in kinds and r.kind not in kinds:
            skipped.append(r.id)
            continue
        line = line_of(r.points, f"{at}.points")
        radius = not_negative(r.radius, f"{at}.radius")
        found[r.id] = _beside(away, line, radius, margin, not_negative(r.u_m, f"{at}.u_m"))
    verdict = worst(f.verdict for f in found.values()) if found else Verdict.IN
    return KeptOut(found, tuple(skipped), verdict)


def _beside(away: Away, line: Array, radius: float, margin: float, u: float) -> Inside:
    best: tuple[float, float, Array] | None = None
    inside = along = 0.0
    for n in range(len(line) - 1):
        start, way = line[n], line[n + 1] - line[n]
        long = float(np.linalg.norm(way))

        def f(t: float, start: Array = start, way: Array = way) -> float:
            return away(start + t * way)

        t, d = lowest(f)
        if best is None or d < best[0]:
            best = (d, along + t * long, start + t * way)
        a, b = below(f, t, margin + radius)
        inside += (b - a) * long
        along += long
    assert best is not None
    gap = best[0] - radius
    U = 2.0 * u
    verdict = Verdict.TOO_CLOSE
    if gap - U >= margin:
        verdict = Verdict.IN
    elif gap + U < margin:
        verdict = Verdict.OUT
    return Inside(gap, inside, best[1], listed(best[2]), verdict)
