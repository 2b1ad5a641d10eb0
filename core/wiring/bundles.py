"""Bundles: how thick, how loaded, how bent, how tied (`wiring.bundle_diameter`,
`wiring.bundle_load`, `wiring.bend_radius`, `wiring.ties`)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from core.basis.by_name import rule
from core.basis.refused import Refused, choice, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.wiring.tables import EVEN, at_least, gauge, rating, table_A
from core.wiring.words import CAUTION, CHAPTER_11, HOUSE, TABLE_11_9, TIES

ROUND_M = 1e-9
END_M = 0.010


@dataclass(frozen=True)
class Bundled:
    """A bundle, m."""

    diameter_m: Annotated[float, "With its wrap."]
    least_conduit_id_m: Annotated[float, "Inner diameter that a conduit needs."]
    fill: Annotated[float | None, "Share of the conduit; null without one."]
    verdict: Annotated[Verdict | None, "Of the conduit; null without one."]


@rule(
    "wiring.bundle_diameter",
    title="How thick a bundle is",
    purpose="How thick does this bundle get, and does it fit its conduit?",
    source=f"Packing of circles: {HOUSE} Conduit: {CHAPTER_11}",
    validity="An estimate: the factor covers the closest packing, hand-laid bundles are looser."
    " Leave a pull cord, and a spare tube where no access remains.",
    caution=CAUTION,
)
def bundle_diameter(
    od_m: Annotated[Sequence[float], "Outside diameter of every wire."],
    k: Annotated[float, "Packing factor."] = 1.25,
    wrap_m: Annotated[float, "Thickness of the wrap."] = 0.0,
    conduit_id_m: Annotated[float | None, "Inner diameter of the conduit."] = None,
    conduit_ratio: Annotated[float, "Conduit over bundle."] = 1.25,
) -> Bundled:
    """Refuses an empty bundle (`od_m`)."""
    if not od_m:
        raise Refused("od_m", "needs at least one wire")
    each = sorted((positive(d, "od_m") for d in od_m), reverse=True)
    factor, ratio = positive(k, "k"), positive(conduit_ratio, "conduit_ratio")
    squares = math.fsum(d * d for d in each)
    thick = math.fsum(each[:2])
    if len(each) > 2:
        thick = max(factor * math.sqrt(squares), thick)
    thick += 2.0 * not_negative(wrap_m, "wrap_m")
    least = ratio * thick
    if conduit_id_m is None:
        return Bundled(thick, least, None, None)
    inside = positive(conduit_id_m, "conduit_id_m")
    fits = Verdict.IN if inside >= least - EVEN else Verdict.OUT
    return Bundled(thick, least, squares / inside**2, fits)


@dataclass(frozen=True)
class Wire:
    """A wire of a bundle."""

    awg: Annotated[str, "Gauge."]
    rating_C: Annotated[float, "Of the wire: 105, 150 or 200."]
    current_A: Annotated[float, "What flows."]


@dataclass(frozen=True)
class Loaded:
    """A bundle's share of its capacity."""

    load_A: Annotated[float, "All currents."]
    table_A: Annotated[float, "All currents of the table."]
    share: Annotated[float, "One over the other."]
    limit: Annotated[float, "What the table holds for."]
    verdict: Annotated[Verdict, "In where the table holds."]
    enter: Annotated[str | None, "What to enter where it does not."]


@rule(
    "wiring.bundle_load",
    title="Does the table hold for this bundle?",
    purpose="How much of the bundle's capacity is in use?",
    source=TABLE_11_9,
    validity="All wires of one temperature rating.",
    caution=CAUTION,
)
def bundle_load(
    wires: Annotated[tuple[Wire, ...], "All of the bundle."],
    limit: Annotated[float, "Share that the table holds for, above 0 to 1."] = 0.20,
) -> Loaded:
    """Refuses an empty bundle and unlike ratings."""
    if not wires:
        raise Refused("wires", "needs at least one")
    if not 0.0 < finite(limit, "limit") <= 1.0:
        raise Refused("limit", "must be above 0 and at most 1")
    if len({w.rating_C for w in wires}) > 1:
        raise Refused("rating_C", "all wires of the bundle must have one rating")
    column = rating(wires[0].rating_C)
    load = math.fsum(not_negative(w.current_A, "current_A") for w in wires)
    most = math.fsum(table_A(gauge(w.awg), column) for w in wires)
    share = load / most
    good = share <= limit + EVEN
    verdict = Verdict.IN if good else Verdict.OUT
    return Loaded(load, most, share, limit, verdict, None if good else "table_factor")


BENDS = {"wire": 10.0, "supported": 3.0, "coax": 6.0, "coax semi-rigid": 10.0}


@dataclass(frozen=True)
class Bent:
    """A bend against its least radius, m."""

    least_m: Annotated[float, "Inside of the bend."]
    margin_m: Annotated[float, "To it."]
    verdict: Annotated[Verdict, "In where it is wide enough."]


