"""How much is really done, and what a meter says of it (`wiring.completeness`,
`wiring.continuity`, `wiring.insulation`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.wiring.tables import MIL_M2, WIRES, at_least, gauge
from core.wiring.wire import at_temperature, table_ohm, temperature
from core.wiring.words import CAUTION, HOUSE, TABLE_11_9, VOLTAGE

STEPS = ("run", "end_a", "end_b", "tested", "labelled")
WEIGHTS = {"run": 0.25, "end_a": 0.15, "end_b": 0.15, "tested": 0.25, "labelled": 0.20}
COPPER_S_M = 58e6


@dataclass(frozen=True)
class Progress:
    """A conductor and what of it is done."""

    id: Annotated[str, "Its name."]
    done: Annotated[Sequence[str], "run, end_a, end_b, tested, labelled."] = ()


@dataclass(frozen=True)
class Complete:
    """How much is done."""

    percent: Annotated[float, "Weighed."]
    shown: Annotated[int, "100 only where nothing is open."]
    open: Annotated[tuple[str, ...], "Conductors not fully done, sorted."]


@rule(
    "wiring.completeness",
    title="How much is really finished",
    purpose="How much of these conductors is run, terminated, tested and labelled?",
    source="Weights: " + HOUSE,
    validity="Of a circuit, of a connector (its conductors) or of the aircraft, each conductor"
    " once.",
    caution=CAUTION,
)
def completeness(
    conductors: Annotated[tuple[Progress, ...], "All that are planned."],
    weights: Annotated[dict[str, float] | None, "By step, together 1; yours."] = None,
) -> Complete:
    """Refuses nothing planned, unknown steps, tested before run and both ends."""
    if not conductors:
        raise Refused("conductors", "nothing is planned")
    if len({c.id for c in conductors}) < len(conductors):
        raise Refused("conductors", "two have the same name")
    share = _weights(weights)
    total, open_ = 0.0, []
    for c in conductors:
        for step in c.done:
            if step not in STEPS:
                raise Refused("done", f"{step} is not a step: " + ", ".join(STEPS))
        if "tested" in c.done and not {"run", "end_a", "end_b"} <= set(c.done):
            raise Refused("done", f"{c.id} is tested before it is run and both ends are on")
        total += math.fsum(share[s] for s in set(c.done))
        if set(c.done) != set(STEPS):
            open_.append(c.id)
    percent = 100.0 * total / len(conductors)
    shown = min(99, math.floor(percent + 1e-9)) if open_ else 100
    return Complete(percent, shown, tuple(sorted(open_)))


def _weights(own: dict[str, float] | None) -> dict[str, float]:
    if own is None:
        return WEIGHTS
    if set(own) != set(STEPS):
        raise Refused("weights", "needs each step once: " + ", ".join(STEPS))
    found = {k: not_negative(v, "weights") for k, v in own.items()}
    if abs(math.fsum(found.values()) - 1.0) > 1e-9:
        raise Refused("weights", "must be 1 together")
    return found


@dataclass(frozen=True)
class Conducts:
    """A conductor's resistance against what it should have, Ω."""

    corrected_ohm: Annotated[float, "Without the leads."]
    low_ohm: Annotated[float, "Least to expect."]
    high_ohm: Annotated[float, "Greatest to expect."]
    verdict: Annotated[Verdict, "In where it lies between, with its uncertainty."]
    side: Annotated[str | None, "low: another path, shorter, thicker; high: bad crimp, thinner."]


@rule(
    "wiring.continuity",
    title="Is it this wire, and whole?",
    purpose="Does the meter read what this wire with its contacts should have?",
    source=f"{TABLE_11_9} Pure copper: IEC 60028.",
    validity="Tin-plated copper of the table; 10 % tolerance of area.",
    caution=CAUTION,
)
def continuity(
    awg: Annotated[str, "Gauge."],
    length_m: Annotated[float, "Of the wire."],
    measured_ohm: Annotated[float, "By the meter, with its leads."],
    t_C: Annotated[float, "Of the wire."] = 20.0,
    contacts_ohm_max: Annotated[float, "Most that its contacts may have."] = 0.0,
    leads_ohm: Annotated[float, "The leads alone."] = 0.0,
    U_ohm: Annotated[float, "Of the reading."] = 0.0,
    low_factor: Annotated[float, "Of pure copper of that area."] = 0.9,
) -> Conducts:
    """Refuses leads that read more than the circuit by over its uncertainty (`leads_ohm`)."""
    area = WIRES[gauge(awg)][1] * MIL_M2
    long, t = positive(length_m, "length_m"), temperature(t_C)
    high = at_temperature(table_ohm(awg), t) * long
    high += not_negative(contacts_ohm_max, "contacts_ohm_max")
    low = positive(low_factor, "low_factor") * at_temperature(long / (COPPER_S_M * area), t)
    U, leads = not_negative(U_ohm, "U_ohm"), not_negative(leads_ohm, "leads_ohm")
    m = not_negative(measured_ohm, "measured_ohm") - leads
    if m < -U:
        raise Refused("leads_ohm", "the leads alone read more than the circuit")
    verdict = Verdict.TOO_CLOSE
    if m - U >= low and m + U <= high:
        verdict = Verdict.IN
    elif m + U < low or m - U > high:
        verdict = Verdict.OUT
    return Conducts(m, low, high, verdict, "low" if m < low else "high" if m > high else None)


@dataclass(frozen=True)
class Insulated:
    """Insulation against its limit."""

    verdict: Annotated[Verdict, "In where it is high enough."]


@rule(
    "wiring.insulation",
    title="Insulation",
    purpose="Is the insulation good enough?",
    source="The limit is the maker's, or yours.",
    validity="At the test voltage that the wire's and maker's data say.",
    caution=CAUTION + VOLTAGE,
)
def insulation(
    measured_ohm: Annotated[float, "By the tester."],
    limit_ohm: Annotated[float, "Least."],
    U_rel: Annotated[float, "Of the reading, a share."] = 0.0,
    over_range: Annotated[bool, "It says: more than this."] = False,
) -> Insulated:
    """A reading over the range is in from the limit on, else not measured."""
    m, limit = not_negative(measured_ohm, "measured_ohm"), positive(limit_ohm, "limit_ohm")
    if finite(U_rel, "U_rel") < 0.0:
        raise Refused("U_rel", "must not be negative")
    if over_range:
        return Insulated(Verdict.IN if m >= limit else Verdict.NOT_MEASURED)
    return Insulated(at_least(m, U_rel * m, limit))
