"""How sure a gap is, and what is said of it (`clearance.gap_uncertainty`, `gap_verdict`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Named, Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict
from core.clearance.words import CAUTION

TOUCH, CLEAR, CLOSE = "touch", "clear", "close"
EVEN_M = 1e-12


@rule(
    "clearance.gap_uncertainty",
    title="How sure a gap is",
    purpose="How sure is a gap, from how well its points are known?",
    source="JCGM 100: each end’s share at the place of the least distance.",
    validity="Points measured from one mark share errors: then it is cautious.",
    caution=CAUTION,
)
def gap_uncertainty(
    u_a: Annotated[Sequence[float], "Standard uncertainty of both ends of a, m."],
    s: Annotated[float, "Share along a where it is nearest."],
    u_b: Annotated[Sequence[float], "Of both ends of b, m."],
    t: Annotated[float, "Share along b."],
    u_ra: Annotated[float, "Of the radius of a.", Unit("m")] = 0.0,
    u_rb: Annotated[float, "Of the radius of b.", Unit("m")] = 0.0,
) -> Annotated[float, "Standard uncertainty of the gap.", Named("value"), Unit("m")]:
    """Standard uncertainty, m. Refuses other than two ends, shares outside 0 to 1."""
    parts = []
    for name, ends, share, at in (("u_a", u_a, s, "s"), ("u_b", u_b, t, "t")):
        if len(ends) != 2:
            raise Refused(name, "needs one for each end")
        near, far = (not_negative(u, name) for u in ends)
        if not 0.0 <= finite(share, at) <= 1.0:
            raise Refused(at, "must lie within 0 and 1")
        parts += [(1.0 - share) * near, share * far]
    return math.hypot(*parts, not_negative(u_ra, "u_ra"), not_negative(u_rb, "u_rb"))


@dataclass(frozen=True)
class Judged:
    """What is said of a gap."""

    verdict: Annotated[str, "touch, clear, close or not measured."]
    sure: Annotated[bool, "Whether more certainty could not change it."]
    low: Annotated[float, "The gap at least.", Unit("m")]
    high: Annotated[float, "And at most.", Unit("m")]
    judged: Annotated[Verdict, "In the product’s words."]
    may_be_accepted: Annotated[bool, "Close and sure only."]


@rule(
    "clearance.gap_verdict",
    title="Is it far enough away?",
    purpose="Does a gap keep its distance, whatever its uncertainty?",
    source="Guarded acceptance after JCGM 106; 14 CFR 23.685 and 23.689 (old amendments) for what"
    " flexes. Distances: AC 43.13-1B ch. 11, FAA-H-8083-31, or your own.",
    validity="gap_low is a certified bound, gap_best was attained.",
    caution=CAUTION,
)
def gap_verdict(
    gap_low: Annotated[float, "Certified: never below.", Unit("m")],
    gap_best: Annotated[float, "Attained.", Unit("m")],
    u: Annotated[float, "Standard uncertainty.", Unit("m")],
    rule: Annotated[float | None, "Least distance; null: there is no rule.", Unit("m")] = None,
    k: Annotated[float, "Coverage factor."] = 2.0,
    relative_motion_m: Annotated[float, "What flexing may take from the gap."] = 0.0,
    estimated: Annotated[bool, "Whether the speed bound is only estimated."] = False,
) -> Judged:
    """Touch, clear or close, and whether that is sure. Refuses a bound above what was attained
    (`gap_low`), and negative u, rule and relative_motion_m."""
    finite(gap_low, "gap_low")
    if gap_low > finite(gap_best, "gap_best"):
        raise Refused("gap_low", "is above what was attained")
    U = positive(k, "k") * not_negative(u, "u")
    least = None if rule is None else not_negative(rule, "rule")
    flex = not_negative(relative_motion_m, "relative_motion_m")
    low, high = gap_low - flex - U, gap_best - flex + U
    if gap_best - flex <= 0.0:
        return Judged(TOUCH, high <= 0.0, low, high, Verdict.OUT, False)
    if least is None:
        return Judged("not measured", False, low, high, Verdict.NOT_MEASURED, False)
    if low >= least - EVEN_M and low > 0.0:
        verdict = Verdict.TOO_CLOSE if estimated else Verdict.IN
        return Judged(CLEAR, not estimated, low, high, verdict, False)
    sure = low > 0.0 and high < least and not estimated
    verdict = Verdict.OUT if sure else Verdict.TOO_CLOSE
    return Judged(CLOSE, sure, low, high, verdict, sure)
