"""From the readings on the sheet to whole half-turns, with what they lead to."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from core.basis.refused import Refused
from core.basis.verdicts import Verdict, judge
from core.controls.linkage.advising import Advice, Aim, Item, Limits, Target, advise
from core.controls.linkage.arm_holes import arm_holes
from core.controls.linkage.contact import Bench
from core.controls.linkage.document import Document
from core.controls.linkage.fitting import Fitted, fit, wrong_way
from core.controls.linkage.reading import mechanism_to
from core.controls.linkage.solving import plan
from server.controls.facts import hold
from server.controls.linkage import shapes
from server.controls.linkage.built import built_rod, lengths_of, stop_items
from server.controls.linkage.keeping import document_of
from server.controls.linkage.models import Mechanism
from server.controls.linkage.saying import _engagement_after, said_of
from server.controls.linkage.solved import WRONG_WAY, Asked
from server.controls.models import Control, Requirement
from server.controls.naming import in_words
from server.kit.showing import Why, why

ROD_TOL_M, STOP_TOL = 0.003, math.radians(2.0)
DEG = math.degrees(1.0)


@dataclass
class Measured:
    """One output's readings in its own sign, rad, and what is still missing."""

    output: str
    values: dict[str, float] = field(default_factory=dict)
    required: dict[str, Limits] = field(default_factory=dict)
    positions: dict[str, str] = field(default_factory=dict)
    each: dict[str, float] = field(default_factory=dict)
    U: float = 0.0
    missing: list[str] = field(default_factory=list)

    @property
    def aim(self) -> Aim:
        """As the core takes it."""
        return Aim(self.values, self.required, self.U)

    @property
    def inside(self) -> bool:
        """Whether all is in as it stands."""
        return all(
            judge(self.values[k], self.each[k], lo, hi) is Verdict.IN
            for k, (lo, hi) in self.required.items()
        )


def measured(control: Control, d: Document, asked: Asked) -> list[Measured]:
    """Every output with a surface and a stop each way: readings and requirements."""
    held = hold(control)
    by_place: dict[tuple[str, str], tuple[Requirement, Any]] = {}
    for r in held.judged.requirements:
        # By a figure without a tolerance no turn is worked out: there is nothing to be inside of.
        if r.surface is not None and r.kind in ("travel", "neutral") and not r.no_tolerance:
            key = (r.surface.slug, r.position)
            conflict = held.results[r.pk]["conflict"]
            if key not in by_place or (conflict and conflict["decided"] == r.pk):
                by_place[key] = (r, held.results[r.pk])
    found = []
    for name, use in d.outputs.items():
        if not (use.surface and use.plus and use.minus):
            continue
        m = Measured(name)
        for end, position in (("neutral", "neutral"), ("plus", use.plus), ("minus", use.minus)):
            _take(m, end, position, use.surface, by_place, asked)
        found.append(m)
    return found


def _take(
    m: Measured,
    key: str,
    position: str,
    surface: str,
    by_place: Mapping[tuple[str, str], tuple[Requirement, Any]],
    asked: Asked,
) -> None:
    m.positions[key] = position
    r, result = by_place.get((surface, position), (None, None))
    if r is None or result is None or result["value"] is None:
        kind = "neutral" if key == "neutral" else "travel"
        m.missing.append(in_words(asked.name(surface), position, kind))
        return
    sign = asked.sign(surface, position)
    m.values[key] = sign * result["value"] / DEG
    lo, hi = r.lo, r.hi
    m.required[key] = (
        (lo, hi) if sign > 0 else (None if hi is None else -hi, None if lo is None else -lo)
    )
    m.each[key] = (result["U"] or 0.0) / DEG
    m.U = max(m.U, m.each[key])


def advice(
    control: Control,
    m: Mechanism,
    output: str = "",
    rod_tol: float = ROD_TOL_M,
    stop_tol: float = STOP_TOL,
    tried: Document | None = None,
) -> shapes.AdviceShown:
    """What to turn, for the output asked or the one that is worst. Saves nothing.

    tried: a changed file to be looked at instead of the kept one.

    rod_tol: how far a rod's length may be from the drawing, m; stop_tol: a stop, rad.
    """
    d, asked = tried or document_of(m), Asked(control)
    every = measured(control, d, asked)
    if not every:
        raise Refused("output", "no output here has a surface with a stop each way")
    if output and output not in {x.output for x in every}:
        raise Refused("output", "is not an output with a surface and a stop each way")
    one = next((x for x in every if x.output == output), None) or _worst(every)
    shown = _empty(d, asked, one)
    if one.missing:
        shown["missing"] = one.missing
        shown["said"] = f"Measure first: {', '.join(one.missing)}."
        return shown
    work = _as_built(d, m)
    bench = work.bench(one.output)
    if wrong_way(bench, one.values, max(one.U, math.radians(1.0))):
        shown["stop"] = WRONG_WAY
        shown["said"] = (
            "The readings go against the linkage. Check the sense of the gauge; if that is right,"
            " the control is reversed: do not turn anything, do not fly."
        )
        return shown
    fitted = _fit(bench, one, rod_tol, stop_tol)
    _say_fit(shown, fitted, one, asked, d, rod_tol, stop_tol)
    rods, stops = _items(m, work, one.output)
    others = [x for x in every if x is not one and not x.missing and _shares(d, x, one)]
    beside: list[Target] = [(work.bench(x.output), x.aim) for x in others]
    fit_bench = _with(bench, fitted)
    found = advise(fit_bench, one.aim, rods, stops, beside=beside)
    if not found.found and beside:
        alone = advise(fit_bench, one.aim, rods, stops)
        if alone.found:
            shown["geometry"].append("What mends this side alone would put another surface out.")
    _show(shown, found, one, others, asked, d, m, rods, stops, fitted)
    if not found.found:
        shown["geometry"] += _holes(fit_bench, one)
    shown["why"] = _why(d, bench, one, rods, stops)
    return shown


