"""What the rules say of a route: gaps, supports, guards, order of the cables."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace

from core.basis.checks import Check
from core.basis.verdicts import Verdict, judge, verdict_of, worst
from core.cables.laid import AtSupport, Near
from core.cables.lever import SIDES
from core.cables.rigging import U_STATION_M, Rigged
from core.cables.route import guard_check

DEG = math.degrees(1.0)
# What the pilot does for positive and negative deflection, by how the surface counts.
PILOT = {
    "trailing_edge_right": ("full right pedal", "full left pedal"),
    "trailing_edge_up": ("stick fully aft", "stick fully forward"),
}
# Of a guard's gap by feeler gauge, m.
U_GUARD_M = 0.0001


def geometry_checks(rigged: Rigged, ends: tuple[str, str]) -> Iterable[Check]:
    """What follows from the drawing alone: gaps, supports, crossings."""
    return rigged.once(("geometry", ends), lambda: tuple(_geometry(rigged, ends)))


def _geometry(rigged: Rigged, ends: tuple[str, str]) -> Iterable[Check]:
    for near in rigged.nearest():
        yield _near(rigged, near, ends)
    for at in rigged.supports():
        yield from _support(rigged, at)
    source = rigged.rigging.crossing_source
    for bank, name in rigged.skipped():
        said = f"{name} does not run over stack {bank}, the other cable does."
        verdict = Verdict.ACCEPTED if source else Verdict.TOO_CLOSE
        said += f" Shown by {source}." if source else " Has it skipped a pulley?"
        yield _order(f"skipped {bank} {name}", said, verdict)
    for n, p, q in rigged.order():
        said = f"{p} and {q} cross between bank {n + 1} and the next."
        verdict = Verdict.ACCEPTED if source else Verdict.TOO_CLOSE
        said += f" Shown by {source}." if source else " A finding unless the drawing shows it."
        yield _order(f"crossing {n} {p} {q}", said, verdict)
    yield from _rubbing(rigged)


def _rubbing(rigged: Rigged) -> Iterable[Check]:
    """Cables that touch somewhere, or may, by what the drawing is known to."""
    near, driver = rigged.closest()
    a, b = (rigged.rigging.cables[side] for side in SIDES)
    gap = near.distance_m - (a.data.diameter_m + b.data.diameter_m) / 2.0
    U = 2.0 * math.sqrt(2.0) * U_STATION_M
    verdict = judge(gap, U, 0.0, None)
    if verdict is Verdict.IN:
        return
    where = f"at station {near.at[0] * 1e3:.0f} mm, driver at {driver * DEG:+.1f}°"
    known = f"the drawing is known to ±{U * 1e3:.0f} mm"
    said = f"{a.name} and {b.name} come within {max(gap, 0.0) * 1e3:.0f} mm {where}: {known}."
    if verdict is Verdict.OUT:
        said = f"{a.name} and {b.name} cross and rub {where}."
    said += " Look whether each is attached on its own side, or move a pulley."
    yield replace(_order("rubbing", said, verdict), at=near.at)


def _order(key: str, said: str, verdict: Verdict) -> Check:
    return Check(key, "order of cables", said, verdict, part="route")


def _near(rigged: Rigged, n: Near, ends: tuple[str, str]) -> Check:
    r = rigged.rigging
    cable = r.cables[n.side]
    item = next(f for f in cable.fittings if f.id == n.fitting)
    support = next(s for s in cable.supports if s.id == n.support)
    at = support.centre[0]
    inputs = {
        "item": [item.low_m, item.high_m],
        "obstacle": [at - support.half_m, at + support.half_m],
        "travel": list(n.travel_m),
        "required_m": r.gap_m,
        "u_m": U_STATION_M,
    }
    word = n.gap.verdict
    where = f"with the {r.bodies[0] or 'driver'} at {n.driver_rad * DEG:+.1f}°"
    positive = (rigged.gear() > 0) is (n.driver_rad > 0)
    if all(ends):
        where = f"at {ends[0] if positive else ends[1]}"
    said = (
        f"{n.gap.gap_m * 1e3:.0f} mm from {n.support} {where}; at least {r.gap_m * 1e3:.0f} mm"
        " (2 in is a customary default: confirm with the maker)."
    )
    if n.gap.fouls:
        said = f"Meets {n.support} {where}."
    if word is not Verdict.IN:
        short = r.gap_m + 2 * U_STATION_M - n.gap.gap_m
        said += f" Move one of them by {math.ceil(short * 1e3):d} mm or more."
    return Check(
        f"gap {n.side} {n.fitting}",
        f"{cable.name}: {n.fitting} near {n.support}",
        said,
        word,
        "clearance",
        at=tuple(n.at),
        rule="cables.travel_gap",
        inputs=inputs,
        part="route",
        side=n.side,
    )


def _support(rigged: Rigged, a: AtSupport) -> Iterable[Check]:
    s, name = a.support, f"{rigged.rigging.cables[a.side].name}: {a.support.id}"
    where = f"at {a.worst_at_rad * DEG:+.1f}°"
    base = Check("", name, "", Verdict.NOT_MEASURED, at=tuple(s.centre), part="route", side=a.side)
    if a.fairlead is not None:
        said = f"Bends the cable by {a.fairlead.deflection_rad * DEG:.1f}° {where}, at most 3°."
        yield replace(base, key=f"fairlead {a.side} {s.id}", said=said, verdict=a.fairlead.verdict)
    if a.pulley is None:
        return
    p = a.pulley
    alignment, size = verdict_of(p.alignment), verdict_of(p.diameter)
    said = f"Runs {p.misalignment_rad * DEG:.1f}° out of line {where}"
    if p.alignment == "not judged":
        said += ": enter the maker's limit, or the flange and rim as measured"
    elif s.misalignment_limit_rad is not None:
        said += f", at most {s.misalignment_limit_rad * DEG:.1f}°"
    said += f"; {p.ratio:.1f} cable diameters"
    if p.diameter == "not judged":
        said += ": enter the least that the maker asks"
    word = worst([alignment, size])
    yield replace(base, key=f"pulley {a.side} {s.id}", said=said + ".", verdict=word)
    d = rigged.rigging.cables[a.side].data.diameter_m
    yield _guard(a, base, d)


def _guard(a: AtSupport, base: Check, diameter: float) -> Check:
    s = a.support
    base = replace(base, key=f"guard {a.side} {s.id}", what=f"{base.what}, guard")
    if s.guard == "not looked" or (s.guard == "yes" and s.guard_gap_m is None):
        return replace(base, said="Look for the guard and measure its gap.")
    inputs = {
        "present": s.guard == "yes",
        "gap_m": s.guard_gap_m,
        "cable_diameter_m": diameter,
        "u_m": U_GUARD_M,
    }
    inputs = {k: v for k, v in inputs.items() if v is not None}
    found = guard_check(s.guard == "yes", diameter, s.guard_gap_m, u_m=U_GUARD_M)
    said = "No guard: the cable can leave its groove."
    if s.guard_gap_m is not None:
        said = f"Gap {s.guard_gap_m * 1e3:.1f} mm, cable {diameter * 1e3:.1f} mm."
    return replace(base, said=said, verdict=found.verdict, rule="cables.guard_check", inputs=inputs)