@rule(
    "wiring.bend_radius",
    title="Bend of a bundle or coax",
    purpose="Is this bend wide enough?",
    source=CHAPTER_11,
    validity="Inside of the bend. Span between supports at most 24 in, slack about half an inch"
    " at light hand pressure, strain relief at each connector.",
    caution=CAUTION,
)
def bend_radius(
    largest_od_m: Annotated[float, "Of the largest wire, or of the coax."],
    radius_m: Annotated[float, "Inside of the bend."],
    U_m: Annotated[float, "Its uncertainty."] = 0.0,
    kind: Annotated[
        Literal["wire", "supported", "coax", "coax semi-rigid"], "supported: at a terminal."
    ] = "wire",
    coax_multiple: Annotated[float | None, "Its maker's, at least 1."] = None,
) -> Bent:
    """A multiple of the diameter. Refuses a coax's multiple for a wire."""
    times = BENDS[kind]
    if coax_multiple is not None:
        if not kind.startswith("coax"):
            raise Refused("coax_multiple", "is for coax only")
        times = finite(coax_multiple, "coax_multiple")
        if times < 1.0:
            raise Refused("coax_multiple", "must be at least 1")
    least = times * positive(largest_od_m, "largest_od_m")
    radius, U = not_negative(radius_m, "radius_m"), not_negative(U_m, "U_m")
    return Bent(least, radius - least, at_least(radius, U, least))


SCHOOLS = {"ties": "tie", "lacing": "lacing"}
KINDS = ("tie", "lacing", "temporary")
COAX, FUEL = "coax dielectric", "only separation from fuel"
MOVING, HOT = "moving parts", "hot zone"
PLACES = (COAX, FUEL, MOVING, HOT)
SPACING = ((0.00635, 0.019), (0.0127, 0.038), (0.0254, 0.050))
WIDEST_M = 0.075


@dataclass(frozen=True)
class Tie:
    """A tie as fitted."""

    id: Annotated[str, "Its name."]
    at_m: Annotated[float, "From the start."]
    kind: Annotated[str, "tie, lacing or temporary."]
    place: Annotated[Sequence[str], "What is there."] = ()
    tight: Annotated[bool, "Whether it is drawn tight."] = False


@dataclass(frozen=True)
class Tied:
    """A bundle's ties."""

    spacing_m: Annotated[float, "Between ties."]
    source: Annotated[str, "Whose spacing that is."]
    needed: Annotated[int, "Along the whole length."]
    to_add: Annotated[int, "To those that are fitted."]
    worst_span_m: Annotated[float, "Longest without a tie."]
    loose_ends: Annotated[tuple[str, ...], "Temporary ones."]
    findings: Annotated[tuple[tuple[str, str], ...], "[code, tie], sorted."]
    verdict: Annotated[Verdict, "In with nothing to add and nothing wrong."]


@rule(
    "wiring.ties",
    title="Ties or lacing",
    purpose="How many ties, and which of those fitted are wrong?",
    source=f"Spacing: {HOUSE} Where supports are over 12 in apart ties are wanted: {CHAPTER_11}",
    validity="Two schools, chosen per aircraft; a tie is no clamp.",
    caution=CAUTION + TIES,
)
def ties(
    length_m: Annotated[float, "Of the bundle between its ends."],
    diameter_m: Annotated[float, "Of the bundle."],
    school: Annotated[Literal["ties", "lacing"], "Which."],
    spacing_m: Annotated[float | None, "Your own or its maker's."] = None,
    source: Annotated[str | None, "Of that spacing."] = None,
    ends_held: Annotated[bool, "A clamp at each end."] = True,
    fitted: Annotated[tuple[Tie, ...], "Those that are there."] = (),
) -> Tied:
    """Refuses a spacing without its source, and a tie beyond the bundle."""
    long = positive(length_m, "length_m")
    spacing, cited = _spacing(positive(diameter_m, "diameter_m"), spacing_m, source)
    if len({t.id for t in fitted}) < len(fitted):
        raise Refused("fitted", "two ties have the same name")
    for t in fitted:
        choice(t.kind, KINDS, "kind")
        for p in t.place:
            choice(p, PLACES, "place")
        if not 0.0 <= finite(t.at_m, "at_m") <= long:
            raise Refused("at_m", f"{t.id} is beyond the bundle")
    at = sorted(t.at_m for t in fitted if t.kind != "temporary")
    gaps = [b - a for a, b in itertools.pairwise([0.0, *at, long])]
    needed = pieces(long, spacing) - 1 + (0 if ends_held else 2)
    add = sum(max(0, pieces(g, spacing) - 1) for g in gaps)
    if not ends_held:
        add += sum(1 for end in (0.0, long) if not any(abs(x - end) <= END_M for x in at))
    wrong = sorted(f for t in fitted for f in _wrong(t, SCHOOLS[school]))
    out = add > 0 or any(code != "other_school" for code, _ in wrong)
    return Tied(
        spacing,
        cited,
        needed,
        add,
        max(gaps),
        tuple(sorted(t.id for t in fitted if t.kind == "temporary")),
        tuple(wrong),
        Verdict.OUT if out else Verdict.IN,
    )


def pieces(length: float, spacing: float) -> int:
    """Into how many pieces of at most the spacing it falls."""
    return math.ceil(length / spacing - ROUND_M)


def _spacing(diameter: float, own: float | None, source: str | None) -> tuple[float, str]:
    if own is not None:
        if not (source or "").strip():
            raise Refused("source", "say whose spacing that is")
        return positive(own, "spacing_m"), str(source)
    found = next((s for most, s in SPACING if diameter <= most + ROUND_M), WIDEST_M)
    return found, "default"


def _wrong(t: Tie, school: str) -> Iterable[tuple[str, str]]:
    if t.kind == "temporary":
        yield "temporary_tie", t.id
    elif t.kind != school:
        yield "other_school", t.id
    if FUEL in t.place:
        yield "only_separation_from_fuel", t.id
    if COAX in t.place and t.tight:
        yield "tight_on_coax", t.id
    if MOVING in t.place:
        yield "tie_over_moving_parts", t.id
    if HOT in t.place and t.kind == "tie":
        yield "tie_in_hot_zone", t.id
