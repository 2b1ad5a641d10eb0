"""What is done to a cable: turned, locked, slid on, pressed, gauged, loaded, looked over."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime
from typing import Any

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.cables.document import NOT_SAID, Rigging
from core.cables.done import RIGGING
from core.cables.judging import reached
from core.cables.judging_ends import slide_inputs, unsized
from core.rulebook.registry import rule
from server.accounts.models import Person
from server.aircraft.models import Bay
from server.cables.keeping import rigged_of, rigging_of
from server.cables.models import Cable, CableEvent, Loop
from server.cables.standing import done_of, showing
from server.journal.writing import note
from server.kit.placing import bay_at, boxes_of, passed
from server.kit.ports import loose_ends
from server.kit.records import take_back
from server.kit.standing import of_subject

SAFETYING = "turnbuckle tensioned and safetied"
Typed = dict[str, Any]


def record(
    loop: Loop,
    side: str,
    doing: str,
    typed: Typed,
    by: Person,
    said: str = "",
    at: datetime | None = None,
) -> CableEvent:
    """Keep one event of a locked loop. Refuses by field what cannot be."""
    makers: dict[str, Callable[[Loop, str, Typed], dict[str, Any]]] = {
        "turned": _turned,
        "safetied": _safetied,
        "unsafetied": _nothing,
        "slid on": _slid,
        "pressed": _pressed,
        "sleeve": _sleeve,
        "proof": _proof,
        "stretch": _stretch,
        "inspected": _inspected,
        "step": _step,
    }
    if doing not in makers:
        raise Refused("doing", f"must be one of: {', '.join(makers)}")
    if doing != "step" and side not in ("A", "B"):
        raise Refused("side", "must be A or B")
    made = makers[doing](loop, side, typed)
    event = CableEvent.objects.create(
        aircraft=loop.aircraft,
        loop=loop,
        side=side,
        doing=doing,
        note=said,
        by=by,
        at=at or datetime.now(UTC),
        **made,
    )
    _follow(loop, event, by)
    name = _cable(loop, side).name if side else loop.control.name
    what = f"{name}: {told(event)}"
    bays = bays_of_work(loop, side, event)
    note(loop.aircraft, by, "rigging", what, bays, link_of(loop), True, event.at)
    return event


def link_of(loop: Loop) -> str:
    """Where a loop is shown."""
    return f"cables/{loop.control.slug}"


def told(e: CableEvent) -> str:
    """An event in words."""
    d = e.data
    return {
        "turned": f"turnbuckle turned by {d.get('turns', 0):+g} turns",
        "safetied": "turnbuckle safetied",
        "unsafetied": "turnbuckle's lock taken off",
        "slid on": f"{d.get('item')} slid on from end {d.get('end')}",
        "pressed": f"end {d.get('end')} pressed",
        "sleeve": f"sleeve at end {d.get('end')} gauged: {e.result.get('verdict')}",
        "proof": f"proof load: {e.result.get('verdict')}",
        "stretch": "stiffness measured",
        "inspected": f"looked over: {d.get('found')}",
        "step": f"{d.get('step')}, done",
    }[e.doing]


def _cable(loop: Loop, side: str) -> Cable:
    found: Cable = loop.sides.get(side=side)
    return found


def _follow(loop: Loop, e: CableEvent, by: Person) -> None:
    """A turned turnbuckle is a loose end until it is safetied again."""
    if e.doing == "turned":
        cable = _cable(loop, e.side)
        cable.turns += e.data["turns"]
        cable.save()
    name = (
        f"{loop.control.name}: turnbuckle of {_cable(loop, e.side).name.lower()}" if e.side else ""
    )
    if e.doing in ("turned", "unsafetied"):
        until = e.data.get("until") or SAFETYING
        bay = _bay(loop, e.side)
        loose_ends().leave(loop.aircraft, by, name, until, e.note or "not safetied", bay, e.at)
    if e.doing == "safetied":
        loose_ends().end(loop.aircraft, by, name, "safetied")
        after = e.data.get("recheck_after")
        if after:
            what, until = f"{name}: tension after bedding in", f"the first {after} flown"
            loose_ends().leave(loop.aircraft, by, what, until, "cables bed in", at=e.at)


def bays_of_work(loop: Loop, side: str, e: CableEvent | None = None) -> tuple[str, ...]:
    """Where hands are: at an end that was pressed or gauged, at all of a cable that was looked
    over, else at its turnbuckle; both sides where no side was named."""
    rigged, boxes = rigged_of(loop), boxes_of(loop.aircraft_id)
    rigging, found = rigged.rigging, list[str]()
    for name in (side,) if side else ("A", "B"):
        cable = rigging.cables[name]
        places = [reached(cable)]
        end = e.data.get("end") if e else None
        if end in ("A", "B"):
            lever = rigging.driver if end == "A" else rigging.driven
            places = [list(getattr(lever, name))]
        elif e is None or e.doing in ("inspected", "proof", "stretch", "step"):
            found += passed([rigged.way(name)], boxes)
        found += [b for p in places for b in bay_at(p, boxes)]
    return tuple(dict.fromkeys(found))


def _bay(loop: Loop, side: str) -> Bay | None:
    inside = bay_at(reached(rigging_of(loop).cables[side]), boxes_of(loop.aircraft_id))
    return Bay.objects.filter(aircraft=loop.aircraft_id, slug__in=inside).first()


def undo(event: CableEvent, loop: Loop, by: Person) -> None:
    """Take back the last event of a locked loop."""
    rows = CableEvent.objects.filter(loop=loop).order_by("at", "id")
    take_back(event, rows, by, told(event), loop=loop, side=event.side)
    if event.doing == "turned":
        cable = _cable(loop, event.side)
        cable.turns -= event.data["turns"]
        cable.save()
    said = f"{loop.control.name} cables, taken back: {told(event)}"
    bays = bays_of_work(loop, event.side, event)
    note(loop.aircraft, by, "rigging", said, bays, link_of(loop), True)


def _nothing(loop: Loop, side: str, typed: Typed) -> dict[str, Any]:
    return {}


def _turned(loop: Loop, side: str, typed: Typed) -> dict[str, Any]:
    """Turns in quarter steps; refuses a turn beyond the threads."""
    cable = _cable(loop, side)
    turns = _number(typed, "turns")
    if turns == 0 or turns * 4 != int(turns * 4):
        raise Refused("turns", "must be whole quarter turns, + tightens")
    now = showing(cable)
    if now is None:
        raise Refused("turns", "this cable has no turnbuckle with its thread counted")
    if abs(turns) > 40:
        raise Refused("turns", "is more than any turnbuckle has")
    if min(now) - turns < 0:
        left = min(now)
        raise Refused("turns", f"beyond its threads: it bottoms after {left:g} turns")
    until = str(typed.get("until") or "").strip()[:80]
    return {"data": {"turns": turns} | ({"until": until} if until else {})}


def _safetied(loop: Loop, side: str, typed: Typed) -> dict[str, Any]:
    now = showing(_cable(loop, side))
    cable = rigging_of(loop).cables[side]
    if cable.turnbuckle and now is not None:
        inputs = {"showing": list(now), "turns": 0, "limit": cable.turnbuckle.limit}
        if min(now) < 0 or rule("cables.turnbuckle_threads").run(inputs)["after"] != "in":
            raise Refused("side", f"thread showing {now[0]:g} and {now[1]:g}: mend that first")
    return {"data": {"recheck_after": str(typed.get("recheck_after") or "")[:30]}}


def _slid(loop: Loop, side: str, typed: Typed) -> dict[str, Any]:
    return _checked_order(
        loop,
        side,
        {"do": "slide", "item": str(typed.get("item", "")), "end": _end_of(typed)},
        {"item": str(typed.get("item", "")), "end": _end_of(typed)},
    )


def _pressed(loop: Loop, side: str, typed: Typed) -> dict[str, Any]:
    """Refuses a press that would leave something off for good, until that is said to be meant."""
    made = _checked_order(
        loop, side, {"do": "press", "end": _end_of(typed)}, {"end": _end_of(typed)}
    )
    if not made["result"].get("possible", True) and not typed.get("meant"):
        raise Refused("end", f"stop: after this press {made['result']['why']}")
    return made


def _checked_order(
    loop: Loop, side: str, step: dict[str, Any], data: dict[str, Any]
) -> dict[str, Any]:
    cable = rigging_of(loop).cables[side]
    if open_ends := unsized(cable):
        raise Refused("end", f"say how large {open_ends} is outside first: what passes hangs on it")
    inputs = slide_inputs(cable, done_of(loop))
    inputs["steps"] = [*inputs["steps"], step]
    result = rule("cables.slide_on_order").run(inputs)
    return {"data": data, "rule": "cables.slide_on_order", "inputs": inputs, "result": result}


def _end_of(typed: Typed) -> str:
    if typed.get("end") not in ("A", "B"):
        raise Refused("end", "must be A or B")
    return str(typed["end"])


def _sleeve(loop: Loop, side: str, typed: Typed) -> dict[str, Any]:
    end_name = _end_of(typed)
    rigging: Rigging = rigging_of(loop)
    kind = rigging.cables[side].ends[end_name].kind
    if not kind.startswith("sleeve"):
        said = "not said to be" if kind == NOT_SAID else f"a {kind}, not"
        raise Refused("end", f"is {said} a sleeve")
    after = [
        parse(p, "length", "mm", "after").si
        for p in str(typed.get("after", "")).split(";")
        if p.strip()
    ]
    inputs = {
        "thimble": kind == "sleeve with thimble",
        "presses": int(_number(typed, "presses")),
        "presses_required": int(_number(typed, "presses_required")),
        "after_m": after,
        "go_max_m": _length(typed, "go_max"),
        "u_m": _length(typed, "u") if typed.get("u") else 0.0,
        "deviation_source": str(typed.get("deviation_source") or ""),
        "deviation_reason": str(typed.get("deviation_reason") or ""),
    }
    if typed.get("go_min"):
        inputs["go_min_m"] = _length(typed, "go_min")
    result = rule("cables.sleeve_check").run(inputs)
    data = {"end": end_name, "typed": {k: str(v) for k, v in typed.items()}}
    return {"data": data, "rule": "cables.sleeve_check", "inputs": inputs, "result": result}


def _proof(loop: Loop, side: str, typed: Typed) -> dict[str, Any]:
    cable = rigging_of(loop).cables[side]
    inputs: dict[str, Any] = {
        "breaking_N": cable.data.breaking_N,
        "applied_N": _force(typed, "applied"),
        "held_s": _number(typed, "held"),
        "hold_required_s": _number(typed, "hold_required"),
        "length_before_m": _length(typed, "length_before"),
        "length_loaded_m": _length(typed, "length_loaded"),
        "length_after_m": _length(typed, "length_after"),
        "set_limit_m": _length(typed, "set_limit", True),
        "mark_slip_m": _length(typed, "mark_slip", True),
    }
    for name, made in (("preload", _force), ("u_force", _force), ("u_length", _length)):
        if typed.get(name):
            unit = "m" if name == "u_length" else "N"
            inputs[f"{name}_{unit}"] = made(typed, name)
    result = rule("cables.proof_load").run(inputs)
    data = {"typed": {k: str(v) for k, v in typed.items()}}
    return {"data": data, "rule": "cables.proof_load", "inputs": inputs, "result": result}


def _stretch(loop: Loop, side: str, typed: Typed) -> dict[str, Any]:
    inputs: dict[str, Any] = {
        "length_m": _length(typed, "length"),
        "load_low_N": _force(typed, "load_low"),
        "load_high_N": _force(typed, "load_high"),
        "stretch_m": _length(typed, "stretch"),
    }
    for name, made, unit in (
        ("u_length", _length, "m"),
        ("u_load", _force, "N"),
        ("u_stretch", _length, "m"),
    ):
        if typed.get(name):
            inputs[f"{name}_{unit}"] = made(typed, name)
    result = rule("cables.stiffness_from_stretch").run(inputs)
    cable = _cable(loop, side)
    cable.figures = cable.figures | {"ae": result["ae_N"], "u_ae": result["u_ae_N"]}
    cable.version += 1
    cable.save()
    data = {"typed": {k: str(v) for k, v in typed.items()}}
    return {
        "data": data,
        "rule": "cables.stiffness_from_stretch",
        "inputs": inputs,
        "result": result,
    }


def _inspected(loop: Loop, side: str, typed: Typed) -> dict[str, Any]:
    found = str(typed.get("found") or "").strip()
    if not found:
        raise Refused(
            "found", "say what was found: no broken wires, no wear, or where and how many"
        )
    due = str(typed.get("next_due") or "").strip()
    if due:
        try:
            date.fromisoformat(due)
        except ValueError:
            raise Refused("next_due", "must be a date") from None
    return {"data": {"found": found[:160], "fit": bool(typed.get("fit")), "next_due": due}}


def _step(loop: Loop, side: str, typed: Typed) -> dict[str, Any]:
    """A step is done when what it is about is in; the others are a person's word."""
    if typed.get("step") not in RIGGING:
        raise Refused("step", f"must be one of: {', '.join(RIGGING)}")
    needs = {"tension set": "tension ", "safetied": "turnbuckle "}.get(typed["step"])
    for c in of_subject(loop.aircraft_id, "cables", str(loop.pk)):
        if needs and c.key.startswith(needs) and c.verdict != "in":
            raise Refused("step", f"not yet: {c.what}: {c.said}")
    return {"data": {"step": typed["step"]}}


def _number(typed: Typed, name: str) -> float:
    text = str(typed.get(name, "")).strip().replace(",", ".")
    if not text:
        raise Refused(name, "is needed")
    try:
        value = float(text)
    except ValueError:
        raise Refused(name, "must be a number") from None
    if value != value or abs(value) > 1e6:
        raise Refused(name, "must be a finite number")
    return value


def _length(typed: Typed, name: str, zero: bool = False) -> float:
    text = str(typed.get(name, "")).strip()
    if not text:
        raise Refused(name, "is needed")
    value = parse(text, "length", "mm", name).si
    if value < 0 or (value == 0 and not zero):
        raise Refused(name, "must be greater than zero")
    return value


def _force(typed: Typed, name: str) -> float:
    text = str(typed.get(name, "")).strip()
    if not text:
        raise Refused(name, "is needed")
    return parse(text, "force", "lbf", name).si
