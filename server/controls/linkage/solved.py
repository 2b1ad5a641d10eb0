"""A linkage solved over its whole range once, as the figure and its curves take it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.basis.vectors import cross, minus, size
from core.basis.verdicts import Verdict, judge
from core.controls.linkage.cautions import DEAD_CENTRE, TRANSMISSION, rod_cautions
from core.controls.linkage.document import Document
from core.controls.linkage.rod_ends import rod_states
from core.controls.linkage.solving import Motion, gear, solve
from core.controls.linkage.stops import Direction, stops_of
from core.controls.linkage.surface_travel import reached
from core.controls.linkage.turning import free_range
from core.controls.travel import direction
from server.controls.linkage import shapes
from server.controls.models import Control, Requirement

ALONE, FIRST, SECOND = 201, 31, 21
WRONG_WAY = "Stop: this control moves the wrong way."
Limits = tuple[float | None, float | None]


class Asked:
    """What is required of a control's surfaces, by surface and position."""

    def __init__(self, control: Control) -> None:
        self.surfaces = {s.slug: s for s in control.surfaces.all()}
        self.limits: dict[tuple[str, str], Limits] = {}
        rows = Requirement.objects.filter(control=control, kind__in=("travel", "neutral"))
        for r in rows.select_related("surface"):
            if r.surface is not None:
                self.limits.setdefault((r.surface.slug, r.position), (r.lo, r.hi))

    def name(self, slug: str) -> str:
        """The surface's name."""
        return self.surfaces[slug].name if slug in self.surfaces else ""

    def sign(self, slug: str, position: str) -> int:
        """+1 where the position lies on the positive side; neutral counts as positive."""
        if slug not in self.surfaces or not position or position == "neutral":
            return 1
        try:
            return direction(self.surfaces[slug].positive, position)
        except Refused:
            return 1


def per(unit: str) -> float:
    """How many shown units (°, mm) make one SI unit (rad, m)."""
    return math.degrees(1.0) if unit == "rad" else 1e3


def shown_unit(unit: str) -> str:
    """The unit as shown."""
    return "°" if unit == "rad" else "mm"


def solved(
    d: Document,
    asked: Asked,
    lengths: Mapping[str, float] | None = None,
    stops_at: Mapping[str, float] | None = None,
) -> shapes.Solved:
    """Solve everything. lengths: built rods, m; stops_at: built stops (q)."""
    names = list(d.mechanism.inputs)[:2]
    axes = [_axis(d, n, len(names), i, lengths) for i, n in enumerate(names)]
    grids = np.meshgrid(*(a[1] for a in axes), indexing="ij")
    flat = {n: g.ravel() for n, g in zip(names, grids, strict=True)}
    motion = solve(d.plan, flat, lengths)
    locked = np.broadcast_to(np.asarray(motion.lock) >= 0, flat[names[0]].shape)
    rods = _rods(d, motion, locked)
    travel = [row for o in d.outputs for row in _travel(d, asked, o, lengths, stops_at)]
    return shapes.Solved(
        axes=[a[0] for a in axes],
        shape=[len(a[1]) for a in axes],
        tracks=_tracks(d, motion, locked),
        outputs=[_output(d, asked, o, motion, locked) for o in d.outputs],
        rods=rods,
        travel=travel,
        stops=[_stops(d, o, lengths, stops_at) for o in d.outputs if d.stops],
        cautions=_cautions(d, rods, axes),
        least_transmission_deg=math.degrees(TRANSMISSION),
        least_to_dead_centre_deg=math.degrees(DEAD_CENTRE),
    )


def _axis(
    d: Document, name: str, count: int, index: int, lengths: Mapping[str, float] | None
) -> tuple[shapes.AxisShown, Any]:
    use = d.inputs[name]
    ends, rods = free_range(d, name, lengths)
    limited = [
        f"{'plus' if side > 0 else 'minus'}: rod {rod} locks at"
        f" {ends[side > 0] * per(use.unit):.1f} {shown_unit(use.unit)}"
        for side, rod in rods.items()
    ]
    steps = ALONE if count == 1 else (FIRST, SECOND)[index]
    values = np.linspace(ends[0], ends[1], steps)
    shown = shapes.AxisShown(
        name=name,
        unit=shown_unit(use.unit),
        positive=use.positive,
        values=_list(values * per(use.unit), 4),
        detents={k: v * per(use.unit) for k, v in use.detents.items()},
        limited_by=limited,
    )
    return shown, values


def _list(values: Any, digits: int, locked: Any = None) -> list[Any]:
    rounded = np.round(np.asarray(values, dtype=float), digits)
    if locked is None:
        return rounded.tolist()  # type: ignore[no-any-return]
    rounded = np.broadcast_to(rounded, locked.shape)
    out = (locked | np.isnan(rounded)).tolist()
    return [None if bad else v for v, bad in zip(rounded.tolist(), out, strict=True)]


