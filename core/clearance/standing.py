"""How a pair stands: by the drawing, by what was measured by hand, and what was accepted."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from core.basis.checks import Check
from core.basis.verdicts import Verdict
from core.clearance.apart import CONFIRM
from core.clearance.pairs import Looked, Met
from core.clearance.rows import ACCEPTED, MEASURED
from core.clearance.scene import Scene
from core.clearance.verdict import Judged, gap_verdict
from core.worksheets.kinds import known_to, said

GAP, STEP = "clearance.gap_verdict", "clearance"
DRAWN = "the ways and shapes as entered, at every position of their controls"
ENTERED = "entered for clearances"


@dataclass(frozen=True)
class Done:
    """Something done to a pair: accepted, or measured by hand."""

    doing: str
    nr: int
    inputs: Mapping[str, Any]
    by: str
    on: str


Log = Mapping[str, Sequence[Done]]


def mm(metres: float) -> str:
    """A distance, short."""
    return f"{metres * 1e3:.1f} mm".replace("-", "−")


def deg(angle: float) -> str:
    """An angle, short."""
    return f"{math.degrees(angle):.1f}°".replace("-", "−")


def where(scene: Scene, m: Met) -> str:
    """The position of everything that moves the pair, in words."""
    assert m.near is not None
    return ", ".join(scene.axes[name].words(q) for name, q in m.near.at.items())


def at_station(m: Met) -> str:
    """The place in words."""
    assert m.near is not None
    return f"station {m.near.on_a[0] * 1e3:.0f}"


def pair_checks(scene: Scene, found: Looked, log: Log) -> Iterable[Check]:
    """Each pair that has a distance to keep, that touches, or that could not be worked out."""
    for m in found.met:
        if m.near is None:
            if m.why:
                yield said(m.key, m.name, f"Not worked out: {m.why}.", Verdict.NOT_MEASURED,
                           step=STEP)  # fmt: skip
            continue
        if m.rule is None and m.judged.verdict != "touch" and not log.get(m.key):
            continue
        yield pair_check(scene, m, log.get(m.key, ()))


@dataclass(frozen=True)
class Stands:
    """A pair as drawn or as measured, whichever counts; what was accepted is not in it."""

    inputs: dict[str, Any]
    verdict: Verdict
    words: str
    may_be_accepted: bool
    measured_by: str = ""


def stands(scene: Scene, m: Met, log: Sequence[Done]) -> Stands:
    """By the drawing, or by the last thing measured where that is surer."""
    drawn = _modelled(scene, m)
    measured = next((d for d in reversed(log) if d.doing == MEASURED), None)
    return drawn if measured is None else _measured(m, measured, drawn)


def pair_check(scene: Scene, m: Met, log: Sequence[Done]) -> Check:
    """One pair, with what was measured and accepted of it."""
    assert m.near is not None
    now = stands(scene, m, log)
    verdict, words, state = now.verdict, now.words, ""
    accepted = next((d for d in reversed(log) if d.doing == ACCEPTED), None)
    if accepted is not None:
        same = accepted.inputs.get("digest") == m.digest
        same = same and accepted.inputs.get("least") == _least(m)
        if same and now.may_be_accepted:
            verdict, state = Verdict.ACCEPTED, "accepted"
            mitigation = accepted.inputs.get("mitigation", "")
            words += f" Accepted by {accepted.by} on {accepted.on}: {mitigation};"
            words += f" {accepted.inputs['reason']}."
        elif not same:
            words += " It was accepted, but something of it has changed since: look again."
    check = said(m.key, m.name, words, verdict, GAP, now.inputs, step=STEP, state=state,
                 quiet=verdict is Verdict.IN)  # fmt: skip
    origins = dict.fromkeys(now.inputs, DRAWN) | {"u": "how well both places are known"}
    if m.rule is not None:
        origins["rule"] = f"{m.rule.words}; {CONFIRM}"
    if m.motion_m:
        origins["relative_motion_m"] = ENTERED
    if now.measured_by:
        by = f"measured by {now.measured_by}"
        origins |= dict.fromkeys(("gap_low", "gap_best", "u"), by)
    return replace(check, at=m.place, origins={k: origins[k] for k in now.inputs})


def _least(m: Met) -> float | None:
    return m.rule.least_m if m.rule else None


def _modelled(scene: Scene, m: Met) -> Stands:
    assert m.near is not None
    judged = m.judged
    verdict = judged.judged
    position = where(scene, m)
    gap = m.near.gap_m - m.motion_m
    words = f"Touch: they overlap by {mm(-gap)} or more" if gap <= 0.0 else f"{mm(gap)} apart"
    words += f" at {at_station(m)}"
    words += f" with {position}" if position else ""
    if m.near.gap_m < m.near.bare_m - 5e-5:
        words += f" ({mm(m.near.bare_m)} without sag and flex)"
    if m.rule is not None:
        words += f"; at least {mm(m.rule.least_m)}"
    words += "."
    if verdict is Verdict.TOO_CLOSE:
        words += _doubt(m, judged)
    # What nobody said could bring them to touch: nothing is accepted over that.
    may = judged.may_be_accepted and not m.lacking
    if verdict is not Verdict.OUT:
        verdict, words = known_to(verdict, words, list(m.lacking))
    return Stands(m.asked(), verdict, words, may)


def _doubt(m: Met, judged: Judged) -> str:
    """What is in doubt, and what would settle it."""
    assert m.near is not None
    if judged.low <= 0.0:
        return f" It may touch: known to ± {mm((judged.high - judged.low) / 2.0)} only. Measure it."
    if m.rule is not None:
        room = abs(m.near.gap_m - m.motion_m - m.rule.least_m)
        return f" Too near the limit to tell: it must be known to ± {mm(room)} or better."
    return ""


# What a gap measured between the two settles by itself.
SETTLED = ("how well", "how thick")


def _measured(m: Met, done: Done, drawn: Stands) -> Stands:
    """What was measured overrules the drawing where it is the more certain."""
    assert m.near is not None
    gap, said_U = float(done.inputs["gap_m"]), done.inputs.get("U_m")
    U = float(said_U or 0.0)
    model_U = None if m.u_m is None else 2.0 * m.u_m
    sure = f"± {mm(U)}" if said_U is not None else "(not said how sure)"
    told = f" Measured {mm(gap)} {sure} by {done.by} on {done.on}"
    if done.inputs.get("at"):
        told += f", {done.inputs['at']}"
    disagree = model_U is not None and abs(gap - m.near.bare_m) > math.hypot(U, model_U)
    if done.inputs.get("digest") != m.digest:
        return replace(drawn, words=f"{drawn.words}{told}, before something of it changed.")
    if said_U is None or (model_U is not None and model_U <= U):
        words = f"{drawn.words}{told}, less sure than the model."
        if not disagree:
            return replace(drawn, words=words)
        words = f"{drawn.words}{told}: that and the model disagree. Find out why."
        return replace(drawn, words=words, verdict=_never_in(drawn.verdict))
    # What it gives beside its middle line still counts: it was measured at rest.
    net = gap - (m.near.bare_m - m.near.gap_m)
    asked = drawn.inputs | {"gap_low": net, "gap_best": net, "u": U / 2.0}
    judged = gap_verdict(**asked)
    verdict = judged.judged
    words = f"{told.strip()}; it counts before the model ({drawn.words.rstrip('.')})."
    if m.rule is None and verdict is not Verdict.OUT:
        words += " No distance is entered for it."
    missing = [x for x in m.lacking if not x.startswith(SETTLED)]
    if verdict is not Verdict.OUT:
        verdict, words = known_to(verdict, words, missing)
    if disagree:
        words += " That and the model disagree: find out why."
        verdict = _never_in(verdict)
    may = judged.may_be_accepted and not missing
    return Stands(asked, verdict, words, may, done.by)


def _never_in(verdict: Verdict) -> Verdict:
    return Verdict.TOO_CLOSE if verdict is Verdict.IN else verdict
