"""Which stocked bolt, and which washers, for the measured stack? (`hardware.choose_bolt`)"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations_with_replacement
from typing import Annotated

from core.basis.forms import ABSENT, FLAT
from core.basis.refused import Refused, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict
from core.hardware.bolt import Bolt, BoltCheck, Limits, Nut, bolt_check
from core.hardware.words import CHAPTER_7, LOOK

# More combinations than a stock of hardware has: beyond it the stock itself is mistyped.
MOST_TRIED = 400_000

Washers = tuple[float, ...]


@dataclass(frozen=True)
class Near:
    """A bolt that does not do, with its best washers and what fails."""

    bolt: str
    failing: tuple[str, ...]
    said: str


@dataclass(frozen=True)
class Choice:
    """The bolt and washers (thicknesses, m), or the nearest that fail."""

    fits: Annotated[bool, "Whether any bolt in stock does."]
    bolt: Annotated[str | None, "Its name.", ABSENT] = None
    head_washers_m: Annotated[Washers | None, "Under the head.", ABSENT] = None
    nut_washers_m: Annotated[Washers | None, "Under the nut.", ABSENT] = None
    check: Annotated[BoltCheck | None, FLAT] = None
    nearest: Annotated[
        tuple[Near, ...] | None, "If none: the nearest bolts and what fails.", ABSENT
    ] = None


@rule(
    "hardware.choose_bolt",
    title="Which bolt and washers",
    purpose="Which stocked bolt and which washers does this stack need?",
    source=CHAPTER_7,
    validity="Only what is in the catalogue entered.",
    caution=LOOK,
)
def choose_bolt(
    stack_m: Annotated[float, "Layers, bushings and spacers clamped."],
    bolts: Annotated[
        Sequence[Bolt],
        "The stock: name, grip_m, length_m, pitch_m; drilled with hole_from_head_m;"
        " grip_tol_m, length_tol_m.",
    ],
    nut: Annotated[
        Nut,
        "kind (self_locking, castellated, nutplate, plain), height_m; counterbore_m;"
        " slot_depth_m and pin_diameter_m of a castellated one; closed_depth_m of a closed"
        " nutplate.",
    ],
    washers_m: Annotated[Sequence[float], "Washer thicknesses in stock."],
    limits: Limits = Limits(),
) -> Choice:
    """The best stocked bolt and washers for this stack (m); `fits` false if none does.

    Tried: every bolt with 0 to `max_washers` washers of the thicknesses in stock (m), split
    in every way between head and nut, at least one under the turned part. In before too
    close, then fewest washers, then two threads past the nut, then the catalogue's order.
    Refuses an empty catalogue, and whatever `bolt_check` refuses. Source: AC 43.13-1B ch. 7.
    """
    if not bolts:
        raise Refused("bolts", "the catalogue is empty: enter the bolts in stock")
    stock = tuple(dict.fromkeys(positive(w, "washers_m") for w in washers_m))
    tried = list(_tries(stack_m, bolts, nut, stock, limits))
    good = [t for t in tried if t.check.verdict is not Verdict.OUT]
    if not good:
        return Choice(False, nearest=_nearest(bolts, tried))
    best = min(good, key=lambda t: t.rank)
    return Choice(True, bolts[best.order].name, best.head, best.under, best.check)


@dataclass(frozen=True)
class _Try:
    order: int
    head: Washers
    under: Washers
    check: BoltCheck
    turned: str

    @property
    def rank(self) -> tuple[object, ...]:
        away = self.head if self.turned == "nut" else self.under
        return (
            self.check.verdict is not Verdict.IN,
            len(self.head) + len(self.under),
            round(abs(self.check.protrusion_threads - 2.0), 6),
            len(away),
            self.order,
            self.head,
            self.under,
        )


def _tries(
    stack_m: float, bolts: Sequence[Bolt], nut: Nut, stock: Washers, limits: Limits
) -> Iterator[_Try]:
    splits = list(_splits(stock, nut, limits))
    if len(splits) * len(bolts) > MOST_TRIED:
        raise Refused("max_washers", "too many combinations: fewer washers or thicknesses")
    for order, bolt in enumerate(bolts):
        for head, under in splits:
            check = bolt_check(stack_m, bolt, nut, head, under, limits)
            yield _Try(order, head, under, check, limits.turned)


def _splits(stock: Washers, nut: Nut, limits: Limits) -> Iterator[tuple[Washers, Washers]]:
    """Every way to lay washers under head and nut; none under a nutplate."""
    ordered = tuple(sorted(stock))
    for on_head in range(limits.max_washers + 1):
        for on_nut in range(limits.max_washers + 1 - on_head):
            if nut.kind == "nutplate" and on_nut:
                continue
            if (on_nut if limits.turned == "nut" else on_head) < 1:
                continue
            for head in combinations_with_replacement(ordered, on_head):
                for under in combinations_with_replacement(ordered, on_nut):
                    yield head, under


def _nearest(bolts: Sequence[Bolt], tried: Sequence[_Try]) -> tuple[Near, ...]:
    """For each bolt its least bad try; the three that miss by least come first."""
    found: dict[int, tuple[tuple[int, float], Near]] = {}
    for t in tried:
        miss = sum(v is Verdict.OUT for v in t.check.checks.values())
        rank = (miss, _shortfall(t.check))
        if t.order not in found or rank < found[t.order][0]:
            found[t.order] = (rank, Near(bolts[t.order].name, t.check.failing, _said(t.check)))
    return tuple(near for _, near in sorted(found.values(), key=lambda f: f[0])[:3])


def _shortfall(c: BoltCheck) -> float:
    return (
        max(0.0, c.threads_in_bearing_m)
        + max(0.0, -c.bottom_margin_m)
        + max(0.0, 1.0 - c.protrusion_threads) * 1e-3
        + max(0.0, c.protrusion_threads - 3.0) * 1e-3
    )


def _said(c: BoltCheck) -> str:
    """What fails, in words a builder can act on."""
    parts = []
    if "bearing" in c.failing:
        parts.append(
            f"short by {c.threads_in_bearing_m * 1e3:.1f} mm of grip: a longer grip would do"
        )
    if "bottoming" in c.failing:
        parts.append(
            f"the nut would stop on the shank, {-c.bottom_margin_m * 1e3:.1f} mm too early"
        )
    if "protrusion" in c.failing:
        parts.append(f"{c.protrusion_threads:.1f} threads past the nut")
    if "cotter" in c.failing:
        parts.append("the pin does not meet the slot")
    if "washers" in c.failing:
        parts.append("too many washers, or none under the turned part")
    return "; ".join(parts)
