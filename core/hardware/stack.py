"""The layers that a bolt clamps, as typed on one line: `lug 3.2 mm; bushing 6.1; lug 3.2`."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

from core.basis.quantities import parse
from core.basis.refused import Refused

# Where a thickness may begin: at the first word, or a later one, that begins with a digit.
_BEGIN = re.compile(r"(?:^|(?<=\s))(?=[.,]?[0-9])")


@dataclass(frozen=True)
class Layer:
    """A layer: its name (may be empty), its thickness as typed and in m."""

    name: str
    typed: str
    m: float


def layers(text: str, unit: str, field: str = "layers") -> tuple[Layer, ...]:
    """The layers in order, parted by `;`; a bare thickness is in `unit`.

    Refuses a layer without a thickness, and one that is not greater than zero, by its name.
    """
    return tuple(_layer(part.strip(), unit, field) for part in text.split(";") if part.strip())


def thickness(stack: Sequence[Layer]) -> float:
    """All layers together, m."""
    return math.fsum(layer.m for layer in stack)


def _layer(said: str, unit: str, field: str) -> Layer:
    """The longest end of the words that is a length; what stands before it is the name."""
    for begin in _BEGIN.finditer(said):
        typed = said[begin.start() :]
        try:
            m = parse(typed, "length", unit, field).si
        except Refused:
            continue
        if m <= 0:
            raise Refused(field, f"{said!r}: must be greater than zero")
        return Layer(said[: begin.start()].strip(), typed, m)
    raise Refused(field, f"{said!r} does not end with a thickness, such as lug 3.2 mm")