def _worst(every: list[Measured]) -> Measured:
    complete = [x for x in every if not x.missing]
    return next((x for x in complete if not x.inside), (complete or every)[0])


def _shares(d: Document, a: Measured, b: Measured) -> bool:
    return d.input_of(a.output) == d.input_of(b.output)


def _as_built(d: Document, m: Mechanism) -> Document:
    """The document with all that was turned."""
    there = {r.slug for r in m.rods.all()}
    lengths = {k: v for k, v in lengths_of(m, d).items() if k in there}
    built = d.mechanism.with_lengths(lengths)
    turned = {s.slug: (s.step or 0.0) * s.half_turns for s in m.stops.all()}
    stops = tuple(
        replace(s, stop=replace(s.stop, at=s.stop.at + turned.get(s.stop.id, 0.0))) for s in d.stops
    )
    return replace(d, plan=plan(built), stops=stops)


def _fit(bench: Bench, one: Measured, rod_tol: float, stop_tol: float) -> Fitted:
    upstream = set(bench.plan.upstream([bench.plan.mechanism.outputs[bench.output].body]))
    rods = {drive.rod: rod_tol for body, drive in bench.plan.drives.items() if body in upstream}
    stops = {s.id: stop_tol for s in bench.stops if s.body in upstream}
    return fit(bench, one.values, max(one.U, math.radians(0.05)), rods, stops)


def _with(bench: Bench, fitted: Fitted) -> Bench:
    lengths = dict(bench.plan.lengths) | dict(fitted.lengths)
    stops = tuple(replace(s, at=fitted.stops.get(s.id, s.at)) for s in bench.stops)
    return replace(bench, plan=plan(bench.plan.mechanism.with_lengths(lengths)), stops=stops)


def _items(m: Mechanism, d: Document, output: str) -> tuple[list[Item], list[Item]]:
    """Rods that move this output, and stops that can be turned."""
    moved = set(d.plan.upstream([d.mechanism.outputs[output].body]))
    driving = {drive.rod for body, drive in d.plan.drives.items() if body in moved}
    built = (built_rod(r).item() for r in m.rods.all() if r.slug in driving)
    rods = [i for i in built if i is not None]
    bodies = {s.stop.id: s.stop.body for s in d.stops}
    return rods, [i for i in stop_items(m) if bodies.get(i.id) in moved]


def _empty(d: Document, asked: Asked, one: Measured) -> shapes.AdviceShown:
    return shapes.AdviceShown(
        output=one.output,
        surface_name=asked.name(d.outputs[one.output].surface),
        stop="",
        missing=[],
        suspicious="",
        fit="",
        found=False,
        guarded=False,
        said="",
        changes=[],
        forecast=[],
        engagement=[],
        geometry=[],
        before_lengths_mm={},
        after_lengths_mm={},
        before_stops={},
        after_stops={},
        why=None,
    )


def _say_fit(
    shown: shapes.AdviceShown,
    fitted: Fitted,
    one: Measured,
    asked: Asked,
    d: Document,
    rod_tol: float,
    stop_tol: float,
) -> None:
    within = f"rods within ±{rod_tol * 1e3:g} mm and stops within ±{math.degrees(stop_tol):g}°"
    if fitted.explained:
        shown["fit"] = f"The readings fit this linkage with {within} of the drawing."
        return
    worst = max(fitted.residuals, key=lambda k: abs(fitted.residuals[k]))
    off = abs(math.degrees(fitted.residuals[worst]))
    shown["fit"] = f"No linkage with {within} gives these readings: {off:.1f}° stay unexplained."
    surface = asked.name(d.outputs[one.output].surface)
    if fitted.suspicious:
        position = one.positions[fitted.suspicious]
        kind = "neutral" if fitted.suspicious == "neutral" else "travel"
        shown["suspicious"] = (
            f"{in_words(surface, position, kind)} does not fit the others: read it again, or look"
            " for a hole or pivot that is not where the drawing has it."
        )
    else:
        shown["suspicious"] = (
            "No single reading is to blame: look for a hole or pivot that is not where the drawing"
            " has it, or a wrong chord or gauge sense."
        )


