"""Every pair of things that comes near: how near, and which distance it must keep."""

from __future__ import annotations

import hashlib
import math
from collections import OrderedDict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import product
from typing import Any

import numpy as np
import shapely

from core.basis.refused import Refused
from core.clearance.apart import CLAMPED, WIRES, Apart, Chosen, Sorts, chosen, farthest
from core.clearance.distance import Array
from core.clearance.rows import CONTACT
from core.clearance.scene import STRUCTURE, Scene
from core.clearance.table import Nearest, Pair, Thing, TooMany
from core.clearance.verdict import Judged, gap_uncertainty, gap_verdict

KEPT = 8192
# From and to along a, from and to along b; None: from its beginning, to its end.
Cut = tuple[float | None, float | None, float | None, float | None]
_kept: OrderedDict[str, Nearest] = OrderedDict()


@dataclass(frozen=True)
class Met:
    """A pair that comes near. near: None where it could not be worked out, `why`. digest: of all
    its geometry. chosen: the distance it must keep. lacking: what nobody said. cuts: the
    stretches that are meant to touch."""

    a: Thing
    b: Thing
    near: Nearest | None
    digest: str
    chosen: Chosen
    why: str = ""
    u_m: float | None = None
    motion_m: float = 0.0
    lacking: tuple[str, ...] = ()
    cuts: tuple[Cut, ...] = ()

    @property
    def place(self) -> tuple[float, ...]:
        """The middle between the nearest points, m."""
        assert self.near is not None
        both = zip(self.near.on_a, self.near.on_b, strict=True)
        return tuple((x + y) / 2.0 for x, y in both)

    @property
    def key(self) -> str:
        """Its own among all pairs."""
        return pair_key(self.a, self.b)

    @property
    def name(self) -> str:
        """Both by name."""
        return f"{self.a.name} – {self.b.name}"

    @property
    def rule(self) -> Apart | None:
        """The distance that it must keep."""
        return self.chosen.rule

    def asked(self) -> dict[str, Any]:
        """What the verdict's rule is asked; what is not known adds nothing here."""
        assert self.near is not None
        found: dict[str, Any] = {
            "gap_low": min(self.near.low_m, self.near.gap_m),
            "gap_best": self.near.gap_m,
            "u": self.u_m or 0.0,
        }
        if self.rule is not None:
            found["rule"] = self.rule.least_m
        if self.motion_m:
            found["relative_motion_m"] = self.motion_m
        return found

    @property
    def judged(self) -> Judged:
        """By its rule, as if what nobody said added nothing."""
        return gap_verdict(**self.asked())


def pair_key(a: Thing, b: Thing) -> str:
    """The same whichever comes first, and short enough to be kept."""
    one, two = sorted((a.key, b.key))
    key = f"{one}|{two}"
    if len(key) <= 90:
        return key
    return f"{one[:38]}|{two[:38]} {hashlib.sha256(key.encode()).hexdigest()[:8]}"


@dataclass(frozen=True)
class Left:
    """Pairs that were not looked at, and why."""

    why: str
    pairs: tuple[str, ...]


@dataclass(frozen=True)
class Looked:
    """All near pairs by their margin, what was left out, and how far was looked."""

    met: tuple[Met, ...]
    left: tuple[Left, ...]
    far_m: float


JOINED = "held by the same lever or fixed to the same body: its own page judges them"
BUNDLES = "bundles among themselves: the wire bench keeps noisy and quiet apart"


def left_out(scene: Scene, a: Thing, b: Thing) -> str | None:
    """Why a pair is not looked at; empty: nobody asks for it; None: it is."""
    if a.body and a.body == b.body:
        return JOINED
    held = set(a.joined) | ({a.body} if a.body else set())
    if held & (set(b.joined) | ({b.body} if b.body else set())):
        return JOINED
    if not a.axes and not b.axes:
        if a.kind in STRUCTURE and b.kind in STRUCTURE:
            return ""
        if a.kind in WIRES and b.kind in WIRES and not _asked(scene, a, b):
            return BUNDLES
    return None


def _asked(scene: Scene, a: Thing, b: Thing) -> bool:
    sides = {a.kind, b.kind}
    return any({r.a, r.b} == sides for r in scene.rules)


