"""Two cables that cross: taut and slack, and the sleeve that covers the rub
(`clearance.cable_crossing`).

Slack, a point of a line may be off by its reach (`slack_reach`). A distance less concave reaches
is convex in both shares, so that nested searches find the least at each travel; all travels are
searched together.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.forms import Named, Unit
from core.basis.refused import Refused, finite, not_negative
from core.basis.rules import rule
from core.clearance.distance import Array, between, coordinates, listed
from core.clearance.words import SLEEVES

TRAVELS = 41
# Looked at in so many places at once, and again between the two beside the best.
FINE, ROUNDS = 17, 12
PLACES = np.linspace(0.0, 1.0, FINE)
EDGE_M = 1e-12


@dataclass(frozen=True)
class StretchIn:
    """A straight stretch of a line. along: how far the line runs along itself, towards `to`, for
    each metre of travel; 0 a tube, -1 the other side of a loop."""

    from_: Annotated[Sequence[float], "One end, m.", Named("from")]
    to: Annotated[Sequence[float], "The other, m."]
    radius: Annotated[float, "Of the line.", Unit("m")]
    along: Annotated[float, "Along itself, metres for each metre of travel."] = 0.0
    from_move: Annotated[Sequence[float], "How its first end moves, for each metre."] = (0, 0, 0)
    to_move: Annotated[Sequence[float], "How its other end moves."] = (0, 0, 0)
    slack_m: Annotated[float, "Longer than its span when slack, by."] = 0.0


@dataclass(frozen=True)
class Touch:
    """Where they touch first."""

    at_m: Annotated[float, "The travel nearest neutral."]
    on_a: Annotated[tuple[float, ...], "On a, m."]
    on_b: Annotated[tuple[float, ...], "On b, m."]


@dataclass(frozen=True)
class Side:
    """The least over the travel, taut or slack."""

    gap_m: Annotated[float, "Least."]
    at_m: Annotated[float, "Its travel."]
    on_a: Annotated[tuple[float, ...], "On a, m."]
    on_b: Annotated[tuple[float, ...], "On b, m."]
    first_touch: Annotated[Touch | None, "Null: they never touch."]


@dataclass(frozen=True)
class Sleeve:
    """What a sleeve must cover, at neutral, from the stretch's first end."""

    from_m: Annotated[float, "From."]
    to_m: Annotated[float, "To."]
    length_m: Annotated[float, "Its length."]
    meets_end: Annotated[bool, "It would pass an end of the stretch: fairlead or pulley."]


@dataclass(frozen=True)
class Crossing:
    """Two lines that cross."""

    taut: Annotated[Side, "As straight lines."]
    slack: Annotated[Side, "Each as far off as it can be."]
    sleeve_a: Annotated[Sleeve | None, "Null: none is needed."]
    sleeve_b: Annotated[Sleeve | None, "Null: none is needed."]
    verdict: Annotated[str, "touch, clear or close."]


@dataclass(frozen=True)
class Line:
    """A stretch, checked."""

    start: Array
    end: Array
    radius: float
    along: float
    start_move: Array
    end_move: Array
    slack: float

    def ends(self, q: Array) -> tuple[Array, Array]:
        """Both ends for travels q (K,): (K, 3)."""
        return self.start + q[:, None] * self.start_move, self.end + q[:, None] * self.end_move

    def reach(self, share: Array, span: Array) -> Array:
        """Sideways, m, at a share of the span."""
        half = (span + self.slack) / 2.0
        across = 0.5 * np.sqrt(self.slack * (2.0 * span + self.slack))
        inner = np.maximum(0.0, 1.0 - ((share - 0.5) * span / half) ** 2)
        return across * np.sqrt(inner)

    @property
    def moves(self) -> bool:
        """Whether an end moves."""
        return bool(self.start_move.any() or self.end_move.any())


def _line(s: StretchIn, at: str) -> Line:
    start, end = coordinates(s.from_, f"{at}.from"), coordinates(s.to, f"{at}.to")
    if np.linalg.norm(np.subtract(end, start)) < EDGE_M:
        raise Refused(f"{at}.to", "both ends are one point")
    return Line(
        np.array(start), np.array(end), not_negative(s.radius, f"{at}.radius"),
        finite(s.along, f"{at}.along"),
        np.array(coordinates(s.from_move, f"{at}.from_move")),
        np.array(coordinates(s.to_move, f"{at}.to_move")),
        not_negative(s.slack_m, f"{at}.slack_m"),
    )  # fmt: skip


