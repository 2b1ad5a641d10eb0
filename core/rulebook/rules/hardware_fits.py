"""Rule book: fits and play, rivets, metals in contact, compounds."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from core.basis.refused import Refused
from core.hardware.compound import Tin, cure_ready, may_use
from core.hardware.fit import Fit, PlayJoint, clamped_bushing, fit, free_play, tilt_play
from core.hardware.metals import galvanic, rivet_layout
from core.rulebook.fields import Field
from core.rulebook.rules.entry import VERDICT, Entry
from core.rulebook.rules.hardware_bolts import numbers_of

TURN = "It must turn. Do not press it in: ream or polish first, then try it by hand."
METROLOGY = "JCGM 106:2012, 8.3 for the verdict."


def _fit(x: dict[str, Any]) -> dict[str, Any]:
    given = {"u_hole_m": 0.0, "u_shaft_m": 0.0} | x
    return shown_fit(fit(**given))


def shown_fit(f: Fit) -> dict[str, Any]:
    """A fit under the page's names."""
    out = asdict(f) | {"class": f.fit_class, "verdict": f.verdict.value}
    del out["fit_class"]
    return out


def _bushing(x: dict[str, Any]) -> dict[str, Any]:
    gap, verdict = clamped_bushing(**x)
    return {"float_m": gap, "verdict": verdict.value}


def _tilt(x: dict[str, Any]) -> dict[str, Any]:
    tilt, play = tilt_play(**x)
    return {"tilt_rad": tilt, "end_play_m": play}


def _play(x: dict[str, Any]) -> dict[str, Any]:
    joints = []
    for i, j in enumerate(x["joints"]):
        given = numbers_of(j, f"joints.{i}", ("clearance_m", "ratio"))
        joints.append(PlayJoint(given["clearance_m"], given["ratio"]))
    p = free_play(joints, x["driven_arm_m"], x["chord_m"], x.get("limit_rad"), x.get("u_rad", 0.0))
    return asdict(p) | {"verdict": p.verdict.value}


def _rivets(x: dict[str, Any]) -> dict[str, Any]:
    r = rivet_layout(**x)
    return {"edge": r.edge.value, "pitch": r.pitch.value, "worst_edge_d": r.worst_edge_d}


def _galvanic(x: dict[str, Any]) -> dict[str, Any]:
    g = galvanic(**x)
    return asdict(g) | {"verdict": g.verdict.value}


_TIN = ("expiry_day", "opened_day", "life_open_days", "storage_max_K", "stored_K", "pot_points")


def _points(x: dict[str, Any], field: str) -> list[Any]:
    rows = x.get(field, [])
    for i, row in enumerate(rows):
        if not isinstance(row, list):
            raise Refused(f"{field}[{i}]", "must be a pair of numbers")
    return list(rows)


def _use(x: dict[str, Any]) -> dict[str, Any]:
    tin = Tin(**({n: x[n] for n in _TIN if n in x} | {"pot_points": _points(x, "pot_points")}))
    rest = {k: v for k, v in x.items() if k not in _TIN}
    return asdict(may_use(tin, **rest))


def _cure(x: dict[str, Any]) -> dict[str, Any]:
    share, ready = cure_ready(_points(x, "cure_points"), _points(x, "history"))
    return {"share": share, "ready_after_s": ready}


