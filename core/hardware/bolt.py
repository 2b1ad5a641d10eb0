"""Is this bolt long enough, and not too long? (`hardware.bolt_check`)

Counted from the head's bearing face: head washers, layers, nut washers, nut. The shank
must carry the layers, the nut must stop on the layers and not on the incomplete threads,
and threads must show past the nut. Source: AC 43.13-1B ch. 7.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Annotated

from core.basis.forms import ABSENT, OneOf
from core.basis.refused import Refused, choice, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict, worst
from core.hardware.words import CHAPTER_7, LOOK

NUTS = ("self_locking", "castellated", "nutplate", "plain")
SLACK = 1e-9
# Incomplete threads between shank and full thread: this product's assumption, on the safe
# side; the part's own run-out replaces it.
RUNOUT_THREADS = 2.0
_ORDER = (Verdict.OUT, Verdict.TOO_CLOSE, Verdict.IN)


@dataclass(frozen=True)
class Bolt:
    """A bolt of the user's catalogue: unthreaded grip, length to the tip, pitch, all m."""

    grip_m: float
    length_m: float
    pitch_m: float
    name: str = ""
    grip_tol_m: float = 0.0
    length_tol_m: float = 0.0
    drilled: bool = False
    hole_from_head_m: float | None = None


@dataclass(frozen=True)
class Nut:
    """A nut: height, and what its kind needs beside it, all m."""

    kind: str
    height_m: float
    counterbore_m: float = 0.0
    slot_depth_m: float | None = None
    pin_diameter_m: float | None = None
    closed_depth_m: float | None = None


@dataclass(frozen=True)
class Limits:
    """What is allowed: `max_washers` in all, threads past the nut, threads in bearing, m."""

    stack_tol_m: Annotated[float, "± tolerance of the stack."] = 0.0
    max_washers: Annotated[int, "Most washers in all (default 3)."] = 3
    threads_in_bearing_max_m: Annotated[float, "Thread allowed in the layers (default none)."] = 0.0
    runout_threads: Annotated[float, "Incomplete threads after the shank (assumed 2)."] = (
        RUNOUT_THREADS
    )
    protrude_min: Annotated[float, "Least threads past the nut (default 1)."] = 1.0
    protrude_max: Annotated[float, "Most threads past the nut (default 3)."] = 3.0
    turned: Annotated[str, "Which part is turned.", OneOf(("nut", "head"))] = "nut"


@dataclass(frozen=True)
class BoltCheck:
    """The three lengths, the verdict of each check, and the worst of them."""

    threads_in_bearing_m: Annotated[float, "Thread inside the layers; negative: shank stands out."]
    bottom_margin_m: Annotated[float, "From the nut's face to the incomplete threads."]
    protrusion_threads: Annotated[float, "Threads past the nut."]
    checks: Annotated[dict[str, Verdict], "The verdict of each check."]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]
    hole_below_top_m: Annotated[float | None, "Cotter hole below the nut's top.", ABSENT] = None
    failing: Annotated[tuple[str, ...], "Checks that are not in."] = field(default=())


@rule(
    "hardware.bolt_check",
    title="Bolt grip and protrusion",
    purpose="Is this bolt long enough for the stack, and not too long?",
    source=f"{CHAPTER_7} Grip equal to the material, washers to adjust; one to three threads "
    "past a self-locking nut is practice; two threads of run-out is this product's "
    "assumption.",
    validity="Lengths of the parts themselves, measured or from the part maker; no dash numbers.",
    caution=LOOK,
)
def bolt_check(
    stack_m: Annotated[float, "Layers, bushings and spacers clamped."],
    bolt: Annotated[
        Bolt, "grip_m, length_m, pitch_m; drilled with hole_from_head_m; grip_tol_m, length_tol_m."
    ],
    nut: Annotated[
        Nut,
        "kind (self_locking, castellated, nutplate, plain), height_m; counterbore_m;"
        " slot_depth_m and pin_diameter_m of a castellated one; closed_depth_m of a closed"
        " nutplate.",
    ],
    head_washers_m: Annotated[Sequence[float], "Thicknesses under the head."] = (),
    nut_washers_m: Annotated[Sequence[float], "Thicknesses under the nut."] = (),
    limits: Limits = Limits(),
) -> BoltCheck:
    """Does this bolt with these washers clamp this stack and show enough thread?

    stack_m: sum of layers, bushings and spacers that are clamped, m; washers: thicknesses,
    m. Every check holds at all combinations of the ± tolerances. Refuses a length not
    greater than the grip, a washer under a nutplate, a nutplate that is turned, a slot
    shallower than its pin. Source: AC 43.13-1B ch. 7.
    """
    _refuse(stack_m, bolt, nut, head_washers_m, nut_washers_m, limits)
    head, under = math.fsum(head_washers_m), math.fsum(nut_washers_m)
    pitch = bolt.pitch_m
    bearing = head + stack_m - bolt.grip_m
    bottom = bearing + under + nut.counterbore_m - limits.runout_threads * pitch
    top = head + stack_m + under + nut.height_m
    protrusion = (bolt.length_m - top) / pitch
    loose = limits.stack_tol_m + bolt.grip_tol_m
    low, high = _protrusion_limits(bolt, nut, limits)
    checks = {
        "bearing": _hard(bearing, loose, None, limits.threads_in_bearing_max_m),
        "bottoming": _hard(bottom, loose, 0.0, None),
        "washers": _washers(head_washers_m, nut_washers_m, nut, limits),
        "protrusion": _hard(
            protrusion, (limits.stack_tol_m + bolt.length_tol_m) / pitch, low, high
        ),
    }
    below = None
    if nut.kind == "castellated":
        below, checks["cotter"] = _cotter(top, bolt, nut, limits.stack_tol_m)
    return BoltCheck(
        bearing,
        bottom,
        protrusion,
        checks,
        worst(checks.values()),
        below,
        tuple(name for name, v in checks.items() if v is not Verdict.IN),
    )


