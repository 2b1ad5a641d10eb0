"""What the rules say of ends: sleeves, pins, proof load, what must be slid on; and inspections."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import date, timedelta
from typing import Any

from core.basis.checks import Check, Later
from core.basis.verdicts import Verdict, worst
from core.cables.document import Cable
from core.cables.done import Done
from core.cables.ends import Step, slide_on_order
from core.cables.lever import SIDES
from core.cables.rigging import Rigged

# What made an end: a person's own work asks for a proof load.
BUILDER = "builder"


def end_checks(rigged: Rigged, cable: Cable, done: Done) -> Iterable[Check]:
    """Sleeves, pins, proof load and what goes on first, of one cable."""
    levers = {
        "A": getattr(rigged.rigging.driver, cable.side),
        "B": getattr(rigged.rigging.driven, cable.side),
    }
    for name, end in cable.ends.items():
        at = tuple(levers[name])
        where = f"{cable.name}, end {name}"
        if end.open:
            yield _not_said(cable.side, name, where, end.open, at)
        if end.kind.startswith("sleeve"):
            yield _sleeve(cable, name, where, done, at)
        if end.pin == "cotter only":
            yield _pin(cable.side, name, where, end.pin_source, at)
    if any(e.made_by == BUILDER for e in cable.ends.values()):
        yield _proof(cable, done, tuple(levers["A"]))
    if cable.slide_on:
        yield _slid(cable, done, tuple(levers["A"]))


def _not_said(
    side: str, end: str, where: str, missing: tuple[str, ...], at: tuple[float, ...]
) -> Check:
    said = f"Not said: {', '.join(missing)}. Until then nothing is assumed of this end."
    word = Verdict.NOT_MEASURED
    return Check(f"end {side} {end}", where, said, word, "test", at=at, part="ends", side=side)


def _pin(side: str, end: str, where: str, told: str, at: tuple[float, ...]) -> Check:
    said = "Clevis pin kept by a cotter pin alone: 14 CFR 23.689(d) does not allow it under"
    said += f" load or motion. {told}" if told else " load or motion: ask the maker."
    word = Verdict.ACCEPTED if told else Verdict.TOO_CLOSE
    return Check(f"pin {side} {end}", f"{where}: pin", said, word, at=at, part="ends", side=side)


def _sleeve(cable: Cable, end: str, where: str, done: Done, at: tuple[float, ...]) -> Check:
    rows = [e for e in done.did("sleeve", cable.side) if e.data.get("end") == end]
    base = Check(
        f"sleeve {cable.side} {end}",
        f"{where}: sleeve",
        "Count the presses and gauge the sleeve.",
        Verdict.NOT_MEASURED,
        "test",
        "not gauged",
        at=at,
        part="ends",
        side=cable.side,
    )
    if not rows:
        return base
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
    rule, inputs = "cables.sleeve_check", rows[-1].inputs
    return replace(base, said=said, verdict=verdict, state=state, rule=rule, inputs=inputs)


def _proof(cable: Cable, done: Done, at: tuple[float, ...]) -> Check:
    last = done.last("proof", cable.side)
    base = Check(
        f"proof {cable.side}",
        f"{cable.name}: proof load",
        "Its ends were made here: load it to 60 % of its breaking strength.",
        Verdict.NOT_MEASURED,
        "test",
        "not tested",
        at=at,
        part="ends",
        side=cable.side,
    )
    if last is None:
        return base
    r = last.result
    return replace(
        base,
        said=", ".join(f"{n} {r[n]}" for n in ("force", "time", "set", "slip")) + ".",
        verdict=Verdict(r["verdict"]),
        state="",
        rule="cables.proof_load",
        inputs=last.inputs,
    )


def unsized(cable: Cable) -> str:
    """The ends whose outer size nobody said, where something must pass them; empty if none."""
    missing = [name for name, end in cable.ends.items() if end.size_m is None]
    return " and ".join(f"end {name}" for name in missing) if cable.slide_on else ""


def slide_inputs(cable: Cable, done: Done) -> dict[str, Any]:
    """What was slid on and pressed so far, under the rule's names."""
    steps: list[dict[str, str]] = []
    for e in done.events:
        if e.side == cable.side and e.doing == "slid on":
            steps.append({"do": "slide", "item": e.data["item"], "end": e.data["end"]})
        elif e.side == cable.side and e.doing == "pressed":
            steps.append({"do": "press", "end": e.data["end"]})
    return {
        "required": [i.name for i in cable.slide_on],
        "bores_m": {i.name: i.bore_m for i in cable.slide_on},
        "ends_m": {n: end.size_m for n, end in cable.ends.items() if end.size_m is not None},
        "steps": steps,
    }


def steps_of(given: Sequence[dict[str, str]]) -> list[Step]:
    """The rule's steps as the core takes them."""
    return [Step(s["do"], s["end"], s.get("item", "")) for s in given]


def _slid(cable: Cable, done: Done, at: tuple[float, ...]) -> Check:
    base = Check(
        f"slide on {cable.side}",
        f"{cable.name}: what goes on first",
        "",
        Verdict.NOT_MEASURED,
        "task",
        "not on yet",
        at=at,
        part="ends",
        side=cable.side,
    )
    if open_ends := unsized(cable):
        said = f"Not said: the outer size of {open_ends}. Until then nobody can tell what passes."
        return replace(base, said=said)
    inputs = slide_inputs(cable, done)
    r = slide_on_order(
        inputs["required"], inputs["bores_m"], inputs["ends_m"], steps_of(inputs["steps"])
    )
    said = r.why + "." if r.why else "Still to go on: " + ", ".join(r.missing) + "."
    base = replace(base, said=said, rule="cables.slide_on_order", inputs=inputs)
    if r.complete:
        return replace(base, said="All are on, in order.", verdict=Verdict.IN, state="")
    if not r.possible:
        return replace(base, said=f"{r.why}.", verdict=Verdict.OUT, state="cannot be put on")
    return base


def inspection_checks(done: Done) -> Iterable[Check]:
    """Wear and broken wires, as last looked over; due again on a day that a person gave."""
    for side in SIDES:
        last = done.last("inspected", side)
        if last is None:
            continue
        bad = not last.data["fit"]
        what = f"Side {side}: wear and broken wires"
        said = f"Looked over on {last.at.date().isoformat()}: {last.data['found']}."
        due = last.data.get("next_due")
        later: tuple[Later, ...] = ()
        if due:
            said += f" Next due {due}."
            over = date.fromisoformat(due) + timedelta(days=1)
            later = (Later(over, "due", Verdict.OUT if bad else Verdict.TOO_CLOSE),)
        yield Check(
            key=f"inspection {side}",
            what=what,
            said=said,
            verdict=Verdict.OUT if bad else Verdict.IN,
            step="task",
            state="replace" if bad else "done",
            later=later,
            part="cable",
            side=side,
        )
