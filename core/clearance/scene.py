"""Everything that takes room in an aircraft, out of what the trades know and what was entered."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from core.basis.refused import Refused
from core.clearance.apart import GUARDED, SHIPPED, Apart
from core.clearance.bodies import CARRIED, Frame, frame_of_mover, frame_of_surface, framed, still
from core.clearance.distance import Array
from core.clearance.rows import ABOUT, MOVER, PAIR, RANGE, RULE, SHAPE, SURENESS
from core.clearance.swing import added
from core.clearance.table import Thing
from core.runs.beside import BUNDLE, CABLE, Beside
from core.runs.moved import Axis, Beyond, Movement

SERVICES = {"pitot": "pitot-static", "static": "pitot-static", "vacuum": "other"}
BOX = "box"


@dataclass(frozen=True)
class Row:
    """A row as read: `values` by the fields' names, SI."""

    kind: str
    slug: str
    name: str
    values: Mapping[str, Any]
    cited: str = ""


def beyond_of(rows: Iterable[Row], controls: Mapping[str, str]) -> Beyond:
    """What is said of how far controls go. controls: their names in small letters to addresses."""
    stretch: dict[str, float] = {}
    settled: set[tuple[str, str]] = set()
    for r in rows:
        slug = (
            controls.get(str(r.values.get("control", "")).casefold()) if r.kind == RANGE else None
        )
        if slug:
            stretch[slug] = stretch.get(slug, 0.0) + r.values.get("stretch_rad", 0.0)
            words = (w.strip().casefold() for w in r.values.get("settled", ()))
            settled |= {(slug, w.replace(" ", "_")) for w in words}
    return Beyond(stretch, frozenset(settled))