def _tracks(d: Document, motion: Motion, locked: Any) -> list[shapes.TrackShown]:
    tracks = []
    for body in d.mechanism.bodies:
        placed = motion.placed[body.id]
        named = dict(body.points)
        if body.kind == "turn":
            carrier = placed.carrier
            pivot = carrier.move(body.pivot) if carrier else body.pivot
            tracks.append(_track(body.id, "", pivot, locked))
        tracks += [_track(body.id, n, placed.move(p), locked) for n, p in named.items()]
    return tracks


def _track(body: str, point: str, at: Any, locked: Any) -> shapes.TrackShown:
    x, y, z = (_list(np.asarray(c) * 1e3, 2, locked) for c in at)
    return shapes.TrackShown(body=body, point=point, x=x, y=y, z=z)


def _output(
    d: Document, asked: Asked, name: str, motion: Motion, locked: Any
) -> shapes.OutputShown:
    o, use = d.mechanism.outputs[name], d.outputs[name]
    unit, moved_by = d.mechanism.body(o.body).unit, d.input_of(name)
    ratio = per(unit) / per(d.mechanism.inputs[moved_by])
    return shapes.OutputShown(
        name=name,
        body=o.body,
        unit=shown_unit(unit),
        input=moved_by,
        surface=use.surface,
        surface_name=asked.name(use.surface),
        values=_list(motion.output(name) * per(unit), 5, locked),
        gear=_list(gear(motion, moved_by)[name] * ratio, 5, locked),
    )


def _rods(d: Document, motion: Motion, locked: Any) -> list[shapes.RodShown]:
    found = []
    driven = {drive.rod: name for name, drive in d.plan.drives.items()}
    for name, state in rod_states(motion).items():
        rod = d.mechanism.rod(name)
        end = state.a if rod.a.body == driven[name] else state.b
        cones = [e.cone_left for e in (state.a, state.b) if e.cone_left is not None]
        cone = np.minimum.reduce([np.asarray(c) for c in cones]) if cones else None
        dead = state.to_dead_centre
        found.append(
            shapes.RodShown(
                id=name,
                a=rod.a.point,
                b=rod.b.point,
                body_a=rod.a.body,
                body_b=rod.b.body,
                length_mm=float(np.asarray(motion.lengths[name])) * 1e3,
                drives=driven[name],
                transmission_deg=_list(np.degrees(end.transmission), 3, locked),
                to_dead_centre_deg=[] if dead is None else _list(np.degrees(dead), 3, locked),
                cone_left_deg=[] if cone is None else _list(np.degrees(cone), 3, locked),
                least_transmission_deg=_least(end.transmission, locked),
                least_to_dead_centre_deg=None if dead is None else _least(dead, locked),
                least_cone_left_deg=None if cone is None else _least(cone, locked),
            )
        )
    return found


def _least(values: Any, locked: Any) -> float:
    """The least within the whole range, °."""
    kept = np.broadcast_to(np.asarray(values), locked.shape)[~locked]
    return round(float(np.degrees(np.nanmin(kept))), 3) if kept.size else 0.0


def _travel(
    d: Document,
    asked: Asked,
    name: str,
    lengths: Mapping[str, float] | None,
    stops_at: Mapping[str, float] | None,
) -> list[shapes.TravelRow]:
    use, o = d.outputs[name], d.mechanism.outputs[name]
    unit = d.mechanism.body(o.body).unit
    input_unit = d.mechanism.inputs[d.input_of(name)]
    rows = []
    for r in reached(d, name, lengths, stops_at):
        sign = asked.sign(use.surface, r.position)
        lo, hi = asked.limits.get((use.surface, r.position), (None, None))
        value = None if r.value is None else sign * r.value
        verdict, said = _judged(value, lo, hi, r.position)
        rows.append(
            shapes.TravelRow(
                output=name,
                surface=use.surface,
                surface_name=asked.name(use.surface) or name.replace("_", " "),
                position=r.position,
                unit=shown_unit(unit),
                value=None if value is None else round(value * per(unit), 4) + 0.0,
                input=None if r.input is None else round(r.input * per(input_unit), 4) + 0.0,
                input_unit=shown_unit(input_unit),
                stop=r.stop,
                lo=None if lo is None else math.degrees(lo),
                hi=None if hi is None else math.degrees(hi),
                verdict=verdict.value,
                said=said,
            )
        )
    return rows


