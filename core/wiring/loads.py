"""What the bus carries phase by phase (`wiring.load_analysis`)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.wiring.tables import EVEN
from core.wiring.words import CAUTION, CHAPTER_11


@dataclass(frozen=True)
class Phase:
    """A phase of flight."""

    name: Annotated[str, "Its name."]
    duration_s: Annotated[float, "How long."]
    alternator_factor: Annotated[float, "Of its rated output at this speed, 0 to 1."] = 1.0
    charge_A: Annotated[float, "Recharging the battery."] = 0.0


@dataclass(frozen=True)
class Load:
    """Something electric."""

    name: Annotated[str, "Its name."]
    duty: Annotated[dict[str, float], "Phase: share of its time on, 0 to 1."]
    current_A: Annotated[float | None, "What it draws, or its power."] = None
    power_W: Annotated[float | None, "At the bus voltage."] = None


@dataclass(frozen=True)
class PhaseLoad:
    """A phase's load, A."""

    phase: Annotated[str, "Which."]
    average_A: Annotated[float, "With charging."]
    peak_A: Annotated[float, "Everything that is on at some time in it; without charging."]
    allowed_A: Annotated[float, "Usable share of what there is."]
    margin_A: Annotated[float, "Allowed less average."]
    battery_Ah: Annotated[float, "What the battery gives."]
    verdict: Annotated[Verdict | None, "Null where the alternator gives nothing."]


@dataclass(frozen=True)
class Analysis:
    """All phases."""

    phases: Annotated[tuple[PhaseLoad, ...], "In their order."]
    governing: Annotated[str | None, "Fed phase of least margin."]
    least_margin_A: Annotated[float | None, "Its margin."]


@rule(
    "wiring.load_analysis",
    title="Electrical loads by phase",
    purpose="What does the bus carry in each phase of flight, against what there is?",
    source=f"{CHAPTER_11} Continuous load at most 80 % of the rated output.",
    validity="Averages of what is on; peaks are helped by the battery. Where the alternator gives"
    " nothing, judge by endurance.",
    caution=CAUTION,
)
def load_analysis(
    phases: Annotated[tuple[Phase, ...], "In their order."],
    loads: Annotated[tuple[Load, ...], "All that is on the bus."],
    alternator_A: Annotated[float, "Rated output."],
    bus_V: Annotated[float | None, "For loads given in W."] = None,
    usable_fraction: Annotated[float, "Of the output, above 0 to 1."] = 0.8,
) -> Analysis:
    """Refuses phases that last nothing, duties for phases that there are not, and charging
    without an alternator."""
    rated = positive(alternator_A, "alternator_A")
    if not 0.0 < finite(usable_fraction, "usable_fraction") <= 1.0:
        raise Refused("usable_fraction", "must be above 0 and at most 1")
    names = [p.name for p in phases]
    if not phases or all(not_negative(p.duration_s, "duration_s") == 0.0 for p in phases):
        raise Refused("phases", "at least one must last for some time")
    if len(set(names)) < len(names):
        raise Refused("phases", "two have the same name")
    drawn = [(load, amps_of(load, bus_V)) for load in loads]
    for load in loads:
        for phase, share in load.duty.items():
            if phase not in names:
                raise Refused("duty", f"{load.name}: {phase} is not a phase")
            if not 0.0 <= finite(share, "duty") <= 1.0:
                raise Refused("duty", f"{load.name}: must be from 0 to 1")
    found = tuple(_phase(p, drawn, rated, usable_fraction) for p in phases)
    fed = [f for f in found if f.verdict is not None]
    least = min(fed, key=lambda f: f.margin_A, default=None)
    return Analysis(found, least.phase if least else None, least.margin_A if least else None)


def amps_of(load: Load, bus_V: float | None) -> float:
    """What a load draws, A. Refuses both or neither of current and power."""
    if (load.current_A is None) == (load.power_W is None):
        raise Refused("current_A", f"{load.name}: give its current or its power, one of them")
    if load.current_A is not None:
        return not_negative(load.current_A, "current_A")
    watts = not_negative(load.power_W or 0.0, "power_W")
    if bus_V is None:
        raise Refused("bus_V", "is needed: a load is given in W")
    return watts / positive(bus_V, "bus_V")


def _phase(p: Phase, drawn: Sequence[tuple[Load, float]], rated: float, usable: float) -> PhaseLoad:
    if not 0.0 <= finite(p.alternator_factor, "alternator_factor") <= 1.0:
        raise Refused("alternator_factor", "must be from 0 to 1")
    available = rated * p.alternator_factor
    charge = not_negative(p.charge_A, "charge_A")
    if charge and not available:
        raise Refused("charge_A", f"{p.name}: the alternator gives nothing to charge with")
    used = sum(amps * load.duty.get(p.name, 0.0) for load, amps in drawn)
    peak = sum(amps for load, amps in drawn if load.duty.get(p.name, 0.0) > 0.0)
    allowed = usable * available
    margin = allowed - used - charge
    verdict = None
    if available:
        verdict = Verdict.IN if margin >= -EVEN else Verdict.OUT
    from_battery = max(0.0, used - available) * p.duration_s / 3600.0
    return PhaseLoad(p.name, used + charge, peak, allowed, margin, from_battery, verdict)
