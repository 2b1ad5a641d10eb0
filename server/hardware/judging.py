"""What the rules say of a joint: each check with its rule, edition and inputs."""

from __future__ import annotations

import math
from datetime import date, timedelta
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict, worst
from core.hardware.torque import at_nut
from core.rulebook.registry import rule
from server.aircraft.models import Aircraft
from server.hardware.models import Compound, Joint, JointEvent
from server.hardware.origins import told
from server.hardware.securing import folded, state, torqued_at, waiting
from server.kit.records import held

ROOM_K = 293.15
SECURED = {
    "cotter": "secured by a cotter pin",
    "wire": "secured by safety wire",
    "tab": "secured by a tab washer",
    "self_locking": "secured by its self-locking nut",
    "adhesive": "secured by threadlocker",
    "none": "not secured",
}
CHOSEN = {
    "cotter": "a cotter pin",
    "wire": "safety wire",
    "tab": "a tab washer",
    "adhesive": "threadlocker",
}


def judge_joint(joint: Joint) -> None:
    """Fold the events and judge anew; sets the row's derived fields, does not save."""
    done, torque = folded(_events(joint))
    found = state(joint, done, joint.temporary)
    joint.done, joint.state, joint.why = done, found.state, list(found.why)
    joint.torqued_at = torqued_at(torque)
    joint.verdict = _verdict(joint, checks_of(joint), found.may_fly).value


def checks_of(joint: Joint) -> list[Check]:
    """What each rule says of a joint whose derived fields are set."""
    _, torque = folded(_events(joint))
    return [told(joint, c, torque) for c in _checks(joint, torque) if c]


def _events(joint: Joint) -> list[JointEvent]:
    rows = joint.events.all() if joint.pk else []
    return held(sorted(rows, key=lambda e: e.pk))


def _verdict(joint: Joint, checks: list[Check], may_fly: bool) -> Verdict:
    verdicts = [c.verdict for c in checks]
    if not may_fly:
        broken = {"witness mark broken", "disturbed since torque"} & set(joint.why)
        verdicts.append(Verdict.STALE if broken else Verdict.NOT_MEASURED)
    return worst([*verdicts, Verdict.IN])


def _checks(joint: Joint, torque: JointEvent | None) -> list[Check | None]:
    return [
        _bolt(joint),
        _fit(joint),
        _metals(joint),
        _safety(joint),
        torque_check(joint, torque),
        _wrench(torque),
        compound_check(joint),
    ]


def _check(what: str, rule_id: str, inputs: dict[str, Any], verdict: str, said: str) -> Check:
    # Without a rule it says what is missing, and there is no number to explain.
    return Check(
        key=what,
        what=what,
        said=said,
        verdict=Verdict(verdict),
        rule=rule_id,
        edition=rule(rule_id).edition if rule_id else 0,
        inputs=inputs,
    )


def bolt_inputs(joint: Joint) -> dict[str, Any] | None:
    """The inputs of `hardware.bolt_check`, None while something is missing."""
    if not (joint.bolt and joint.nut and joint.stack):
        return None
    return {
        "stack_m": math.fsum(layer["m"] for layer in joint.stack),
        "stack_tol_m": joint.stack_tol_m,
        "bolt": {"name": joint.bolt.name, **joint.bolt.data},
        "nut": joint.nut.data,
        "head_washers_m": joint.head_washers_m,
        "nut_washers_m": joint.nut_washers_m,
        "turned": joint.turned,
    }


def _bolt(joint: Joint) -> Check | None:
    inputs = bolt_inputs(joint)
    if inputs is None:
        return None
    try:
        out = rule("hardware.bolt_check").run(inputs)
    except Refused as refusal:
        said = f"{refusal.field}: {refusal.reason}"
        return _check("bolt", "hardware.bolt_check", inputs, "not measured", said)
    return _check("bolt", "hardware.bolt_check", inputs, out["verdict"], said_of_bolt(out))


def said_of_bolt(out: dict[str, Any]) -> str:
    """What the checks of a bolt say, worst first, in words a builder can act on."""
    wrong = [name for name, v in out["checks"].items() if v != "in"]
    if not wrong:
        return f"{out['protrusion_threads']:.1f} threads past the nut"
    bearing, margin = out["threads_in_bearing_m"] * 1e3, out["bottom_margin_m"] * 1e3
    said = {
        "bearing": f"{bearing:.1f} mm of thread lies in the bearing: take a longer grip",
        "bottoming": f"the nut stops on the shank {-margin:.1f} mm too early: add a washer",
        "washers": "too many washers, or none under the turned part",
        "protrusion": f"{out['protrusion_threads']:.1f} threads past the nut",
        "cotter": "the cotter hole does not meet the slot",
    }
    return "; ".join(said[name] for name in wrong)


def _fit(joint: Joint) -> Check | None:
    if not joint.fit:
        return None
    inputs = {k: v for k, v in joint.fit["inputs"].items() if v is not None}
    out = rule("hardware.fit").run(inputs)
    return _check("fit", "hardware.fit", inputs, out["verdict"], said_of_fit(inputs["need"], out))


def said_of_fit(need: str, out: dict[str, Any]) -> str:
    """Must turn or must clamp, and whether pressing would be a mistake."""
    micrometres = abs(out["clearance_m"]) * 1e6
    kind = "clearance" if out["clearance_m"] >= 0 else "interference"
    clearance = f"{micrometres:.0f} µm {kind}"
    must = {"turn": "Must turn", "slip": "Must slide", "press": "Must clamp"}[need]
    if not out["do_not_press"]:
        return f"{must}: {clearance}"
    least, most = out["remove_min_m"] * 1e6, out["remove_max_m"]
    take = f"take off {least:.0f} µm or more"
    if most is not None:
        take = f"take off {least:.0f} to {most * 1e6:.0f} µm"
        if most * 1e6 < least:
            take = "no amount gives a sure fit with this gauge or this part"
    return f"{must}, and would be pressed: {clearance}. Do not press it; {take}"


