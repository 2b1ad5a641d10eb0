"""What the rules say of ends: sleeves, pins, proof load, what must be slid on; and inspections."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from core.basis.verdicts import Verdict, worst
from core.cables.document import Cable as CoreCable
from core.cables.lever import SIDES
from core.cables.rigging import Rigged
from core.rulebook.registry import rule
from server.cables.checking import Check, check
from server.cables.models import Loop
from server.cables.standing import Stands
from server.controls.why import why


def end_checks(rigged: Rigged, cable: CoreCable, stand: Stands) -> Iterable[Check]:
    """Sleeves, pins, proof load and what goes on first, of one cable."""
    levers = {
        "A": getattr(rigged.rigging.driver, cable.side),
        "B": getattr(rigged.rigging.driven, cable.side),
    }
    for name, end in cable.ends.items():
        at = levers[name]
        where = f"{cable.name}, end {name}"
        if end.kind.startswith("sleeve"):
            yield _sleeve(cable, name, where, stand, at)
        if end.pin == "cotter only":
            told = end.pin_source
            said = "Clevis pin kept by a cotter pin alone: 14 CFR 23.689(d) does not allow it under"
            said += f" load or motion. {told}" if told else " load or motion: ask the maker."
            word = Verdict.ACCEPTED if told else Verdict.TOO_CLOSE
            yield check(
                f"pin {cable.side} {name}", "ends", cable.side, f"{where}: pin", said, word, at=at
            )
    if any(e.made_by == "builder" for e in cable.ends.values()):
        yield _proof(cable, stand, levers["A"])
    if cable.slide_on:
        yield _slid(cable, stand, levers["A"])


def _sleeve(cable: CoreCable, end: str, where: str, stand: Stands, at: Any) -> Check:
    rows = [e for e in stand.done("sleeve", cable.side) if e.data.get("end") == end]
    base = (f"sleeve {cable.side} {end}", "ends", cable.side, f"{where}: sleeve")
    if not rows:
        said = "Count the presses and gauge the sleeve."
        return check(*base, said, Verdict.NOT_MEASURED, "test", "not gauged", at)
    r = rows[-1].result
    parts = [("thimble", r["thimble"]), ("presses", r["presses"]), ("size", r["dimension"])]
    said = ", ".join(f"{n} {word}" for n, word in parts) + "."
    verdict = Verdict(r["verdict"])
    if r["thimble"] == "deviation":
        source, reason = rows[-1].inputs["deviation_source"], rows[-1].inputs["deviation_reason"]
        said += f" Without a thimble after {source}: {reason}."
        verdict = worst([verdict, Verdict.ACCEPTED])
    passed = verdict in (Verdict.IN, Verdict.ACCEPTED)
    state = "passed" if passed else verdict.value
    return check(
        *base, said, verdict, "test", state, at, why("cables.sleeve_check", rows[-1].inputs)
    )


def _proof(cable: CoreCable, stand: Stands, at: Any) -> Check:
    last = stand.last("proof", cable.side)
    base = (f"proof {cable.side}", "ends", cable.side, f"{cable.name}: proof load")
    if last is None:
        said = "Its ends were made here: load it to 60 % of its breaking strength."
        return check(*base, said, Verdict.NOT_MEASURED, "test", "not tested", at)
    r = last.result
    said = ", ".join(f"{n} {r[n]}" for n in ("force", "time", "set", "slip")) + "."
    return check(
        *base,
        said,
        Verdict(r["verdict"]),
        "test",
        at=at,
        reason=why("cables.proof_load", last.inputs),
    )


def slide_inputs(cable: CoreCable, stand: Stands) -> dict[str, Any]:
    """What was slid on and pressed so far, under the rule's names."""
    steps = []
    for e in stand.events:
        if e.side == cable.side and e.doing in ("slid on", "pressed"):
            do = (
                {"do": "slide", "item": e.data["item"]} if e.doing == "slid on" else {"do": "press"}
            )
            steps.append(do | {"end": e.data["end"]})
    bores = {i.name: i.bore_m for i in cable.slide_on}
    return {
        "required": [i.name for i in cable.slide_on],
        "bores_m": bores,
        "ends_m": {name: end.size_m for name, end in cable.ends.items()},
        "steps": steps,
    }


def _slid(cable: CoreCable, stand: Stands, at: Any) -> Check:
    inputs = slide_inputs(cable, stand)
    r = rule("cables.slide_on_order").run(inputs)
    base = (f"slide on {cable.side}", "ends", cable.side, f"{cable.name}: what goes on first")
    reason = why("cables.slide_on_order", inputs)
    if r["complete"]:
        return check(*base, "All are on, in order.", Verdict.IN, "task", at=at, reason=reason)
    if not r["possible"]:
        return check(*base, f"{r['why']}.", Verdict.OUT, "task", "cannot be put on", at, reason)
    said = "Still to go on: " + ", ".join(r["missing"]) + "."
    if r["why"]:
        said = r["why"] + "."
    return check(*base, said, Verdict.NOT_MEASURED, "task", "not on yet", at, reason)


def inspection_checks(loop: Loop, stand: Stands) -> Iterable[Check]:
    """Wear and broken wires, as last looked over."""
    for side in SIDES:
        last = stand.last("inspected", side)
        if last is None:
            continue
        bad = not last.data["fit"]
        said = f"Looked over on {last.at.date().isoformat()}: {last.data['found']}."
        if last.data.get("next_due"):
            said += f" Next due {last.data['next_due']}."
        yield check(
            f"inspection {side}",
            "cable",
            side,
            f"Side {side}: wear and broken wires",
            said,
            Verdict.OUT if bad else Verdict.IN,
            "task",
            "replace" if bad else "done",
            due=last.data.get("next_due") or "",
        )