@dataclass(frozen=True)
class Scene:
    """Rows, what is routed, what moves. All names are told apart without capitals. controls: by
    their names in small letters, their addresses."""

    rows: tuple[Row, ...]
    beside: tuple[Beside, ...] = ()
    movement: Movement = field(default_factory=Movement)
    controls: Mapping[str, str] = field(default_factory=dict)

    def of(self, kind: str) -> list[Row]:
        """Rows of a kind."""
        return [r for r in self.rows if r.kind == kind]

    @cached_property
    def sureness(self) -> Mapping[str, Any]:
        """How well places are known, by kind of thing."""
        rows = self.of(SURENESS)
        return rows[0].values if rows else {}

    @cached_property
    def axes(self) -> dict[str, Axis]:
        """What the controls and the movers of rows move by."""
        own = [f.axis for f in self._frames.values() if f.axis is not None]
        return {a.id: a for a in (*self.movement.axes, *own)}

    @cached_property
    def _frames(self) -> dict[str, Frame]:
        """Of every body by its name in small letters: levers first, then movers of rows."""
        found = {c.name.casefold(): framed(c) for c in self.movement.carriers}
        axes = {a.id: a for a in self.movement.axes}
        surfaces = {s.name.casefold(): s for s in self.movement.surfaces}
        left = self.of(MOVER)
        for _ in range(CARRIED):
            for r in list(left):
                on = str(r.values.get("carried", "")).casefold()
                if on and on not in found:
                    continue
                followed = str(r.values.get("follows", "")).casefold()
                if followed:
                    if followed in surfaces:
                        own = frame_of_surface(r, surfaces[followed])
                        found[r.name.casefold()] = own.on(found[on], axes) if on else own
                        left.remove(r)
                    continue
                own = frame_of_mover(r)
                if own.axis is not None:
                    axes[own.axis.id] = own.axis
                found[r.name.casefold()] = own.on(found[on], axes) if on else own
                left.remove(r)
        return found

    def frame(self, name: str) -> Frame | None:
        """How a body of that name moves; None: there is none."""
        return self._frames.get(name.casefold())

    @property
    def bodies(self) -> list[str]:
        """The names of all that things can be fixed to."""
        return [c.name for c in self.movement.carriers] + [r.name for r in self.of(MOVER)]

    @cached_property
    def about(self) -> dict[str, Row]:
        """What is known of things beside, by their names in small letters."""
        return {str(r.values["of"]).casefold(): r for r in self.of(ABOUT)}

    @cached_property
    def things(self) -> tuple[Thing, ...]:
        """All of them, each with what is known of it."""
        made = [*self._routed(), *self._moved(), *self._shapes()]
        return tuple(self._known(t) for t in made)

    def thing(self, name: str) -> Thing | None:
        """By its name or its key."""
        low = name.casefold()
        return next((t for t in self.things if low in (t.name.casefold(), t.key)), None)

    def _routed(self) -> Iterable[Thing]:
        for b in self.beside:
            if b.kind == CABLE:
                continue  # Told by what moves, at every position.
            kind = "wire" if b.kind == BUNDLE else SERVICES.get(b.service, b.service or "other")
            usual = self.sureness.get("bundles_U_m" if b.kind == BUNDLE else "tubes_U_m")
            U = b.U_m if b.U_m is not None else usual
            poses = np.array(b.ways[0], dtype=float)
            yield Thing(
                f"{b.kind} {b.slug}", kind, b.name, (), poses, b.radius_m or 0.0,
                np.zeros(len(poses) - 1), u_m=None if U is None else U / 2.0,
                unsure=() if b.radius_m is not None else (f"how thick {b.name} is",),
                link=b.link, held_to=_low(b.held_to), guarded=_low(b.guarded),
                supports_m=tuple(b.supports_m),
            )  # fmt: skip

    def _moved(self) -> Iterable[Thing]:
        for m in self.movement.moved:
            U = self.sureness.get("cables_U_m" if m.kind == CABLE else "linkages_U_m")
            yield Thing(
                f"{m.kind.rpartition(' ')[2]} {m.slug}", m.kind, m.name, m.axes, m.poses,
                m.radius_m or 0.0, np.zeros(m.poses.shape[-2] - 1),
                u_m=None if U is None else U / 2.0,
                unsure=() if m.radius_m is not None else (f"how thick {m.name} is",),
                joined=m.joined, control=m.control, link=m.link,
            )  # fmt: skip

    def _shapes(self) -> Iterable[Thing]:
        for r in self.of(SHAPE):
            v = r.values
            on = str(v.get("on", ""))
            frame = self.frame(on) if on else still()
            missing = () if frame is not None else (f"what moves {on}: there is no such body",)
            U = v.get("U_m", self.sureness.get("shapes_U_m"))
            points, half = corners_of(v)
            frame = frame or still()
            yield Thing(
                f"shape {r.slug}", v["sort"], r.name, frame.axes, frame.carry(points),
                v.get("od_m", 0.0) / 2.0,
                np.full(1 if half is not None else len(points) - 1, v.get("fixed_m", 0.0)),
                half=half, u_m=None if U is None else U / 2.0, unsure=missing, body=frame.body,
                control=frame.control, link=f"clearance?part=shapes&row={r.slug}", row=r.slug,
            )  # fmt: skip

    def _known(self, t: Thing) -> Thing:
        r = self.about.get(t.name.casefold())
        if r is None:
            return t
        v = r.values
        more: dict[str, Any] = {}
        if "sort" in v:
            more["kind"] = v["sort"]
        if "U_m" in v:
            more["u_m"] = v["U_m"] / 2.0
        if "od_m" in v:
            more["radius_m"] = v["od_m"] / 2.0
            more["unsure"] = tuple(x for x in t.unsure if not x.startswith("how thick"))
        if t.half is None:
            thick = 2.0 * more.get("radius_m", t.radius_m)
            more["allowance"] = t.allowance + added(v, t.rest, t.supports_m, thick)
        return replace(t, pushed="push_m" in v, **more)

    @cached_property
    def rules(self) -> tuple[Apart, ...]:
        """Shipped and the house's own."""
        own = (
            Apart(r.values["a"], r.values["b"], r.values["least_m"], r.cited or "your own",
                  r.values.get("condition", ""), row=r.slug)
            for r in self.of(RULE)
        )  # fmt: skip
        return (*own, *SHIPPED)

    def between(self, kind: str, a: Thing, b: Thing) -> list[tuple[Row, bool]]:
        """Rows about these two, each with whether its one is b."""
        names = (a.name.casefold(), b.name.casefold())
        found = []
        for r in self.of(kind):
            said = (str(r.values["a"]).casefold(), str(r.values["b"]).casefold())
            if said in (names, names[::-1]):
                found.append((r, said != names))
        return found

    def proven(self, a: Thing, b: Thing) -> list[str]:
        """Conditions that a person’s proof or a guard shows for the whole of these two."""
        found = [
            str(r.values["condition"])
            for r, _ in self.between(PAIR, a, b)
            if "condition" in r.values and r.values.get("proof")
        ]
        if any(one.guarded & _called(other) for one, other in ((a, b), (b, a))):
            found.append(GUARDED)
        return found

    def held(self, a: Thing, b: Thing) -> Thing | None:
        """Which of the two is clamped apart to the other, along its supports."""
        for one, other in ((a, b), (b, a)):
            if one.held_to & _called(other):
                return one
        return None

    def motion(self, a: Thing, b: Thing) -> float:
        """What flexing may take from their gap, m."""
        rows = self.between(PAIR, a, b)
        return max((r.values.get("relative_motion_m", 0.0) for r, _ in rows), default=0.0)


