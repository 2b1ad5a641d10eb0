"""Lines about gaps in full: which pair, and what it would be then."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any

from core.basis.refused import Refused
from core.clearance.rows import MEASURED
from core.clearance.standing import Done, pair_check
from core.entry.gaps import GapMeasured
from core.wiring.harness import WIRE
from server.aircraft.models import Aircraft
from server.clearance.reading import events_of, log_of, scene_of
from server.clearance.steps import pair_of, read_gap
from server.kit.models import Check
from server.wires.models import HarnessRow

BETWEEN = " – "


def pairs_of(aircraft: Aircraft) -> Iterable[tuple[str, str, str, str]]:
    """Near pairs that have a distance to keep, by name; a bundle is also called by its wires."""
    rows = Check.objects.filter(aircraft=aircraft, trade="clearance", key__contains="|")
    names = [what.split(BETWEEN) for what in rows.order_by("id").values_list("what", flat=True)]
    wires: dict[str, str] = {}
    for name, typed in HarnessRow.objects.filter(aircraft=aircraft, kind=WIRE).values_list(
        "name", "typed"
    ):
        for bundle in str(typed.get("bundles", "")).split(";"):
            low = bundle.strip().casefold()
            wires[low] = f"{wires.get(low, '')} {name}"
    for pair in names:
        if len(pair) == 2:
            a, b = pair
            also = [f"{x} {wires.get(x.casefold(), '')}" for x in pair]
            yield a, b, also[0], also[1]


def in_words(aircraft: Aircraft, said: GapMeasured) -> dict[str, Any]:
    """What the line does, where it goes, how it is taken back, and what the pair would be."""
    given = {"a": said.a, "b": said.b, "gap": said.gap, "u": said.u, "at": ""}
    scene = scene_of(aircraft)
    m = pair_of(scene, said.a, said.b)
    try:
        inputs = read_gap(given, aircraft) | {"digest": m.digest}
    except Refused as refusal:
        raise Refused("entry", refusal.reason) from None
    log = log_of(events_of(aircraft.pk)).get(m.key, [])
    now = Done(MEASURED, 0, inputs, "you", f"{datetime.now(UTC):%-d %B %Y}")
    would = pair_check(scene, m, [*log, now]) if m.near is not None else None
    sure = f" ± {said.u}" if said.u else ", not said how sure"
    body = {"doing": MEASURED, "mitigation": "", "reason": "", "note": ""} | given
    return {
        "said": f"{m.name}: {said.gap}{sure}",
        "path": "clearance/pairs",
        "body": body,
        "undo_path": "clearance/pairs/{}/undo",
        "would": would,
    }
