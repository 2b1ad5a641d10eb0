"""Rows into the core, the core's answers into shapes: one control judged as a whole."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from core.basis.refused import Refused
from core.basis.verdicts import SEVERITY, Verdict, verdict_of, worst
from core.controls import sources, travel_checks
from core.controls.advice import Better, next_step, to_settle
from core.controls.travel import (
    Missing,
    Travel,
    judge_conflict,
    judge_sets,
    measurement,
    neutral_alignment,
    with_best,
)
from core.controls.verdict import Judged, Measurement, without_tolerance
from server.controls import shapes
from server.controls.models import (
    Control,
    Reading,
    Requirement,
    Round,
    SenseCheck,
    SourceDecision,
    Stop,
    Surface,
)
from server.controls.sets import RowSet, core_surface, sets_of
from server.controls.why import shown_set
from server.instruments.models import Instrument
from server.kit.showing import Why, why

# Where no limit is asked, any travel is as good as any other.
ANYWHERE = (-math.pi, math.pi)


@dataclass
class Judging:
    """A control's rows, and what was judged of them so far.

    readings: those that stand and are judged; rows: all that were ever kept, with all rounds
    and the checks of sense of the round that is judged; taken: what was added just now.
    """

    control: Control
    surfaces: Sequence[Surface]
    requirements: Sequence[Requirement]
    readings: Sequence[Reading]
    instruments: Sequence[Instrument]
    decisions: Sequence[SourceDecision]
    stops: Sequence[Stop] = ()
    rounds: Sequence[Round] = ()
    rows: Sequence[Reading] = ()
    senses: Sequence[SenseCheck] = ()
    taken: Sequence[Reading] = ()
    travels: dict[tuple[int, str], Travel] = field(default_factory=dict)
    sets: dict[tuple[int, str], list[RowSet]] = field(default_factory=dict)

    @property
    def servo(self) -> bool:
        """Whether an autopilot's servo moves it, by a stop of its linkage."""
        return any(s.kind == "servo" for s in self.stops)

    def take(self, rows: Sequence[Reading]) -> None:
        """Readings taken just now (of the current round), before anything is judged."""
        self.readings = [*self.readings, *rows]
        self.rows = [*self.rows, *rows]
        self.taken = [*self.taken, *rows]

    def results(self) -> dict[int, shapes.ResultShown]:
        """The result of every requirement, by its key."""
        simple = [r for r in self.requirements if r.kind in ("travel", "neutral")]
        done = {r.pk: self._position(r) for r in simple}
        for r in self.requirements:
            if r.kind == "symmetry":
                done[r.pk] = self._symmetry(r)
            elif r.kind == "ratio":
                done[r.pk] = self._ratio(r)
            elif r.kind == "repeatability":
                done[r.pk] = self._repeatability(r)
        for r in self.requirements:
            if r.no_tolerance:
                done[r.pk] = _untold(r, done[r.pk])
        return done

    def judged(self, surface: Surface, position: str) -> Judged | None:
        """The most certain set's value of a travel, whether or not a limit is asked of it."""
        travel = self.travels.get((surface.pk, position))
        if travel is None:
            found = sets_of(surface, position, self.readings, self.instruments)
            forms = [self._form(surface, s, "travel") for s in found]
            travel = judge_sets(forms, *ANYWHERE)
        if travel.governing is None:
            return None
        one = travel.sets[travel.governing]
        return one if isinstance(one, Judged) else None

    def _position(self, r: Requirement) -> shapes.ResultShown:
        assert r.surface is not None
        surface = next(s for s in self.surfaces if s.pk == r.surface_id)
        found = sets_of(surface, r.position, self.readings, self.instruments)
        judged = [(s, self._form(surface, s, r.kind)) for s in found]
        rows, forms, travel = _by_servo(judged, r)
        key = (surface.pk, r.position)
        if r.kind == "travel":
            self.travels.setdefault(key, travel)
            self.sets.setdefault(key, rows)
        shown = [
            shown_set(s, form, judged, r)
            for s, form, judged in zip(rows, forms, travel.sets, strict=True)
        ]
        unit = "°"
        if travel.governing is not None and rows[travel.governing].is_length:
            unit = "mm"
        better = self._better(surface, rows, travel, r)
        advice = next_step(travel, r.lo, r.hi, unit, better)
        states = {s.servo for s in rows} - {""}
        if self.servo and r.kind == "travel" and rows and len(states) < 2:
            other = "disconnected" if states == {"connected"} else "connected"
            also = "both with the servo connected and disconnected"
            advice.append(f"Measure it {'with the servo ' + other + ' too' if states else also}.")
        result = _result(travel, shown, advice)
        return self._with_conflict(r, travel, result)

    def _better(
        self, surface: Surface, rows: list[RowSet], travel: Travel, r: Requirement
    ) -> Better | None:
        """The best instrument at hand, where the governing set was read with a lesser one."""
        if travel.governing is None or r.kind != "travel":
            return None
        s = rows[travel.governing]
        U = with_best(core_surface(surface), s.core, r.lo, r.hi)
        kind = "length" if s.is_length else "angle"
        if U is None:
            return None
        best = min((i for i in self.instruments if i.kind == kind), key=lambda i: i.accuracy)
        return Better(best.name, U)

    @staticmethod
    def _form(surface: Surface, s: RowSet, kind: str) -> Measurement | Missing:
        if kind == "neutral":
            return neutral_alignment(s.core)
        try:
            return measurement(core_surface(surface), s.core)
        except Refused as refusal:
            return Missing(f"Cannot be judged: {refusal.field.replace('_', ' ')} {refusal.reason}")

    def _with_conflict(
        self, r: Requirement, travel: Travel, result: shapes.ResultShown
    ) -> shapes.ResultShown:
        same = [
            o
            for o in self.requirements
            if (o.surface_id, o.kind, o.position) == (r.surface_id, r.kind, r.position)
        ]
        ranges = [sources.Range(str(o.pk), o.lo, o.hi) for o in same]
        if len(same) < 2 or sources.compare(ranges).relation == "same":
            return result
        decided = next(
            (
                d
                for d in reversed(self.decisions)
                if (d.surface_id, d.position) == (r.surface_id, r.position)
            ),
            None,
        )
        decision = (
            sources.Decision(str(decided.requirement_id), decided.reason) if decided else None
        )
        compared = judge_conflict(travel, ranges, decision)
        word = compared.verdict or ("conflict open" if not decided else "not measured")
        each = compared.verdicts or tuple(Verdict.NOT_MEASURED for _ in same)
        result["conflict"] = shapes.ConflictShown(
            relation=compared.relation,
            sides=[
                shapes.ConflictSide(
                    requirement=o.pk,
                    cited=o.source.cited,
                    lo_deg=_deg(o.lo),
                    hi_deg=_deg(o.hi),
                    verdict=v.value,
                )
                for o, v in zip(same, each, strict=True)
            ],
            decided=decided.requirement_id if decided else None,
            reason=decided.reason if decided else "",
            decided_by=decided.decided_by.name if decided else "",
        )
        result["verdict"] = verdict_of(word).value
        if not decided:
            result["advice"] = [
                "Sources disagree. Ask the maker which holds, then decide with the reason."
            ]
        return result

    def _symmetry(self, r: Requirement) -> shapes.ResultShown:
        sides = {s.side: self.judged(s, r.position) for s in self.surfaces}
        left, right = sides.get("left"), sides.get("right")
        if left is None or right is None:
            return _empty("Measure this position on both sides.")
        inputs = {
            "left_deg": _deg(abs(left.y)),
            "right_deg": _deg(abs(right.y)),
            "tol_deg": _deg(r.hi),
            "u_left_deg": _deg(left.combined.u),
            "u_right_deg": _deg(right.combined.u),
        }
        check = travel_checks.symmetry(
            abs(left.y), abs(right.y), r.hi or 0.0, left.combined.u, right.combined.u
        )
        return _checked(
            check,
            "°",
            why("controls.symmetry", inputs, self._measured(inputs, r)),
            "The sides differ too much.",
        )

    def _ratio(self, r: Requirement) -> shapes.ResultShown:
        surface = next((s for s in self.surfaces if s.pk == r.surface_id), None)
        up = self.judged(surface, "up_stop") if surface else None
        down = self.judged(surface, "down_stop") if surface else None
        if up is None or down is None or up.y <= 0 or down.y <= 0:
            return _empty("Measure up and down on this side.")
        inputs = {
            "up_deg": _deg(up.y),
            "down_deg": _deg(down.y),
            "lo": r.lo,
            "hi": r.hi,
            "u_up_deg": _deg(up.combined.u),
            "u_down_deg": _deg(down.combined.u),
        }
        check = travel_checks.ratio(up.y, down.y, r.lo, r.hi, up.combined.u, down.combined.u)
        reason = why("controls.ratio", inputs, self._measured(inputs, r))
        return _checked(check, "", reason, "The differential is off.")

    @staticmethod
    def _measured(inputs: Mapping[str, object], r: Requirement) -> dict[str, str]:
        """Where the inputs of a comparison came from: this sheet, and whoever asks for it."""
        page = f", {r.page}" if r.page else ""
        asked = f"{r.source.cited}{page}: {r.as_typed}"
        limits = ("tol_deg", "lo", "hi", "limit_deg")
        return {k: asked if k in limits else "measured on this sheet" for k in inputs}

    def _repeatability(self, r: Requirement) -> shapes.ResultShown:
        mine = [
            x for x in self.readings if x.surface_id == r.surface_id and x.position == "neutral"
        ]
        above = tuple(x.value for x in mine if x.approach == "above")
        below = tuple(x.value for x in mine if x.approach == "below")
        ways = {(x.method, x.instrument_id, x.zero) for x in mine if x.approach}
        if len(above) < 2 or len(below) < 2 or len(ways) != 1:
            return _empty(
                "Read neutral at least twice coming from above and twice from below, with one"
                " instrument left on the surface."
            )
        step = float(mine[0].instrument_was["resolution"])
        inputs = {
            "from_above_deg": [_deg(v) for v in above],
            "from_below_deg": [_deg(v) for v in below],
            "limit_deg": _deg(r.hi),
            "resolution_deg": _deg(step),
        }
        found = travel_checks.repeatability(above, below, r.hi or 0.0, step)
        check = travel_checks.Check(
            found.hysteresis,
            found.combined.U,
            found.verdict,
            (r.hi or 0.0) - abs(found.hysteresis),
            found.parts,
            found.combined.k,
        )
        said = "Friction or play: mend that before rigging."
        origins = self._measured(inputs, r) | {
            "resolution_deg": f"{mine[0].instrument_was['name']}, as entered"
        }
        return _checked(check, "°", why("controls.repeatability", inputs, origins), said)


