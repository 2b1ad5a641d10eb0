"""What a line in the entry bar means.

    elev up 26.4 · ail l dn 13.5 gauge 2          a reading
    torque 42 inlb bellcrank bolt                 a joint torqued; `with` names the wrench
    pin bellcrank bolt · seal … · loosen …        a joint safetied, marked, loosened
    loose cotter rudder horn: until final rig     a loose end and what ends it
    note aft: sealant skinned over                a note, in a bay or on the aircraft
    leak feed 20 min 20 kPa 19.9 kPa 20 C 20 C    a line tested for leaks, as it was last
    run w12 · label w12 · test w12 0.2 ohm        a wire run, labelled, tested
    pin P3-7 terminated                           the end of a wire at that pin
    weigh left 118.4 kg                           a scale read under that wheel
    gap w12 fuel 18 mm ± 0.5 mm                   a gap measured by hand
    go aft · go controls                          a jump

Names may be shortened to any beginning that means one thing. What could mean two is asked
back; what is not understood is refused with what is accepted.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.entry.gaps import GapMeasured, gap
from core.entry.names import Ambiguous, Known, Names, by_words, matching, one_of, only
from core.entry.weighing import Weighed, weigh
from core.entry.wires import WIRE_WORDS, WireDone, pin, step, test

POSITION_WORDS = {
    "up": "up_stop",
    "down": "down_stop",
    "dn": "down_stop",
    "neutral": "neutral",
    "ntl": "neutral",
    "left": "left_stop",
    "right": "right_stop",
    "l": "left_stop",
    "r": "right_stop",
}
SIDE_WORDS = {"left": "left", "l": "left", "right": "right", "r": "right"}
JOINT_WORDS = {"pin": "safetied", "seal": "sealed", "loosen": "loosened"}
WORDS = ("go", "torque", *JOINT_WORDS, "loose", "note", "leak", *WIRE_WORDS, "test", "weigh", "gap")
LONGEST = 300


@dataclass(frozen=True)
class Jump:
    """Go to a page, or (with `bay`) to a bay by its slug."""

    page: str
    bay: str = ""


@dataclass(frozen=True)
class Typed:
    """A reading as typed: which surface and position, the value's text, the instrument."""

    surface: str
    position: str
    value: str
    instrument: str | None


@dataclass(frozen=True)
class JointDone:
    """Something done to a joint; `value` is the torque as typed."""

    joint: str
    doing: str
    value: str = ""
    instrument: str | None = None


@dataclass(frozen=True)
class Loose:
    """A loose end: what, what ends it, and the joint or bay if the words name one."""

    what: str
    ends_with: str
    joint: str = ""
    bay: str = ""


@dataclass(frozen=True)
class Note:
    """A note, in a bay if one is named."""

    text: str
    bay: str = ""


@dataclass(frozen=True)
class Leak:
    """A leak test of a line as read: minutes, gauge and temperature at start and end, and the
    barometer where it was read anew; each as typed."""

    line: str
    minutes: str
    gauge: tuple[str, str]
    temperature: tuple[str, str]
    barometer: tuple[str, ...] = ()


Meaning = Jump | Typed | JointDone | Loose | Note | Leak | WireDone | Weighed | GapMeasured


def understand(line: str, names: Names) -> Meaning:
    """What the line says. Refuses, under `entry`, what it cannot place."""
    if len(line) > LONGEST:
        raise Refused("entry", f"is longer than {LONGEST} characters")
    words = line.strip().split()
    if not words:
        raise Refused("entry", "type a reading (elev up 26.4) or a jump (go controls)")
    first, rest = words[0].lower(), words[1:]
    if first in ("go", "g"):
        return _jump(rest, names)
    if first == "torque":
        return _torque(" ".join(rest), names)
    if first in WIRE_WORDS:
        return step(first, " ".join(rest), names)
    if first == "gap":
        return gap(" ".join(rest), names)
    if first == "weigh":
        return weigh(" ".join(rest), names)
    if first == "test":
        return test(" ".join(rest), names)
    if first in JOINT_WORDS:
        said = " ".join(rest)
        if first == "pin" and (end := pin(said, names)) is not None:
            return end
        joint = one_of(said, names.joints, "joint", f"{first} {{}}")
        return JointDone(joint, JOINT_WORDS[first])
    if first == "loose":
        return _loose(" ".join(rest), names)
    if first == "note":
        return _note(" ".join(rest), names)
    if first == "leak":
        return _leak(" ".join(rest), names)
    return _reading([w.lower() for w in words], names)


