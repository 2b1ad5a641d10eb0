"""What is said of each pair, zone, door, contact and range, each by its rule."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import numpy as np

from core.basis.checks import Check, Later
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.clearance.apart import CABLE, CONFIRM, FLUIDS, PREFERRED_M, WIRES, Sorts, chosen
from core.clearance.keep_out import Volume, away_of
from core.clearance.pairs import Looked, Met, looked
from core.clearance.rows import ACCEPTED, CONTACT, MEASURED, MOVER, RANGE, SHAPE, ZONE
from core.clearance.scene import Row, Scene, corners_of
from core.clearance.table import Thing
from core.clearance.verdict import Judged, gap_verdict
from core.worksheets.kinds import known_to, run, said, unsaid

GAP, ZONES, DOORS, LAYERS = (
    "clearance.gap_verdict", "clearance.keep_out", "clearance.hinged_sweep", "clearance.layering",
)  # fmt: skip
STEP = "clearance"
DRAWN = "the ways and shapes as entered, at every position of their controls"
ENTERED = "entered for clearances"


@dataclass(frozen=True)
class Done:
    """Something done to a pair: accepted, or measured by hand."""

    doing: str
    nr: int
    inputs: Mapping[str, Any]
    by: str
    on: str


Log = Mapping[str, Sequence[Done]]


def checks_of(scene: Scene, log: Log, today: date) -> list[Check]:
    """All of an aircraft, pairs by their margin first."""
    found = looked(scene)
    listed = list(pair_checks(scene, found, log))
    listed += missing_rules(found)
    listed += layer_checks(scene, found)
    for z in scene.of(ZONE):
        listed.append(zone_check(scene, z))
    for m in scene.of(MOVER):
        listed += door_checks(scene, m)
    for c in scene.of(CONTACT):
        listed.append(contact_check(scene, c, today))
    listed += range_checks(scene, found)
    return listed


def mm(metres: float) -> str:
    """A distance, short."""
    return f"{metres * 1e3:.1f} mm".replace("-", "−")


def deg(angle: float) -> str:
    """An angle, short."""
    return f"{math.degrees(angle):.1f}°"


def where(scene: Scene, m: Met) -> str:
    """The position of everything that moves the pair, in words."""
    assert m.near is not None
    return ", ".join(scene.axes[name].words(q) for name, q in m.near.at.items())


def at_station(m: Met) -> str:
    """The place in words."""
    assert m.near is not None
    return f"station {m.near.on_a[0] * 1e3:.0f}"


def pair_checks(scene: Scene, found: Looked, log: Log) -> Iterable[Check]:
    """Each pair that has a distance to keep, that touches, or that could not be worked out."""
    for m in found.met:
        if m.near is None:
            if m.why:
                yield said(m.key, m.name, f"Not worked out: {m.why}.", Verdict.NOT_MEASURED,
                           step=STEP)  # fmt: skip
            continue
        if m.rule is None and m.judged.verdict != "touch" and not log.get(m.key):
            continue
        yield pair_check(scene, m, log.get(m.key, ()))


def pair_check(scene: Scene, m: Met, log: Sequence[Done]) -> Check:
    """One pair, with what was measured and accepted of it."""
    assert m.near is not None
    measured = next((d for d in reversed(log) if d.doing == MEASURED), None)
    accepted = next((d for d in reversed(log) if d.doing == ACCEPTED), None)
    inputs, verdict, words, judged = _modelled(scene, m)
    if measured is not None:
        inputs, verdict, words, judged = _measured(m, measured, inputs, verdict, words, judged)
    state = ""
    if accepted is not None:
        same = accepted.inputs.get("digest") == m.digest and accepted.inputs.get("least") == _least(
            m
        )
        if same and judged.may_be_accepted:
            verdict, state = Verdict.ACCEPTED, "accepted"
            mitigation = accepted.inputs.get("mitigation", "")
            words += f" Accepted by {accepted.by} on {accepted.on}: {mitigation};"
            words += f" {accepted.inputs['reason']}."
        elif not same:
            words += " It was accepted, but something of it has changed since: look again."
    check = said(m.key, m.name, words, verdict, GAP, inputs, step=STEP, state=state,
                 quiet=verdict is Verdict.IN)  # fmt: skip
    origins = dict.fromkeys(inputs, DRAWN) | {"u": "how well both places are known"}
    if m.rule is not None:
        origins["rule"] = f"{m.rule.words}; {CONFIRM}"
    if m.motion_m:
        origins["relative_motion_m"] = ENTERED
    if measured is not None and inputs.get("gap_best") == measured.inputs["gap_m"]:
        origins |= dict.fromkeys(("gap_low", "gap_best", "u"), f"measured by {measured.by}")
    middle = tuple((x + y) / 2.0 for x, y in zip(m.near.on_a, m.near.on_b, strict=True))
    return replace(check, at=middle, origins={k: origins[k] for k in inputs})


def _least(m: Met) -> float | None:
    return m.rule.least_m if m.rule else None


def _modelled(scene: Scene, m: Met) -> tuple[dict[str, Any], Verdict, str, Judged]:
    assert m.near is not None
    inputs, judged = m.asked(), m.judged
    verdict = judged.judged
    position = where(scene, m)
    gap = m.near.gap_m - m.motion_m
    words = f"Touch: they overlap by {mm(-gap)} or more" if gap <= 0.0 else f"{mm(gap)} apart"
    words += f" at {at_station(m)}"
    words += f" with {position}" if position else ""
    if m.near.gap_m < m.near.bare_m - 5e-5:
        words += f" ({mm(m.near.bare_m)} without sag and flex)"
    if m.rule is not None:
        words += f"; at least {mm(m.rule.least_m)}"
    words += "."
    if verdict is Verdict.TOO_CLOSE:
        words += _doubt(m, judged)
    lacking = list(m.lacking)
    if judged.sure and m.u_m is None and judged.verdict == "close":
        # Less certainty than none cannot make it surely short of contact.
        judged = replace(judged, may_be_accepted=False)
    if verdict is not Verdict.OUT:
        verdict, words = known_to(verdict, words, lacking)
    return inputs, verdict, words, judged


def _doubt(m: Met, judged: Judged) -> str:
    """What is in doubt, and what would settle it."""
    assert m.near is not None
    if judged.low <= 0.0:
        return f" It may touch: known to ± {mm((judged.high - judged.low) / 2.0)} only. Measure it."
    if m.rule is not None:
        room = abs(m.near.gap_m - m.motion_m - m.rule.least_m)
        return f" Too near the limit to tell: it must be known to ± {mm(room)} or better."
    return ""


def _measured(
    m: Met, done: Done, inputs: dict[str, Any], verdict: Verdict, words: str, judged: Judged
) -> tuple[dict[str, Any], Verdict, str, Judged]:
    """What was measured overrules the model where it is the more certain."""
    assert m.near is not None
    gap, said_U = float(done.inputs["gap_m"]), done.inputs.get("U_m")
    U = float(said_U or 0.0)
    model_U = None if m.u_m is None else 2.0 * m.u_m
    sure = f"± {mm(U)}" if said_U is not None else "(not said how sure)"
    told = f" Measured {mm(gap)} {sure} by {done.by} on {done.on}"
    if done.inputs.get("at"):
        told += f", {done.inputs['at']}"
    apart = abs(gap - m.near.bare_m)
    disagree = apart > (U**2 + (model_U or 0.0) ** 2) ** 0.5 and model_U is not None
    if done.inputs.get("digest") != m.digest:
        return inputs, verdict, f"{words}{told}, before something of it changed.", judged
    if said_U is None or (model_U is not None and model_U <= U):
        if disagree:
            words += f"{told}: that and the model disagree. Find out why."
            return inputs, _never_in(verdict), words, judged
        return inputs, verdict, f"{words}{told}, less sure than the model.", judged
    # What it gives beside its middle line still counts: it was measured at rest.
    net = gap - (m.near.bare_m - m.near.gap_m)
    asked = inputs | {"gap_low": net, "gap_best": net, "u": U / 2.0}
    judged = gap_verdict(**asked)
    verdict, words = (
        judged.judged,
        f"{told.strip()}; it counts before the model ({words.rstrip('.')}).",
    )
    if m.rule is None and verdict is not Verdict.OUT:
        words += " No distance is entered for it."
    missing = [x for x in m.lacking if not x.startswith(("how well", "how thick"))]
    if verdict is not Verdict.OUT:
        verdict, words = known_to(verdict, words, missing)
    if disagree:
        words += " That and the model disagree: find out why."
        verdict = _never_in(verdict)
    return asked, verdict, words, judged


def _never_in(verdict: Verdict) -> Verdict:
    return Verdict.TOO_CLOSE if verdict is Verdict.IN else verdict


def missing_rules(found: Looked) -> list[Check]:
    """Kinds that come near each other without a distance, told once each."""
    groups: dict[tuple[str, str], list[Met]] = {}
    for m in found.met:
        if m.near is not None and m.rule is None and m.judged.verdict != "touch":
            one, two = sorted((m.a.kind, m.b.kind))
            groups.setdefault((one, two), []).append(m)
    listed = []
    for (one, two), pairs in groups.items():
        nearest = min(pairs, key=lambda m: m.near.gap_m)  # type: ignore[union-attr]
        assert nearest.near is not None
        count = "one pair" if len(pairs) == 1 else f"{len(pairs)} pairs"
        words = (
            f"No distance is entered for {one} and {two}: {count}, the nearest"
            f" {mm(nearest.near.gap_m)} ({nearest.name}, {at_station(nearest)}). Enter it from the"
            " maker’s data."
        )
        check = said(f"rule {one} {two}", f"{one} from {two}", words, Verdict.NOT_MEASURED,
                     step=STEP)  # fmt: skip
        listed.append(replace(check, at=nearest.near.on_a))
    return listed


# What should lie above what, where they are near: the first is a rule, the others custom.
OVER_FLUID, CUSTOM = (WIRES, FLUIDS), ((WIRES, (CABLE,)), ((CABLE,), FLUIDS))


def _under(m: Met, over: tuple[str, ...], under: tuple[str, ...]) -> Iterable[Any]:
    """(upper, lower, what was asked, what the rule says) where the upper lies lower."""
    for upper, lower in ((m.a, m.b), (m.b, m.a)):
        if upper.kind not in over or lower.kind not in under:
            continue
        if upper.half is not None or lower.half is not None:
            continue
        inputs = {"a": upper.rest.tolist(), "b": lower.rest.tolist(), "near": PREFERRED_M}
        low = run(LAYERS, inputs)
        if low.get("height") is not None and low["height"] < 0.0:
            yield upper, lower, inputs, low


def _lower(upper: Thing, lower: Thing, low: Mapping[str, Any]) -> str:
    place = f"station {low['on_a'][0] * 1e3:.0f}"
    return f"{upper.name} lies {mm(-low['height'])} lower than {lower.name} at {place}"


def layer_checks(scene: Scene, found: Looked) -> Iterable[Check]:
    """Wires that lie under fluid lines where they are near."""
    for m in found.met:
        for upper, lower, inputs, low in _under(m, *OVER_FLUID):
            words = _lower(upper, lower, low)
            words += ": a leak would run onto it. Wires lie above lines with fluid."
            what = f"{upper.name} above {lower.name}"
            check = said(
                f"layer {m.key}", what, words, Verdict.TOO_CLOSE, LAYERS, inputs, step=STEP
            )
            origins = {"a": DRAWN, "b": DRAWN, "near": "AC 43.13-1B ch. 11"}
            yield replace(check, at=tuple(low["on_a"]), origins=origins)


def layers_told(found: Looked) -> list[str]:
    """What custom would have the other way round: told, and stands in nobody's way."""
    return [
        f"{_lower(upper, lower, low)}."
        for m in found.met
        for over, under in CUSTOM
        for upper, lower, _, low in _under(m, over, under)
    ]


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
    runs: list[dict[str, Any]] = []
    for t in wanted:
        runs += _poses(volume, t, z.values["margin_m"])
    inputs = {"volume": volume, "kinds": kinds, "margin_m": z.values["margin_m"], "runs": runs}
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
    if verdict is not Verdict.OUT:
        verdict, words = known_to(verdict, words, missing)
    check = said(f"zone {z.slug}", z.name, words, verdict, ZONES, inputs, step=STEP,
                 quiet=verdict is Verdict.IN)  # fmt: skip
    worst = min(inside.values(), key=lambda r: r["gap_m"], default=None)
    origins = dict.fromkeys(inputs, z.cited or ENTERED) | {"runs": DRAWN}
    return replace(check, at=tuple(worst["deepest"]) if worst else (), origins=origins)