def _lowest(f: Callable[[Array], Array], like: Array) -> tuple[Array, Array]:
    """(share, value) of the least of a convex function on 0 to 1, for many at once: looked at in
    places (many, FINE), then again between the two beside the best."""
    left, right = np.zeros_like(like), np.ones_like(like)
    row = np.arange(len(like))
    for _ in range(ROUNDS):
        shares = left[:, None] + (right - left)[:, None] * PLACES
        values = f(shares)
        n = np.argmin(values, axis=1)
        share, least = shares[row, n], values[row, n]
        left, right = shares[row, np.maximum(n - 1, 0)], shares[row, np.minimum(n + 1, FINE - 1)]
    return share, least


@dataclass(frozen=True)
class Cross:
    """Both lines at once."""

    a: Line
    b: Line

    def taut(self, q: Array) -> tuple[Array, Array, Array]:
        """Gap and shares for each travel."""
        d, s, t = between(*self.a.ends(q), *self.b.ends(q))
        return d - self.a.radius - self.b.radius, s, t

    def slack(self, q: Array) -> tuple[Array, Array, Array]:
        """The same, each line as far off as it can be."""
        s, g = _lowest(lambda shares: self._row(q, shares), q)
        return g, s, self._beside(q, s)[1]

    def _row(self, q: Array, shares: Array, turned: bool = False) -> Array:
        """Of several points of a at each travel: (K, FINE)."""
        every = np.repeat(q, shares.shape[1])
        return self._beside(every, shares.ravel(), turned)[0].reshape(shares.shape)

    def _beside(self, q: Array, s: Array, turned: bool = False) -> tuple[Array, Array]:
        """Of a point of a (of b where turned): least gap to the other line, and the share there."""
        one, other = (self.b, self.a) if turned else (self.a, self.b)
        p0, p1 = one.ends(q)
        r0, r1 = other.ends(q)
        point = p0 + s[:, None] * (p1 - p0)
        own = one.reach(s, np.linalg.norm(p1 - p0, axis=1))
        span = np.linalg.norm(r1 - r0, axis=1)

        def gap(t: Array) -> Array:
            away = (point - r0)[:, None, :] - t[..., None] * (r1 - r0)[:, None, :]
            far: Array = np.sqrt(np.einsum("kmi,kmi->km", away, away))
            return far - other.reach(t, span[:, None])

        t, least = _lowest(gap, q)
        return least - own - self.a.radius - self.b.radius, t

    def near(self, q: Array, level: float, turned: bool) -> tuple[Array, Array]:
        """From and to, as shares, where a line (b where turned) is nearer than a level when
        slack; NaN where it never is."""
        best, least = _lowest(lambda shares: self._row(q, shares, turned), q)
        row, ends = np.arange(len(q)), []
        for edge in (0.0, 1.0):
            inner, outer = best, np.full_like(q, edge)
            for _ in range(ROUNDS):
                shares = inner[:, None] + (outer - inner)[:, None] * PLACES
                under = self._row(q, shares, turned) < level
                # Under a level from the best outward, until no more.
                last = np.maximum(under.sum(axis=1) - 1, 0)
                inner = shares[row, last]
                outer = shares[row, np.minimum(last + 1, FINE - 1)]
            ends.append(inner)
        none = least >= level
        return np.where(none, np.nan, ends[0]), np.where(none, np.nan, ends[1])


Gaps = Callable[[Array], tuple[Array, Array, Array]]


def _side(c: Cross, gaps: Gaps, lo: float, hi: float) -> Side:
    def place(q: float) -> tuple[float, tuple[float, ...], tuple[float, ...]]:
        one = np.array([q])
        g, s, t = gaps(one)
        (p0, p1), (r0, r1) = c.a.ends(one), c.b.ends(one)
        return float(g[0]), listed((p0 + s * (p1 - p0))[0]), listed((r0 + t * (r1 - r0))[0])

    if not (c.a.moves or c.b.moves):
        g, on_a, on_b = place(0.0)
        return Side(g, 0.0, on_a, on_b, Touch(0.0, on_a, on_b) if g <= 0.0 else None)
    travels = np.union1d(np.linspace(lo, hi, TRAVELS), [0.0])
    found = gaps(travels)[0]
    n = int(np.argmin(found))
    left, right = travels[max(n - 1, 0)], travels[min(n + 1, len(travels) - 1)]
    for _ in range(ROUNDS):
        finer = np.linspace(left, right, FINE)
        at = int(np.argmin(gaps(finer)[0]))
        left, right = finer[max(at - 1, 0)], finer[min(at + 1, FINE - 1)]
        if right - left < EDGE_M:
            break
    choices = [float(travels[n]), float((left + right) / 2.0)]
    q = min(choices, key=lambda x: float(gaps(np.array([x]))[0][0]))
    g, on_a, on_b = place(q)
    first = _first(gaps, travels, found, q if g <= 0.0 else None)
    touch = None if first is None else Touch(first, *place(first)[1:])
    return Side(g, q, on_a, on_b, touch)