ENTRIES = (
    Entry(
        "hardware.fit",
        "Must turn, slip or be pressed",
        "Will it turn or clamp, and would pressing be a mistake?",
        (
            Field("hole_m", "numbers", "Diameters of the hole, several places.", required=True),
            Field("shaft_m", "numbers", "Diameters of the shaft or bushing.", required=True),
            Field("u_hole_m", doc="Standard uncertainty of the hole."),
            Field("u_shaft_m", doc="Standard uncertainty of the shaft."),
            Field("need", "text", "What it must do.", True, choices=("turn", "slip", "press")),
            Field("clear_min_m", doc="The maker's least clearance."),
            Field("clear_max_m", doc="The maker's greatest clearance."),
        ),
        (
            Field("clearance_m", doc="Mean hole less mean shaft."),
            Field("tightest_m", doc="Least hole less greatest shaft."),
            Field("loosest_m", doc="Greatest hole less least shaft."),
            Field("u_m", doc="Combined standard uncertainty."),
            Field("class", "text", "clearance, transition or interference."),
            VERDICT,
            Field("remove_min_m", doc="Take off at least, on the diameter."),
            Field("remove_max_m", doc="And at most; below the least: no amount is sure."),
            Field("do_not_press", "flag", "It must turn or slip and would not."),
        ),
        _fit,
        f"Geometry; {METROLOGY} Fit limits are the maker's.",
        "Which part turns on which is a fact of the drawing.",
        TURN,
    ),
    Entry(
        "hardware.clamped_bushing",
        "Lever on a clamped bushing",
        "Does the lever keep its float when the bolt is tight?",
        (
            Field("bushing_length_m", doc="Length of the clamped bushing.", required=True),
            Field("turning_width_m", doc="Width of what turns on it.", required=True),
            Field("side_washers_m", doc="Thrust washers beside it."),
            Field("u_m", doc="Standard uncertainty of the float."),
            Field("float_min_m", doc="Least float (default 0)."),
            Field("float_max_m", doc="Greatest float."),
        ),
        (Field("float_m", doc="Side float; negative: it will not turn."), VERDICT),
        _bushing,
        f"Geometry; {METROLOGY}",
        "The bolt clamps the bushing, the lever turns on it.",
        "Negative float: the bolt clamps the lever and it will not turn.",
    ),
    Entry(
        "hardware.tilt_play",
        "Tilt of a pin in its bore",
        "How far can the lever's end be moved sideways?",
        (
            Field("bore_m", doc="Bore.", required=True),
            Field("shaft_m", doc="Pin.", required=True),
            Field("length_m", doc="Length of the bearing.", required=True),
            Field("lever_m", doc="Length of the lever.", required=True),
        ),
        (
            Field("tilt_rad", doc="Whole tilt, both ways."),
            Field("end_play_m", doc="Sideways play at the lever's end."),
        ),
        _tilt,
        "Geometry of a pin that touches opposite corners.",
        "Stiff parts; clearance up to a tenth of the length.",
    ),
    Entry(
        "hardware.free_play",
        "Free play of a surface",
        "How much play do all the joints add up to, and which should be mended first?",
        (
            Field("joints", "list", "clearance_m and ratio of each.", required=True),
            Field("driven_arm_m", doc="Arm at the surface.", required=True),
            Field("chord_m", doc="Hinge line to trailing edge.", required=True),
            Field("limit_rad", doc="Your limit; none is shipped."),
            Field("u_rad", doc="Standard uncertainty."),
        ),
        (
            Field("worst_m", doc="All play added, at the arm."),
            Field("worst_rad", doc="The same at the surface, total range."),
            Field("likely_rad", doc="Root of the sum of squares."),
            Field("trailing_edge_m", doc="At the trailing edge."),
            Field("largest", "integer", "Index of the joint with most play."),
            VERDICT,
        ),
        _play,
        f"Geometry; {METROLOGY}",
        "Diametral clearances, stiff parts.",
        "Too much play can let a surface flutter: the kit maker's limit comes first.",
    ),
    Entry(
        "hardware.rivet_layout",
        "Rivets: edge distance and pitch",
        "Are the holes far enough from the edge and from each other?",
        (
            Field("diameter_m", doc="Rivet diameter D.", required=True),
            Field("edge_m", "numbers", "Hole centres to the edge.", required=True),
            Field("pitch_m", "numbers", "Between hole centres."),
            Field("u_m", doc="Standard uncertainty of each distance."),
            Field("edge_min_d", doc="Least edge distance in D (default 2)."),
            Field("pitch_min_d", doc="Least pitch in D (default 3)."),
            Field("pitch_max_m", doc="Greatest pitch."),
        ),
        (
            Field("edge", "text", "Verdict of the edge distance."),
            Field("pitch", "text", "Verdict of the pitch."),
            Field("worst_edge_d", doc="Least edge distance in diameters."),
        ),
        _rivets,
        "AC 43.13-1B ch. 4 (minimums).",
        "The drawing overrides; countersunk rivets usually ask more: enter it.",
    ),
    Entry(
        "hardware.galvanic",
        "Two metals in contact",
        "Which corrodes, and must something be put between?",
        (
            Field("a", "text", "One material, as in the table.", required=True),
            Field("b", "text", "The other.", required=True),
            Field(
                "environment",
                "text",
                "Default harsh.",
                choices=("harsh", "normal", "controlled"),
            ),
            Field("remedy", "text", "wet sealant, wet primer, barrier or none."),
            Field("a_index_V", doc="Anodic index of a material outside the table."),
            Field("b_index_V", doc="The same for the other."),
        ),
        (
            Field("difference_V", doc="Difference of the anodic indices."),
            Field("anode", "text", "The one that corrodes."),
            Field("remedy_needed", "flag", "Something must be put between."),
            VERDICT,
            Field("advice", "text", "What to do."),
        ),
        _galvanic,
        "MIL-F-14072, MIL-STD-889 practice.",
        "Carbon laminate is taken as strongly noble (this product's rule). Titanium and others: "
        "enter the index.",
    ),
    Entry(
        "hardware.may_use",
        "May this compound be used?",
        "Is the tin good, and will it last for this work?",
        (
            Field("expiry_day", "integer", "Last day, as an ordinal number.", required=True),
            Field("today_day", "integer", "Today.", required=True),
            Field("opened_day", "integer", "Day of opening."),
            Field("life_open_days", "integer", "Days it keeps once opened."),
            Field("storage_max_K", doc="Warmest storage allowed."),
            Field("stored_K", doc="Warmest it was stored."),
            Field("pot_points", "list", "The maker's [K, s]; none for a one-part compound."),
            Field("temperature_K", doc="While working."),
            Field("mixed_ago_s", doc="Since mixing."),
            Field("work_s", doc="Work left."),
            Field("u_work_s", doc="Standard uncertainty of it."),
            Field("margin", doc="Share added to the work (default 0.25)."),
            Field("u_temperature_K", doc="Standard uncertainty of the temperature."),
        ),
        (
            Field(
                "decision",
                "text",
                "use, expired, stored too warm, gelled: throw away, will gel before you finish, "
                "too close.",
            ),
            Field("pot_life_s", doc="At this temperature."),
            Field("needed_s", doc="Mixed time and work with margin."),
            Field("stop_after_s", doc="Pot life left."),
            Field("work_that_fits_s", doc="The work that would still fit."),
        ),
        _use,
        "The maker's data sheet only; none is shipped.",
        "Between the maker's points; a larger mixed mass gels sooner than the card.",
        "Old or overheated sealant on fuel and threadlocker on controls: throw it away.",
    ),
    Entry(
        "hardware.cure_ready",
        "Has it cured?",
        "When is it cured enough to torque, close or fill?",
        (
            Field("cure_points", "list", "The maker's [K, s].", required=True),
            Field("history", "list", "Pieces [duration s or null, K].", required=True),
        ),
        (
            Field("share", doc="Share of the cure reached."),
            Field("ready_after_s", doc="When it was ready; null: not yet."),
        ),
        _cure,
        "The maker's data sheet only; none is shipped.",
        "Between the maker's points.",
        "Some compounds that got too cold at the start never reach full strength: follow the "
        "maker's data sheet.",
    ),
)
