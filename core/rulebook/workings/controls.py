"""How the travel rules came to their numbers."""

from __future__ import annotations

import math

from core.basis.uncertainty import Contribution, of_repeats, of_resolution, rectangular
from core.controls.verdict import Measurement, judge_readings, range_of
from core.rulebook.workings.steps import (
    DEGREE,
    Inputs,
    Step,
    Working,
    combined_steps,
    compared,
    mean_of,
    n,
    shares_of,
    total,
)


def _verdict(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    given = {k: v for k, v in i.items() if v is not None}
    other = tuple(
        Contribution(o["u"], o.get("nu"), o.get("name") or "other") for o in given.get("other", ())
    )
    numbers = {
        k: given[k]
        for k in ("accuracy", "resolution", "sensitivity", "offset", "pooled_s", "pooled_dof")
        if k in given
    }
    m = Measurement(readings=tuple(given.get("readings", ())), other=other, **numbers)
    lo, hi = given.get("lo"), given.get("hi")
    if "nominal" in given:
        lo, hi = range_of(given["nominal"], given.get("tol_plus", 0), given.get("tol_minus", 0))
    judged = judge_readings(m, lo, hi)
    if judged is None:
        return Working(())
    mean = mean_of(m.readings, "readings", read_in)
    steps = [mean]
    c = abs(m.sensitivity)
    if m.sensitivity != 1.0 or m.offset != 0.0:
        worked = f"{n(m.sensitivity)} × {n(mean.value or 0.0)}"
        if m.offset != 0.0:
            worked += f" + {n(m.offset)}" if m.offset > 0 else f" − {n(-m.offset)}"
        steps.append(Step("Value judged", worked, judged.y, unit))
    times = f" × {n(c)}" if c != 1.0 else ""
    if m.accuracy:
        u = c * rectangular(m.accuracy)
        steps.append(Step("Instrument's accuracy", f"{n(m.accuracy)} / √3{times}", u, unit))
    if m.resolution:
        u = c * of_resolution(m.resolution)
        steps.append(Step("Read to one step", f"{n(m.resolution)} / √12{times}", u, unit))
    repeats = next((p for p in judged.parts if p.name == "repeats"), None)
    if repeats is not None:
        s = repeats.u / c * math.sqrt(judged.n) if c else 0.0
        worked = f"{n(s)} / √{judged.n}{times}"
        said = "Spread of the readings (standard deviation over √n)"
        steps.append(Step(said, worked, repeats.u, unit))
    steps += [Step(o.name.capitalize(), "given", o.u, unit) for o in other if o.u > 0]
    steps += combined_steps(judged.parts, unit)
    steps += compared(judged.y, judged.combined.U, lo, hi, unit)
    return Working(tuple(steps), shares_of(judged.parts))


def _symmetry(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    left, right = float(i["left_deg"]), float(i["right_deg"])
    u, v, tol = i.get("u_left_deg") or 0.0, i.get("u_right_deg") or 0.0, float(i["tol_deg"])
    U = float(answer["U_deg"])
    steps = (
        Step("Left minus right", f"{n(left)} − {n(right)}", left - right, DEGREE),
        Step("Uncertainty U of the difference", f"2 × √({n(u)}² + {n(v)}²)", U, DEGREE),
        *compared(left - right, U, -tol, tol, DEGREE),
    )
    return Working(
        steps, shares_of([Contribution(u, None, "left"), Contribution(v, None, "right")])
    )


def _ratio(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    up, down = float(i["up_deg"]), float(i["down_deg"])
    u, v = (i.get("u_up_deg") or 0.0) / down, up * (i.get("u_down_deg") or 0.0) / down**2
    U = float(answer["U"])
    steps = (
        Step("Up over down", f"{n(up)} / {n(down)}", up / down),
        Step("By the uncertainty of up", f"{n(i.get('u_up_deg') or 0.0)} / {n(down)}", u),
        Step(
            "By the uncertainty of down",
            f"{n(up)} × {n(i.get('u_down_deg') or 0.0)} / {n(down)}²",
            v,
        ),
        Step("Uncertainty U of the ratio", f"2 × √({n(u)}² + {n(v)}²)", U),
        *compared(up / down, U, i.get("lo"), i.get("hi"), ""),
    )
    return Working(steps, shares_of([Contribution(u, None, "up"), Contribution(v, None, "down")]))


def _repeatability(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    above, below = i["from_above_deg"], i["from_below_deg"]
    limit, step = float(i["limit_deg"]), i.get("resolution_deg") or 0.0
    one, two = mean_of(above, "from above", DEGREE), mean_of(below, "from below", DEGREE)
    apart = (one.value or 0.0) - (two.value or 0.0)
    rounding = of_resolution(step)
    parts = [
        Contribution(rounding, None, "resolution, from above"),
        Contribution(rounding, None, "resolution, from below"),
    ]
    for values, name in ((above, "repeats, from above"), (below, "repeats, from below")):
        found = of_repeats(values, name)
        parts += [found] if found else []
    worked = f"{n(one.value or 0.0)} − {total([two.value or 0.0])}"
    steps = (
        one,
        two,
        Step("How far apart", worked, apart, DEGREE),
        *combined_steps(parts, DEGREE),
        *compared(apart, float(answer["U_deg"]), -limit, limit, DEGREE),
    )
    return Working(steps, shares_of(parts))


def _edge(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    if i.get("offset_mm") is None:
        return Working(())
    chord, offset, phi = float(i["chord_mm"]), float(i["offset_mm"]), i.get("phi_deg") or 0.0
    worked = {
        "straight": f"2 × arcsin({n(offset)} / (2 × {n(chord)}))",
        "perpendicular": f"arcsin({n(offset)} / {n(chord)} + sin {n(phi)}°) − {total([phi])}°",
        "arc": f"{n(offset)} / {n(chord)} × 180 / π",
    }[i["practice"]]
    steps = [Step("Angle from the offset and the chord", worked, answer["deflection_deg"], DEGREE)]
    per = answer.get("per_mm_offset_deg")
    if per is not None:
        u = float(per) * (i.get("u_offset_mm") or 0.0)
        said = f"{n(per)} × {n(i.get('u_offset_mm') or 0.0)}"
        steps.append(Step("By the uncertainty of the offset", said, u, DEGREE))
    return Working(tuple(steps))


WORKINGS = {
    "controls.verdict": _verdict,
    "controls.symmetry": _symmetry,
    "controls.ratio": _ratio,
    "controls.repeatability": _repeatability,
    "controls.edge_offset": _edge,
}
