"""Where a selector valve goes, and how it is turned (`lines.selector_place`)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.lines.hose import SLACK_MIN
from core.lines.hose_moving import End, Hose, Pair, hang, hung, pair
from core.lines.plumbing import named_once
from core.lines.words import ELASTICA

TURN = 2.0 * math.pi
TIE = 1e-6


@dataclass(frozen=True)
class Port:
    """A port of the valve at rotation 0."""

    id: Annotated[str, "Its name."]
    angle_rad: Annotated[float, "Outward, counter-clockwise."]
    reach_m: Annotated[float, "From the valve's centre to the port's face."]


@dataclass(frozen=True)
class HoseTo:
    """A hose that comes to a port."""

    id: Annotated[str, "Its name."]
    port: Annotated[str, "Where it ends."]
    fixed_point_m: Annotated[Sequence[float], "Where it begins, in the panel's plane."]
    fixed_angle_rad: Annotated[float, "How it leaves there."]
    length_m: Annotated[float, "With its fittings."]
    min_radius_m: Annotated[float, "The maker's least bend radius."]
    end_fitting_m: Annotated[float, "Rigid length of each fitting."] = 0.0


@dataclass(frozen=True)
class Handle:
    """The lever on the valve at rotation 0."""

    length_m: Annotated[float, "From the pivot."]
    from_rad: Annotated[float, "First position."]
    to_rad: Annotated[float, "Last position, counter-clockwise from the first."]


@dataclass(frozen=True)
class Along:
    """Places along a line: one more than steps."""

    from_m: Annotated[Sequence[float], "First place."]
    to_m: Annotated[Sequence[float], "Last place."]
    steps: Annotated[int, "0 is one place."]


@dataclass(frozen=True)
class Over:
    """Places over a rectangle."""

    from_m: Annotated[Sequence[float], "One corner."]
    to_m: Annotated[Sequence[float], "The opposite corner."]
    steps: Annotated[tuple[int, ...], "Across and up; 0 is one place."]


@dataclass(frozen=True)
class Best:
    """The best place."""

    centre_m: Annotated[tuple[float, ...], "Of the valve."]
    rotation_rad: Annotated[float, "Of the valve."]
    margin: Annotated[float, "The least of all margins there."]
    governed_by: Annotated[str, "A hose, or handle."]


@dataclass(frozen=True)
class Placed:
    """How many places were looked at, and the best."""

    candidates: Annotated[int, "Places times rotations."]
    best: Annotated[Best | None, "Null: none does."]
    verdict: Annotated[Verdict, "In where one does."]


@rule(
    "lines.selector_place",
    title="Where the selector goes",
    purpose="The place and rotation of a valve at which all hoses and the lever have most room.",
    source=ELASTICA,
    validity="Hoses are not tested against each other.",
    caution="Try the handle with seats and covers in place.",
)
def selector_place(
    ports: Annotated[tuple[Port, ...], "Of the valve."],
    hoses: Annotated[tuple[HoseTo, ...], "That come to it."],
    handle: Annotated[Handle, "Its lever."],
    panel_m: Annotated[Sequence[float], "u0, w0, u1, w1: the lever sweeps inside."],
    line: Annotated[Along | None, "Places along a line."] = None,
    rectangle: Annotated[Over | None, "Instead: over a rectangle."] = None,
    rotation_step_rad: Annotated[float, "Of the valve; divides a turn."] = math.pi / 4,
    slack_min: Annotated[float, "Least slack of a hose."] = SLACK_MIN,
) -> Placed:
    """The place with the largest least margin. Refuses steps that do not divide a turn."""
    named_once((p.id for p in ports), "ports")
    named_once((h.id for h in hoses), "hoses")
    by = {p.id: p for p in ports}
    for p in ports:
        finite(p.angle_rad, "angle_rad")
        not_negative(p.reach_m, "reach_m")
    for h in hoses:
        if h.port not in by:
            raise Refused("hoses", f"{h.id}: there is no port {h.port}")
    if len({h.port for h in hoses}) < len(hoses):
        raise Refused("hoses", "two hoses come to one port")
    hung_on = [hang(h.fixed_point_m, h.fixed_angle_rad, h.length_m, h.end_fitting_m) for h in hoses]
    for h in hoses:
        positive(h.min_radius_m, "min_radius_m")
    if not 0.0 <= finite(slack_min, "slack_min") < 1.0:
        raise Refused("slack_min", "must be from 0 to below 1")
    step = positive(rotation_step_rad, "rotation_step_rad")
    turns = round(TURN / step)
    if turns < 1 or abs(turns * step - TURN) > 1e-6:
        raise Refused("rotation_step_rad", "must divide a turn")
    _swept(handle)
    panel = _panel(panel_m)
    every = [(k * step, place) for k in range(turns) for place in _places(line, rectangle)]
    valve = _Valve(by, hoses, hung_on, handle, panel, slack_min)
    bounds = [valve.bound(place, rotation) for rotation, place in every]
    best: tuple[float, int, str] | None = None
    for i in sorted(range(len(every)), key=lambda i: (-bounds[i], i)):
        if bounds[i] < 0.0 or (best is not None and bounds[i] < best[0] - TIE):
            break
        found = valve.margin(every[i][1], every[i][0])
        if found is None or found[0] < 0.0:
            continue
        better = best is None or found[0] > best[0] + TIE
        if best is not None and not better and found[0] >= best[0] - TIE and i < best[1]:
            better = True
        if better:
            best = (found[0], i, found[1])
    if best is None:
        return Placed(len(every), None, Verdict.OUT)
    rotation, place = every[best[1]]
    return Placed(len(every), Best(place, rotation, best[0], best[2]), Verdict.IN)


def _swept(handle: Handle) -> None:
    positive(handle.length_m, "length_m")
    if finite(handle.to_rad, "to_rad") < finite(handle.from_rad, "from_rad"):
        raise Refused("to_rad", "is before the first position")


def _panel(given: Sequence[float]) -> tuple[float, float, float, float]:
    if len(given) != 4:
        raise Refused("panel_m", "must be four numbers: two corners")
    u0, w0, u1, w1 = (finite(x, "panel_m") for x in given)
    if u1 <= u0 or w1 <= w0:
        raise Refused("panel_m", "its corners are out of order")
    return u0, w0, u1, w1


def _places(line: Along | None, rectangle: Over | None) -> list[Pair]:
    """Along the line, or w outermost and u inside it."""
    if (line is None) == (rectangle is None):
        raise Refused("line", "enter a line or a rectangle, one of them")
    if line is not None:
        a, b = pair(line.from_m, "from_m"), pair(line.to_m, "to_m")
        return [(a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])) for t in _shares(line.steps)]
    assert rectangle is not None
    a, b = pair(rectangle.from_m, "from_m"), pair(rectangle.to_m, "to_m")
    if len(rectangle.steps) != 2:
        raise Refused("steps", "must be two numbers: across and up")
    across, up = (list(_shares(n)) for n in rectangle.steps)
    return [
        (a[0] + t * (b[0] - a[0]), a[1] + s * (b[1] - a[1]))
        for s, t in itertools.product(up, across)
    ]


def _shares(steps: int) -> Iterator[float]:
    if not 0 <= steps <= 500:
        raise Refused("steps", "must be from 0 to 500")
    return (k / steps if steps else 0.0 for k in range(steps + 1))


@dataclass(frozen=True)
class _Valve:
    """Everything of the question that does not hang on the place."""

    ports: Mapping[str, Port]
    hoses: Sequence[HoseTo]
    hung: Sequence[Hose]
    handle: Handle
    panel: tuple[float, float, float, float]
    slack_min: float

    def end(self, hose: HoseTo, place: Pair, rotation: float) -> End:
        """Where a hose ends: outside its turned port, heading into the valve."""
        port = self.ports[hose.port]
        out = port.angle_rad + rotation
        at = (place[0] + port.reach_m * math.cos(out), place[1] + port.reach_m * math.sin(out))
        turning = wrapped(out + math.pi - hose.fixed_angle_rad)
        return End(at, hose.fixed_angle_rad + turning)

    def lever(self, place: Pair, rotation: float) -> float:
        """The least distance of pivot and swept sector from the edges, over the lever."""
        long, h = self.handle.length_m, self.handle
        at = [(0.0, 0.0)]
        a, b = h.from_rad + rotation, h.to_rad + rotation
        angles = [a, b]
        first = math.ceil(a / (math.pi / 2))
        angles += [
            k * math.pi / 2 for k in range(first, first + 5) if k * math.pi / 2 <= min(b, a + TURN)
        ]
        at += [(long * math.cos(t), long * math.sin(t)) for t in angles]
        u0, w0, u1, w1 = self.panel
        return (
            min(
                min(place[0] + x - u0, u1 - place[0] - x, place[1] + y - w0, w1 - place[1] - y)
                for x, y in at
            )
            / long
        )

    def bound(self, place: Pair, rotation: float) -> float:
        """No margin of this candidate exceeds it."""
        found = [self.lever(place, rotation)]
        for hose, hung_ in zip(self.hoses, self.hung, strict=True):
            x, y, turning = hung_.ends([self.end(hose, place, rotation)])[0]
            found.append((hung_.flexible - math.hypot(x, y)) / hung_.flexible - self.slack_min)
            if abs(turning) > 1e-12:
                found.append(hung_.flexible / abs(turning) / hose.min_radius_m - 1.0)
        return min(found)

    def margin(self, place: Pair, rotation: float) -> tuple[float, str] | None:
        """The least margin and whose it is; none where a hose does not reach."""
        found = [(self.lever(place, rotation), "handle")]
        for hose, hung_ in zip(self.hoses, self.hung, strict=True):
            (h,) = hung(hung_, [self.end(hose, place, rotation)])
            if h.slack <= 0.0 or h.radius is None:
                return None
            margin = min(h.radius / hose.min_radius_m - 1.0, h.slack - self.slack_min)
            found.append((margin, hose.id))
        return min(found, key=lambda m: m[0])


def wrapped(angle: float) -> float:
    """Into (-π, π]."""
    found = math.remainder(angle, TURN)
    return math.pi if found <= -math.pi + 1e-12 else found
