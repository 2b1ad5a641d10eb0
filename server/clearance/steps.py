"""What is done to a pair: accepted knowingly, measured by hand."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.clearance.pairs import Met, meet, named
from core.clearance.rows import ACCEPTED, DOINGS
from core.clearance.scene import Scene
from core.clearance.standing import stands
from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.clearance.models import PairEvent
from server.clearance.reading import events_of, log_of, scene_of


def pair_of(scene: Scene, a: str, b: str) -> Met:
    """The pair of these names. Refuses what is not there and what is not worked out."""
    one, other = named(scene, a, "a"), named(scene, b, "b")
    if one.key == other.key:
        raise Refused("b", "is the same as the one")
    return meet(scene, one, other)


def record(aircraft: Aircraft, given: dict[str, Any], by: Person) -> PairEvent:
    """Keep it. Refuses what may not be accepted, and a gap that is none."""
    scene = scene_of(aircraft)
    m = pair_of(scene, given["a"], given["b"])
    if m.near is None:
        raise Refused("a", f"is not worked out: {m.why or 'the two are meant to touch'}")
    work = _accepted if given["doing"] == ACCEPTED else _measured
    inputs = work(scene, m, given, aircraft)
    inputs |= {"digest": m.digest, "name": m.name, "place_m": list(m.place)}
    typed = {k: v for k, v in given.items() if k not in ("doing", "note") and v}
    made: PairEvent = PairEvent.objects.create(
        aircraft=aircraft, pair=m.key, doing=given["doing"], typed=typed, inputs=inputs, by=by,
        at=datetime.now(UTC), note=given["note"],
    )  # fmt: skip
    return made


def _accepted(scene: Scene, m: Met, given: dict[str, Any], aircraft: Aircraft) -> dict[str, Any]:
    if not given["reason"].strip():
        raise Refused("reason", "why is it good enough?")
    if not given["mitigation"].strip():
        raise Refused("mitigation", "what keeps it from rubbing: clamps, a sleeve, a guard?")
    log = log_of(events_of(aircraft.pk)).get(m.key, [])
    now = stands(scene, m, log)
    if now.verdict is Verdict.IN:
        raise Refused("doing", "it keeps its distance: there is nothing to accept")
    if not now.may_be_accepted:
        raise Refused(
            "doing",
            "only what is surely apart and surely too near may be accepted; what touches or is in"
            " doubt is moved or measured first",
        )
    least = m.rule.least_m if m.rule else None
    return {"mitigation": given["mitigation"], "reason": given["reason"], "least": least}


def _measured(scene: Scene, m: Met, given: dict[str, Any], aircraft: Aircraft) -> dict[str, Any]:
    return read_gap(given, aircraft)


def read_gap(given: dict[str, Any], aircraft: Aircraft) -> dict[str, Any]:
    """A gap as typed, m; without how sure it is where nobody said that."""
    if not given["gap"].strip():
        raise Refused("gap", "what did you measure?")
    gap = parse(given["gap"], "length", aircraft.length_unit, "gap").si
    if gap < 0.0:
        raise Refused("gap", "must not be negative: 0 is touching")
    if not given["u"].strip():
        return {"gap_m": gap, "at": given["at"]}
    U = parse(given["u"], "length", aircraft.length_unit, "u").si
    if U <= 0.0:
        raise Refused("u", "must be greater than zero")
    return {"gap_m": gap, "U_m": U, "at": given["at"]}


def said_of(e: PairEvent) -> str:
    """An event in words."""
    i = e.inputs
    if e.doing == ACCEPTED:
        return f"{i['name']}: accepted with {i['mitigation']}, because {i['reason']}"
    at = f", {i['at']}" if i.get("at") else ""
    sure = f"± {i['U_m'] * 1e3:.1f} mm" if "U_m" in i else "mm, not said how sure"
    return f"{i['name']}: {DOINGS[e.doing]}, {i['gap_m'] * 1e3:.1f} {sure}{at}"
