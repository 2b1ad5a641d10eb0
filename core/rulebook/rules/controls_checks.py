"""Rule book: the verdict, checks across readings, and documents that disagree on travel."""

from __future__ import annotations

from typing import Any

from core.basis.refused import Refused, finite, not_negative
from core.basis.uncertainty import Contribution
from core.controls import sources, travel_checks
from core.controls.verdict import Judged, Measurement, judge_readings, range_of
from core.rulebook.fields import Field
from core.rulebook.rules.entry import VERDICT, Entry

METROLOGY = "JCGM 100:2008 G.3-G.4, JCGM 106:2012, 8.3."


def _limits(x: dict[str, Any]) -> tuple[float | None, float | None]:
    if "nominal" in x:
        if "lo" in x or "hi" in x:
            raise Refused("nominal", "give either the limits or nominal with tolerances")
        for tolerance in ("tol_plus", "tol_minus"):
            if tolerance not in x:
                raise Refused(tolerance, "is needed with nominal")
        return range_of(x["nominal"], x["tol_plus"], x["tol_minus"])
    return x.get("lo"), x.get("hi")


def _other(items: list[Any]) -> tuple[Contribution, ...]:
    parts = []
    for i, item in enumerate(items):
        if not isinstance(item, dict) or "u" not in item:
            raise Refused(f"other.{i}", "must be an object with u and nu")
        nu = item.get("nu")
        parts.append(
            Contribution(
                not_negative(item["u"], f"other.{i}.u"),
                None if nu is None else finite(nu, f"other.{i}.nu"),
            )
        )
    return tuple(parts)


def _verdict(x: dict[str, Any]) -> dict[str, Any]:
    lo, hi = _limits(x)
    names = ("accuracy", "resolution", "sensitivity", "offset", "pooled_s", "pooled_dof")
    given = {n: x[n] for n in (*names, "best_accuracy", "best_resolution") if n in x}
    judged = judge_readings(
        Measurement(readings=x.get("readings", ()), other=_other(x.get("other", [])), **given),
        lo,
        hi,
    )
    return {"verdict": "not measured"} if judged is None else _judged(judged)


def _judged(j: Judged) -> dict[str, Any]:
    out: dict[str, Any] = {
        "y": j.y,
        "n": j.n,
        "u": j.combined.u,
        "nu_eff": j.combined.nu_eff,
        "k": j.combined.k,
        "U": j.combined.U,
        "margin": j.margin,
        "verdict": j.verdict.value,
        "p_inside": j.p_inside,
        "single": j.single,
        "spread_flag": j.spread_flag,
    }
    if j.can_never_be_in:
        out["can_never_be_in"] = True
    if j.advice:
        out["settles"] = j.advice.settles
        out["repeats_total"] = j.advice.repeats_total
        out["accuracy_needed"] = j.advice.accuracy_needed
    return out


def _symmetry(x: dict[str, Any]) -> dict[str, Any]:
    c = travel_checks.symmetry(
        x["left"], x["right"], x["tol"], x.get("u_left", 0.0), x.get("u_right", 0.0)
    )
    return {"difference_deg": c.value, "U_deg": c.U, "verdict": c.verdict.value}


def _ratio(x: dict[str, Any]) -> dict[str, Any]:
    c = travel_checks.ratio(
        x["up"], x["down"], x.get("lo"), x.get("hi"), x.get("u_up", 0.0), x.get("u_down", 0.0)
    )
    return {"ratio": c.value, "U": c.U, "verdict": c.verdict.value}


def _repeatability(x: dict[str, Any]) -> dict[str, Any]:
    r = travel_checks.repeatability(
        x["from_above"], x["from_below"], x["limit"], x.get("resolution", 0.0)
    )
    return {
        "hysteresis_deg": r.hysteresis,
        "U_deg": r.combined.U,
        "k": r.combined.k,
        "neutral_deg": r.neutral,
        "verdict": r.verdict.value,
    }


def _ranges(items: list[Any]) -> list[sources.Range]:
    ranges = []
    for i, item in enumerate(items):
        if not isinstance(item, dict) or not str(item.get("source") or "").strip():
            raise Refused(f"ranges.{i}", "must name its source")
        ranges.append(sources.Range(str(item["source"]), item.get("lo"), item.get("hi")))
    return ranges


def _sources(x: dict[str, Any]) -> dict[str, Any]:
    decided = x.get("decision")
    c = sources.compare(
        _ranges(x["ranges"]),
        x.get("other_widths", ()),
        x.get("factor", 3.0),
        x.get("y"),
        x.get("U", 0.0),
        sources.Decision(str(decided.get("source", "")), str(decided.get("reason") or ""))
        if decided is not None
        else None,
    )
    out: dict[str, Any] = {
        "relation": c.relation,
        "common": None if c.common is None else list(c.common),
        "gap": c.gap,
    }
    if c.plausibility:
        p = c.plausibility
        out |= {
            "median_width": p.median_width,
            "width_ratio": list(p.width_ratio),
            "implausible": list(p.implausible),
        }
    if c.verdicts is not None:
        out |= {"verdicts": [v.value for v in c.verdicts], "verdict": c.verdict}
    return out


