"""A bent tube through bulkheads: whole, or with some bends made in place
(`lines.thread_through`)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.by_name import rule
from core.basis.refused import Refused, not_negative, positive
from core.lines.bend import VERTICES
from core.lines.shaping import RADII
from core.lines.tables import FINDINGS_OF, ROUNDING_M, Findings, sorted_findings
from core.lines.tube import Array, Tube, point, unit

SQUARE = 1e-9


@dataclass(frozen=True)
class Hole:
    """A hole in a plate that the tube goes through."""

    id: Annotated[str, "Its name."]
    centre_m: Annotated[Sequence[float], "Centre at mid-plate."]
    axis: Annotated[Sequence[float], "Square to the plate."]
    diameter_m: Annotated[float, "Clear, inside its grommet; a slot's width."]
    thickness_m: Annotated[float, "Of plate and grommet."]
    slot_m: Annotated[float | None, "A slot's overall length."] = None


@dataclass(frozen=True)
class HoleOn:
    """Where a hole is on the tube, m and rad."""

    id: Annotated[str, "Its name."]
    station_m: Annotated[float, "Along the centreline."]
    straight: Annotated[int, "From 0."]
    offset_m: Annotated[float, "Of the tube from its centre, in its plane."]
    tilt_rad: Annotated[float, "Between straight and axis."]
    in_place_m: Annotated[float | None, "What the tube needs in place; null for a slot."]


@dataclass(frozen=True)
class Need:
    """What a hole must be for the whole bent tube; null: nothing does."""

    id: Annotated[str, "Its name."]
    width_m: Annotated[float | None, "Least width."]
    length_m: Annotated[float | None, "Least length."]


@dataclass(frozen=True)
class Way:
    """Pushed in by one end."""

    lead: Annotated[str, "end or start: which goes first."]
    before: Annotated[int | None, "Bends that may be made before; null: not even none."]
    answer: Annotated[str, "In words."]
    needs: Annotated[tuple[Need, ...], "For the whole bent tube."]


@dataclass(frozen=True)
class Threaded:
    """Whether a tube goes through its holes."""

    holes: Annotated[tuple[HoleOn, ...], "In their order along the tube."]
    ways: Annotated[tuple[Way, ...], "End first, then start first."]
    lead: Annotated[str | None, "The better way; null: never."]
    answer: Annotated[str, "In words."]
    findings: Annotated[Findings, FINDINGS_OF]


@rule(
    "lines.thread_through",
    title="A bent tube through bulkheads",
    purpose="Does the bent tube pass its holes, or which bends are made in place?",
    source="Plane geometry of a bend in a thick plate.",
    validity="Room for the swinging tube outside the plates is not tested; with two holes or"
    " more it is sufficient, not necessary.",
    caution="Cover edges before threading; a scratched tube is scrap.",
)
def thread_through(
    vertices_m: Annotated[Sequence[Sequence[float]], VERTICES],
    radii_m: Annotated[Sequence[float], RADII],
    od_m: Annotated[float, "Outside diameter."],
    holes: Annotated[tuple[Hole, ...], "What it goes through."],
    start_fitting_m: Annotated[float | None, "Largest diameter already on the start."] = None,
    end_fitting_m: Annotated[float | None, "Largest diameter already on the far end."] = None,
    bender_grip_m: Annotated[float, "Straight between the last hole and a bend in place."] = 0.0,
) -> Threaded:
    """Both ways of pushing it in. Refuses holes that no straight passes."""
    tube, od = Tube.of(vertices_m, radii_m), positive(od_m, "od_m")
    if any(r <= od / 2 for r in tube.radii):
        raise Refused("radii_m", "a bend is tighter than the tube is thick")
    fittings = {
        "start": _fitting(start_fitting_m, "start_fitting_m"),
        "end": _fitting(end_fitting_m, "end_fitting_m"),
    }
    grip = not_negative(bender_grip_m, "bender_grip_m")
    met = sorted((_met(tube, h) for h in _checked(holes)), key=lambda m: m.station)
    ways = tuple(
        _way(tube if lead == "end" else _reversed(tube), od, met, lead, fittings[lead], grip)
        for lead in ("end", "start")
    )
    best = max(
        (w for w in ways if w.before is not None),
        key=lambda w: (w.before, w.lead == "end"),
        default=None,
    )
    rubs = [
        ("rubs_in_place", m.hole.id)
        for m in met
        if (need := m.in_place(od)) is not None and need > m.hole.diameter_m + ROUNDING_M
    ]
    return Threaded(
        tuple(
            HoleOn(m.hole.id, m.station, m.straight, m.offset, m.tilt, m.in_place(od)) for m in met
        ),
        ways,
        best.lead if best else None,
        best.answer if best else "never: fit a union",
        sorted_findings(rubs),
    )


def _fitting(value: float | None, field: str) -> float:
    return 0.0 if value is None else positive(value, field)


def _checked(holes: Sequence[Hole]) -> Sequence[Hole]:
    if not holes:
        raise Refused("holes", "needs at least one hole")
    if len({h.id for h in holes}) < len(holes):
        raise Refused("holes", "two holes have the same name")
    for h in holes:
        positive(h.diameter_m, "diameter_m")
        not_negative(h.thickness_m, "thickness_m")
        if h.slot_m is not None and positive(h.slot_m, "slot_m") < h.diameter_m:
            raise Refused("slot_m", f"{h.id}: a slot is at least as long as it is wide")
    return holes


@dataclass(frozen=True)
class _Met:
    """A hole on the straight that crosses its plane nearest its centre."""

    hole: Hole
    station: float
    straight: int
    along: float
    left: float
    offset: float
    tilt: float
    at: Array

    def in_place(self, od: float) -> float | None:
        """The round hole that the tube needs as it lies."""
        if self.hole.slot_m is not None:
            return None
        return _oblique(od, self.tilt, self.hole.thickness_m) + 2.0 * self.offset


def _oblique(wide: float, tilt: float, thick: float) -> float:
    return wide / math.cos(tilt) + thick * math.tan(tilt)


def _met(tube: Tube, h: Hole) -> _Met:
    """Refuses a hole whose centre no straight passes within half its longest side."""
    centre, axis = point(h.centre_m, "centre_m"), unit(point(h.axis, "axis"))
    if not np.linalg.norm(axis):
        raise Refused("axis", f"{h.id}: has length zero")
    best: _Met | None = None
    station = 0.0
    for n, s in enumerate(tube.straights):
        begin = tube.ends(n) if n else tube.vertices[0]
        d = tube.directions[n]
        across = float(d @ axis)
        if abs(across) > SQUARE:
            along = float((centre - begin) @ axis) / across
            at = begin + along * d
            off = float(np.linalg.norm(at - centre))
            inside = -ROUNDING_M <= along <= s + ROUNDING_M
            if inside and (best is None or off < best.offset - 1e-12):
                tilt = math.atan2(float(np.linalg.norm(np.cross(d, axis))), abs(across))
                best = _Met(h, station + along, n, along, s - along, off, tilt, at)
        station += s + (tube.arcs[n] if n < len(tube.arcs) else 0.0)
    longest = max(h.diameter_m, h.slot_m or 0.0)
    if best is None or best.offset > longest / 2 + ROUNDING_M:
        raise Refused("holes", f"{h.id}: no straight of the tube passes it")
    return best


def _reversed(tube: Tube) -> Tube:
    """The same tube from its other end."""
    return Tube(tube.vertices[::-1].copy(), tube.radii[::-1])


def _way(tube: Tube, od: float, met: list[_Met], lead: str, fitting: float, grip: float) -> Way:
    """Pushed in by one end; `tube` runs towards that end: its last bend goes first."""
    n, ahead = len(tube.angles), lead == "end"
    held = sorted(
        (_On(m, m.straight, m.left) if ahead else _On(m, n - m.straight, m.along) for m in met),
        key=lambda h: (h.straight, -h.left),
    )
    last = held[-1]
    before: int | None = None
    for p in range(last.straight, n + 1):
        room = (
            last.left
            + sum(tube.arcs[last.straight : p])
            + sum(tube.straights[last.straight + 1 : p + 1])
        )
        if p < n and room < grip - ROUNDING_M:
            continue
        needs = _needs(tube, od, held, fitting, p)
        if all(_passes(h.met.hole, need, fitting) for h, need in zip(held, needs, strict=True)):
            before = p
    whole = {need.id: need for need in _needs(tube, od, held, fitting, n)}
    return Way(lead, before, _answer(lead, before, n), tuple(whole[m.hole.id] for m in met))


@dataclass(frozen=True)
class _On:
    """A hole as seen by the way in: its straight, and what is left of that ahead of it."""

    met: _Met
    straight: int
    left: float


def _passes(hole: Hole, need: Need, fitting: float) -> bool:
    if need.width_m is None or need.length_m is None:
        return False
    wide, long = hole.diameter_m, hole.slot_m or hole.diameter_m
    return (
        need.width_m <= wide + ROUNDING_M
        and need.length_m <= long + ROUNDING_M
        and fitting <= wide + ROUNDING_M
    )


def _answer(lead: str, before: int | None, n: int) -> str:
    if before is None:
        return "never: fit a union"
    if before == n:
        return "passes whole"
    if lead == "end":
        return f"bend {before + 1} and later in place"
    return f"bend {n - before} and earlier in place"


def _needs(tube: Tube, od: float, held: list[_On], fitting: float, p: int) -> list[Need]:
    """What each hole must be when the first p bends are made and the rest is still straight."""
    if len(held) == 1:
        return [_one(tube, od, held[0], fitting, p)]
    return _several(tube, od, held, fitting, p)


def _one(tube: Tube, od: float, h: _On, fitting: float, p: int) -> Need:
    """Through one hole the tube slides along its own centreline; bends bow in a thick plate."""
    hole, thick = h.met.hole, h.met.hole.thickness_m
    ahead = list(range(h.straight + 1, p + 1))
    inner = {i: tube.radii[i - 1] - od / 2 for i in ahead}
    if any(r <= thick / 2 for r in inner.values()):
        return Need(hole.id, None, None)
    bow = {i: r - math.sqrt(r * r - thick * thick / 4) for i, r in inner.items()}
    width, length = od, od + max(bow.values(), default=0.0)
    for chain in _chains(tube, ahead, thick):
        both = od + 2 * max(bow[i] for i in chain)
        width, length = max(width, both), max(length, both)
    return Need(hole.id, max(width, fitting), max(length, fitting))


def _chains(tube: Tube, ahead: list[int], thick: float) -> list[list[int]]:
    """Successive bends with less than twice the plate of straight between them."""
    found: list[list[int]] = []
    for i, j in itertools.pairwise(ahead):
        if tube.straights[i] < 2 * thick - ROUNDING_M:
            if found and found[-1][-1] == i:
                found[-1].append(j)
            else:
                found.append([i, j])
    return found


def _several(tube: Tube, od: float, held: list[_On], fitting: float, p: int) -> list[Need]:
    """Two or more holes hold the tube in line: all that is ahead of the first in a barrel."""
    first, last = held[0].met, held[-1].met
    corners = [first.at, *_corners(tube, held[0].straight, p)]
    d = unit(corners[-1] - corners[0])
    away = [float(np.linalg.norm(np.cross(c - corners[0], d))) for c in corners[1:-1]]
    wide = max(od, fitting) + 2.0 * max(away, default=0.0)
    origin = _array(first.hole.centre_m)
    barrel = unit(_array(last.hole.centre_m) - origin)
    if not np.linalg.norm(barrel):
        raise Refused("holes", "two holes are at the same place")
    return [_in_line(h.met.hole, wide, origin, barrel) for h in held]


def _in_line(hole: Hole, wide: float, origin: Array, barrel: Array) -> Need:
    """What a hole must be for a straight barrel through it."""
    axis = unit(_array(hole.axis))
    across = float(axis @ barrel)
    if abs(across) < SQUARE:
        return Need(hole.id, None, None)
    centre = _array(hole.centre_m)
    met = origin + float((centre - origin) @ axis) / across * barrel
    tilt = math.atan2(float(np.linalg.norm(np.cross(axis, barrel))), abs(across))
    off = float(np.linalg.norm(met - centre))
    need = _oblique(wide, tilt, hole.thickness_m) + 2.0 * off
    return Need(hole.id, need, need)


def _array(value: Sequence[float]) -> Array:
    return np.array(value, dtype=float)


def _corners(tube: Tube, straight: int, p: int) -> list[Array]:
    """Corners ahead of a straight up to the leading end, bends after p still straight."""
    if p >= len(tube.angles):
        return list(tube.vertices[straight + 1 :])
    made = list(tube.vertices[straight + 1 : p + 1])
    d = tube.directions[p]
    begin = tube.ends(p) if p else tube.vertices[0]
    rest = sum(tube.straights[p:]) + sum(tube.arcs[p:])
    return [*made, begin + rest * d]
