"""Whether a line was tested for leaks since it was last opened, in words."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from core.basis.checks import Check
from core.basis.verdicts import Verdict, verdict_of

# What flows in it must not get out, or air must not get in.
TESTED = ("fuel", "oil", "brake", "pitot", "static", "vacuum")
STD_ML_MIN = 60e6
# How well each reading is known: a test without one of them is no answer in favour of the line.
KNOWN = {
    "u_gauge_Pa": "the gauge",
    "u_temp_K": "the thermometer",
    "u_baro_Pa": "the barometer",
    "u_volume_rel": "the air space",
}


@dataclass(frozen=True)
class Done:
    """One thing done to a line that holds: `leak test` with its rule, or `opened`.

    source: where the test pressure and the allowed leak stand.
    """

    doing: str
    on: str
    by: str
    inputs: Mapping[str, Any] = field(default_factory=dict)
    result: Mapping[str, Any] = field(default_factory=dict)
    source: str = ""


def leak_check(service: str, done: Sequence[Done]) -> Check | None:
    """The last test since the line was opened; none asked of a line that holds nothing."""
    if service not in TESTED and not done:
        return None
    tests = [n for n, d in enumerate(done) if d.doing == "leak test"]
    if not tests:
        return _check("Not tested for leaks.", Verdict.NOT_MEASURED, {})
    last = done[tests[-1]]
    opened = [d for d in done[tests[-1] + 1 :] if d.doing == "opened"]
    if opened:
        said = f"Opened on {opened[-1].on} after its test: test it again."
        return _check(said, Verdict.STALE, last.inputs, last.source)
    verdict = judged(last.result, last.inputs)
    said = f"{told(last.result, last.inputs)} Tested on {last.on} by {last.by}."
    return _check(said, verdict, last.inputs, last.source)


def unsaid(inputs: Mapping[str, Any]) -> str:
    """What nobody said how well it is known, in words; empty where all is said."""
    return ", ".join(word for name, word in KNOWN.items() if name not in inputs)


def judged(result: Mapping[str, Any], inputs: Mapping[str, Any]) -> Verdict:
    """The rule's verdict; not measured where nobody said how well the readings are known."""
    return Verdict.NOT_MEASURED if unsaid(inputs) else verdict_of(str(result["verdict"]))


def told(result: Mapping[str, Any], inputs: Mapping[str, Any]) -> str:
    """What a test showed, in words."""
    leak, U = result["leak_std_m3_s"] * STD_ML_MIN, result["U_std_m3_s"] * STD_ML_MIN
    allowed = inputs.get("allowed_std_m3_s")
    n = _digits(U)
    leak_said = round(leak, n) + 0.0  # Never a zero below zero.
    said = f"Leaks {leak_said:.{n}f} ± {U:.{n}f} ml of air a minute".replace("-", "−")
    if allowed is None:
        return f"{said}; what is allowed is not said."
    if leak < -U:
        return f"{said}: air had not settled, test again."
    if missing := unsaid(inputs):
        return f"{said}; not said how well these are known: {missing}."
    return f"{said}; allowed {allowed * STD_ML_MIN:.{n}f}."


def _digits(U: float) -> int:
    """Decimals that show two digits of an uncertainty; at least two, at most six."""
    return 2 if U <= 0.0 else min(6, max(2, 1 - math.floor(math.log10(U))))


def origins(inputs: Mapping[str, Any], source: str) -> dict[str, str]:
    """Where each input of a test comes from, in words."""
    limits = dict.fromkeys(("max_test_Pa", "allowed_std_m3_s"), source)
    return {k: limits.get(k) or "typed with the test" for k in inputs}


def _check(said: str, verdict: Verdict, inputs: Mapping[str, Any], source: str = "") -> Check:
    return Check(
        key="leak",
        what="leak test",
        said=said,
        verdict=verdict,
        step="test",
        rule="lines.leak_decay" if inputs else "",
        inputs=dict(inputs),
        origins=origins(inputs, source),
        part="leak",
    )
