"""How the rules of joints came to their numbers."""

from __future__ import annotations

import math

from core.hardware.bolt import Limits
from core.rulebook.workings.steps import Inputs, Step, Working, compared, mean_of, n, total

MM = "mm"


def _mm(metres: float) -> float:
    return metres * 1e3


def _fit(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    holes, shafts = [_mm(d) for d in i["hole_m"]], [_mm(d) for d in i["shaft_m"]]
    u, v = _mm(i.get("u_hole_m") or 0.0), _mm(i.get("u_shaft_m") or 0.0)
    U = 2.0 * math.hypot(u, v)
    tight, loose = _mm(answer["tightest_m"]), _mm(answer["loosest_m"])
    lo, hi = (None if x is None else _mm(x) for x in (i.get("clear_min_m"), i.get("clear_max_m")))
    if i["need"] == "press":
        hi = 0.0 if hi is None else hi
    elif lo is None:
        lo = 0.0
    between = f"{n(_mean(holes))} − {n(_mean(shafts))}"
    tightest = f"{n(min(holes))} − {n(max(shafts))}"
    loosest = f"{n(max(holes))} − {n(min(shafts))}"
    steps = [
        mean_of(holes, "diameters of the hole", MM),
        mean_of(shafts, "diameters of the shaft", MM),
        Step("Mean clearance", between, _mm(answer["clearance_m"]), MM),
        Step("Tightest: least hole less greatest shaft", tightest, tight, MM),
        Step("Loosest: greatest hole less least shaft", loosest, loose, MM),
        Step("Uncertainty U of a clearance", f"2 × √({n(u)}² + {n(v)}²)", U, MM),
        *compared(tight, U, lo, None, MM),
        *compared(loose, U, None, hi, MM),
    ]
    return Working(tuple(steps))


def _mean(values: list[float]) -> float:
    return math.fsum(values) / len(values)


def _bolt(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    bolt, nut = i["bolt"], i["nut"]
    head = [_mm(w) for w in i.get("head_washers_m") or ()]
    under = [_mm(w) for w in i.get("nut_washers_m") or ()]
    stack, grip, length = _mm(i["stack_m"]), _mm(bolt["grip_m"]), _mm(bolt["length_m"])
    pitch, height = _mm(bolt["pitch_m"]), _mm(nut["height_m"])
    bore = _mm(nut.get("counterbore_m") or 0.0)
    runout = i.get("runout_threads")
    runout = Limits().runout_threads if runout is None else runout
    bearing = _mm(answer["threads_in_bearing_m"])
    top = math.fsum([*head, stack, *under, height])
    free = f"{total([bearing, *under, bore])} − {n(runout)} × {n(pitch)}"
    steps = (
        Step("Thread inside the layers", f"{total([*head, stack])} − {n(grip)}", bearing, MM),
        Step("What the bolt passes", total([*head, stack, *under, height]), top, MM),
        Step("Bolt past the nut", f"{n(length)} − {n(top)}", length - top, MM),
        Step("In threads", f"{n(length - top)} / {n(pitch)}", answer["protrusion_threads"]),
        Step("Nut's face to the incomplete threads", free, _mm(answer["bottom_margin_m"]), MM),
    )
    return Working(steps)


def _torque(i: Inputs, answer: Inputs, unit: str, read_in: str) -> Working:
    wrench, drag = float(i["wrench_m"]), i.get("drag_Nm") or 0.0
    reach = wrench + (i.get("extension_m") or 0.0) * math.cos(i.get("extension_angle_rad") or 0.0)
    steps = []
    for end in ("low", "high"):
        at_nut, low = answer[f"at_nut_{end}_Nm"], answer[f"set_{end}_Nm"]
        said = f"At the nut, {end} end, with the nut's own drag"
        steps.append(Step(said, f"{n(at_nut - drag)} + {n(drag)}", at_nut, "N·m"))
        if reach != wrench:
            worked = f"{n(at_nut)} × {n(wrench)} / {n(reach)}"
            steps.append(Step(f"Wrench set to, {end} end", worked, low, "N·m"))
    return Working(tuple(steps))


WORKINGS = {
    "hardware.fit": _fit,
    "hardware.bolt_check": _bolt,
    "hardware.torque_setting": _torque,
}
