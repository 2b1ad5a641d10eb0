"""Fittings that travel with a cable, past what stands still (`clearance.fitting_travel`)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Named, Unit
from core.basis.refused import finite, not_negative
from core.basis.rules import rule
from core.clearance.words import FITTINGS


@dataclass(frozen=True)
class Station:
    """Something that stands still along the cable."""

    id: Annotated[str, "What it is."]
    from_: Annotated[float, "From, along the run.", Named("from"), Unit("m")]
    to: Annotated[float, "To.", Unit("m")]


@dataclass(frozen=True)
class Passed:
    """How near a fitting comes to it."""

    id: Annotated[str, "What."]
    gap: Annotated[float, "Below 0: it runs into it.", Unit("m")]
    at: Annotated[str, "plus, minus or neutral."]


@rule(
    "clearance.fitting_travel",
    title="A fitting that travels with its cable",
    purpose="How near does a turnbuckle, terminal or sleeve come to what stands still?",
    source="Arithmetic along the run.",
    validity="Travel of the cable at both stops, for each setting.",
    caution=FITTINGS,
)
def fitting_travel(
    s_neutral: Annotated[float, "Its middle, along the run.", Unit("m")],
    half_length: Annotated[float, "Half its length.", Unit("m")],
    travel_plus: Annotated[float, "Onward at one stop.", Unit("m")],
    travel_minus: Annotated[float, "Back at the other.", Unit("m")],
    stations: Annotated[tuple[Station, ...], "id, from, to."],
    extra: Annotated[float, "For rigging.", Unit("m")] = 0.0,
) -> Annotated[tuple[Passed, ...], "For each station.", Named("value")]:
    """Gap to each, m, at the extreme that leads to it; beside it at neutral already: the overlap.
    Refuses negative lengths."""
    middle, half = finite(s_neutral, "s_neutral"), not_negative(half_length, "half_length")
    plus = not_negative(travel_plus, "travel_plus")
    minus = not_negative(travel_minus, "travel_minus")
    more = not_negative(extra, "extra")
    low, high = middle - half, middle + half
    found = []
    for s in stations:
        at = f"stations.{s.id}"
        near, far = sorted((finite(s.from_, at), finite(s.to, at)))
        if near >= high:
            found.append(Passed(s.id, near - (high + plus + more), "plus"))
        elif far <= low:
            found.append(Passed(s.id, low - minus - more - far, "minus"))
        else:
            found.append(Passed(s.id, -(min(far, high) - max(near, low)), "neutral"))
    return tuple(found)
