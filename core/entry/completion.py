"""Completions of a line in the entry bar, from the aircraft's own names."""

from __future__ import annotations

import re

from core.entry.gaps import plain
from core.entry.grammar import JOINT_WORDS, WORDS
from core.entry.names import Names, matching
from core.entry.wires import WIRE_WORDS

MOST = 8


def complete(line: str, names: Names) -> tuple[str, ...]:
    """Whole lines that this one may become, best first; empty if nothing fits."""
    text = line.lstrip().lower()
    head, space, _ = text.partition(" ")
    if not space:
        starts = [*names.controls, *WORDS]
        return _lines("", head, starts, " ")
    place = _place(head, text[len(head) + 1 :], names)
    if place is None:
        return ()
    kept, partial, options = place
    return _lines(f"{head} {kept}", partial, options, "")


def _lines(kept: str, partial: str, options: list[str], after: str) -> tuple[str, ...]:
    begin = [o for o in options if o.lower().startswith(partial)]
    word = [
        o
        for o in options
        if o not in begin and any(w.startswith(partial) for w in o.lower().split())
    ]
    found = [f"{kept}{o.lower()}{after}" for o in (*begin, *word)]
    return tuple(f for f in dict.fromkeys(found) if f.strip() != f"{kept}{partial}".strip())[:MOST]


def _place(head: str, rest: str, names: Names) -> tuple[str, str, list[str]] | None:
    """What stands already, what is being typed, and the names that may stand there."""
    joints = [name for _, name in names.joints]
    bays = [name for _, name in names.bays]
    if head in ("go", "g"):
        return "", rest, [*names.pages, *bays]
    if head in WIRE_WORDS or head == "test":
        return "", rest, [f"{name} " if head == "test" else name for _, name in names.wires]
    if head == "gap":
        return "", rest, [f"{plain(a)} {plain(b)} " for a, b, _, _ in names.gaps]
    if head == "weigh":
        return "", rest, [f"{wheel} " for _, wheel in names.wheels]
    if head in JOINT_WORDS:
        return "", rest, joints
    if head == "leak":
        return "", rest, [f"{name} " for _, name in names.lines]
    if head == "torque":
        return _after_torque(rest, joints, names)
    if head == "loose":
        return ("", rest, joints) if ":" not in rest else None
    if head == "note":
        return ("", rest, [f"{b}: " for b in bays]) if ":" not in rest else None
    controls = matching(head, names.controls)
    return _after_control(controls[0], rest, names) if len(controls) == 1 else None


def _after_torque(rest: str, joints: list[str], names: Names) -> tuple[str, str, list[str]] | None:
    found = re.match(r"([-+]?[0-9]+(?:[.,][0-9]+)?\s*[a-z.·*-]+\s+)(.*)$", rest)
    if not found:
        number = re.match(r"([-+]?[0-9]+(?:[.,][0-9]+)?\s+)([a-z]*)$", rest)
        return (number[1], number[2], ["inlb ", "Nm ", "ftlb "]) if number else None
    kept, tail = found[1], found[2]
    joint, with_, wrench = tail.partition(" with ")
    if with_:
        return f"{kept}{joint}{with_}", wrench, list(names.instruments)
    return kept, tail, joints


def _after_control(control: str, rest: str, names: Names) -> tuple[str, str, list[str]] | None:
    words = rest.split(" ")
    here = [s for s in names.surfaces if s.control == control]
    sided = len(here) > 1
    step = len(words) - 1 - sided
    kept = " ".join(words[:-1]) + (" " if len(words) > 1 else "")
    if sided and len(words) == 1:
        return kept, words[-1], [f"{s.side} " for s in here]
    if step == 0:
        said = [p.replace("_stop", "") + " " for p in here[0].positions]
        return kept, words[-1], said
    if step >= 2:
        return kept, words[-1], list(names.instruments)
    return None