def _by_servo(
    judged: list[tuple[RowSet, Measurement | Missing]], r: Requirement
) -> tuple[list[RowSet], list[Measurement | Missing], Travel]:
    """Sets, forms and travel; with the servo connected and disconnected the worse one speaks."""
    states = list(dict.fromkeys(s.servo for s, _ in judged))
    groups = [[pair for pair in judged if pair[0].servo == state] for state in states] or [[]]
    travels = [judge_sets([form for _, form in group], r.lo, r.hi) for group in groups]
    first = min(range(len(groups)), key=lambda i: SEVERITY.index(travels[i].verdict))
    order = [first, *(i for i in range(len(groups)) if i != first)]
    sets = tuple(one for i in order for one in travels[i].sets)
    ordered = [pair for i in order for pair in groups[i]]
    return (
        [s for s, _ in ordered],
        [form for _, form in ordered],
        replace(travels[first], sets=sets),
    )


def _untold(r: Requirement, result: shapes.ResultShown) -> shapes.ResultShown:
    """By a figure without a tolerance nothing is In or Out."""
    result["verdict"] = without_tolerance(Verdict(result["verdict"])).value
    if result["value"] is not None:
        said = f"{r.source.cited} asks {r.as_typed}. Ask the maker for it, and enter it here."
        result["advice"] = [said]
    return result


