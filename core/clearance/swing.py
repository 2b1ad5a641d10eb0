"""What a thing may be beside its middle line: pushed, slack, taut, sagging, by measurement."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise
from typing import Any

import numpy as np

from core.basis.refused import Refused
from core.clearance.allowance import beam_sag, segment_allowances, slack_reach, taut_push
from core.clearance.distance import Array

# What each way of working it out needs besides spans, and where the form asks it.
TAUT = (("tension_N", "tension"),)
BEAM = (("E_Pa", "E"), ("inner_m", "inner"), ("weight_N_m", "weight"))


def added(v: Mapping[str, Any], line: Array, supports: Sequence[float], thick_m: float) -> Array:
    """Of each straight of a line, m; the greatest of its spans. Refuses by the form's field."""
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    long = float(along[-1])
    held = sorted({0.0, long, *(s for s in supports if 0.0 < s < long)})
    spans = list(pairwise(held))
    total = np.zeros(len(line) - 1)
    for (a, b), more in zip(spans, (_of_span(v, b - a, thick_m) for a, b in spans), strict=True):
        within = (along[:-1] < b - 1e-12) & (along[1:] > a + 1e-12)
        total[within] = np.maximum(total[within], more)
    if "table" in v:
        rows = [[r["span_m"], r["sways_m"]] for r in v["table"]]
        try:
            total += np.array(segment_allowances(line.tolist(), held[1:-1], rows))
        except Refused as refusal:
            raise Refused("swings", f"{refusal.field} {refusal.reason}") from None
    return total + v.get("push_m", 0.0) + v.get("fixed_m", 0.0)


def _of_span(v: Mapping[str, Any], span: float, thick_m: float) -> float:
    found = 0.0
    if "slack_m" in v:
        found += slack_reach(span, span + v["slack_m"], span / 2.0)
    if "tension_N" in v:
        found += _field(
            lambda: taut_push(
                span, v["tension_N"], v.get("force_N", 0.0), v.get("weight_N_m", 0.0),
                v.get("load_factor", 1.0),
            ),
            "tension",
        )  # fmt: skip
    if "E_Pa" in v:
        for name, key in BEAM:
            if name not in v:
                raise Refused(key, "is needed to work out how far a tube sags")
        found += _field(
            lambda: beam_sag(span, v["weight_N_m"], v["E_Pa"], thick_m, v["inner_m"],
                             v.get("load_factor", 1.0)),
            "E",
        )  # fmt: skip
    return found


def _field(work: Any, key: str) -> float:
    try:
        return float(work())
    except Refused as refusal:
        raise Refused(key, f"{refusal.field} {refusal.reason}") from None
