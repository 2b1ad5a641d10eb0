"""Lines about wires in full: what they do, and what a test would be judged as."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from core.basis.checks import Check
from core.basis.verdicts import Verdict
from core.entry.wires import WireDone
from core.wiring.harness import STEP_WORDS, WIRE
from core.wiring.harness_checks import continuity_judged
from server.aircraft.models import Aircraft
from server.wires.models import HarnessRow, WireEvent
from server.wires.reading import harness_of
from server.wires.steps import FIELDS, inputs_of, worked


def wires_of(aircraft: Aircraft) -> Iterable[tuple[str, str]]:
    """Slug and name of each wire."""
    rows = HarnessRow.objects.filter(aircraft=aircraft, kind=WIRE)
    yield from rows.values_list("slug", "name")


def ends_of(aircraft: Aircraft) -> Iterable[tuple[str, str, str]]:
    """Connector and pin, wire and its end, of every end that goes somewhere."""
    for slug, typed in HarnessRow.objects.filter(aircraft=aircraft, kind=WIRE).values_list(
        "slug", "typed"
    ):
        for key, end in (("from", "a"), ("to", "b")):
            if typed.get(key):
                yield str(typed[key]), slug, end


def in_words(aircraft: Aircraft, said: WireDone) -> dict[str, Any]:
    """What the line does, where it goes and how it is taken back. A test is read with the meter
    of the last one: its leads, contacts and uncertainty stay."""
    wire = HarnessRow.objects.get(aircraft=aircraft, slug=said.wire)
    wire.aircraft = aircraft
    given = dict.fromkeys((*FIELDS, "note"), "")
    would = None
    if said.doing == "tested":
        last = WireEvent.objects.filter(aircraft=aircraft, doing="tested").order_by("-id").first()
        kept = last.typed if last else {}
        given |= {k: kept.get(k, "") for k in ("u", "leads", "contacts")}
        given["measured"] = said.value
        asked = given | {"doing": said.doing, "breaker": "", "over": False}
        inputs = inputs_of(wire, harness_of(aircraft), asked)
        verdict, words = continuity_judged(inputs, worked(inputs))
        would = Check("test", "continuity", words, Verdict(verdict), step="test")
    at = f"harness/rows/{wire.slug}/steps"
    return {
        "said": f"{wire.name}: {STEP_WORDS[said.doing]}",
        "path": at,
        "body": given | {"doing": said.doing},
        "undo_path": f"{at}/{{}}/undo",
        "would": would,
    }