def _metals(joint: Joint) -> Check | None:
    if not joint.metals:
        return None
    out = rule("hardware.galvanic").run(joint.metals)
    corrodes = f"{out['anode']} corrodes" if out["anode"] else "alike"
    said = f"{corrodes}; {'needs a remedy' if out['remedy_needed'] else 'no remedy needed'}"
    return _check("metals", "hardware.galvanic", joint.metals, out["verdict"], said)


def _safety(joint: Joint) -> Check | None:
    if joint.device == "":
        said = "enter what keeps it from turning"
        return _check("safetying", "", {}, "not measured", said)
    if joint.nut is None:
        return None
    inputs = {
        "rotating": joint.rotating,
        "device": joint.device,
        "nut": joint.nut.data["kind"],
        "bolt_drilled_shank": bool(joint.bolt and joint.bolt.data.get("drilled")),
        "head_drilled": bool(joint.bolt and joint.bolt.typed.get("head_drilled")),
        "loss_prevents_safe_flight": joint.loss_prevents_safe_flight,
        # Heat matters to a nonmetallic insert alone.
        "temperature_max_K": joint.temperature_max_k or ROOM_K,
        "insert": joint.insert,
    }
    if joint.insert == "nonmetallic" and joint.temperature_max_k is None:
        said = "a nonmetallic insert: enter the hottest that it gets"
        return _check("safetying", "", {}, "not measured", said)
    out = rule("hardware.safety_choice").run(inputs)
    plain = f"{CHOSEN[joint.device]} may be used here" if waiting(joint) else SECURED[joint.device]
    said = "; ".join(out["why"]) or out["note"] or plain
    return _check("safetying", "hardware.safety_choice", inputs, out["verdict"], said)


def torque_check(joint: Joint, torque: JointEvent | None) -> Check | None:
    """Whether a torque, kept or not, is what is asked at the nut."""
    if torque is None or torque.torque_nm is None or joint.torque_low_nm is None:
        return None
    assert joint.torque_high_nm is not None
    low, high = at_nut(joint.torque_low_nm, joint.torque_high_nm, joint.drag_nm)
    asked = f"{low:.2f} to {high:.2f} N·m at the nut"
    wrench = torque.instrument_was
    if "accuracy" not in wrench:
        said = f"{torque.as_typed} without a named wrench: its error is not known; needs {asked}"
        return _check("torque", "", {}, "too close", said)
    inputs = {
        "lo": low,
        "hi": high,
        "readings": [torque.torque_nm],
        "accuracy": wrench["accuracy"],
        "resolution": wrench.get("resolution", 0.0),
    }
    out = rule("controls.verdict").run(inputs)
    said = f"{torque.as_typed} ({torque.torque_nm:.2f} ± {out['U']:.2f} N·m); needs {asked}"
    return _check("torque", "controls.verdict", inputs, out["verdict"], said)


def _wrench(torque: JointEvent | None) -> Check | None:
    """A wrench that was past its calibration on the day proves nothing."""
    due = torque.instrument_was.get("calibration_due") if torque else None
    if torque is None or not due or date.fromisoformat(due) >= torque.at.date():
        return None
    said = f"torqued with {torque.instrument_was['name']}, whose calibration was due on {due}"
    return _check("wrench", "", {}, "too close", said)


def compound_check(joint: Joint) -> Check | None:
    """May its compound be used: on the day it was torqued, or today if it is not yet."""
    if joint.compound is None:
        return None
    tin = joint.compound
    used = joint.torqued_at.date() if joint.torqued_at else date.today()
    inputs: dict[str, Any] = {
        "expiry_day": tin.expiry_on.toordinal(),
        "today_day": used.toordinal(),
    }
    # A tin that was opened after the work was still closed then.
    if tin.opened_on and tin.opened_on <= used:
        inputs["opened_day"] = tin.opened_on.toordinal()
        inputs["life_open_days"] = tin.life_open_days
    if tin.stored_k and tin.storage_max_k:
        inputs |= {"stored_K": tin.stored_k, "storage_max_K": tin.storage_max_k}
    out = rule("hardware.may_use").run(inputs)
    verdict = "in" if out["decision"] == "use" else "out"
    said = f"{tin.name}, batch {tin.batch or 'not given'}: {out['decision']}"
    if out["decision"] != "use":
        said += f" (good until {tin.expiry_on.isoformat()})"
    return _check("compound", "hardware.may_use", inputs, verdict, said)


def last_use(tin: Compound) -> date:
    """The last day on which a compound may be used."""
    last = tin.expiry_on
    if tin.opened_on and tin.life_open_days:
        last = min(last, tin.opened_on + timedelta(days=tin.life_open_days))
    return last


def judge_again(aircraft: Aircraft) -> set[str]:
    """Judge joints whose re-torque depends on the hours run; the bays that they lie in.

    The caller holds their rows locked (`with_hours`) and has saved the aircraft.
    """
    bays = set()
    for joint in with_hours(aircraft.pk):
        joint.aircraft = aircraft
        judge_joint(joint)
        joint.save()
        bays |= {joint.bay.slug} if joint.bay else set()
    return bays


def with_hours(aircraft: int) -> list[Joint]:
    """Joints to be torqued again at some hours, locked."""
    rows = Joint.objects.select_for_update(of=("self",)).select_related(
        "bay", "bolt", "nut", "compound"
    )
    return list(rows.filter(aircraft=aircraft, retorque_at_hours__isnull=False))
