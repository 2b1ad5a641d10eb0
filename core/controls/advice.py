"""What to do next, in plain words, from a judged travel. Angles in degrees on the screen."""

from __future__ import annotations

import math
from dataclasses import dataclass

from core.basis.surer import rounded_down, would_settle
from core.basis.verdicts import Verdict
from core.controls.travel import Missing, Travel
from core.controls.travel_checks import SPREAD, STEPS, Check
from core.controls.verdict import Judged

WRONG_WAY = -math.radians(1.0)


def degrees(value: float, decimals: int = 1) -> str:
    """An angle, rad, as text in degrees."""
    text = f"{math.degrees(value):.{decimals}f}"
    return (text.lstrip("-") if float(text) == 0.0 else text) + "°"


def asked(lo: float | None, hi: float | None) -> str:
    """A required range, rad, as text."""
    if lo is None:
        return f"at most {degrees(hi or 0.0)}"
    if hi is None:
        return f"at least {degrees(lo)}"
    return f"{degrees(lo)} to {degrees(hi)}"


@dataclass(frozen=True)
class Better:
    """The best instrument at hand, and what U would be had all been read with it, rad."""

    name: str
    U: float


def next_step(
    travel: Travel,
    lo: float | None,
    hi: float | None,
    reading_unit: str = "°",
    better: Better | None = None,
) -> list[str]:
    """Sentences that say what to do next, most important first.

    `reading_unit`: "°" (readings in rad) or "mm" (readings in m) of the governing set.
    """
    if travel.governing is None:
        reasons = [m.reason for m in travel.sets if isinstance(m, Missing)]
        return [f"{r}." for r in dict.fromkeys(reasons)] or ["Measure it."]
    judged = travel.sets[travel.governing]
    assert isinstance(judged, Judged)
    said = []
    if judged.y < WRONG_WAY and (lo or 0.0) >= 0.0:
        said.append(
            "The surface moved the wrong way. Check the sense of the gauge; if that is right,"
            " the control is reversed: do not fly."
        )
    if travel.disagree:
        said.append(
            "Two ways of measuring differ by more than their uncertainties: one of them is"
            " wrong. Measure again."
        )
    if judged.verdict is Verdict.OUT:
        said.append(_out(judged, lo, hi))
    if judged.verdict is Verdict.TOO_CLOSE:
        said.extend(_too_close(judged, reading_unit, better))
    if judged.verdict is Verdict.IN and not travel.disagree:
        said.append(f"Inside by {degrees(judged.margin)}. Nothing to do here.")
    said.extend(_about_readings(judged))
    return said


def _out(judged: Judged, lo: float | None, hi: float | None) -> str:
    short = lo is not None and judged.y < lo
    amount = degrees(abs(judged.margin))
    if short:
        return f"{amount} short of the low limit. Adjust, then measure all again."
    return f"{amount} over the high limit. Adjust, then measure all again."


def _too_close(judged: Judged, unit: str, better: Better | None) -> list[str]:
    advice = judged.advice
    assert advice is not None
    scale = 1e3 if unit == "mm" else math.degrees(1.0)
    said = []
    if advice.repeats_total is not None:
        more = advice.repeats_total - judged.n
        times = "once" if more == 1 else f"{more} times"
        said.append(f"Measure {times} more with this instrument ({advice.repeats_total} in all).")
    if advice.accuracy_needed is not None:
        said.append(
            f"{'Or use' if said else 'Use'} an instrument good to"
            f" ±{rounded_down(advice.accuracy_needed * scale)} {unit}".replace(" °", "°")
            + "."
        )
    if said:
        return said
    if better is not None and better.U < 0.75 * judged.combined.U:
        return [
            f"Measure neutral and here with the {better.name.lower()}: U would be about"
            f" ±{degrees(better.U)} instead of ±{degrees(judged.combined.U)}."
        ]
    if advice.settles == "both":
        return ["Take ten readings with the best instrument at hand."]
    if judged.n < 4:
        return ["Take four readings: with fewer the spread is hardly known."]
    return [
        "The value is at the limit; no measuring will settle it: adjust the control so that"
        f" it lies inside by more than {degrees(judged.combined.U)}.",
    ]


def to_settle(check: Check) -> str:
    """What would settle a check across readings that is too close to call; angles in rad."""
    found = would_settle(check.margin * 2.0 / check.k, check.parts)
    now = {p.name: p.u for p in check.parts}
    if found is None:
        return "It lies at the limit; no measuring will settle it: adjust, then measure all again."
    if {*found.names} <= {STEPS, SPREAD}:
        return " ".join(_of_repeats(name, U) for name, U in zip(found.names, found.U, strict=True))
    better = " and ".join(
        f"{name} to ±{rounded_down(math.degrees(U))}° (now ±{degrees(2.0 * now[name], 2)})"
        for name, U in zip(found.names, found.U, strict=True)
    )
    likely = "It reads outside: adjust it, or be sure first. " if check.margin < 0.0 else ""
    return f"{likely}What would settle it: measure {better}. Its own row says how."


def _of_repeats(name: str, U: float) -> str:
    if name == STEPS:
        # Its own unit is a step's length, not an uncertainty: the expanded one is twice that.
        step = rounded_down(math.degrees(U / 2.0))
        return f"A gauge that shows steps of {step}° or less would settle it."
    return "Read neutral more often from both sides."


def _about_readings(judged: Judged) -> list[str]:
    said = []
    if judged.single:
        said.append("One reading: spread not known.")
    if judged.spread_flag:
        said.append(
            "The readings spread more than the instrument explains: look for play, or seat the"
            " gauge again."
        )
    if judged.can_never_be_in:
        said.append(
            "The required range is narrower than twice the uncertainty: this way of measuring"
            " can never show it in."
        )
    return said
