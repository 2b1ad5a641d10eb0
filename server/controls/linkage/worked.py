"""Who turned what of a control's linkage, and who worked on its joints."""

from __future__ import annotations

from collections.abc import Iterable

from server.controls.linkage.models import Adjustment
from server.controls.models import Control
from server.controls.scopes import Worked, also_worked
from server.hardware.models import JointEvent


@also_worked
def turned(control: Control) -> Iterable[Worked]:
    """Half-turns that were made."""
    rows = Adjustment.objects.filter(mechanism__control=control)
    yield from rows.values_list("by__slug", "at")


@also_worked
def secured(control: Control) -> Iterable[Worked]:
    """What was torqued, pinned or loosened on the control's joints."""
    rows = JointEvent.objects.filter(joint__aircraft=control.aircraft_id)
    yield from rows.filter(joint__control=control.slug).values_list("by__slug", "at")