def _called(t: Thing) -> set[str]:
    """A name whole, and a cable's without its control."""
    return {t.name.casefold(), t.name.rpartition(": ")[2].casefold()}


def _low(names: Sequence[str]) -> frozenset[str]:
    return frozenset(str(n).casefold() for n in names)


def corners_of(v: Mapping[str, Any]) -> tuple[Array, Array | None]:
    """A line's corners and None, or a box as its middle with the tips of its axes, and its half
    sizes. Refuses by the form's field."""
    if v["form"] != BOX:
        rows = v.get("corners", ())
        if len(rows) < 2:
            raise Refused("corners", "a line needs at least two")
        points = np.array([[r["x_m"], r["y_m"], r["z_m"]] for r in rows])
        if np.linalg.norm(np.diff(points, axis=0), axis=1).min() < 1e-9:
            raise Refused("corners", "two that follow each other are one place: no length")
        return points, None
    for key, name, words in (("centre", "centre_m", "where its middle is"),
                             ("size", "size_m", "how large it is")):  # fmt: skip
        if name not in v:
            raise Refused(key, f"is needed of a box: {words}")
    size = np.array(v["size_m"])
    if size.min() < 0.0:
        raise Refused("size", "must not be negative")
    centre = np.array(v["centre_m"])
    return np.vstack(
        [centre, centre + turned_axes(v.get("turned_rad", (0.0, 0.0, 0.0)))]
    ), size / 2.0


def turned_axes(angles: Sequence[float]) -> Array:
    """A box's axes as rows, turned about the up axis, then across, then along, rad."""
    (cz, sz), (cy, sy), (cx, sx) = ((np.cos(a), np.sin(a)) for a in angles)
    about_z = np.array([[cz, -sz, 0.0], [sz, cz, 0.0], [0.0, 0.0, 1.0]])
    about_y = np.array([[cy, 0.0, sy], [0.0, 1.0, 0.0], [-sy, 0.0, cy]])
    about_x = np.array([[1.0, 0.0, 0.0], [0.0, cx, -sx], [0.0, sx, cx]])
    whole: Array = (about_z @ about_y @ about_x).T
    return whole


# Of these, two that stand still are no question.
STRUCTURE = ("structure", "steel part", "other", "occupant", "magnetometer")