def _jump(words: list[str], names: Names) -> Jump:
    said = " ".join(words)
    if not said:
        raise Refused("entry", "go where? " + ", ".join(names.pages))
    pages = matching(said, names.pages)
    bays = by_words(said, names.bays)
    exact = [p for p in pages if p.lower() == said.lower()]
    if exact:
        return Jump(exact[0])
    if len(pages) + len(bays) > 1:
        shown = [*pages, *(name for _, name in bays)]
        raise Ambiguous(said, shown, [f"go {s.lower()}" for s in shown])
    if pages:
        return Jump(pages[0])
    if bays:
        return Jump("lane", bays[0][0])
    raise Refused("entry", f"{said} is no page or bay here: {', '.join(names.pages)}")


_TORQUE = re.compile(
    r"(?P<value>[-+]?[0-9]+(?:[.,][0-9]+)?\s*"
    r"(?:(?:in|ft|n)[ .·*-]*(?:lbf|lbs|lb|m)|[a-z]*(?=\s)))\s+"
    r"(?P<joint>.+?)(?:\s+with\s+(?P<wrench>.+))?$",
    re.IGNORECASE,
)
_NO_UNIT = re.compile(r"[-+]?[0-9]+(?:[.,][0-9]+)?$")


def _torque(said: str, names: Names) -> JointDone:
    found = _TORQUE.match(said.strip())
    if found is None:
        raise Refused("entry", "type torque, value, unit and joint: torque 42 inlb bellcrank bolt")
    value = found["value"].strip()
    if _NO_UNIT.match(value):
        raise Refused("entry", "say the unit of the torque: inlb, Nm or ftlb")
    parse(value, "torque", "Nm", "entry")
    tail = f" with {found['wrench']}" if found["wrench"] else ""
    joint = one_of(found["joint"], names.joints, "joint", f"torque {value} {{}}{tail}")
    wrench = None
    if found["wrench"]:
        line = f"torque {value} {found['joint']} with {{}}"
        wrench = only(found["wrench"], names.instruments, "instrument", line)
    return JointDone(joint, "torqued", value, wrench)


_LEAK = re.compile(
    r"(?P<line>.+?)\s+(?P<minutes>[0-9]+(?:[.,][0-9]+)?)\s*min\s+(?P<read>.+)$", re.IGNORECASE
)
_READ = re.compile(r"([-+−]?[0-9]+(?:[.,][0-9]+)?\s*[a-z°]+)\s*", re.IGNORECASE)
ASKED = "leak feed line 20 min 20.0 kPa 19.9 kPa 20 C 20.4 C"


def _leak(said: str, names: Names) -> Leak:
    found = _LEAK.match(said.strip())
    if found is None:
        raise Refused("entry", f"type line, minutes, and what was read: {ASKED}")
    read = _READ.findall(found["read"])
    if "".join(read).replace(" ", "") != found["read"].replace(" ", "") or len(read) not in (4, 6):
        raise Refused(
            "entry",
            "read gauge, gauge, temperature, temperature, and if you like both barometers, each"
            f" with its unit: {ASKED}",
        )
    for text in (*read[:2], *read[4:]):
        parse(text, "pressure", "kPa", "entry")
    for text in read[2:4]:
        parse(text, "temperature", "C", "entry")
    tail = f" {found['minutes']} min {found['read']}"
    line = one_of(found["line"], names.lines, "line", f"leak {{}}{tail}")
    return Leak(line, found["minutes"], (read[0], read[1]), (read[2], read[3]), tuple(read[4:]))


def _loose(said: str, names: Names) -> Loose:
    what, colon, ends = said.partition(":")
    what, ends = what.strip(), re.sub(r"^(until|till)\s+", "", ends.strip(), flags=re.I)
    if not what:
        raise Refused("entry", "say what is loose: loose cotter rudder horn: until final rig")
    if not colon or not ends:
        raise Refused("entry", "say what ends it after a colon: … : until final rig")
    place, bay = _in_bay(what, names)
    joints = by_words(place, names.joints) or _named_in(place, names.joints)
    if len(joints) > 1:
        shown = [name for _, name in joints[:8]]
        raise Ambiguous(place, shown, [f"loose {s.lower()}: until {ends}" for s in shown])
    return Loose(what, ends, joints[0][0] if joints else "", bay)