ENTRIES = (
    Entry(
        "controls.verdict",
        "A requirement against readings",
        "Is the value in, out or too close to call, and what would settle it?",
        (
            Field("lo", doc="Low limit, or null."),
            Field("hi", doc="High limit, or null."),
            Field("nominal", doc="Instead of limits: the value asked for."),
            Field("tol_plus", doc="Tolerance above nominal."),
            Field("tol_minus", doc="Tolerance below nominal."),
            Field("readings", "numbers", "The repeated readings."),
            Field("accuracy", doc="Maker's limit of the instrument, half-width."),
            Field("resolution", doc="One full step of the display or scale."),
            Field("sensitivity", doc="c in y = c x mean + offset (default 1)."),
            Field("offset", doc="Offset in the unit of y."),
            Field("other", "list", "Other contributions {u, nu}, in the unit of y."),
            Field("pooled_s", doc="Standard deviation known from earlier work.", unit=""),
            Field("pooled_dof", doc="Its degrees of freedom."),
            Field("best_accuracy", doc="Accuracy of the best instrument at hand (0: unknown)."),
            Field("best_resolution", doc="Its resolution."),
        ),
        (
            Field("y", doc="The value judged."),
            Field("n", "integer", "How many readings."),
            Field("u", doc="Combined standard uncertainty."),
            Field("nu_eff", doc="Effective degrees of freedom, null if infinite."),
            Field("k", doc="Coverage factor."),
            Field("U", doc="Expanded uncertainty, 95.45 %."),
            Field("margin", doc="Least distance to a limit, negative outside."),
            VERDICT,
            Field("p_inside", doc="Probability that the value lies inside."),
            Field("single", "flag", "One reading: spread not known."),
            Field("spread_flag", "flag", "The readings spread more than the instrument explains."),
            Field("can_never_be_in", "flag", "The range is narrower than 2 U."),
            Field("settles", "text", "repeats, instrument, both or none."),
            Field("repeats_total", "integer", "How many readings in all would settle it."),
            Field("accuracy_needed", doc="Instrument accuracy that would settle it."),
        ),
        _verdict,
        METROLOGY,
        "One unit throughout. Averaging never reduces the instrument's own error. Two readings"
        " have one degree of freedom: take four.",
        "In is about this measurement; the maker's limits and an inspector's judgement stand"
        " above it.",
    ),
    Entry(
        "controls.symmetry",
        "Left against right",
        "Do both sides travel alike?",
        (
            Field("left_deg", doc="Left travel, without sign.", required=True),
            Field("right_deg", doc="Right travel, without sign.", required=True),
            Field("tol_deg", doc="Greatest difference allowed.", required=True),
            Field("u_left_deg", doc="Standard uncertainty, left."),
            Field("u_right_deg", doc="Standard uncertainty, right."),
        ),
        (
            Field("difference_deg", doc="Left minus right."),
            Field("U_deg", doc="Expanded uncertainty."),
            VERDICT,
        ),
        _symmetry,
        METROLOGY,
        "Both sides measured the same way, from each side's own neutral.",
    ),
    Entry(
        "controls.ratio",
        "Differential: up over down",
        "Is the differential what the drawing asks?",
        (
            Field("up_deg", doc="Up travel, over 0.", required=True),
            Field("down_deg", doc="Down travel, over 0.", required=True),
            Field("lo", doc="Low limit of the ratio."),
            Field("hi", doc="High limit of the ratio."),
            Field("u_up_deg", doc="Standard uncertainty, up."),
            Field("u_down_deg", doc="Standard uncertainty, down."),
        ),
        (Field("ratio", doc="Up over down."), Field("U", doc="Expanded uncertainty."), VERDICT),
        _ratio,
        METROLOGY,
        "First-order propagation: for uncertainties small against the angles.",
    ),
    Entry(
        "controls.repeatability",
        "Neutral from above and from below",
        "Does the surface come back to the same neutral from either side?",
        (
            Field("from_above_deg", "numbers", "Neutral, coming from above (two or more).", True),
            Field("from_below_deg", "numbers", "Neutral, coming from below (two or more).", True),
            Field("limit_deg", doc="Greatest difference allowed.", required=True),
            Field("resolution_deg", doc="One step of the display."),
        ),
        (
            Field("hysteresis_deg", doc="From above minus from below."),
            Field("U_deg", doc="Expanded uncertainty."),
            Field("k", doc="Coverage factor."),
            Field("neutral_deg", doc="Mean of both."),
            VERDICT,
        ),
        _repeatability,
        METROLOGY,
        "The instrument stays on the surface between approaches: its accuracy cancels.",
        "High hysteresis is friction or play: mend that before rigging.",
    ),
    Entry(
        "controls.sources",
        "Documents that ask different travel",
        "How do the ranges lie to each other, and what can be said of a value meanwhile?",
        (
            Field("ranges", "list", "{source, lo, hi}, two or more, one unit.", True),
            Field("other_widths", "numbers", "Widths of the project's other ranges of this kind."),
            Field("factor", doc="How much wider than the median is questioned (default 3)."),
            Field("y", doc="A measured value."),
            Field("U", doc="Its expanded uncertainty."),
            Field("decision", "object", "{source, reason}, once decided."),
        ),
        (
            Field("relation", "text", "same, apart, touch, inside or overlap."),
            Field("common", "numbers", "The common part, null if empty."),
            Field("gap", doc="Distance between them, 0 if they meet."),
            Field("median_width", doc="Median of the other widths."),
            Field("width_ratio", "numbers", "Each range's width over the median."),
            Field("implausible", "list", "Sources much wider than the rest."),
            Field("verdicts", "list", "The value judged by each source."),
            Field("verdict", "text", "The chosen source's, the common one, or conflict open."),
        ),
        _sources,
        "Comparison of closed ranges; " + METROLOGY,
        "A wide range is a hint of a misprint, never proof: ask the maker and record who answered.",
        "The wider range is never picked silently.",
    ),
)
