"""Fittings: a flared nut's torque, sealing compound, clamps, washers under a bulkhead fitting, and
ends that must be closed."""

from __future__ import annotations

from typing import Any

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.lines import fittings, pitot_topology  # noqa: F401
from core.lines.sheets.saying import TRADE, caution, mm
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, run, said

FLARE, SEALS, CLAMP, WASHERS, CAPS = (
    "lines.flare_torque",
    "lines.sealant",
    "lines.clamp_size",
    "hardware.bulkhead_washers",
    "lines.caps",
)


def _flare(asked: Asked) -> Worked:
    inputs = asked.only(
        "od_m", "material", "fitting_flare_deg", "tube_flare_deg", "measured_Nm", "u_Nm",
        "min_Nm", "max_Nm",
    )  # fmt: skip
    if "min_Nm" in inputs or "max_Nm" in inputs:
        inputs["source"] = asked.cited
    found = run(FLARE, inputs)
    window = f"{found['min_Nm']:.1f} to {found['max_Nm']:.1f} N·m"
    verdict = Verdict(found["verdict"]) if found.get("verdict") else Verdict.NOT_MEASURED
    if "measured_Nm" not in inputs:
        words = f"Tighten to {window}; not said what it was tightened to."
    else:
        words = f"Tightened to {inputs['measured_Nm']:.1f} N·m, right from {window}."
        if "u_Nm" not in inputs:
            verdict, words = Verdict.NOT_MEASURED, words + " Not said how well that is known."
    origins = {} if "source" not in inputs else {"source": asked.cited}
    check = said("torque", "flared nut", words, verdict, FLARE, inputs, origins=origins)
    return Worked((check,))


MATERIALS = (("steel", "steel"), ("aluminium", "aluminium"))
declare(
    Kind(
        "flare",
        TRADE,
        "fittings",
        "Flared nut",
        "Do the flares match, and is the nut as tight as it must be?",
        (
            Field("od", "od_m", "Tube’s outside diameter", "length", hint="3/8 in", needed=True),
            Field("material", "material", "Tube", "choice", choices=MATERIALS, needed=True),
            Field("fitting", "fitting_flare_deg", "Flare of the fitting, °", "number", "1", "37",
                  needed=True),
            Field("tube", "tube_flare_deg", "Flare of the tube, °", "number", "1", "37",
                  needed=True),
            Field("measured", "measured_Nm", "Tightened to", "torque", "Nm"),
            Field("u", "u_Nm", "u of that", "torque", "Nm"),
            Field("low", "min_Nm", "The maker’s least torque", "torque", "Nm", limit=True),
            Field("high", "max_Nm", "The maker’s greatest", "torque", "Nm", limit=True),
        ),
        _flare,
        caution(FLARE),
        "joint",
    )
)  # fmt: skip

REASONS = {
    "no_compound_here": "No compound belongs here",
    "compound_needed": "This thread needs a compound",
    "tape_shreds": "Tape shreds, and shreds block valves, jets and instruments",
    "not_named_for_system": "Its data sheet does not name this system",
}
SYSTEMS = ("fuel", "oil", "brake", "coolant", "instrument", "vacuum")


def _seal(asked: Asked) -> Worked:
    rows, checks, facts = asked.values["fittings"], [], []
    for n, row in enumerate(rows, 1):
        name = row.get("id", f"fitting {n}")
        inputs = {k: v for k, v in row.items() if k != "id"}
        found = run(SEALS, inputs)
        reason = found.get("reason")
        words = f"{REASONS[reason]}." if reason else "Sealed as it should be."
        if found["cautions"]:
            words += f" Mind: {'; '.join(found['cautions'])}."
        what = f"sealing, {name}"
        checks.append(
            said(f"seal {n} {name}", what, words, Verdict(found["verdict"]), SEALS, inputs)
        )
        if found["not_allowed"]:
            facts.append((f"{name}: never", ", ".join(found["not_allowed"])))
    return Worked(tuple(checks), tuple(facts))


declare(
    Kind(
        "sealing",
        TRADE,
        "fittings",
        "Sealing compound by fitting",
        "What seals each fitting, and may this compound be in this system?",
        (
            Field(
                "fittings", "fittings", "Fittings", "table", needed=True,
                columns=(
                    Field("id", "id", "Which", hint="gascolator in"),
                    Field("fitting", "fitting", "Kind", "choice", needed=True,
                          choices=(("pipe", "tapered pipe thread"),
                                   ("o_ring", "straight thread with O-ring"),
                                   ("flare", "flared"), ("bite", "bite sleeve"),
                                   ("banjo", "banjo with crush washers"),
                                   ("barb", "hose barb"))),
                    Field("system", "system", "In it is", "choice", needed=True,
                          choices=tuple((s, s) for s in SYSTEMS)),
                    Field("compound", "compound", "On its thread", "choice", needed=True,
                          choices=(("none", "nothing"), ("tape", "tape"), ("paste", "paste"))),
                    Field("rated", "rated_for", "Its data sheet names", "words",
                          hint="fuel; oil"),
                ),
            ),
        ),
        _seal,
        caution(SEALS),
        "joint",
    )
)  # fmt: skip


def _clamp(asked: Asked) -> Worked:
    inputs = asked.only("od_m", "sleeve_thickness_m", "clamp_bore_m", "tolerance_m")
    found = run(CLAMP, inputs)
    size = f"{mm(found['diameter_m'], 1)} ({found['sixteenths']:.1f} sixteenths of an inch)"
    finding = found.get("finding")
    if finding is None:
        words, verdict = f"Order for {size}; not said which is there.", Verdict.NOT_MEASURED
    elif finding == "none":
        words, verdict = f"It suits {size}.", Verdict.IN
    else:
        off = mm(abs(found["difference_m"]), 1)
        word = "too wide: it lets the line work" if finding == "loose" else "too tight: it crushes"
        words, verdict = f"By {off} {word}; needs {size}.", Verdict.OUT
    return Worked((said("clamp", "clamp", words, verdict, CLAMP, inputs),))


