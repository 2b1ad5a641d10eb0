"""What the turns between the last two measurements showed of a loop's compliance."""

from __future__ import annotations

import math
from datetime import datetime

from core.basis.refused import Refused
from core.cables.done import SAME_K, Done, Read, best
from core.cables.lever import SIDES
from core.cables.rigging import Rigged
from core.cables.turnbuckle import Learnt, learn_compliance


def learnt_from(rigged: Rigged, done: Done) -> Learnt | None:
    """The loop's compliance from readings before and after the last turns; None if they do not
    show it: a side not measured, another temperature, too small a change."""
    now = {s: best(done.current(s)) for s in SIDES}
    turned = done.did("turned")
    if not turned or not all(now.values()):
        return None
    before = {s: _before(done, s, turned[-1].at) for s in SIDES}
    was = [r for r in before.values() if r]
    present = [r for r in now.values() if r]
    if len(was) < 2:
        return None
    known = [r.temperature_K for r in (*was, *present) if r.temperature_K]
    if len(known) < 4 or max(known) - min(known) > SAME_K:
        return None
    since = max(r.at for r in was)
    turns = {s: sum(e.data["turns"] for e in turned if e.side == s and e.at > since) for s in SIDES}
    travel = {
        s: t.travel_per_turn_m if (t := rigged.rigging.cables[s].turnbuckle) else None
        for s in SIDES
    }
    u = max(r.u for r in (*was, *present)) / math.sqrt(2.0)
    try:
        return learn_compliance(
            turns["A"],
            turns["B"],
            travel["A"],
            travel["B"],
            sum(r.value for r in was) / 2.0,
            sum(r.value for r in present) / 2.0,
            u,
        )
    except Refused:
        return None


def _before(done: Done, side: str, turned: datetime) -> Read | None:
    rows = [r for r in done.readings if r.side == side and r.at < turned]
    return rows[-1] if rows else None