def _named_in(said: str, names: tuple[tuple[str, str], ...]) -> list[tuple[str, str]]:
    """Things named by the end of what was said: `cotter rudder horn` names the rudder horn."""
    words = said.split()
    for i in range(1, len(words)):
        found = by_words(" ".join(words[i:]), names)
        if i == len(words) - 1:
            # One word alone must be a whole word of the name: a beginning would be a guess.
            found = [(s, n) for s, n in found if words[i].lower() in n.lower().split()]
        if found:
            return found
    return []


def _in_bay(said: str, names: Names) -> tuple[str, str]:
    """`… in aft` names a bay at the end; the rest is what was said."""
    head, found, tail = said.rpartition(" in ")
    if not found:
        return said, ""
    bays = by_words(tail, names.bays)
    if len(bays) > 1:
        shown = [name for _, name in bays]
        raise Ambiguous(tail, shown, [f"loose {head} in {s.lower()}" for s in shown])
    return (head, bays[0][0]) if bays else (said, "")


def _note(said: str, names: Names) -> Note:
    head, colon, tail = said.partition(":")
    if colon and tail.strip():
        bays = by_words(head, names.bays)
        if len(bays) == 1:
            return Note(tail.strip(), bays[0][0])
        if len(bays) > 1:
            shown = [name for _, name in bays]
            raise Ambiguous(head, shown, [f"note {s.lower()}: {tail.strip()}" for s in shown])
    if not said.strip():
        raise Refused("entry", "type the note: note aft: sealant skinned over")
    return Note(said.strip())


def _reading(words: list[str], names: Names) -> Typed:
    tail = " ".join(words[1:])
    accepted = [*names.controls, *WORDS]
    found = matching(words[0], names.controls)
    if not found:
        near = [w for w in accepted if w.startswith(words[0])]
        hint = near or accepted
        raise Refused("entry", f"{words[0]} is no control or word here: {', '.join(hint)}")
    control = only(words[0], names.controls, "control", f"{{}} {tail}")
    rest = words[1:]
    surface = _surface(control, rest, [s for s in names.surfaces if s.control == control])
    position = _position(rest, surface)
    lead = " ".join(words[: len(words) - len(rest) + 1])
    value, instrument = _value_and_instrument(rest[1:], names, lead)
    return Typed(surface.id, position, value, instrument)


def _surface(control: str, rest: list[str], named: list[Known]) -> Known:
    """The surface meant; takes its side off the words."""
    if len(named) == 1:
        return named[0]
    side = SIDE_WORDS.get(rest[0]) if rest else None
    if side is None:
        tail = " ".join(rest)
        sides = [s.side for s in named]
        if not tail:
            raise Refused("entry", "say which side: l or r")
        raise Ambiguous(control, sides, [f"{control} {s} {tail}" for s in sides])
    found = [s for s in named if s.side == side]
    if not found:
        raise Refused("entry", f"has no {side} side")
    rest.pop(0)
    return found[0]


def _position(rest: list[str], surface: Known) -> str:
    accepted = ", ".join(p.replace("_stop", "").replace("_", " ") for p in surface.positions)
    position = POSITION_WORDS.get(rest[0]) if rest else None
    if position is None and rest:
        position = next((p for p in surface.positions if p == rest[0]), None)
    if position not in surface.positions:
        raise Refused("entry", f"say which position: {accepted}")
    return str(position)


def _value_and_instrument(rest: list[str], names: Names, lead: str) -> tuple[str, str | None]:
    """The value is all up to the first word that begins an instrument's name."""
    for i, word in enumerate(rest):
        # `deg` and the like belong to the value; an instrument's name begins with two letters.
        if i and re.match(r"[a-z]{2}", word):
            tail = " ".join(rest[i:])
            found = matching(tail, names.instruments)
            head = " ".join(rest[:i])
            if len(found) == 1:
                return head, found[0]
            if len(found) > 1:
                raise Ambiguous(tail, found, [f"{lead} {head} {f.lower()}" for f in found])
    if not rest:
        raise Refused("entry", "type the value")
    return " ".join(rest), None
