"""What is said of all pairs, zones, doors, contacts and ranges of an aircraft, each by its rule."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import date
from typing import Any

from core.basis.checks import Check, Later
from core.basis.verdicts import Verdict
from core.clearance.apart import CABLE, FLUIDS, PREFERRED_M, WIRES
from core.clearance.pairs import Looked, Met, looked, split
from core.clearance.rows import CONTACT, MOVER, RANGE, ZONE
from core.clearance.scene import Row, Scene
from core.clearance.spaces import door_checks, zone_check
from core.clearance.standing import DRAWN, STEP, Log, at_station, mm, pair_checks
from core.clearance.table import Thing
from core.worksheets.kinds import run, said, unsaid

LAYERS = "clearance.layering"


def checks_of(scene: Scene, log: Log) -> list[Check]:
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
        listed.append(contact_check(scene, c))
    listed += range_checks(scene)
    return listed


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


def contact_check(scene: Scene, c: Row) -> Check:
    """What is meant to touch: both there, protected, looked at again in time."""
    v = c.values
    one, other = (scene.thing(str(v[k])) for k in ("a", "b"))
    key, what = f"contact {c.slug}", f"{c.name}: meant to touch"
    if one is None or other is None:
        gone = [v[k] for k, t in (("a", one), ("b", other)) if t is None]
        return unsaid(
            key, what, *(f"what {x} is: nothing of that name is here any more" for x in gone)
        )
    at = tuple(split(one, v.get("a_from_m"), v.get("a_to_m"))[0][0].rest[0].tolist())
    words = f"{v['a']} and {v['b']}, because {v['reason']}."
    if not v.get("protection"):
        return said(key, what, f"{words} Not said: what protects them where they rub.",
                    Verdict.NOT_MEASURED, step=STEP, at=at)  # fmt: skip
    words += f" Protected by {v['protection']}."
    due = v.get("due")
    if due is None:
        return said(key, what, words, Verdict.IN, step=STEP, quiet=True, at=at)
    later = Later(date.fromisoformat(due), Verdict.TOO_CLOSE.value, Verdict.TOO_CLOSE)
    return said(key, what, f"{words} Look at it again on {due}.", Verdict.IN, step=STEP, quiet=True,
                later=(later,), at=at)  # fmt: skip


def range_checks(scene: Scene) -> Iterable[Check]:
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
