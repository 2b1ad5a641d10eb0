"""Zones that nothing may enter, and doors through their opening."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.clearance.apart import Sorts, chosen
from core.clearance.distance import Array
from core.clearance.keep_out import Away, Volume, away_of, lowest
from core.clearance.rows import CONTACT, SHAPE
from core.clearance.scene import Row, Scene, corners_of
from core.clearance.standing import DRAWN, ENTERED, STEP, deg, mm
from core.clearance.table import Thing
from core.worksheets.kinds import known_to, run, said, unsaid

ZONES, DOORS = "clearance.keep_out", "clearance.hinged_sweep"


def volume_of(v: Mapping[str, Any]) -> dict[str, Any]:
    """A zone as its rule takes it. Refuses by the form's field what is not there."""
    form = v["form"]
    wanted = {
        "box": (("centre", "centre_m"), ("half", "half_m")),
        "cylinder": (("from", "from_m"), ("to", "to_m"), ("radius", "radius_m")),
        "cone": (("from", "from_m"), ("to", "to_m"), ("radius_from", "radius_m"),
                 ("radius_to", "radius_to_m")),
    }[form]  # fmt: skip
    found: dict[str, Any] = {"kind": form}
    for key, name in wanted:
        if name not in v:
            at = "radius" if key == "radius_from" else key
            raise Refused(at, f"is needed of a {form}")
        found[key] = v[name]
    return found


def zone_check(scene: Scene, z: Row) -> Check:
    """Who comes into it, at any position that is looked at and between."""
    kinds = [k.strip() for k in z.values["kinds"]]
    wanted = [t for t in scene.things if t.half is None and ("any" in kinds or t.kind in kinds)]
    boxes = [
        t.name for t in scene.things if t.half is not None and ("any" in kinds or t.kind in kinds)
    ]
    volume = volume_of(z.values)
    away = away_of(Volume(**{("from_" if k == "from" else k): x for k, x in volume.items()}))
    inputs = {
        "volume": volume, "kinds": kinds, "margin_m": z.values["margin_m"],
        "runs": [_run(scene, away, t) for t in wanted],
    }  # fmt: skip
    found = run(ZONES, inputs)
    inside = {n: r for n, r in found["runs"].items() if r["verdict"] != "in"}
    words = f"Nothing of {', '.join(kinds)} comes nearer than {mm(z.values['margin_m'])}."
    if inside:
        told = [_inside(n, r) for n, r in sorted(inside.items(), key=lambda one: one[1]["gap_m"])]
        words = f"{'; '.join(told[:3])}."
        words += f" And {len(told) - 3} more." if len(told) > 3 else ""
    missing = [f"how well the place of {t.name} is known" for t in wanted if t.u_m is None]
    missing += [x for t in wanted for x in t.unsure]
    missing += [f"whether {b} lies in it: boxes are not computed" for b in boxes]
    verdict = Verdict(found["verdict"])
    if verdict is Verdict.OUT and any(t.axes for t in wanted):
        # Between two positions it is only bounded: out by that alone is in doubt.
        there = [r | {"radius": _thick(t)} for r, t in zip(inputs["runs"], wanted, strict=True)]
        if run(ZONES, inputs | {"runs": there})["verdict"] != "out":
            verdict = Verdict.TOO_CLOSE
    if verdict is not Verdict.OUT:
        verdict, words = known_to(verdict, words, missing)
    check = said(f"zone {z.slug}", z.name, words, verdict, ZONES, inputs, step=STEP,
                 quiet=verdict is Verdict.IN)  # fmt: skip
    worst = min(inside.values(), key=lambda r: r["gap_m"], default=None)
    origins = dict.fromkeys(inputs, z.cited or ENTERED) | {"runs": DRAWN}
    at = worst["deepest"] if worst else volume["centre" if "centre" in volume else "from"]
    return replace(check, at=tuple(at), origins=origins)


def _inside(name: str, r: Mapping[str, Any]) -> str:
    gap = r["gap_m"]
    how = f"{mm(-gap)} inside" if gap < 0 else f"{mm(gap)} away"
    near = f"{mm(r['length_inside_m'])} of it too near"
    return f"{name}: {how} at station {r['deepest'][0] * 1e3:.0f}, {near}"


def _thick(t: Thing) -> float:
    return float(t.radii.max())


def _run(scene: Scene, away: Away, t: Thing) -> dict[str, Any]:
    """A thing as a run of the rule: of what moves the position that comes nearest, thicker by how
    far it goes until the next."""
    between = t.bend(scene.axes)
    for n, name in enumerate(t.axes):
        if not scene.axes[name].notched:
            moved = np.linalg.norm(np.diff(t.poses, axis=n), axis=-1)
            between += float(moved.max(initial=0.0)) / 2.0
    return {
        "id": t.name, "kind": t.kind, "u_m": t.u_m or 0.0, "radius": _thick(t) + between,
        "points": nearest_pose(away, t.poses.reshape(-1, *t.poses.shape[-2:])).tolist(),
    }  # fmt: skip