def looked(scene: Scene, only: Iterable[str] | None = None) -> Looked:
    """Every pair that comes nearer than any distance asks. only: pairs with one of these keys."""
    things, far = scene.things, farthest(scene.rules)
    wanted = None if only is None else set(only)
    met: list[Met] = []
    left: dict[str, list[str]] = {}
    for n, m in _boxes_meet(things, far, wanted):
        a, b = things[n], things[m]
        why = left_out(scene, a, b)
        if why is not None:
            if why:
                left.setdefault(why, []).append(f"{a.name} – {b.name}")
            continue
        found = meet(scene, a, b)
        if found.near is None or found.near.low_m < far:
            met.append(found)
    met.sort(key=_margin)
    return Looked(tuple(met), tuple(Left(w, tuple(p)) for w, p in left.items()), far)


def _margin(m: Met) -> tuple[float, str]:
    """Least to spare first; what could not be worked out before all."""
    if m.near is None:
        return -math.inf, m.key
    least = m.rule.least_m if m.rule else 0.0
    return m.near.low_m - least - m.motion_m, m.key


def _boxes_meet(
    things: Sequence[Thing], far: float, wanted: set[str] | None
) -> Iterable[tuple[int, int]]:
    if len(things) < 2:
        return
    boxes = [t.box_of() for t in things]
    low = np.array([b[0] for b in boxes]) - far / 2.0
    high = np.array([b[1] for b in boxes]) + far / 2.0
    plan = shapely.box(low[:, 0], low[:, 1], high[:, 0], high[:, 1])
    left, right = shapely.STRtree(plan).query(plan)
    keep = left < right
    left, right = left[keep], right[keep]
    meets = (low[left, 2] <= high[right, 2]) & (low[right, 2] <= high[left, 2])
    for n, m in zip(left[meets].tolist(), right[meets].tolist(), strict=True):
        if wanted is None or things[n].key in wanted or things[m].key in wanted:
            yield n, m


def meet(scene: Scene, a: Thing, b: Thing) -> Met:
    """How near they come, and what they must keep."""
    if a.half is not None and b.half is None:
        a, b = b, a
    contacts = scene.between(CONTACT, a, b)
    cuts: list[Cut] = [
        (r.values.get("b_from_m" if turned else "a_from_m"),
         r.values.get("b_to_m" if turned else "a_to_m"),
         r.values.get("a_from_m" if turned else "b_from_m"),
         r.values.get("a_to_m" if turned else "b_to_m"))
        for r, turned in contacts
    ]  # fmt: skip
    digest = _digest(scene, a, b, cuts)
    pick = _pick(scene, a, b)
    base = Met(a, b, None, digest, pick, motion_m=scene.motion(a, b), cuts=tuple(cuts))
    if a.half is not None:
        return replace(base, why="two boxes are not computed: give one as its edges")
    try:
        near = _nearest(scene, a, b, cuts, digest)
    except TooMany as many:
        why = f"more controls move them than can be searched ({many}): say which settings stay put"
        return replace(base, why=why)
    if near is None:
        return base
    u = None
    if a.u_m is not None and b.u_m is not None:
        u = gap_uncertainty([a.u_m] * 2, near.s, [b.u_m] * 2, near.t)
    return replace(base, near=near, u_m=u, lacking=tuple(_lacking(scene, a, b, pick)))


def _pick(scene: Scene, a: Thing, b: Thing) -> Chosen:
    """The distance of the two. A clamp holds a bundle from its first support to its last: nearer
    than the plain distance beyond these, the plain one stays."""
    proven = scene.proven(a, b)
    plain = chosen(scene.rules, _sorts(a), _sorts(b), proven)
    one = scene.held(a, b)
    if one is None or not one.supports_m or plain.rule is None or a.half is not None:
        return plain
    other = b if one is a else a
    _, beyond = split(one, min(one.supports_m), max(one.supports_m))
    for part in beyond:
        if Pair(part, other, scene.axes).least().low_m < plain.rule.least_m:
            return plain
    return chosen(scene.rules, _sorts(a), _sorts(b), [*proven, CLAMPED])


def _sorts(t: Thing) -> Sorts:
    return Sorts(t.kind, bool(t.control) and bool(t.axes))


