"""How the rules of cables came to their numbers."""

from __future__ import annotations

import math
from itertools import pairwise

from core.basis.uncertainty import Contribution
from core.cables.cable import PRIMARY_LEAST_M
from core.cables.route import CLEAR_OF_FAIRLEAD_M
from core.rulebook.workings.steps import Inputs, Step, Working, compared, n, shares_of

MM, N = "mm", "N"
# Where no formula gives it: what fits is sought.
BY_TRIAL = "by trial"


def _size(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    if not i["primary"]:
        return Working(())
    d, least = i["diameter_m"] * 1e3, PRIMARY_LEAST_M * 1e3
    return Working((Step("Thicker than the least by", f"{n(d)} − {n(least)}", d - least, MM),))


def _guard(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    if not i["present"] or i.get("gap_m") is None:
        return Working(())
    gap, U = i["gap_m"] * 1e3, 2e3 * (i.get("u_m") or 0.0)
    limit = (i.get("limit_m") or i["cable_diameter_m"]) * 1e3
    steps = [
        Step("Gap between guard and pulley", n(gap), gap, MM),
        Step("Uncertainty U of the gap", f"2 × {n(U / 2.0)}", U, MM),
        *compared(gap, U, None, limit, MM),
    ]
    return Working(tuple(steps))


def _gap(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    (a, b), (c, d), (low, high) = ([x * 1e3 for x in i[k]] for k in ("item", "obstacle", "travel"))
    gap, U = answer["gap_m"] * 1e3, 2e3 * (i.get("u_m") or 0.0)
    least = i.get("required_m")
    least = (CLEAR_OF_FAIRLEAD_M if least is None else least) * 1e3
    if b <= c:
        move = Step("Its near end, moved all the way", f"{n(b)} + {n(high)}", b + high, MM)
        left = Step("Gap left", f"{n(c)} − {_in(b + high)}", gap, MM)
    else:
        move = Step("Its near end, moved all the way", f"{n(a)} + {_in(low)}", a + low, MM)
        left = Step("Gap left", f"{n(a + low)} − {_in(d)}", gap, MM)
    U_step = Step("Uncertainty U of the gap", f"2 × {n(U / 2.0)}", U, MM)
    return Working((move, left, U_step, *compared(gap, U, least, None, MM)))


def _in(value: float) -> str:
    """A number after a sign."""
    return n(value) if value >= 0 else f"({n(value)})"


def _proof(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    before, after = i["length_before_m"] * 1e3, i["length_after_m"] * 1e3
    loaded, pre = i["length_loaded_m"] * 1e3, i.get("preload_N") or 0.0
    force_U = 2.0 * (i.get("u_force_N") or 0.0)
    u = (i.get("u_length_m") or 0.0) * 1e3
    need, grown = answer["required_N"], answer["set_m"] * 1e3
    share = need / i["breaking_N"]
    steps = [
        Step("Load that is asked", f"{n(share)} × {n(i['breaking_N'])}", need, N),
        *compared(i["applied_N"], force_U, need, None, N),
        Step("Set: how much longer afterwards", f"{n(after)} − {n(before)}", grown, MM),
        Step("Uncertainty U of the set", f"2 × √2 × {n(u)}", 2.0 * math.sqrt(2.0) * u, MM),
        *compared(grown, 2.0 * math.sqrt(2.0) * u, None, i["set_limit_m"] * 1e3, MM),
        Step(
            "Stiffness AE, from the stretch",
            f"{n(before)} × ({n(i['applied_N'])} − {n(pre)}) / ({n(loaded)} − {n(after)})",
            answer["ae_N"],
            N,
        ),
    ]
    return Working(tuple(steps))


def _warmed(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    length, ae, give = i["cable_length_m"], i["ae_N"], i.get("frame_compliance_m_per_N") or 0.0
    at, set_at, first = i["temperature_K"], i["temperature_ref_K"], i["tension_ref_N"]
    k, slope, warmer = answer["stiffness_N_per_m"], answer["slope_N_per_K"], at - set_at
    grows = [(s["length_m"], s["alpha_per_K"]) for s in i["airframe"]]
    less = [(length, i["cable_alpha_per_K"])]
    less += [(s["length_m"], s["alpha_per_K"]) for s in i.get("fittings") or ()]
    gap = math.fsum(a * b for a, b in grows) - math.fsum(a * b for a, b in less)
    written = " + ".join(f"{n(a)} × {n(b)}" for a, b in grows)
    written += "".join(f" − {n(a)} × {n(b)}" for a, b in less)
    now = f"{n(first)} + {_in(slope)} × {_in(warmer)}"
    steps = [
        Step("Stiffness of cable and frame", f"1 / ({n(length)} / {n(ae)} + {n(give)})", k, "N/m"),
        Step("Airframe grows more than the cable, for each kelvin", written, gap, "m/K"),
        Step("Tension for each kelvin", f"{n(k)} × {_in(gap)}", slope, "N/K"),
        Step("Warmer than when it was set", f"{n(at)} − {n(set_at)}", warmer, "K"),
        Step("Tension at this temperature", now, first + slope * warmer, N),
    ]
    if answer["slack"]:
        steps.append(Step("A cable cannot push: it is slack", "0", 0.0, N))
    return Working(tuple(steps))


def _pulled(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    span, force, h, c = (i[k] for k in ("span_m", "force_N", "deflection_m", "compliance_m_per_N"))
    half = math.sqrt(span**2 / 4.0 + h**2)
    arm, longer = f"√(({n(span)} / 2)² + {n(h)}²)", 2.0 * h**2 / (half + span / 2.0)
    more = f"2 × {n(h)}² / ({n(half)} + {n(span)} / 2)"
    under, before = answer["tension_under_pull_N"], answer["tension_N"]
    steps = (
        Step("Half the cable between the supports, pulled", arm, half, "m"),
        Step("Tension while it is pulled", f"{n(force)} × {n(half)} / (2 × {n(h)})", under, N),
        Step("How much longer the pull makes it", more, longer, "m"),
        Step("What that adds to its tension", f"{n(longer)} / {n(c)}", longer / c, N),
        Step("Tension before the pull", f"{n(under)} − {n(longer / c)}", before, N),
    )
    return Working(steps)


def _plucked(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    f, span, mass = i["frequency_Hz"], i["span_m"], i["mass_per_length_kg_m"]
    ideal, low, high = answer["ideal_N"], answer["low_N"], answer["high_N"]
    soft = i["ei_low_Nm2"] * math.pi**2 / span**2
    by_f = 2.0 * ideal * (i.get("u_frequency_Hz") or 0.0) / f
    by_span = 2.0 * ideal * (i.get("u_span_m") or 0.0) / span
    by_mass = ideal * (i.get("u_mass_rel") or 0.0)
    by_bending = (high - low) / 2.0 / math.sqrt(3.0)
    bent = f"{n(ideal)} − {n(i['ei_low_Nm2'])} × π² / {n(span)}²"
    by = " + ".join(f"{n(x)}²" for x in (by_f, by_span, by_mass, by_bending))
    steps = [
        Step("As a string without stiffness", f"4 × {n(mass)} × {n(span)}² × {n(f)}²", ideal, N),
        Step("Highest: wires that slide, ends that turn", bent, ideal - soft, N),
        Step("Lowest: wires as one, ends held", BY_TRIAL, low, N),
        Step("Between them", f"({n(low)} + {n(high)}) / 2", answer["tension_N"], N),
        Step("By which of them it is", f"({n(high)} − {n(low)}) / (2 × √3)", by_bending, N),
        Step("All contributions together", f"√({by})", answer["u_tension_N"], N),
    ]
    parts = [
        Contribution(by_f, None, "frequency"),
        Contribution(by_span, None, "span"),
        Contribution(by_mass, None, "mass"),
        Contribution(by_bending, None, "bending"),
    ]
    return Working(tuple(steps), shares_of(parts))


def _chart(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    at, points = i["temperature_K"], i["points"]
    (a, low), (b, high) = next((p, q) for p, q in pairwise(points) if p[0] <= at <= q[0])
    worked = f"{n(low)} + ({n(high)} − {n(low)}) × ({n(at)} − {n(a)}) / ({n(b)} − {n(a)})"
    return Working(
        (Step("Along the line between two points of the chart", worked, answer["value"], N),)
    )


def _threads(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    turns = i["turns"]
    both = zip(("first", "second"), i["showing"], answer["after_threads"], strict=True)
    return Working(
        tuple(
            Step(f"Threads outside afterwards, {end} end", f"{n(now)} − {_in(turns)}", then)
            for end, now, then in both
        )
    )


WORKINGS = {
    "cables.cable_size_check": _size,
    "cables.guard_check": _guard,
    "cables.travel_gap": _gap,
    "cables.proof_load": _proof,
    "cables.tension_at_temperature": _warmed,
    "cables.sideways_pull": _pulled,
    "cables.plucked_tension": _plucked,
    "cables.chart_tension": _chart,
    "cables.turnbuckle_threads": _threads,
}
