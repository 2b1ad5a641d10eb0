"""Rods and stops as they stand: threads engaged after what was turned, what may be turned."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from core.basis.quantities import parse, parse_range
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.controls.linkage.advising import Item
from core.controls.linkage.document import Document
from core.controls.rod_length import Engagement, engagement, rod_step
from core.runs.bays import bays_of
from server.aircraft.models import Bay
from server.controls.linkage import shapes
from server.controls.linkage.models import Mechanism, Rod
from server.kit.showing import why

LENGTHS = (
    "pitch_a",
    "pitch_b",
    "thread_dia",
    "engaged_a",
    "engaged_b",
    "min_engaged",
    "hole_depth",
    "hole_dia",
    "max_engaged",
    "u",
    "built",
    "od",
    "wall",
)
MOST_TURNS = 12


def measures(record: dict[str, str], at: str) -> dict[str, float]:
    """The typed lengths of a rod's record, m; refuses by field."""
    found = {}
    for key in LENGTHS:
        if record.get(key):
            value = parse(record[key], "length", "mm", f"{at}.{key}").si
            if value < 0 or (value == 0 and key not in ("engaged_a", "engaged_b", "u")):
                raise Refused(f"{at}.{key}", "must be greater than zero")
            found[key] = value
    for key in ("E", "Fcy"):
        if record.get(key):
            found[key] = parse(record[key], "pressure", "Pa", f"{at}.{key}").si
    if record.get("jam_torque"):
        parse_range(record["jam_torque"], "torque", "Nm", f"{at}.jam_torque")
    if record.get("clocking"):
        found["clocking"] = abs(parse(record["clocking"], "angle", "deg", f"{at}.clocking").si)
    if record.get("turned") and record["turned"] not in ("tube", "end_a", "end_b"):
        raise Refused(f"{at}.turned", "must be tube, end_a or end_b")
    if record.get("turned") == "tube" and record.get("hands") not in ("opposite", "same"):
        raise Refused(f"{at}.hands", "must be opposite or same")
    return found


def check_records(d: Document) -> None:
    """Refuses a record that is not understood."""
    for name, record in d.records.items():
        measures(dict(record), f"rods.{name}.record")


@dataclass(frozen=True)
class BuiltRod:
    """A rod's record in SI, and each end as it stands after what was turned."""

    rod: Rod
    si: dict[str, float]
    ends: dict[str, Engagement]

    @property
    def step(self) -> float | None:
        """Change of length per half-turn, m, None if it cannot be turned."""
        return self._turned(1)[0] if self._known else None

    @property
    def _known(self) -> bool:
        r = self.rod.record
        return bool(r.get("turned")) and {"pitch_a", "pitch_b"} <= set(self.si)

    def _turned(self, half_turns: int) -> tuple[float, float, float]:
        r = self.rod.record
        s = rod_step(
            self.si["pitch_a"], self.si["pitch_b"], r["turned"], half_turns, r.get("hands")
        )
        return s.length_change, s.engaged_change_a, s.engaged_change_b

    def engaged(self, end: str, more: int = 0) -> float | None:
        """Thread engaged now (after `more` half-turns), m."""
        measured = self.si.get(f"engaged_{end}")
        if measured is None or not self._known:
            return measured
        turned = self.rod.half_turns - self.rod.recorded_at + more
        return measured + self._turned(turned)[1 if end == "a" else 2]

    def after(self, more: int) -> dict[str, Engagement]:
        """Both ends after more half-turns."""
        found = {}
        for end in ("a", "b"):
            engaged = self.engaged(end, more)
            if engaged is not None and "thread_dia" in self.si:
                found[end] = self._engagement(end, engaged)
        return found

    def _engagement(self, end: str, engaged: float) -> Engagement:
        return engagement(
            max(engaged, 0.0),
            self.si[f"pitch_{end}"],
            self.si["thread_dia"],
            self.si.get("min_engaged"),
            self.si.get("hole_depth"),
            self.si.get("hole_dia"),
            self.si.get("max_engaged"),
            self.si.get("u", 0.0),
        )

    def item(self) -> Item | None:
        """What the advisor may turn: as far as thread allows at both ends."""
        if not self._known or not self.step:
            return None
        least, most = -MOST_TURNS, MOST_TURNS
        for end, e in self.ends.items():
            per = self._turned(1)[1 if end == "a" else 2]
            if per == 0.0:
                continue
            out = e.half_turns_out if not e.half_turns_to_mend else -e.half_turns_to_mend
            into = MOST_TURNS if e.half_turns_in is None else e.half_turns_in
            low, high = (-into, out) if per < 0 else (-out, into)
            least, most = max(least, low), min(most, high)
        return Item(self.rod.slug, self.step, least, most) if least <= most else None


