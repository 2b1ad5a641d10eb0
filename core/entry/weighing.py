"""What a line says of a scale: `weigh left 118.4 kg`."""

from __future__ import annotations

import re
from dataclasses import dataclass

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.entry.names import Names, only

_WEIGH = re.compile(
    r"(?P<wheel>[a-z][a-z0-9 ]*?)\s+(?P<value>[0-9]+(?:[.,][0-9]+)?\s*[a-z]*)$", re.IGNORECASE
)


@dataclass(frozen=True)
class Weighed:
    """A scale read: of which weighing, under which wheel, what it shows as typed."""

    weighing: str
    wheel: str
    value: str


def weigh(said: str, names: Names) -> Weighed:
    """Wheel and what its scale shows. Refuses where there is no weighing, and what is no mass."""
    if not names.wheels:
        raise Refused("entry", "enter a weighing with its wheels first")
    found = _WEIGH.match(said.strip())
    if found is None:
        raise Refused("entry", "type wheel and what its scale shows: weigh left 118.4 kg")
    parse(found["value"], "mass", "kg", "entry")
    wheels = [wheel for _, wheel in names.wheels]
    wheel = only(found["wheel"], wheels, "wheel", f"weigh {{}} {found['value']}")
    slug = next(slug for slug, name in names.wheels if name == wheel)
    return Weighed(slug, wheel, found["value"])
