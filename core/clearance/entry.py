"""What may be entered for clearances: refused by the form's field."""

from __future__ import annotations

from typing import Any

from core.basis.refused import Refused, not_negative
from core.clearance.apart import ANY, KINDS, SHIPPED
from core.clearance.bodies import frame_of_mover
from core.clearance.distance import BoxIn, block_of
from core.clearance.keep_out import Volume, away_of
from core.clearance.pairs import named
from core.clearance.rows import (
    ABOUT,
    CONTACT,
    MOVER,
    ONCE,
    PAIR,
    RANGE,
    ROWS,
    RULE,
    SHAPE,
    ZONE,
)
from core.clearance.scene import Row, Scene, corners_of
from core.clearance.spaces import volume_of
from core.clearance.swing import added

MOST_M = 50.0
NAMED = (SHAPE, MOVER)


def refuse(scene: Scene, row: Row) -> None:
    """Refuses a row that cannot be among the others (`scene` has it too)."""
    same = NAMED if row.kind in NAMED else (row.kind,)
    for other in (r for kind in same for r in scene.of(kind)):
        if other.slug != row.slug and other.name.casefold() == row.name.casefold():
            raise Refused("name", f"there is a {ROWS[other.kind].title.lower()} of that name")
    if row.kind in ONCE and any(r.slug != row.slug for r in scene.of(row.kind)):
        raise Refused("kind", f"there is one already: change it ({scene.of(row.kind)[0].name})")
    _PARTICULAR.get(row.kind, _nothing)(scene, row)


def _nothing(scene: Scene, row: Row) -> None:
    return None


def _shape(scene: Scene, row: Row) -> None:
    v = row.values
    not_negative(v.get("od_m", 0.0), "od")
    not_negative(v.get("U_m", 0.0), "u")
    not_negative(v.get("fixed_m", 0.0), "more")
    points, half = corners_of(v)
    if abs(points).max() > MOST_M:
        raise Refused("centre" if half is not None else "corners", "lies more than 50 m away")
    if half is None and "od_m" not in v:
        raise Refused("od", "how thick is the line?")
    other = scene.thing(row.name)
    if other is not None and other.row != row.slug:
        raise Refused("name", "something that is known already has that name")
    on = str(v.get("on", ""))
    if on and scene.frame(on) is None:
        listed = ", ".join(scene.bodies[:12]) or "nothing: enter a linkage or what moves it first"
        raise Refused("on", f"no mechanism moves that; there are: {listed}")


def _mover(scene: Scene, row: Row) -> None:
    v = row.values
    if v.get("follows"):
        surfaces = {s.name.casefold(): s for s in scene.movement.surfaces}
        if str(v["follows"]).casefold() not in surfaces:
            listed = ", ".join(s.name for s in scene.movement.surfaces) or "none has a linkage"
            raise Refused("follows", f"is no surface that a linkage moves; there are: {listed}")
        if {"from_rad", "to_rad", "notches", "slide"} & v.keys():
            raise Refused("follows", "give a surface to follow or a range of its own, not both")
    else:
        frame_of_mover(row)
    carried = str(v.get("carried", ""))
    if carried.casefold() == row.name.casefold():
        raise Refused("carried", "carries itself")
    if scene.frame(row.name) is None:
        raise Refused("carried", f"{carried} is not what moves, or it is carried in a circle")


def _zone(scene: Scene, row: Row) -> None:
    v = row.values
    for kind in v["kinds"]:
        if kind not in (*KINDS, ANY):
            raise Refused("kinds", f"{kind} is none of: {', '.join(KINDS)}, any")
    not_negative(v["margin_m"], "margin")
    given = volume_of(v)
    if given["kind"] == "box":
        _box(given)
    try:
        away_of(Volume(**{("from_" if k == "from" else k): x for k, x in given.items()}))
    except Refused as refusal:
        at = refusal.field.removeprefix("volume.").replace("radius_from", "radius")
        raise Refused(at, refusal.reason) from None