def built_rod(rod: Rod) -> BuiltRod:
    """A rod's record worked out."""
    si = measures(rod.record, f"rods.{rod.slug}.record")
    plain = BuiltRod(rod, si, {})
    return BuiltRod(rod, si, plain.after(0) if {"pitch_a", "pitch_b"} <= set(si) else {})


def rod_states(m: Mechanism, d: Document) -> list[shapes.RodState]:
    """Every rod of the mechanism."""
    bays = [b.box for b in Bay.objects.filter(aircraft=m.aircraft_id)]
    return [_rod_state(built_rod(r), d, bays) for r in m.rods.all()]


def _rod_state(b: BuiltRod, d: Document, bays: list[Any]) -> shapes.RodState:
    item = b.item()
    return shapes.RodState(
        id=b.rod.slug,
        record=b.rod.record,
        half_turns=b.rod.half_turns,
        least=item.least if item else None,
        most=item.most if item else None,
        per_half_turn_mm=None if b.step is None else b.step * 1e3,
        ends=[_end(b, end, d, bays) for end in ("a", "b")],
    )


def _end(b: BuiltRod, end: str, d: Document, bays: list[Any]) -> shapes.RodEndShown:
    held = getattr(d.mechanism.rod(b.rod.slug), end)
    inside = bays_of(d.mechanism.at_reference(held), bays)
    e, engaged = b.ends.get(end), b.engaged(end)
    verdict, said = judged_end(b, end)
    return shapes.RodEndShown(
        end=end,
        at=f"{held.body}, {held.point}",
        bay=inside[0] if inside else "",
        engaged_mm=None if engaged is None else engaged * 1e3,
        required_mm=e.required * 1e3 if e else None,
        threads=None if engaged is None or not e else engaged / b.si[f"pitch_{end}"],
        verdict=verdict.value,
        said=said,
        why=why_engagement(b, end) if e else None,
    )


def judged_end(b: BuiltRod, end: str) -> tuple[Verdict, str]:
    """An end's verdict with what to do."""
    e = b.ends.get(end)
    if e is None:
        return Verdict.NOT_MEASURED, "Measure the thread engaged here."
    if e.verdict is Verdict.IN:
        return e.verdict, ""
    required = f"{e.required * 1e3:.1f} mm ({e.set_by})"
    if e.half_turns_to_mend:
        n = e.half_turns_to_mend
        turns = "half-turn" if n == 1 else "half-turns"
        return e.verdict, f"Needs {required}: turn the end in {n} {turns}."
    return e.verdict, f"Needs {required}; it must not bottom either."


def why_engagement(b: BuiltRod, end: str) -> Any:
    """The rule with its inputs."""
    engaged = b.engaged(end)
    inputs = {
        "engaged_mm": None if engaged is None else max(engaged, 0.0) * 1e3,
        "pitch_mm": b.si[f"pitch_{end}"] * 1e3,
        "thread_dia_mm": b.si.get("thread_dia", math.nan) * 1e3,
    }
    for key in ("min_engaged", "hole_depth", "hole_dia", "max_engaged"):
        if key in b.si:
            inputs[f"{key}_mm"] = b.si[key] * 1e3
    inputs["U_mm"] = b.si.get("u", 0.0) * 1e3
    where = dict.fromkeys(inputs, "entered with the rod")
    where["engaged_mm"] = "measured when the rod was built, and what was turned since"
    return why("controls.engagement", inputs, where)


def stop_items(m: Mechanism) -> list[Item]:
    """Stops that can still be turned."""
    found = []
    for s in m.stops.all():
        if s.step is not None:
            least, most = s.least - s.half_turns, s.most - s.half_turns
            if least <= most:
                found.append(Item(s.slug, s.step, least, most))
    return found


def lengths_of(m: Mechanism, d: Document) -> dict[str, float]:
    """Rod lengths, m, after all that was turned."""
    found = {}
    for r in m.rods.all():
        if r.slug not in d.plan.lengths:
            continue
        step = built_rod(r).step
        found[r.slug] = d.plan.lengths[r.slug] + (step or 0.0) * r.half_turns
    return found


def stops_of(m: Mechanism) -> dict[str, float]:
    """Stop places (q) after all that was turned."""
    return {s.slug: s.at + (s.step or 0.0) * s.half_turns for s in m.stops.all()}


def rig_of(m: Mechanism) -> dict[str, dict[str, float]]:
    """All that was turned: rods in m, stops in q (the stand-in's hand does the same)."""
    rods = {r.slug: (built_rod(r).step or 0.0) * r.half_turns for r in m.rods.all()}
    stops = {s.slug: (s.step or 0.0) * s.half_turns for s in m.stops.all()}
    return {
        "rods": {k: v for k, v in rods.items() if v},
        "stops": {k: v for k, v in stops.items() if v},
    }