def control_verdict(results: Sequence[shapes.ResultShown]) -> Verdict:
    """The worst verdict of a control's requirements."""
    return worst(Verdict(r["verdict"]) for r in results)


def _deg(value: float | None) -> float | None:
    return None if value is None else math.degrees(value)


def _empty(advice: str) -> shapes.ResultShown:
    return shapes.ResultShown(
        verdict="not measured",
        unit="°",
        value=None,
        U=None,
        k=None,
        n=0,
        margin=None,
        p_inside=None,
        sets=[],
        governing=None,
        disagree=False,
        advice=[advice],
        why=None,
        conflict=None,
    )


def _result(travel: Travel, shown: list[shapes.SetShown], advice: list[str]) -> shapes.ResultShown:
    result = _empty("")
    result |= {"sets": shown, "advice": advice, "disagree": travel.disagree}
    if travel.governing is None:
        return result
    judged = travel.sets[travel.governing]
    assert isinstance(judged, Judged)
    margin = None if math.isinf(judged.margin) else _deg(judged.margin)
    result |= {
        "verdict": travel.verdict.value,
        "value": _deg(judged.y),
        "U": _deg(judged.combined.U),
        "k": judged.combined.k,
        "n": judged.n,
        "margin": margin,
        "p_inside": judged.p_inside,
        "governing": travel.governing,
        "why": shown[travel.governing]["why"],
    }
    return result


def _checked(check: travel_checks.Check, unit: str, reason: Why, if_not: str) -> shapes.ResultShown:
    turn = math.degrees(1.0) if unit else 1.0
    result = _empty("")
    advice = {
        Verdict.IN: "Nothing to do here.",
        Verdict.OUT: if_not,
        Verdict.TOO_CLOSE: to_settle(check),
    }
    fields: dict[str, Any] = {
        "verdict": check.verdict.value,
        "unit": unit,
        "value": check.value * turn,
        "U": check.U * turn,
        "n": 1,
        "margin": None if math.isinf(check.margin) else check.margin * turn,
        "advice": [advice[check.verdict]],
        "why": reason,
    }
    result |= fields  # type: ignore[typeddict-item]
    return result
