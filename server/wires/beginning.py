"""Worksheets of wires begun from the harness."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from core.wiring.harness_sheets import BEGUN, begun
from server.aircraft.models import Aircraft
from server.wires.reading import harness_of
from server.worksheets.starting import starts


@starts("wires", "the harness as entered")
def of_the_harness(aircraft: int, kinds: list[str]) -> Mapping[str, Mapping[str, Any]]:
    """What each kind takes from it."""
    h = harness_of(Aircraft.objects.get(pk=aircraft))
    return {kind: begun(h, kind) for kind in kinds if kind in BEGUN}
