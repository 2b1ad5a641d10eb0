"""What a line says of a wire: run, labelled, an end terminated, tested."""

from __future__ import annotations

import re
from dataclasses import dataclass

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.entry.names import Names, one_of

WIRE_WORDS = {"run": "run", "label": "labelled"}
_TEST = re.compile(r"(?P<wire>.+?)\s+(?P<value>[0-9]+(?:[.,][0-9]+)?\s*[a-zμµΩ]+)$", re.IGNORECASE)
_PIN = re.compile(r"(?P<connector>.+)[.-](?P<pin>[^.\s-]+)\s+terminated$", re.IGNORECASE)


@dataclass(frozen=True)
class WireDone:
    """A step done to a wire; `value`: of a test, the resistance as typed."""

    wire: str
    doing: str
    value: str = ""


def step(first: str, said: str, names: Names) -> WireDone:
    """`run w12`, `label w12`."""
    wire = one_of(said, names.wires, "wire", f"{first} {{}}")
    return WireDone(wire, WIRE_WORDS[first])


def test(said: str, names: Names) -> WireDone:
    """`test w12 0.2 ohm`."""
    found = _TEST.match(said.strip())
    if found is None:
        raise Refused("entry", "type wire and what the meter reads: test w12 0.2 ohm")
    parse(found["value"], "resistance", "ohm", "entry")
    wire = one_of(found["wire"], names.wires, "wire", f"test {{}} {found['value']}")
    return WireDone(wire, "tested", found["value"])


def pin(said: str, names: Names) -> WireDone | None:
    """`pin P3-7 terminated`; None: it is not of a wire's end."""
    found = _PIN.match(said.strip())
    if found is None:
        return None
    at = f"{found['connector']}.{found['pin']}".casefold()
    ends = [(wire, end) for place, wire, end in names.ends if place.casefold() == at]
    if not ends:
        raise Refused("entry", f"no wire here ends at {found['connector']}.{found['pin']}")
    if len(ends) > 1:
        raise Refused("entry", f"{found['connector']}.{found['pin']} has more than one wire")
    return WireDone(ends[0][0], f"end_{ends[0][1]}")