declare(
    Kind(
        "clamp",
        TRADE,
        "fittings",
        "Cushioned clamp",
        "Which size holds this line without sawing or crushing it?",
        (
            Field("od", "od_m", "Line’s outside diameter", "length", hint="3/8 in", needed=True),
            Field("sleeve", "sleeve_thickness_m", "Sleeve on it, thickness", "length"),
            Field("bore", "clamp_bore_m", "Bore of the clamp, cushion closed", "length"),
            Field("tolerance", "tolerance_m", "They may differ by", "length", hint="0.4"),
        ),
        _clamp,
        caution(CLAMP),
        "clearance",
    )
)  # fmt: skip


def _washers(asked: Asked) -> Worked:
    inputs = asked.only(
        "lip_m", "skin_m", "washer_m", "thread_m", "nut_m", "pitch_m", "lip_diameter_m",
        "washer_bore_m", "min_excess_m", "lip_tol_m", "skin_tol_m", "max_washers",
    )  # fmt: skip
    found = run(WASHERS, inputs)
    count = found.get("washers")
    if count is None:
        words = "No number of washers makes the nut clamp: another washer or fitting."
    else:
        many = "No washer" if count == 0 else f"{count} washer" + ("s" if count > 1 else "")
        words = (
            f"{many} under the nut; {found['threads_beyond_nut']:.1f} threads stand beyond it,"
            " at least one must."
        )
    check = said("washers", "bulkhead fitting", words, Verdict(found["verdict"]), WASHERS, inputs)
    return Worked((check,))


declare(
    Kind(
        "bulkhead fitting",
        TRADE,
        "fittings",
        "Bulkhead fitting in a thin skin",
        "How many washers does its nut need to clamp at all?",
        (
            Field("lip", "lip_m", "Flange to the first full thread", "length", needed=True),
            Field("thread", "thread_m", "Full thread beyond that", "length", needed=True),
            Field("skin", "skin_m", "Thickness of the skin", "length", needed=True),
            Field("nut", "nut_m", "Height of the nut", "length", needed=True),
            Field("pitch", "pitch_m", "Pitch of the thread", "length", needed=True),
            Field("washer", "washer_m", "Thickness of a washer", "length", needed=True),
            Field("bore", "washer_bore_m", "Its bore", "length", needed=True),
            Field("lip_d", "lip_diameter_m", "Diameter of the lip", "length", needed=True),
            Field("excess", "min_excess_m", "It must clamp by at least", "length", hint="0.2"),
            Field("lip_tol", "lip_tol_m", "Tolerance of the lip", "length"),
            Field("skin_tol", "skin_tol_m", "Tolerance of the skin", "length"),
            Field("most", "max_washers", "At most so many washers", "whole", hint="3"),
        ),
        _washers,
        caution(FLARE),
        "joint",
    )
)  # fmt: skip
SAID = {
    "open_end": "{} is open: cap it.",
    "mate_not_mutual": "{} is joined to an end that does not name it back.",
    "cap_used_twice": "{} closes two ends at once.",
    "cannot_fit": "{} may not be fitted: an end of it is open.",
}


def _caps(asked: Asked) -> Worked:
    items: dict[str, dict[str, Any]] = {}
    for row in asked.values["ends"]:
        item = items.setdefault(row["id"], {"id": row["id"], "kind": row["kind"], "ends": {}})
        if item["kind"] != row["kind"]:
            raise Refused("ends", f"{row['id']}: is {item['kind']} and {row['kind']}")
        if row["end"] in item["ends"]:
            raise Refused("ends", f"{row['id']}.{row['end']}: is entered twice")
        closed = {k: row[k] for k in ("cap", "mate") if k in row}
        item["ends"][row["end"]] = closed or None
    inputs: dict[str, Any] = {"items": list(items.values())} | asked.only("fit")
    found = run(CAPS, inputs)
    origins = {"items": "the ends entered on this sheet"}
    checks = [
        said(f"{code} {at}", f"ends: {at}", SAID[code].format(at), Verdict.OUT, CAPS, inputs,
             step="loose end", origins=origins)
        for code, at in found["findings"]
    ]  # fmt: skip
    if not checks:
        words = "Every end has a cap or is joined."
        checks = [
            said("closed", "ends", words, Verdict.IN, CAPS, inputs, step="loose end",
                 origins=origins)
        ]  # fmt: skip
    facts = (
        ("Caps to be counted out again", ", ".join(found["caps_fitted"]) or "none"),
        ("May be fitted now", ", ".join(found["may_fit"]) or "none"),
    )
    return Worked(tuple(checks), facts)


declare(
    Kind(
        "ends",
        TRADE,
        "fittings",
        "Open ends and caps",
        "Is every end of every line, probe and tank capped or joined?",
        (
            Field(
                "ends", "ends", "Each end on a row", "table", needed=True,
                columns=(
                    Field("id", "id", "Of", needed=True, hint="static tube"),
                    Field("kind", "kind", "Which is a", "choice", needed=True,
                          choices=(("line", "line"), ("probe", "probe"), ("tank", "tank"))),
                    Field("end", "end", "End", needed=True, hint="panel"),
                    Field("cap", "cap", "Cap on it"),
                    Field("mate", "mate", "Or joined to: thing.end"),
                ),
            ),
            Field("fit", "fit", "Lines to be fitted now, parted by ;", "words"),
        ),
        _caps,
        caution(CAPS),
        "loose end",
    )
)  # fmt: skip
