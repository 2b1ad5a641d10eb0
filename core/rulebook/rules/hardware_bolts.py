"""Rule book: bolts, fittings, torque, securing."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from core.basis.refused import Refused
from core.hardware.bolt import Bolt, BoltCheck, Limits, Nut, bolt_check
from core.hardware.bolt_choice import choose_bolt
from core.hardware.bulkhead import bulkhead_washers
from core.hardware.joint import Joint, Securing, joint_state, safety_choice
from core.hardware.torque import castle_align, castle_washer_swap, torque_setting
from core.rulebook.fields import Field
from core.rulebook.rules.entry import VERDICT, Entry

CHAPTER_7 = "AC 43.13-1B ch. 7."
LOOK = (
    "A nut that stops on the shank feels tight and clamps nothing. Look for the shank, "
    "count the threads."
)
_LIMITS = tuple(Limits.__dataclass_fields__)


def numbers_of(thing: Any, field: str, needed: tuple[str, ...]) -> dict[str, Any]:
    """An object with these keys, nulls left out; refuses a missing or misplaced one."""
    if not isinstance(thing, dict):
        raise Refused(field, "must be an object")
    for name in needed:
        if thing.get(name) is None:
            raise Refused(f"{field}.{name}", "is needed")
    return {k: v for k, v in thing.items() if v is not None}


def _made(kind: Any, thing: Any, field: str, needed: tuple[str, ...]) -> Any:
    given = numbers_of(thing, field, needed)
    unknown = set(given) - set(kind.__dataclass_fields__)
    if unknown:
        raise Refused(f"{field}.{min(unknown)}", "is not known here")
    return kind(**given)


def _bolt(thing: Any, field: str = "bolt") -> Bolt:
    bolt: Bolt = _made(Bolt, thing, field, ("grip_m", "length_m", "pitch_m"))
    return bolt


def _nut(thing: Any) -> Nut:
    nut: Nut = _made(Nut, thing, "nut", ("kind", "height_m"))
    return nut


def _limits(x: dict[str, Any]) -> Limits:
    return Limits(**{n: x[n] for n in _LIMITS if n in x})


def _shown(c: BoltCheck) -> dict[str, Any]:
    out: dict[str, Any] = {
        "threads_in_bearing_m": c.threads_in_bearing_m,
        "bottom_margin_m": c.bottom_margin_m,
        "protrusion_threads": c.protrusion_threads,
        "checks": {k: v.value for k, v in c.checks.items()},
        "verdict": c.verdict.value,
    }
    return out if c.hole_below_top_m is None else out | {"hole_below_top_m": c.hole_below_top_m}


def _check(x: dict[str, Any]) -> dict[str, Any]:
    head, under = x.get("head_washers_m", ()), x.get("nut_washers_m", ())
    limits = _limits(x)
    return _shown(bolt_check(x["stack_m"], _bolt(x["bolt"]), _nut(x["nut"]), head, under, limits))


def _choose(x: dict[str, Any]) -> dict[str, Any]:
    bolts = [_bolt(b, f"bolts.{i}") for i, b in enumerate(x["bolts"])]
    c = choose_bolt(x["stack_m"], bolts, _nut(x["nut"]), x.get("washers_m", ()), _limits(x))
    if c.check is None:
        nearest = [asdict(n) | {"failing": list(n.failing)} for n in c.nearest]
        return {"fits": False, "nearest": nearest}
    chosen = {
        "fits": True,
        "bolt": c.bolt,
        "head_washers_m": c.head_washers_m,
        "nut_washers_m": c.nut_washers_m,
    }
    return chosen | _shown(c.check)


def _bulkhead(x: dict[str, Any]) -> dict[str, Any]:
    b = bulkhead_washers(**x)
    return asdict(b) | {"verdict": b.verdict.value}


def _torque(x: dict[str, Any]) -> dict[str, Any]:
    given: dict[str, Any] = {"thread": "", "nut_type": "tension", "drag_Nm": 0.0} | x
    return asdict(torque_setting(**given))


def _castle(x: dict[str, Any]) -> dict[str, Any]:
    verdict, do = castle_align(x.get("torque_at_slot_Nm"), x["low_Nm"], x["high_Nm"])
    return {"verdict": verdict.value, "do": do}


def _swap(x: dict[str, Any]) -> dict[str, Any]:
    return {"options": [list(o) for o in castle_washer_swap(**x)]}


_FLAGS = ("installed", "run_down", "torqued", "safety_needed", "safetied", "witness_needed")


def _state(x: dict[str, Any]) -> dict[str, Any]:
    given = numbers_of(x["joint"], "joint", ("installed", "run_down", "torqued"))
    known = set(Joint.__dataclass_fields__)
    for name, value in given.items():
        if name not in known:
            raise Refused(f"joint.{name}", "is not known here")
        if name != "witness" and not isinstance(value, bool):
            raise Refused(f"joint.{name}", "must be true or false")
    joint = Joint(**({"safety_needed": False, "safetied": False} | given))
    s = joint_state(joint)
    return {"state": s.state, "may_fly": s.may_fly, "why": list(s.why)}


def _safety(x: dict[str, Any]) -> dict[str, Any]:
    s = safety_choice(Securing(**x))
    return {"verdict": s.verdict.value, "why": list(s.why), "note": s.note}


_BOLT_DOC = "grip_m, length_m, pitch_m; drilled with hole_from_head_m; grip_tol_m, length_tol_m."
_NUT_DOC = (
    "kind (self_locking, castellated, nutplate, plain), height_m; counterbore_m; slot_depth_m "
    "and pin_diameter_m of a castellated one; closed_depth_m of a closed nutplate."
)
_ALLOWED = (
    Field("stack_tol_m", doc="± tolerance of the stack."),
    Field("max_washers", "integer", "Most washers in all (default 3)."),
    Field("threads_in_bearing_max_m", doc="Thread allowed in the layers (default none)."),
    Field("runout_threads", doc="Incomplete threads after the shank (assumed 2).", unit=""),
    Field("protrude_min", doc="Least threads past the nut (default 1)."),
    Field("protrude_max", doc="Most threads past the nut (default 3)."),
    Field("turned", "text", "Which part is turned.", choices=("nut", "head")),
)
_RESULT = (
    Field("threads_in_bearing_m", doc="Thread inside the layers; negative: shank stands out."),
    Field("bottom_margin_m", doc="From the nut's face to the incomplete threads."),
    Field("protrusion_threads", doc="Threads past the nut.", unit=""),
    Field("hole_below_top_m", doc="Cotter hole below the nut's top."),
    Field("checks", "object", "The verdict of each check."),
    VERDICT,
)

ENTRIES = (
    Entry(
        "hardware.bolt_check",
        "Bolt grip and protrusion",
        "Is this bolt long enough for the stack, and not too long?",
        (
            Field("stack_m", doc="Layers, bushings and spacers clamped.", required=True),
            Field("bolt", "object", _BOLT_DOC, required=True),
            Field("nut", "object", _NUT_DOC, required=True),
            Field("head_washers_m", "numbers", "Thicknesses under the head."),
            Field("nut_washers_m", "numbers", "Thicknesses under the nut."),
            *_ALLOWED,
        ),
        _RESULT,
        _check,
        f"{CHAPTER_7} Grip equal to the material, washers to adjust; one to three threads "
        "past a self-locking nut is practice; two threads of run-out is this product's "
        "assumption.",
        "Lengths of the parts themselves, measured or from the part maker; no dash numbers.",
        LOOK,
    ),
    Entry(
        "hardware.choose_bolt",
        "Which bolt and washers",
        "Which stocked bolt and which washers does this stack need?",
        (
            Field("stack_m", doc="Layers, bushings and spacers clamped.", required=True),
            Field("bolts", "list", f"The stock: name, {_BOLT_DOC}", required=True),
            Field("nut", "object", _NUT_DOC, required=True),
            Field("washers_m", "numbers", "Washer thicknesses in stock.", required=True),
            *_ALLOWED,
        ),
        (
            Field("fits", "flag", "Whether any bolt in stock does."),
            Field("bolt", "text", "Its name."),
            Field("head_washers_m", "numbers", "Under the head."),
            Field("nut_washers_m", "numbers", "Under the nut."),
            *_RESULT,
            Field("nearest", "list", "If none: the nearest bolts and what fails."),
        ),
        _choose,
        CHAPTER_7,
        "Only what is in the catalogue entered.",
        LOOK,
    ),
    Entry(
        "hardware.bulkhead_washers",
        "Bulkhead fitting in a thin skin",
        "How many washers so that the nut clamps the skin and not the lip?",
        (
            Field("lip_m", doc="Flange's clamping face to the first full thread.", required=True),
            Field("skin_m", doc="Skin thickness.", required=True),
            Field("washer_m", doc="Washer thickness.", required=True),
            Field("thread_m", doc="Full thread beyond the lip.", required=True),
            Field("nut_m", doc="Nut height.", required=True),
            Field("pitch_m", doc="Thread pitch.", required=True),
            Field("lip_diameter_m", doc="Diameter of the lip.", required=True),
            Field("washer_bore_m", doc="Bore of the washer.", required=True),
            Field("min_excess_m", doc="Least clamping excess (0.2 mm assumed)."),
            Field("lip_tol_m", doc="± tolerance of the lip."),
            Field("skin_tol_m", doc="± tolerance of the skin."),
            Field("max_washers", "integer", "Most washers (default 3)."),
        ),
        (
            Field("washers", "integer", "How many; null if no number will do."),
            Field("clamp_excess_m", doc="What stands above the lip."),
            Field("threads_beyond_nut", doc="Threads past the nut.", unit=""),
            VERDICT,
        ),
        _bulkhead,
        "Geometry; the least excess of 0.2 mm is this product's assumption.",
        "Fittings with a lip or shoulder that passes through the skin.",
        "Without them the nut runs down on the lip, and the fitting turns in the skin or leaks.",
    ),
    Entry(
        "hardware.torque_setting",
        "Torque on the wrench",
        "What is the wrench set to, with the nut's own drag and an extension?",
        (
            Field("thread", "text", "Such as 1/4-28."),
            Field("nut_type", "text", "Loaded in tension or shear.", choices=("tension", "shear")),
            Field("drag_Nm", doc="Torque to turn the nut before it seats."),
            Field("wrench_m", doc="Drive centre to the point of the hand.", required=True),
            Field("extension_m", doc="Length of an extension across the drive."),
            Field("extension_angle_rad", doc="Its angle to the wrench line."),
            Field("low_Nm", doc="Your own range: low end."),
            Field("high_Nm", doc="Your own range: high end."),
        ),
        (
            Field("at_nut_low_Nm", doc="Low end at the nut."),
            Field("at_nut_high_Nm", doc="High end at the nut."),
            Field("set_low_Nm", doc="Wrench set to, low."),
            Field("set_high_Nm", doc="Wrench set to, high."),
        ),
        _torque,
        "AC 43.13-1B Table 7-1 and ch. 7 (the nut's drag is added).",
        "Shipped rows: fine thread, oil-free cadmium plate. Lubricated, coarse, other plating: "
        "enter the range from your source.",
        "The kit maker's value comes first. Never over-torque to line up a hole.",
    ),
    Entry(
        "hardware.castle_align",
        "Castellated nut at the slot",
        "Slot and hole meet: fit the pin, go on, or change the washer?",
        (
            Field("torque_at_slot_Nm", doc="Torque there; null if the high end came first."),
            Field("low_Nm", doc="Low end of the range.", required=True),
            Field("high_Nm", doc="High end of the range.", required=True),
        ),
        (VERDICT, Field("do", "text", "What to do.")),
        _castle,
        CHAPTER_7,
        "Tighten to the low end, then on to the next slot.",
        "Never back off to line up; never over-torque.",
    ),
    Entry(
        "hardware.castle_washer_swap",
        "Another washer under a castellated nut",
        "Which washer brings the slot nearest to the hole?",
        (
            Field("angle_to_slot_rad", doc="Angle to the next slot now.", required=True),
            Field("pitch_m", doc="Thread pitch.", required=True),
            Field("fitted_m", doc="Washer fitted now.", required=True),
            Field("stock_m", "numbers", "Thicknesses in stock.", required=True),
            Field("slots", "integer", "Slots of the nut (default 6)."),
        ),
        (Field("options", "list", "[thickness m, angle rad], least angle first."),),
        _swap,
        "Geometry of the thread.",
        "Right-hand thread; washers of the same hardness.",
    ),
    Entry(
        "hardware.joint_state",
        "Is the joint final?",
        "How far is the joint secured, and what keeps it from flying?",
        (Field("joint", "object", "What was done and what it needs.", required=True),),
        (
            Field("state", "text", "open, finger-tight, snug, torqued, safetied, sealed."),
            Field("may_fly", "flag", "Nothing stands in the way."),
            Field("why", "list", "Every reason why not."),
        ),
        _state,
        "This product's order of work; safetying after AC 43.13-1B ch. 7.",
        "Any loosening clears torque, safetying and the witness mark.",
    ),
    Entry(
        "hardware.safety_choice",
        "Safetying",
        "May this joint be secured in this way?",
        (
            Field("rotating", "flag", "The bolt is a pivot.", required=True),
            Field(
                "device",
                "text",
                "cotter, wire, tab, self_locking, adhesive, none.",
                required=True,
            ),
            Field("nut", "text", "self_locking, castellated, nutplate, plain.", required=True),
            Field("bolt_drilled_shank", "flag", "Shank drilled for a pin.", required=True),
            Field("head_drilled", "flag", "Head drilled for wire.", required=True),
            Field("loss_prevents_safe_flight", "flag", "Losing it ends the flight.", required=True),
            Field("temperature_max_K", doc="The hottest it gets.", required=True),
            Field("insert", "text", "nonmetallic, metal, none."),
            Field("reused", "flag", "Nut, pin or tab used before."),
            Field("finger_run", "flag", "A reused nut runs down by hand."),
            Field("maker_allows_adhesive", "flag", "The kit maker allows adhesive alone."),
        ),
        (
            VERDICT,
            Field("why", "list", "Every reason against it."),
            Field("note", "text", "What may be needed beside it."),
        ),
        _safety,
        "14 CFR 23.607; AC 43.13-1B ch. 7 (250 °F for nonmetallic inserts).",
        "Least drag of reused nuts by size: from your source.",
        "A pivot bolt held by friction alone can back off in flight.",
    ),
)