def _first(gaps: Gaps, travels: Array, found: Array, least: float | None) -> float | None:
    """The travel nearest neutral at which they touch; of two the positive."""
    if least is None:
        return None
    grid = np.union1d(travels, [least])
    values = gaps(grid)[0]
    zero = int(np.searchsorted(grid, 0.0))
    sides = []
    for order in (range(zero, len(grid)), range(zero, -1, -1)):
        hit = next((n for n in order if values[n] <= 0.0), None)
        if hit is None:
            continue
        if hit == zero:
            return 0.0
        free, touch = float(grid[hit - (1 if hit > zero else -1)]), float(grid[hit])
        for _ in range(ROUNDS):
            finer = np.linspace(free, touch, FINE)
            under = int(np.argmax(gaps(finer)[0] <= 0.0))
            free, touch = float(finer[max(under - 1, 0)]), float(finer[under])
        sides.append(touch)
    return min(sides, key=lambda q: (abs(q), -q), default=None)


def _sleeve(
    c: Cross, turned: bool, lo: float, hi: float, level: float, margin: float
) -> Sleeve | None:
    line = c.b if turned else c.a
    moving = c.a.moves or c.b.moves
    q = np.union1d(np.linspace(lo, hi, TRAVELS), [0.0]) if moving else np.array([lo, 0.0, hi])
    near, far = c.near(q if moving else np.zeros(3), level, turned)
    p0, p1 = line.ends(q)
    span = np.linalg.norm(p1 - p0, axis=1)
    if np.isnan(near).all():
        return None
    back = line.along * q
    begins = float(np.nanmin(near * span - back)) - margin
    ends = float(np.nanmax(far * span - back)) + margin
    meets = bool(np.any(begins + back < -EDGE_M) or np.any(ends + back > span + EDGE_M))
    return Sleeve(begins, ends, ends - begins, meets)


@rule(
    "clearance.cable_crossing",
    title="Cables that cross",
    purpose="Do two lines that cross touch, taut or slack, and where would a sleeve have to be?",
    source="Straight lines; slack, the spheroid that a longer line can reach.",
    validity="Straight stretches between fairleads or pulleys; ends move in proportion to travel.",
    caution=SLEEVES,
)
def cable_crossing(
    a: Annotated[StretchIn, "from, to, radius; along, from_move, to_move, slack_m."],
    b: Annotated[StretchIn, "The same."],
    lo_m: Annotated[float, "Travel from."],
    hi_m: Annotated[float, "To; 0 is neutral."],
    rule_m: Annotated[float, "Least distance."],
    sleeve_margin_m: Annotated[float, "A sleeve is longer by this at both ends."],
) -> Crossing:
    """Least gap taut and slack over the travel, and both sleeves. Refuses a travel without
    neutral (`lo_m`) and a stretch of one point (`a.to`)."""
    one, other = _line(a, "a"), _line(b, "b")
    if not finite(lo_m, "lo_m") <= 0.0 <= finite(hi_m, "hi_m"):
        raise Refused("lo_m", "0, neutral, must lie within the travel")
    level = not_negative(rule_m, "rule_m")
    margin = not_negative(sleeve_margin_m, "sleeve_margin_m")
    for line, at in ((one, "a"), (other, "b")):
        for q in (lo_m, hi_m):
            p0, p1 = line.ends(np.array([q]))
            if np.linalg.norm(p1 - p0) < EDGE_M:
                raise Refused(f"{at}.to_move", "brings both ends to one point")
    c = Cross(one, other)
    taut, slack = _side(c, c.taut, lo_m, hi_m), _side(c, c.slack, lo_m, hi_m)
    sleeves = [_sleeve(c, turned, lo_m, hi_m, level, margin) for turned in (False, True)]
    verdict = "touch" if slack.gap_m <= 0.0 else "clear" if slack.gap_m >= level else "close"
    return Crossing(taut, slack, sleeves[0], sleeves[1], verdict)