def nearest_pose(away: Away, poses: Array) -> Array:
    """Of several positions of a line (positions, corners, 3) the one that comes nearest.

    A distance changes by no more than the way gone: along a straight it is never below half of
    what both ends have, less the length between them. Only straights that may be the nearest are
    looked at, along all of their length.
    """
    if len(poses) == 1:
        return poses[0]
    ends = np.array([[away(p) for p in pose] for pose in poses])
    long = np.linalg.norm(np.diff(poses, axis=1), axis=-1)
    low = (ends[:, :-1] + ends[:, 1:] - long) / 2.0
    best, found = float(ends.min()), int(np.argmin(ends.min(axis=1)))
    for flat in np.argsort(low, axis=None):
        pose, n = np.unravel_index(flat, low.shape)
        if low[pose, n] >= best:
            break
        start, way = poses[pose, n], poses[pose, n + 1] - poses[pose, n]
        _, near = lowest(lambda share, a=start, u=way: away(a + share * u))  # type: ignore[misc]
        if near < best:
            best, found = near, int(pose)
    nearest: Array = poses[found]
    return nearest


def door_checks(scene: Scene, m: Row) -> Iterable[Check]:
    """How far what swings by itself may open before it meets what stands still."""
    v = m.values
    if "axis" not in v or "to_rad" not in v or "notches" in v or "carried" in v or "follows" in v:
        return
    bodies = [
        r for r in scene.of(SHAPE) if str(r.values.get("on", "")).casefold() == m.name.casefold()
    ]
    if not bodies:
        yield unsaid(f"door {m.slug}", f"{m.name}: what it carries", "a shape that is fixed to it")
        return
    for r in bodies:
        t = next((t for t in scene.things if t.row == r.slug), None)
        if t is not None:
            yield from _door(scene, m, r, t)


def _door(scene: Scene, m: Row, r: Row, t: Thing) -> Iterable[Check]:
    """Against each distance that is to be kept; the one that stops it first is told."""
    by_rule: dict[float | None, list[Thing]] = {}
    for o in scene.things:
        both = o.half is not None and t.half is not None
        if o.axes or o.key == t.key or both or scene.between(CONTACT, t, o):
            continue
        rule = chosen(scene.rules, Sorts(t.kind, False), Sorts(o.kind, False)).rule
        by_rule.setdefault(rule.least_m if rule else None, []).append(o)
    swept = [(_swept(m, r, t, rule or 0.0, them), them) for rule, them in by_rule.items()]
    if not swept:
        return
    (inputs, found), them = min(swept, key=lambda one: _room(*one[0]))
    least, largest, rule_m = found["least"], found["largest_angle_rad"], inputs["rule_m"]
    met = "touches it" if least["gap_m"] <= 0.0 else f"{mm(least['gap_m'])} away"
    words = f"Nearest to {least['obstacle']}: {met} opened {deg(least['at_rad'])}."
    fine = found["keeps_rule"] and least["gap_m"] > 0.0
    if not fine and largest is None:
        words += " It is too near from the beginning."
    elif not fine:
        why = f"to stay {mm(rule_m)} away" if rule_m else "before it touches"
        words += f" It may open to {deg(largest)} only, {why}."
    verdict = Verdict.IN if fine else Verdict.OUT
    if fine:
        nearest = next(o for o in them if o.name == least["obstacle"])
        known = [x.u_m for x in (t, nearest) if x.u_m is not None]
        missing = [
            f"how well the place of {x.name} is known" for x in (t, nearest) if x.u_m is None
        ]
        missing += [*t.unsure, *nearest.unsure]
        if them is by_rule.get(None):
            missing.append(f"how far {t.kind} and {nearest.kind} must stay apart")
        if least["gap_m"] - 2.0 * float(np.hypot.reduce([0.0, *known])) < rule_m:
            verdict = Verdict.TOO_CLOSE
        verdict, words = known_to(verdict, words, missing)
    check = said(f"door {m.slug} {r.slug}", f"{m.name}: opening of {r.name}", words, verdict, DOORS,
                 inputs, step=STEP, quiet=verdict is Verdict.IN)  # fmt: skip
    yield replace(check, at=tuple(t.rest[0].tolist()), origins=dict.fromkeys(inputs, ENTERED))


def _room(inputs: Mapping[str, Any], found: Mapping[str, Any]) -> tuple[float, float]:
    """How far it opens before it is too near, then how much it has to spare."""
    least = float(found["least"]["gap_m"])
    if found["keeps_rule"] and least > 0.0:
        return float("inf"), least - inputs["rule_m"]
    return float(found["largest_angle_rad"] or 0.0), least - inputs["rule_m"]


def _swept(
    m: Row, r: Row, t: Thing, rule_m: float, them: Iterable[Thing]
) -> tuple[dict[str, Any], dict[str, Any]]:
    """What the rule is asked of these obstacles, and what it says."""
    v = m.values
    points, half = corners_of(r.values)
    inputs = {
        "body": _body(points, half, _thick(t)),
        "hinge": {"origin": v["origin_m"], "axis": v["axis"]},
        "obstacles": [{"id": o.name, **_body(o.rest, o.half, _thick(o))} for o in them],
        "hi_rad": v["to_rad"], "lo_rad": v.get("from_rad", 0.0), "rule_m": rule_m,
    }  # fmt: skip
    return inputs, run(DOORS, inputs)


def _body(corners: Array, half: Array | None, radius: float) -> dict[str, Any]:
    """A line, or a box by its middle and the tips of its axes."""
    if half is None:
        return {"points": corners.tolist(), "radius": radius}
    axes = (corners[1:] - corners[0]).tolist()
    return {"box": {"centre": corners[0].tolist(), "half": half.tolist(), "axes": axes}}
