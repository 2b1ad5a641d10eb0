"""A linkage over the whole range that counts for clearances, as plain tables (`core.runs.moved`).

The range of a control is never its nominal travel: at each end it is the larger of what is
permitted with its tolerance and what was measured with its uncertainty, and what gives beyond.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from core.basis.refused import Refused
from core.controls.linkage.document import Document
from core.controls.linkage.mechanism import Body
from core.controls.linkage.solving import Motion, Placed, solve
from core.controls.linkage.stops import stops_of
from core.controls.linkage.turning import free_range
from core.runs.moved import Axis, Beyond, Carrier, Deflected, Moved, Movement

ALONE, TOGETHER, FINE = 33, 17, 401
ROD = "control rod"
DEGREES = 57.29577951308232


@dataclass(frozen=True)
class Travelled:
    """How far a surface must be taken at a position, rad from neutral; words: by what."""

    value: float
    words: str


@dataclass(frozen=True)
class Linked:
    """One control's linkage with what is known of it.

    wanted: by (surface, position). lengths, stops: as built. od: of rods, m. names: of surfaces.
    """

    control: str
    name: str
    document: Document
    wanted: Mapping[tuple[str, str], Travelled] = field(default_factory=dict)
    lengths: Mapping[str, float] = field(default_factory=dict)
    stops: Mapping[str, float] = field(default_factory=dict)
    od: Mapping[str, float] = field(default_factory=dict)
    names: Mapping[str, str] = field(default_factory=dict)
    link: str = ""


def movement_of(linked: Linked, beyond: Beyond) -> Movement:
    """All of it at the nodes of its inputs. What locks within its range is told as unsaid."""
    d = linked.document
    axes = [axis_of(linked, name, beyond) for name in list(d.mechanism.inputs)[:2]]
    names = list(d.mechanism.inputs)[:2]
    grids = np.meshgrid(*(np.array(a.nodes) for a in axes), indexing="ij")
    shape = grids[0].shape
    flat = {n: g.ravel() for n, g in zip(names, grids, strict=True)}
    motion = solve(d.plan, flat, linked.lengths)
    if np.any(np.broadcast_to(np.asarray(motion.lock) >= 0, flat[names[0]].shape)):
        said = f"{linked.name}: it locks within the range of its inputs together"
        return Movement(tuple(axes), unsaid=(said,))
    ids = tuple(a.id for a in axes)
    return Movement(
        tuple(axes),
        tuple(_rods(linked, motion, ids, shape)),
        tuple(_carriers(linked, motion, ids, shape)),
        tuple(_surfaces(linked, motion, ids, shape)),
    )


def axis_of(linked: Linked, name: str, beyond: Beyond) -> Axis:
    """An input over the range that counts."""
    d, use = linked.document, linked.document.inputs[name]
    count = ALONE if len(d.mechanism.inputs) == 1 else TOGETHER
    own: dict[str, Any] = {"id": f"{linked.control}/{name}", "unit": use.unit,
           "positive": use.positive, "control": linked.control}  # fmt: skip
    words = f"{linked.name} {name}" if len(d.mechanism.inputs) > 1 else linked.name
    if (linked.control, name) in beyond.settled and use.detents:
        listed = sorted(use.detents.items(), key=lambda one: one[1])
        return Axis(
            name=words, nodes=tuple(q for _, q in listed), said="its notches",
            notches=tuple(n.replace("_", " ") for n, _ in listed), **own,
        )  # fmt: skip
    low, high, said, unsure = _range(linked, name, beyond.stretch.get(linked.control, 0.0))
    if high - low < 1e-9:
        raise Refused(f"inputs.{name}", "does not move")
    nodes = np.unique(np.append(np.linspace(low, high, count), 0.0 if low < 0 < high else low))
    # A node at neutral must not stand beside another.
    keep = np.concatenate([[True], np.diff(nodes) > (high - low) / count * 0.05])
    keep[-1] = True
    return Axis(name=words, nodes=tuple(float(q) for q in nodes[keep]), said=said,
                unsure=unsure, **own)  # fmt: skip


def _range(linked: Linked, name: str, stretch: float) -> tuple[float, float, str, tuple[str, ...]]:
    """From, to, in words where from, and what of that nobody said."""
    d = linked.document
    (low, high), _ = free_range(d, name, linked.lengths)
    outputs = [o for o, use in d.outputs.items() if use.surface and d.input_of(o) == name]
    if not outputs:
        return _detents(d, name, low, high)
    sweep = np.linspace(low, high, FINE)
    motion = solve(d.plan, {name: sweep}, linked.lengths)
    ends, said, unsure = {-1: 0.0, 1: 0.0}, [], []
    for output in outputs:
        use = d.outputs[output]
        values = np.abs(np.broadcast_to(motion.output(output), sweep.shape))
        for way, position in ((1, use.plus), (-1, use.minus)):
            wanted = linked.wanted.get((use.surface, position))
            if wanted is None:
                end, word = _stopped(linked, output, way, (low, high)), "its stops"
                unsure.append(f"travel of {linked.names.get(use.surface, use.surface)}")
            else:
                far = wanted.value + stretch
                found, word = _reaches(sweep, values, way, far), wanted.words
                end = (high if way > 0 else low) if found is None else found
                if found is None:
                    unsure.append(
                        f"its linkage reaches less than {far * DEGREES:.1f}° at"
                        f" {position.replace('_', ' ')}"
                    )
            ends[way] = max(ends[way], end * way)
            said.append(word)
    words = ", ".join(dict.fromkeys(said))
    words += f", and {stretch * DEGREES:.1f}° beyond" if stretch else ""
    return -ends[-1], ends[1], words, tuple(dict.fromkeys(unsure))


def _detents(
    d: Document, name: str, low: float, high: float
) -> tuple[float, float, str, tuple[str, ...]]:
    """Of an input without a surface: between its notches, else as far as its file says."""
    detents = d.inputs[name].detents
    if detents:
        return min(0.0, *detents.values()), max(0.0, *detents.values()), "between its notches", ()
    return low, high, "as far as its file says", (f"how far {name} goes",)


def _stopped(linked: Linked, output: str, way: int, free: tuple[float, float]) -> float:
    """Where a stop ends it, else as far as it goes."""
    d = linked.document
    if d.stops:
        found = stops_of(d, output, linked.lengths, linked.stops)
        met = found.plus if way > 0 else found.minus
        if met is not None:
            return met.input
    detents = d.inputs[d.input_of(output)].detents
    if detents and not d.stops:
        return max(detents.values(), key=lambda q: q * way) if way > 0 else min(
            0.0, *detents.values()
        )  # fmt: skip
    return free[1] if way > 0 else free[0]


def _reaches(sweep: Any, values: Any, way: int, far: float) -> float | None:
    """The input at which the surface has gone so far, first that way."""
    side = np.flatnonzero(sweep * way >= 0.0)
    order = side if way > 0 else side[::-1]
    v, q = values[order], sweep[order]
    over = np.flatnonzero(v >= far)
    if not len(over):
        return None
    n = int(over[0])
    if n == 0:
        return float(q[0])
    share = (far - v[n - 1]) / (v[n] - v[n - 1])
    return float(q[n - 1] + share * (q[n] - q[n - 1]))


def _spread(values: Any, shape: tuple[int, ...]) -> Any:
    return np.broadcast_to(np.asarray(values, dtype=float), (int(np.prod(shape)),)).reshape(shape)


def _point(at: Any, shape: tuple[int, ...]) -> Any:
    return np.stack([_spread(c, shape) for c in at], axis=-1)


def _rods(linked: Linked, m: Motion, ids: tuple[str, ...], shape: tuple[int, ...]) -> list[Moved]:
    found = []
    for r in linked.document.mechanism.rods:
        poses = np.stack([_point(m.at(r.a), shape), _point(m.at(r.b), shape)], axis=-2)
        od = linked.od.get(r.id)
        found.append(
            Moved(
                ROD, f"{linked.control}/{r.id}", f"{linked.name}: {_plain(r.id)}",
                None if od is None else od / 2.0, *_needed(ids, poses, 2),
                (f"{linked.control}/{r.a.body}", f"{linked.control}/{r.b.body}"),
                linked.control, linked.link,
            )
        )  # fmt: skip
    return found


def _plain(name: str) -> str:
    """`rod_right`, `fwd`, `pedal_rod_left` as one says them."""
    words = [w for w in name.split("_") if w != "rod"]
    return " ".join([*words, "rod"])


def _needed(ids: tuple[str, ...], poses: Any, inner: int) -> tuple[tuple[str, ...], Any]:
    """Only the axes that change anything."""
    kept = list(ids)
    for name in ids:
        at = kept.index(name)
        if np.ptp(poses, axis=at).max() < 1e-9:
            poses = np.take(poses, 0, axis=at)
            kept.remove(name)
    return tuple(kept), poses


def _carriers(
    linked: Linked, m: Motion, ids: tuple[str, ...], shape: tuple[int, ...]
) -> list[Carrier]:
    return [
        _carrier(linked, b, m.placed[b.id], ids, shape) for b in linked.document.mechanism.bodies
    ]


def _carrier(
    linked: Linked, b: Body, placed: Placed, ids: tuple[str, ...], shape: tuple[int, ...]
) -> Carrier:
    turn = np.stack(
        [_point(placed.turn(e), shape) for e in ((1, 0, 0), (0, 1, 0), (0, 0, 1))], axis=-1
    )
    shift = _point(placed.move((0.0, 0.0, 0.0)), shape)
    both = np.concatenate([turn, shift[..., :, None]], axis=-1)
    kept, both = _needed(ids, both, 2)
    name = f"{linked.name}: {b.id.replace('_', ' ')}"
    return Carrier(
        f"{linked.control}/{b.id}", name, kept, both[..., :3], both[..., 3], linked.control
    )


def _surfaces(
    linked: Linked, m: Motion, ids: tuple[str, ...], shape: tuple[int, ...]
) -> list[Deflected]:
    found = []
    for output, use in linked.document.outputs.items():
        if use.surface:
            kept, values = _needed(ids, _spread(m.output(output), shape), 0)
            name = linked.names.get(use.surface, use.surface)
            found.append(Deflected(use.surface, name, kept, values, linked.control))
    return found
