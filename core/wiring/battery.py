"""How long the battery lasts, and what shedding buys (`wiring.battery_endurance`,
`wiring.shed_plan`)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.wiring.words import CAUTION, PEUKERT

VALID = (
    "Lead-acid near room temperature within about ten times in current; other chemistries: 1 as"
    " exponent with the maker's factor and cut-off. Use the charge after the worst taxi."
)


@dataclass(frozen=True)
class Battery:
    """A battery by its maker's data.

    Its rated current counts as the battery is, cold and aged: below it there is no bonus.
    """

    capacity_Ah: Annotated[float, "Rated."]
    rate_h: Annotated[float, "Time in which it gives that."]
    peukert: Annotated[float, "Exponent, 1 to 1.6."]
    temperature_factor: Annotated[float, "Of its capacity, 0 to 1."] = 1.0
    age_factor: Annotated[float, "Of its capacity, 0 to 1."] = 1.0
    reserve_fraction: Annotated[float, "Kept back, 0 to 1."] = 0.0

    def checked(self) -> Battery:
        """Itself. Refuses data that leave nothing."""
        positive(self.capacity_Ah, "capacity_Ah")
        positive(self.rate_h, "rate_h")
        if not 1.0 <= finite(self.peukert, "peukert") <= 1.6:
            raise Refused("peukert", "must be from 1 to 1.6")
        for name in ("temperature_factor", "age_factor"):
            if not 0.0 < finite(getattr(self, name), name) <= 1.0:
                raise Refused(name, "must be above 0 and at most 1")
        if not 0.0 <= finite(self.reserve_fraction, "reserve_fraction") < 1.0:
            raise Refused("reserve_fraction", "must be from 0 to below 1")
        return self

    def life_s(self, amps: float) -> float:
        """How long it gives a constant current, s; endless at 0."""
        if amps == 0.0:
            return math.inf
        as_it_is = self.capacity_Ah * self.temperature_factor * self.age_factor
        rated = as_it_is / self.rate_h
        usable = as_it_is * (1.0 - self.reserve_fraction)
        share: float = min(1.0, rated / amps) ** (self.peukert - 1.0)
        return 3600.0 * usable / amps * share


@dataclass(frozen=True)
class Step:
    """A constant draw for a time; the last may be open."""

    current_A: Annotated[float | None, "What is drawn, or its power."] = None
    power_W: Annotated[float | None, "Taken at the least bus voltage."] = None
    duration_s: Annotated[float | None, "How long; null: until it ends."] = None


@dataclass(frozen=True)
class Lasting:
    """How long a battery lasts."""

    endurance_s: Annotated[float | None, "Null: the steps end first."]
    ended_by: Annotated[str | None, "capacity or voltage."]
    step: Annotated[int | None, "In which it ends, from 0."]
    used_fraction: Annotated[float, "Of what may be used, at the end."]


@rule(
    "wiring.battery_endurance",
    title="How long the battery lasts",
    purpose="How long does the battery carry these draws?",
    source=PEUKERT + " Voltage falls straight with charge: a stand-in for the battery's curve.",
    validity=VALID,
    caution=CAUTION,
)
def battery_endurance(
    battery: Battery,
    steps: Annotated[tuple[Step, ...], "In their order."],
    emf_full_V: Annotated[float | None, "Open, full."] = None,
    emf_end_V: Annotated[float | None, "Open, used up."] = None,
    resistance_ohm: Annotated[float, "Battery and feed."] = 0.0,
    least_bus_V: Annotated[float | None, "Least that the bus may fall to."] = None,
    valid_to_A: Annotated[float | None, "Greatest current that the data hold for."] = None,
) -> Lasting:
    """Refuses a cut-off above the open voltage, a draw beyond the data, an open step of 0 A."""
    b = battery.checked()
    ohm = not_negative(resistance_ohm, "resistance_ohm")
    volts = _volts(emf_full_V, emf_end_V, least_bus_V)
    if not steps:
        raise Refused("steps", "needs at least one")
    used = time = 0.0
    for n, s in enumerate(steps):
        amps = _amps(s, least_bus_V, valid_to_A)
        stop, by = 1.0, "capacity"
        if volts is not None:
            full, end, least = volts
            at = (full - amps * ohm - least) / (full - end)
            if at < 1.0:
                stop, by = at, "voltage"
        last = n == len(steps) - 1
        if s.duration_s is None and (not last or amps == 0.0):
            field = "current_A" if last else "duration_s"
            raise Refused(field, "an open step must be the last, and draw something")
        life = b.life_s(amps)
        left = max(0.0, stop - used)
        lasts = math.inf if s.duration_s is None else positive(s.duration_s, "duration_s")
        until = left * life if left else 0.0
        if until <= lasts:
            return Lasting(time + until, by, n, used + left)
        time += lasts
        used += lasts / life
    return Lasting(None, None, None, used)


def _volts(
    full: float | None, end: float | None, least: float | None
) -> tuple[float, float, float] | None:
    """Full, end and least voltage; none without a limit. Refuses them in a wrong order."""
    for name, v in (("emf_full_V", full), ("emf_end_V", end), ("least_bus_V", least)):
        if v is not None:
            positive(v, name)
    if full is None or end is None or least is None:
        return None
    if least >= full:
        raise Refused("least_bus_V", "the cut-off is above the open-circuit voltage")
    if end >= full:
        raise Refused("emf_end_V", "must be below the full battery's")
    return full, end, least


def _amps(s: Step, least_bus_V: float | None, valid_to_A: float | None) -> float:
    if (s.current_A is None) == (s.power_W is None):
        raise Refused("current_A", "give a current or a power, one of them")
    if s.current_A is not None:
        amps, name = not_negative(s.current_A, "current_A"), "current_A"
    else:
        if least_bus_V is None:
            raise Refused("least_bus_V", "is needed: a step is given in W")
        amps = not_negative(s.power_W or 0.0, "power_W") / positive(least_bus_V, "least_bus_V")
        name = "power_W"
    if valid_to_A is not None and amps > positive(valid_to_A, "valid_to_A"):
        raise Refused(name, f"is beyond what the data hold for, {valid_to_A:g} A")
    return amps


@dataclass(frozen=True)
class Shed:
    """Something that may be switched off."""

    name: Annotated[str, "Its name."]
    current_A: Annotated[float, "What it draws."]


@dataclass(frozen=True)
class AfterShed:
    """After this and all before it were shed."""

    name: Annotated[str, "What was shed last."]
    current_A: Annotated[float, "What is left."]
    endurance_s: Annotated[float | None, "Null: endless."]
    gain_s: Annotated[float | None, "Against the step before."]


@dataclass(frozen=True)
class Plan:
    """What shedding buys."""

    full_A: Annotated[float, "With everything on."]
    endurance_none_s: Annotated[float | None, "With nothing shed; null: endless."]
    after: Annotated[tuple[AfterShed, ...], "In the order of shedding."]
    latest_shed_s: Annotated[float | None, "Last moment to shed all and reach it."]
    verdict: Annotated[Verdict, "Whether it is reached."]
    note: Annotated[str, "In words."]


@rule(
    "wiring.shed_plan",
    title="What to shed, and by when",
    purpose="After the alternator fails: how long with what shed, and how late may one decide?",
    source=PEUKERT + " 30 min: 14 CFR 23.1353(h), amendment 23-49 on.",
    validity=VALID + " The time to notice counts.",
    caution=CAUTION,
)
def shed_plan(
    battery: Battery,
    required_s: Annotated[float, "It must last."],
    keep_A: Annotated[float, "What stays on."],
    shed: Annotated[tuple[Shed, ...], "In the order in which it goes off."],
    decide_s: Annotated[float, "When the pilot acts."],
) -> Plan:
    """Refuses nothing to shed."""
    b, required = battery.checked(), positive(required_s, "required_s")
    keep, decide = not_negative(keep_A, "keep_A"), not_negative(decide_s, "decide_s")
    if not shed:
        raise Refused("shed", "needs at least one")
    draws = [not_negative(x.current_A, "current_A") for x in shed]
    full = keep + math.fsum(draws)
    with_all = b.life_s(full)
    before: float = with_all
    after = []
    for n, x in enumerate(shed):
        left = keep + math.fsum(draws[n + 1 :])
        lasts = with_all
        if decide < with_all:
            life = b.life_s(left)
            lasts = math.inf if math.isinf(life) else decide + (1.0 - decide / with_all) * life
        endless = math.isinf(lasts)
        gain = None if endless else lasts - before
        after.append(AfterShed(x.name, left, None if endless else lasts, gain))
        before = lasts
    none = None if math.isinf(with_all) else with_all
    least = b.life_s(keep)
    if with_all >= required:
        return Plan(full, none, tuple(after), None, Verdict.IN, "no shedding needed")
    if least < required:
        return Plan(full, none, tuple(after), None, Verdict.OUT, "not even at once")
    latest = (1.0 - required / least) / (1.0 / with_all - 1.0 / least)
    late = latest < decide
    note = "decided too late" if late else "shed in time"
    verdict = Verdict.OUT if late else Verdict.IN
    return Plan(full, none, tuple(after), latest, verdict, note)