def _lacking(scene: Scene, a: Thing, b: Thing, pick: Chosen) -> Iterable[str]:
    for t in (a, b):
        yield from t.unsure
        if t.u_m is None:
            yield f"how well the place of {t.name} is known"
    rule = pick.rule
    if rule is not None and rule.pushed:
        for t in (a, b):
            if t.kind in WIRES and not t.pushed:
                yield f"how far {t.name} gives under light hand pressure"
    for name in dict.fromkeys((*a.axes, *b.axes)):
        yield from (f"{x} ({scene.axes[name].name})" for x in scene.axes[name].unsure)


def _digest(scene: Scene, a: Thing, b: Thing, cuts: Sequence[Cut]) -> str:
    """Of all that their distance follows from."""
    h = hashlib.sha256()
    for t in (a, b):
        h.update(repr((t.key, t.kind, t.axes, t.radius_m, t.poses.shape)).encode())
        h.update(np.ascontiguousarray(t.poses, dtype=float).tobytes())
        h.update(np.ascontiguousarray(t.allowance, dtype=float).tobytes())
        if t.half is not None:
            h.update(np.ascontiguousarray(t.half).tobytes())
        for name in t.axes:
            h.update(repr((name, scene.axes[name].nodes, scene.axes[name].notches)).encode())
    h.update(repr(cuts).encode())
    return h.hexdigest()[:32]


def _nearest(scene: Scene, a: Thing, b: Thing, cuts: Sequence[Cut], digest: str) -> Nearest | None:
    if digest in _kept:
        _kept.move_to_end(digest)
        return _kept[digest]
    found = None
    for one, other in pieces(a, b, cuts):
        near = Pair(one, other, scene.axes).least()
        if found is None or near.gap_m < found.gap_m:
            low = near.low_m if found is None else min(near.low_m, found.low_m)
            found = replace(near, low_m=low)
        else:
            found = replace(found, low_m=min(near.low_m, found.low_m))
    if found is not None:
        _kept[digest] = found
        if len(_kept) > KEPT:
            _kept.popitem(last=False)
    return found


def pieces(a: Thing, b: Thing, cuts: Sequence[Cut]) -> list[tuple[Thing, Thing]]:
    """Both without what is meant to touch: where they meet both stretches, each against all of the
    other still counts."""
    listed = [(a, b)]
    for a_from, a_to, b_from, b_to in cuts:
        after: list[tuple[Thing, Thing]] = []
        for one, other in listed:
            ins_a, outs_a = split(one, a_from, a_to)
            ins_b, outs_b = split(other, b_from, b_to)
            after += list(product(outs_a, [*outs_b, *ins_b])) + list(product(ins_a, outs_b))
        listed = after
    return listed


def split(t: Thing, start: float | None, end: float | None) -> tuple[list[Thing], list[Thing]]:
    """(the stretch from start to end, m along it at rest; what is left). A box is one stretch."""
    if t.half is not None or (start is None and end is None):
        return [t], []
    line = t.rest
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    lo, hi = max(0.0, start or 0.0), min(float(along[-1]), along[-1] if end is None else end)
    if hi <= lo:
        return [], [t]
    inside = [_between(t, along, lo, hi)]
    outside = []
    if lo > 1e-9:
        outside.append(_between(t, along, 0.0, lo))
    if hi < along[-1] - 1e-9:
        outside.append(_between(t, along, hi, float(along[-1])))
    return inside, outside


def _between(t: Thing, along: Array, lo: float, hi: float) -> Thing:
    """The part of a line between two places along it, at every position."""
    first = int(np.clip(np.searchsorted(along, lo, side="right") - 1, 0, len(along) - 2))
    last = int(np.clip(np.searchsorted(along, hi, side="left") - 1, first, len(along) - 2))

    def at(n: int, s: float) -> Array:
        share = (s - along[n]) / (along[n + 1] - along[n])
        return (1.0 - share) * t.poses[..., n, :] + share * t.poses[..., n + 1, :]

    middle = [t.poses[..., n, :] for n in range(first + 1, last + 1)]
    poses = np.stack([at(first, lo), *middle, at(last, hi)], axis=-2)
    return replace(t, poses=poses, allowance=t.allowance[first : last + 1])


def named(scene: Scene, name: str, key: str) -> Thing:
    """The thing of that name. Refuses one that there is not."""
    found = scene.thing(name)
    if found is None:
        raise Refused(key, f"{name} is nothing that is known here")
    return found