def _show(
    shown: shapes.AdviceShown,
    a: Advice,
    one: Measured,
    others: list[Measured],
    asked: Asked,
    d: Document,
    m: Mechanism,
    rods: list[Item],
    stops: list[Item],
    fitted: Fitted,
) -> None:
    predicted = [a.predicted, *a.beside] if a.found else [None] * (1 + len(others))
    for x, after in zip((one, *others), predicted, strict=True):
        shown["forecast"] += _forecast(x, after, asked, d)
    lengths = dict(d.plan.lengths) | dict(fitted.lengths)
    places = {s.stop.id: s.stop.at for s in d.stops} | dict(fitted.stops)
    shown["before_lengths_mm"] = {k: v * 1e3 for k, v in lengths.items()}
    shown["before_stops"] = places
    if not a.found:
        shown["said"] = (
            "No turn of these rods or stops does it: another arm hole, or the geometry,"
            " must change."
        )
        return
    shown["found"], shown["guarded"] = True, a.guarded
    steps = {i.id: i.step for i in (*rods, *stops)}
    for name, n in (a.changes or {}).items():
        kind = "rod" if name in lengths else "stop"
        said = said_of(m, name, n)
        shown["changes"].append(shapes.ChangeShown(id=name, kind=kind, half_turns=n, said=said))
        if kind == "rod":
            lengths[name] += n * steps[name]
            shown["engagement"] += _engagement_after(m, name, n)
        else:
            places = places | {name: places[name] + n * steps[name]}
    shown["after_lengths_mm"] = {k: v * 1e3 for k, v in lengths.items()}
    shown["after_stops"] = places
    if not a.changes and a.guarded:
        shown["said"] = "Nothing to turn: neutral and travel are inside."
    elif not a.changes:
        shown["said"] = (
            "Nothing to turn yet: inside, but too close to call. Measure with a better gauge first."
        )
    elif a.guarded:
        shown["said"] = "; ".join(c["said"] for c in shown["changes"]) + ". Then measure again."
    else:
        listed = "; ".join(c["said"] for c in shown["changes"])
        shown["said"] = f"{listed}: inside, but too close to call. Measure with a better gauge."


def _forecast(
    x: Measured, after: Mapping[str, float] | None, asked: Asked, d: Document
) -> list[shapes.Forecast]:
    surface = d.outputs[x.output].surface
    rows = []
    for key, position in x.positions.items():
        lo, hi = x.required[key]
        sign = asked.sign(surface, position)
        y = None if after is None else after[key]
        bounds = (lo, hi) if sign > 0 else (hi and -hi, lo and -lo)
        rows.append(
            shapes.Forecast(
                surface=surface,
                surface_name=asked.name(surface),
                position=position,
                measured_deg=sign * x.values[key] * DEG,
                predicted_deg=None if y is None else sign * y * DEG,
                lo=None if bounds[0] is None else bounds[0] * DEG,
                hi=None if bounds[1] is None else bounds[1] * DEG,
                before=judge(x.values[key], x.each[key], lo, hi).value,
                after="not measured" if y is None else judge(y, x.each[key], lo, hi).value,
            )
        )
    return rows


def _holes(bench: Bench, one: Measured) -> list[str]:
    said = []
    for h in arm_holes(bench, one.aim)[:3]:
        way = "out" if h.outward > 0 else "in"
        said.append(
            f"Hole {h.point.replace('_', ' ')} of {h.body.replace('_', ' ')}"
            f" {abs(h.outward) * 1e3:.1f} mm further {way} (arm {h.arm * 1e3:.1f} to"
            f" {(h.arm + h.outward) * 1e3:.1f} mm), rod {h.rod.replace('_', ' ')} set again:"
            " ask the maker before drilling."
        )
    return said or ["No hole within 30 % of its arm mends it either: the geometry must change."]


WHERE = dict.fromkeys(
    ("mechanism", "input", "output", "limit_deg", "stops", "rods", "adjustable_stops"),
    "the linkage as drawn and as built",
) | {
    "measured_deg": "the readings of this round",
    "required_deg": "what the documents ask",
    "U_deg": "the readings of this round",
}


def _why(d: Document, bench: Bench, one: Measured, rods: list[Item], stops: list[Item]) -> Why:
    def deg(pair: Limits) -> list[float | None]:
        return [None if v is None else v * DEG for v in pair]

    return why(
        "controls.advise",
        {
            "mechanism": mechanism_to(bench.plan.mechanism),
            "input": bench.input,
            "output": bench.output,
            "limit_deg": bench.limit * DEG,
            "stops": [
                {
                    "id": s.id,
                    "body": s.body,
                    "side": s.side,
                    "at_deg": s.at * DEG,
                    "kind": s.kind,
                    "named_first": s.named_first,
                }
                for s in bench.stops
            ],
            "measured_deg": {k: v * DEG for k, v in one.values.items()},
            "required_deg": {k: deg(v) for k, v in one.required.items()},
            "U_deg": one.U * DEG,
            "rods": [
                {"rod": i.id, "step_mm": i.step * 1e3, "min": i.least, "max": i.most} for i in rods
            ],
            "adjustable_stops": [
                {"stop": i.id, "step_deg": i.step * DEG, "min": i.least, "max": i.most}
                for i in stops
            ],
        },
        WHERE,
    )