def _hard(value: float, tol: float, lo: float | None, hi: float | None) -> Verdict:
    """All values within ± tol against hard limits: in if all are, out if none is."""
    least, most = value - tol, value + tol
    low = -math.inf if lo is None else lo
    high = math.inf if hi is None else hi
    if least >= low - SLACK and most <= high + SLACK:
        return Verdict.IN
    if most < low - SLACK or least > high + SLACK:
        return Verdict.OUT
    return Verdict.TOO_CLOSE


def _protrusion_limits(bolt: Bolt, nut: Nut, limits: Limits) -> tuple[float, float | None]:
    if nut.kind == "castellated":
        return 0.0, None
    if nut.kind == "nutplate":
        closed = nut.closed_depth_m
        return 1.0, None if closed is None else closed / bolt.pitch_m
    return limits.protrude_min, limits.protrude_max


def _washers(head: Sequence[float], under: Sequence[float], nut: Nut, limits: Limits) -> Verdict:
    turned = head if limits.turned == "head" else under
    fine = len(head) + len(under) <= limits.max_washers and len(turned) >= 1
    return Verdict.IN if fine else Verdict.OUT


def _cotter(top: float, bolt: Bolt, nut: Nut, tol: float) -> tuple[float | None, Verdict]:
    """How far the hole lies below the nut's top, and whether the pin fits the slot."""
    if not bolt.drilled:
        return None, Verdict.OUT
    assert bolt.hole_from_head_m is not None
    assert nut.slot_depth_m is not None and nut.pin_diameter_m is not None
    below = top - bolt.hole_from_head_m
    half = nut.pin_diameter_m / 2.0
    return below, _hard(below, tol, half, nut.slot_depth_m - half)


def _refuse(
    stack_m: float,
    bolt: Bolt,
    nut: Nut,
    head: Sequence[float],
    under: Sequence[float],
    limits: Limits,
) -> None:
    positive(stack_m, "stack_m")
    for name in ("grip_m", "length_m", "pitch_m"):
        positive(getattr(bolt, name), f"bolt.{name}")
    for name in ("grip_tol_m", "length_tol_m"):
        not_negative(getattr(bolt, name), f"bolt.{name}")
    if bolt.length_m <= bolt.grip_m:
        raise Refused("bolt.length_m", f"{bolt.name or 'it'} must be greater than the grip")
    choice(nut.kind, NUTS, "nut.kind")
    positive(nut.height_m, "nut.height_m")
    not_negative(nut.counterbore_m, "nut.counterbore_m")
    for t in head:
        positive(t, "head_washers_m")
    for t in under:
        positive(t, "nut_washers_m")
    for name in ("stack_tol_m", "threads_in_bearing_max_m", "runout_threads"):
        not_negative(getattr(limits, name), name)
    if finite(limits.protrude_min, "protrude_min") > finite(limits.protrude_max, "protrude_max"):
        raise Refused("protrude_min", "is above protrude_max")
    if limits.max_washers < 0:
        raise Refused("max_washers", "must not be negative")
    choice(limits.turned, ("nut", "head"), "turned")
    if nut.kind == "nutplate":
        _refuse_nutplate(nut, under, limits)
    if nut.kind == "castellated":
        _refuse_castellated(bolt, nut)


def _refuse_nutplate(nut: Nut, under: Sequence[float], limits: Limits) -> None:
    if under:
        raise Refused("nut_washers_m", "a nutplate lies on the last layer; no washer fits under it")
    if limits.turned == "nut":
        raise Refused("turned", "a nutplate cannot be turned: the head is")
    if nut.closed_depth_m is not None:
        positive(nut.closed_depth_m, "nut.closed_depth_m")


def _refuse_castellated(bolt: Bolt, nut: Nut) -> None:
    if nut.slot_depth_m is None or nut.pin_diameter_m is None:
        field_name = "slot_depth_m" if nut.slot_depth_m is None else "pin_diameter_m"
        raise Refused(f"nut.{field_name}", "is needed for a castellated nut")
    positive(nut.slot_depth_m, "nut.slot_depth_m")
    positive(nut.pin_diameter_m, "nut.pin_diameter_m")
    if nut.slot_depth_m < nut.pin_diameter_m:
        raise Refused("nut.slot_depth_m", "the slot is shallower than the pin")
    if bolt.drilled:
        if bolt.hole_from_head_m is None:
            raise Refused("bolt.hole_from_head_m", "is needed for a drilled bolt")
        positive(bolt.hole_from_head_m, "bolt.hole_from_head_m")