def _box(given: dict[str, Any]) -> None:
    if min(given["half"]) < 0.0:
        raise Refused("half", "is turned inside out: half sizes must not be negative")
    block_of(BoxIn(tuple(given["centre"]), tuple(given["half"])), "half")


def _rule(scene: Scene, row: Row) -> None:
    v = row.values
    not_negative(v["least_m"], "least")
    sides = {v["a"], v["b"]}
    for other in scene.of(RULE):
        o = other.values
        same = {o["a"], o["b"]} == sides and o.get("condition") == v.get("condition")
        if other.slug != row.slug and same:
            raise Refused("b", f"there is a distance for these already: {other.name}")
    if v.get("condition") and not any(
        not r.condition and {r.a, r.b} == sides for r in (*scene.rules, *SHIPPED)
    ):
        raise Refused("condition", "enter the distance without a condition first")


def _both(scene: Scene, row: Row) -> None:
    a, b = named(scene, str(row.values["a"]), "a"), named(scene, str(row.values["b"]), "b")
    if a.key == b.key:
        raise Refused("b", "is the same as the one")


def _contact(scene: Scene, row: Row) -> None:
    _both(scene, row)
    for side in ("a", "b"):
        low, high = (row.values.get(f"{side}_{end}_m") for end in ("from", "to"))
        if low is not None and low < 0.0:
            raise Refused(f"{side}_from", "must not be negative")
        if high is not None and high <= (low or 0.0):
            raise Refused(f"{side}_to", "must be more than from")


def _pair(scene: Scene, row: Row) -> None:
    _both(scene, row)
    v = row.values
    not_negative(v.get("relative_motion_m", 0.0), "motion")
    if v.get("condition") and not v.get("proof"):
        raise Refused("proof", "which support, guard or sleeve shows that?")
    for other in scene.of(PAIR):
        if other.slug == row.slug:
            continue
        if {str(other.values[k]).casefold() for k in "ab"} == {str(v[k]).casefold() for k in "ab"}:
            raise Refused("b", f"there is a row of these two already: {other.name}")


def _about(scene: Scene, row: Row) -> None:
    v = row.values
    one = named(scene, str(v["of"]), "of")
    for other in scene.of(ABOUT):
        if other.slug != row.slug and str(other.values["of"]).casefold() == one.name.casefold():
            raise Refused("of", f"there is a row of it already: {other.name}")
    for key, name in (("od", "od_m"), ("u", "U_m"), ("push", "push_m"), ("fixed", "fixed_m"),
                      ("slack", "slack_m")):  # fmt: skip
        not_negative(v.get(name, 0.0), key)
    if one.half is None:
        added(v, one.rest, one.supports_m, v.get("od_m", 2.0 * one.radius_m))


def _range(scene: Scene, row: Row) -> None:
    name = str(row.values["control"]).casefold()
    not_negative(row.values.get("stretch_rad", 0.0), "stretch")
    if name not in scene.controls:
        listed = ", ".join(sorted(scene.controls)) or "none"
        raise Refused("control", f"is not one of this aircraft; there are: {listed}")
    for other in scene.of(RANGE):
        if other.slug != row.slug and str(other.values["control"]).casefold() == name:
            raise Refused("control", f"there is a row of it already: {other.name}")
    inputs = {
        a.id.partition("/")[2] for a in scene.movement.axes if a.control == scene.controls[name]
    }
    for word in row.values.get("settled", ()):
        if word.strip().casefold().replace(" ", "_") not in inputs:
            listed = ", ".join(sorted(inputs)) or "none"
            raise Refused("settled", f"{word} is no input of it; there are: {listed}")


def _sureness(scene: Scene, row: Row) -> None:
    for name, value in row.values.items():
        not_negative(value, name.removesuffix("_U_m"))


_PARTICULAR = {
    SHAPE: _shape,
    MOVER: _mover,
    ZONE: _zone,
    RULE: _rule,
    CONTACT: _contact,
    PAIR: _pair,
    ABOUT: _about,
    RANGE: _range,
    "sureness": _sureness,
}