def _judged(
    value: float | None, lo: float | None, hi: float | None, position: str
) -> tuple[Verdict, str]:
    if value is None:
        return Verdict.OUT, "It locks up, or meets no stop, before this position."
    if lo is None and hi is None:
        return Verdict.NOT_MEASURED, ""
    if position != "neutral" and value < -math.radians(1.0) and (lo or 0.0) >= 0.0:
        return Verdict.OUT, WRONG_WAY
    verdict = judge(value, 0.0, lo, hi)
    if verdict is Verdict.IN:
        return verdict, ""
    short = lo is not None and value < lo
    by = math.degrees(abs(value - (lo if short else hi)))  # type: ignore[operator]
    return verdict, f"{by:.1f}° {'short' if short else 'over'} by its geometry."


def _stops(
    d: Document,
    name: str,
    lengths: Mapping[str, float] | None,
    stops_at: Mapping[str, float] | None,
) -> shapes.StopsShown:
    b = d.bench(name)
    use = d.inputs[b.input]
    found = stops_of(d, name, lengths, stops_at)
    unit = d.mechanism.body(d.mechanism.outputs[name].body).unit
    kinds = {s.id: s.kind for s in b.stops}
    ways = [("plus", found.plus), ("minus", found.minus)]
    findings = [_in_words(f, dict(ways), unit) for f in found.findings]
    return shapes.StopsShown(
        output=name,
        input=b.input,
        unit=shown_unit(unit),
        input_unit=shown_unit(use.unit),
        ways=[_way(word, way, per(use.unit), per(unit), kinds) for word, way in ways],
        throw_difference=None
        if found.throw_difference is None
        else found.throw_difference * per(use.unit),
        findings=findings,
        verdict="out" if findings else "in",
    )


def _way(
    word: str, way: Direction | None, per_in: float, per_out: float, kinds: dict[str, str]
) -> shapes.WayShown:
    if way is None:
        return shapes.WayShown(
            direction=word, input=None, output=None, contacts=[], not_reached=sorted(kinds)
        )
    order = [(way.first, 0.0), *sorted(way.margins.items(), key=lambda m: m[1])]
    return shapes.WayShown(
        direction=word,
        input=way.input * per_in,
        output=way.output * per_out,
        contacts=[shapes.ContactShown(stop=s, kind=kinds[s], margin=m * per_out) for s, m in order],
        not_reached=list(way.not_reached),
    )


def _in_words(finding: str, ways: dict[str, Direction | None], unit: str) -> str:
    """A finding, with what to move."""
    word, _, what = finding.partition(": ")
    way = ways.get(word)
    if not what or way is None:
        added = {
            "throw unequal": "The throw is not equal both ways: move one of the first stops.",
            "no stop": f"Going {word}, no stop is met: add one, or look further.",
            "lock before stop": f"Going {word}, it locks before any stop: set a stop earlier.",
        }
        return added.get(what or finding, finding)
    first = way.first.replace("_", " ")
    if what == "required stop not first":
        nearest = min(way.margins.values(), default=0.0) * per(unit)
        return (
            f"Going {word}, {first} is met first, but another must be: move it out by more than"
            f" {nearest:.1f} {shown_unit(unit)} of the surface, or set the required one earlier."
        )
    if what == "servo stop first":
        return f"Going {word}, the servo meets its own stop first: it can jam the control."
    if what == "servo margin small":
        return f"Going {word}, the servo's stop is too near: shorten its arm's travel."
    return f"Going {word}, {what.replace('_', ' ')}: too close to say which is first."


def _cautions(
    d: Document, rods: list[shapes.RodShown], axes: list[tuple[shapes.AxisShown, Any]]
) -> list[str]:
    """What comes near trouble somewhere in the whole range looked at."""
    said = []
    for r in rods:
        dead, cone = r["least_to_dead_centre_deg"], r["least_cone_left_deg"]
        said += rod_cautions(
            r["id"].replace("_", " "),
            math.radians(r["least_transmission_deg"]),
            None if dead is None else math.radians(dead),
            None if cone is None else math.radians(cone),
            _clocked(d, r["id"]),
        )
    for shown, _ in axes:
        said += [f"{shown['name'].replace('_', ' ')}, {text}." for text in shown["limited_by"]]
    for body in d.mechanism.bodies:
        for rod in d.mechanism.rods:
            for end in (rod.a, rod.b):
                if end.body == body.id and body.kind == "turn" and _no_arm(body, end.point):
                    said.append(f"Rod {rod.id} is held on the axis of {body.id}: it moves nothing.")
    return said


def _clocked(d: Document, rod: str) -> float:
    """How far the locked ends of a rod are turned against each other, rad."""
    text = d.records.get(rod, {}).get("clocking", "")
    return abs(parse(text, "angle", "deg", "clocking").si) if text else 0.0


def _no_arm(body: Any, point: str) -> bool:
    return float(size(cross(body.axis, minus(body.points[point], body.pivot)))) < 1e-6