def _inside(name: str, r: Mapping[str, Any]) -> str:
    gap = r["gap_m"]
    how = f"{mm(-gap)} inside" if gap < 0 else f"{mm(gap)} away"
    near = f"{mm(r['length_inside_m'])} of it too near"
    return f"{name}: {how} at station {r['deepest'][0] * 1e3:.0f}, {near}"


def _poses(volume: Mapping[str, Any], t: Thing, margin: float) -> list[dict[str, Any]]:
    """A thing as runs of the rule: of what moves the pose that comes nearest, thicker by how far
    it goes between two poses."""
    poses = t.poses.reshape(-1, *t.poses.shape[-2:])
    thick = float(t.radii.max())
    one = {"id": t.name, "kind": t.kind, "u_m": t.u_m or 0.0}
    if len(poses) == 1:
        return [one | {"points": poses[0].tolist(), "radius": thick}]
    between = 0.0
    for n in range(len(t.axes)):
        moved = np.linalg.norm(np.diff(t.poses, axis=n), axis=-1)
        between += float(moved.max(initial=0.0)) / 2.0
    given = {("from_" if k == "from" else k): v for k, v in volume.items()}
    away = away_of(Volume(**given))
    nearest = min(poses, key=lambda p: min(away(x) for x in p))
    return [one | {"points": nearest.tolist(), "radius": thick + between}]


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
    v = m.values
    obstacles = []
    for o in scene.things:
        if o.axes or o.key == t.key or scene.between(CONTACT, t, o):
            continue
        if o.half is None:
            obstacles.append(
                {"id": o.name, "points": o.rest.tolist(), "radius": float(o.radii.max())}
            )
        elif t.half is None:
            obstacles.append({"id": o.name, "box": _box(o)})
    if not obstacles:
        return
    names = {o["id"] for o in obstacles}
    asked = [_of_both(scene, t, o) for o in scene.things if o.name in names]
    rule = max(asked, default=0.0)
    body = {"box": _box_at(scene, r)} if t.half is not None else {
        "points": [[c["x_m"], c["y_m"], c["z_m"]] for c in r.values["corners"]],
        "radius": float(t.radii.max()),
    }  # fmt: skip
    inputs = {
        "body": body, "hinge": {"origin": v["origin_m"], "axis": v["axis"]},
        "obstacles": obstacles, "hi_rad": v["to_rad"], "lo_rad": v.get("from_rad", 0.0),
        "rule_m": rule,
    }  # fmt: skip
    found = run(DOORS, inputs)
    least, largest = found["least"], found["largest_angle_rad"]
    met = "touches it" if least["gap_m"] <= 0.0 else f"{mm(least['gap_m'])} away"
    words = f"Nearest to {least['obstacle']}: {met} opened {deg(least['at_rad'])}."
    keeps = found["keeps_rule"]
    if not keeps:
        far = (
            "It is too near from the beginning."
            if largest is None
            else (f"It may open to {deg(largest)} only, to stay {mm(rule)} away.")
        )
        words += f" {far}"
    verdict = Verdict.IN if keeps and least["gap_m"] > 0.0 else Verdict.OUT
    check = said(f"door {m.slug} {r.slug}", f"{m.name}: opening of {r.name}", words, verdict, DOORS,
                 inputs, step=STEP, quiet=True)  # fmt: skip
    yield replace(check, at=tuple(t.rest[0].tolist()), origins=dict.fromkeys(inputs, ENTERED))


def _of_both(scene: Scene, t: Thing, o: Thing) -> float:
    """What the two must keep, m; nothing where no distance is entered."""
    rule = chosen(scene.rules, Sorts(t.kind, False), Sorts(o.kind, False)).rule
    return rule.least_m if rule else 0.0


def _box(o: Thing) -> dict[str, Any]:
    assert o.half is not None
    return {
        "centre": o.rest[0].tolist(),
        "half": o.half.tolist(),
        "axes": (o.rest[1:] - o.rest[0]).tolist(),
    }


def _box_at(scene: Scene, r: Row) -> dict[str, Any]:
    points, half = corners_of(r.values)
    assert half is not None
    return {
        "centre": points[0].tolist(),
        "half": half.tolist(),
        "axes": (points[1:] - points[0]).tolist(),
    }


def contact_check(scene: Scene, c: Row, today: date) -> Check:
    """What is meant to touch: both there, protected, looked at again in time."""
    v = c.values
    gone = [v[k] for k in ("a", "b") if scene.thing(str(v[k])) is None]
    key, what = f"contact {c.slug}", f"{c.name}: meant to touch"
    if gone:
        return unsaid(
            key, what, *(f"what {x} is: nothing of that name is here any more" for x in gone)
        )
    words = f"{v['a']} and {v['b']}, because {v['reason']}."
    if not v.get("protection"):
        return said(key, what, f"{words} Not said: what protects them where they rub.",
                    Verdict.NOT_MEASURED, step=STEP)  # fmt: skip
    words += f" Protected by {v['protection']}."
    due = v.get("due")
    if due is None:
        return said(key, what, words, Verdict.IN, step=STEP, quiet=True)
    later = Later(date.fromisoformat(due), Verdict.TOO_CLOSE.value, Verdict.TOO_CLOSE)
    return said(key, what, f"{words} Look at it again on {due}.", Verdict.IN, step=STEP, quiet=True,
                later=(later,))  # fmt: skip


def range_checks(scene: Scene, found: Looked) -> Iterable[Check]:
    """What could not be moved at all, and rows that name what is not there."""
    for n, words in enumerate(scene.movement.unsaid):
        yield said(f"moves {n}", "What moves", f"Not looked at: {words}.", Verdict.NOT_MEASURED,
                   step=STEP)  # fmt: skip
    for r in scene.of(RANGE):
        if str(r.values["control"]).casefold() not in scene.controls:
            yield unsaid(f"range {r.slug}", r.name, f"which control {r.values['control']} is")
    for left in scene.rows:
        if left.kind == MOVER and scene.frame(left.name) is None:
            yield unsaid(f"mover {left.slug}", left.name, "what it follows or is carried by")
