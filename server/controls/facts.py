"""One control: gathered in a bounded number of queries, judged, stored and shown."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from core.controls.asking import askable
from core.controls.included_angle import Included, included_for
from core.controls.travel import direction
from core.signoff.canonical import canonical_hash, figure
from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.controls import shapes
from server.controls.assess import Judging, control_verdict
from server.controls.changes import changed_limits
from server.controls.farthest import TRAVEL, farthest
from server.controls.models import (
    Assessment,
    Control,
    PartCheck,
    Reading,
    Requirement,
    Rod,
    Round,
    SenseCheck,
    SourceDecision,
    Stop,
    Surface,
)
from server.controls.rounds import standing_in
from server.controls.sets import current
from server.controls.values import (
    decision_value,
    reading_value,
    requirement_value,
    result_value,
    sense_value,
    surface_value,
)
from server.instruments.models import Instrument
from server.kit import dirty, ports
from server.kit.gathering import by_key
from server.kit.moving import moves_farther
from server.signoff.facts import stale_scopes

DEG = math.degrees(1.0)


def judging(control: Control, round_id: int | None = None) -> Judging:
    """The control's rows of its current round (or `round_id`), ready to be judged."""
    return judgings([control], round_id)[0]


def judgings(controls: Sequence[Control], round_id: int | None = None) -> list[Judging]:
    """The same of several controls of one aircraft, in as many queries as of one."""
    if not controls:
        return []
    rounds = _by(Round.objects.filter(control__in=controls).select_related("started_by"))
    chosen = {
        key: next((r for r in mine if r.pk == round_id), mine[-1]) for key, mine in rounds.items()
    }
    rows_of = Surface.objects.filter(control__in=controls).select_related("bay")
    surfaces, of_surface = _by(rows_of), {s.pk: s for s in rows_of}
    readings = list(Reading.objects.filter(surface__control__in=controls))
    _join(readings, of_surface, {r.started_by_id: r.started_by for x in rounds.values() for r in x})
    rows = by_key(readings, lambda r: r.surface.control_id)
    asked = _by(Requirement.objects.filter(control__in=controls).select_related("source"))
    for r in (r for mine in asked.values() for r in mine):
        r.surface = of_surface[r.surface_id] if r.surface_id else None
    decisions = by_key(
        SourceDecision.objects.filter(surface__control__in=controls).select_related("decided_by"),
        lambda d: of_surface[d.surface_id].control_id,
    )
    stops = by_key(
        Stop.objects.filter(mechanism__control__in=controls).select_related("mechanism"),
        lambda s: s.mechanism.control_id,
    )
    senses = _by(SenseCheck.objects.filter(round__in=chosen.values()).select_related("seen_by"))
    instruments = list(Instrument.objects.filter(aircraft=controls[0].aircraft_id))
    return [
        Judging(
            c,
            surfaces[c.pk],
            asked[c.pk],
            current(standing_in(rows[c.pk], rounds[c.pk], chosen[c.pk])),
            instruments,
            decisions[c.pk],
            stops[c.pk],
            rounds[c.pk],
            rows[c.pk],
            senses[c.pk],
        )
        for c in controls
    ]


def _by(rows: Iterable[Any]) -> defaultdict[Any, list[Any]]:
    return by_key(rows, lambda row: row.control_id)


def _join(
    rows: Iterable[Reading], surfaces: Mapping[int, Surface], people: dict[int, Person]
) -> None:
    """Give each reading its surface and who took it, from what is read already: a hundred
    readings by two persons are not a hundred persons."""
    if strangers := {r.taken_by_id for r in rows} - people.keys():
        people |= Person.objects.in_bulk(strangers)
    for r in rows:
        r.surface, r.taken_by = surfaces[r.surface_id], people[r.taken_by_id]


def current_round(control: Control) -> Round:
    """The round being measured; the first begins with the control."""
    found = control.rounds.order_by("-number").first()
    assert found is not None, "a control is made with its first round"
    return found


@dataclass(frozen=True)
class Held:
    """A control as judged once: its rows and the result of every requirement."""

    judged: Judging
    results: dict[int, shapes.ResultShown]


def hold(control: Control, round_id: int | None = None, read: Judging | None = None) -> Held:
    """Judge the control as it stands; `read`: its rows, where they were read already."""
    judged = read or judging(control, round_id)
    return Held(judged, judged.results())


def store(held: Held) -> None:
    """Keep the verdicts, in the caller's transaction."""
    rows = []
    requirements = held.judged.requirements
    before = Assessment.objects.filter(requirement__in=requirements, requirement__kind__in=TRAVEL)
    farther = _farthest(requirements, dict(before.values_list("requirement", "result")))
    for key, result in held.results.items():
        reason = result["why"]
        rows.append(
            Assessment(
                requirement_id=key,
                verdict=result["verdict"],
                rule=reason["rule"] if reason else "controls.verdict",
                edition=reason["edition"] if reason else 1,
                inputs_hash=canonical_hash(reason["inputs"] if reason else {}),
                result=result,
                at=datetime.now(UTC),
            )
        )
    Assessment.objects.bulk_create(
        rows,
        update_conflicts=True,
        unique_fields=["requirement"],
        update_fields=["verdict", "rule", "edition", "inputs_hash", "result", "at"],
    )
    control = held.judged.control
    dirty.mark(control.aircraft_id, "controls", control.slug)
    if farther != _farthest(requirements, held.results):
        moves_farther(control.aircraft_id)


def _farthest(requirements: Iterable[Requirement], results: Mapping[int, Any]) -> list[Any]:
    """How far each travel counts for clearances."""
    return [farthest(r.hi, results.get(r.pk)) for r in requirements if r.kind in TRAVEL]


def control_rows(aircraft: Aircraft) -> list[shapes.ControlRow]:
    """The aircraft's controls with their stored verdicts."""
    verdicts: dict[int, list[str]] = {}
    for key, verdict in Assessment.objects.filter(
        requirement__control__aircraft=aircraft
    ).values_list("requirement__control", "verdict"):
        verdicts.setdefault(key, []).append(verdict)
    stale = stale_scopes([aircraft.pk])
    rows = []
    for control in aircraft.controls.all():
        words = verdicts.get(control.pk, [])
        results = [*words, "stale"] if (aircraft.pk, scope(control)) in stale else words
        rows.append(
            shapes.ControlRow(
                slug=control.slug,
                name=control.name,
                verdict=control_verdict([{"verdict": w} for w in results]).value,  # type: ignore[typeddict-item]
                requirements=len(words),
                in_count=words.count("in"),
            )
        )
    return rows


def scope(control: Control) -> str:
    """The name under which this control is signed."""
    return f"control:{control.slug}"


def sheet(
    control: Control, number: int | None = None, held: Held | None = None
) -> shapes.SheetShown:
    """The whole sheet of one control, of its current or an earlier round.

    `held`: what was judged of its current round already.
    """
    if held is None:
        earlier = None if number is None else control.rounds.filter(number=number).first()
        held = hold(control, earlier.pk if earlier else None)
    judged, results = held.judged, held.results
    rounds, rows = judged.rounds, judged.rows
    chosen = next((r for r in rounds if r.number == number), rounds[-1])
    standing = {r.pk for r in current(rows)}
    changes = changed_limits(judged.requirements)
    return shapes.SheetShown(
        slug=control.slug,
        name=control.name,
        sense_check=control.sense_check,
        positions=control.positions,
        kinds=list(askable(control.positions, [s.side for s in judged.surfaces])),  # type: ignore[arg-type]
        version=control.version,
        primary=control.primary,
        primary_reason=control.primary_reason,
        verdict=control_verdict(list(results.values())).value,
        round=chosen.number,
        rounds=[_round(r, rows) for r in rounds],
        surfaces=[surface_shown(s) for s in judged.surfaces],
        requirements=[
            requirement_shown(r, results[r.pk], changes.get(r.pk, [])) for r in judged.requirements
        ],
        readings=[reading_shown(r, r.pk in standing) for r in standing_in(rows, rounds, chosen)],
        sense_checks=[
            shapes.SenseShown(
                text=c.text,
                right_way=c.right_way,
                free=c.free,
                note=c.note,
                seen_by=c.seen_by.name,
                at=c.at.isoformat(),
            )
            for c in judged.senses
        ],
    )


def _round(r: Round, rows: Sequence[Reading]) -> shapes.RoundShown:
    return shapes.RoundShown(
        number=r.number,
        reason=r.reason,
        started_at=r.started_at.isoformat(),
        started_by=r.started_by.name,
        readings=sum(row.round_id == r.pk for row in rows),
    )


def surface_shown(s: Surface) -> shapes.SurfaceShown:
    """A surface with its geometry in ° and mm."""
    return shapes.SurfaceShown(
        id=s.pk,
        version=s.version,
        slug=s.slug,
        name=s.name,
        side=s.side,
        bay=s.bay.slug if s.bay else "",
        positive=s.positive,
        chord_mm=None if s.chord_m is None else s.chord_m * 1e3,
        chord_typed=s.chord_typed,
        u_chord_mm=s.u_chord_m * 1e3,
        phi_deg=s.phi_rad * DEG,
        u_phi_deg=s.u_phi_rad * DEG,
        u_sweep_deg=s.u_sweep_rad * DEG,
        u_neutral_included_deg=s.u_neutral_included_rad * DEG,
        sweep_deg=None if s.sweep_rad is None else s.sweep_rad * DEG,
        dihedral_deg=s.dihedral_rad * DEG,
        neutral_included_deg=(
            None if s.neutral_included_rad is None else s.neutral_included_rad * DEG
        ),
    )


def requirement_shown(
    r: Requirement, result: shapes.ResultShown, changes: Sequence[shapes.LimitChange] = ()
) -> shapes.RequirementShown:
    """A requirement with its limits in ° (a ratio has no unit), and how they were changed."""
    per = 1.0 if r.kind == "ratio" else DEG
    return shapes.RequirementShown(
        id=r.pk,
        version=r.version,
        surface=r.surface.slug if r.surface else "",
        kind=r.kind,  # type: ignore[typeddict-item]
        position=r.position,
        lo=None if r.lo is None else r.lo * per,
        hi=None if r.hi is None else r.hi * per,
        no_tolerance=r.no_tolerance,
        as_typed=r.as_typed,
        source=shapes.SourceShown(id=r.source_id, cited=r.source.cited, page=r.page),
        changes=list(changes),
        template=template_for(r),
        result=result,
    )


def template_for(r: Requirement) -> shapes.TemplateShown | None:
    """The card that shows the middle of this travel, from the surface's neutral angle.

    None where no card applies; without a neutral angle the card's angle is not known.
    """
    s = r.surface
    if s is None or r.kind != "travel" or r.lo is None or r.hi is None:
        return None
    skin = "right" if s.positive == "trailing_edge_right" else "upper"
    included = None
    if s.neutral_included_rad is not None:
        middle = direction(s.positive, r.position) * (r.lo + r.hi) / 2.0
        included = included_for(Included(s.positive, skin, s.neutral_included_rad), middle) * DEG
    return shapes.TemplateShown(skin=skin, included_deg=included)  # type: ignore[typeddict-item]


def reading_shown(r: Reading, is_current: bool) -> shapes.ReadingShown:
    """A reading; its value in ° or mm."""
    return shapes.ReadingShown(
        id=r.pk,
        surface=r.surface.slug,
        position=r.position,
        method=r.method,  # type: ignore[typeddict-item]
        practice=r.practice,
        as_typed=r.as_typed,
        unit=r.unit,
        value=r.value * (1e3 if r.method == "edge_offset" else DEG),
        instrument=r.instrument_was["name"],
        accuracy=r.instrument_was["accuracy_typed"],
        zero=r.zero,
        side=r.side,
        skin=r.skin,
        place=r.place,
        approach=r.approach,
        conditions=r.conditions,
        check_reading=r.check_reading,
        taken_at=r.taken_at.isoformat(),
        taken_by=r.taken_by.name,
        rev=r.rev,
        corrects=r.corrects_id,
        current=is_current,
        withdrawn=r.withdrawn,
        reason=r.reason,
    )


def covered(control: Control, held: Held | None = None) -> list[tuple[str, Any]]:
    """Every fact that a signature on this control covers: (id, value), numbers as text."""
    held = held or hold(control)
    judged = held.judged
    itself = {"name": control.name, "primary": control.primary, "reason": control.primary_reason}
    itself |= {"must_be_seen": control.sense_check}
    facts: list[tuple[str, Any]] = [(f"control/{control.slug}", itself)]
    for s in judged.surfaces:
        facts.append((f"surface/{s.slug}", surface_value(s)))
    facts += [(f"requirement/{r.pk}", requirement_value(r)) for r in judged.requirements]
    facts += measured(held, judged.readings)
    for d in judged.decisions:
        facts.append((f"decision/{d.pk}", decision_value(d)))
    rnd = judged.rounds[-1]
    facts.append((f"round/{control.slug}", {"number": str(rnd.number), "reason": rnd.reason}))
    for c in judged.senses:
        facts.append((f"sense/{c.pk}", sense_value(c)))
    facts.extend(rigged(control, judged.stops))
    for told in ports.covers:
        facts.extend(told(control))
    return facts


def measured(held: Held, readings: Iterable[Reading]) -> list[tuple[str, Any]]:
    """The result of every requirement, and these readings."""
    results = [
        (f"result/{r.pk}", result_value(r, held.results[r.pk])) for r in held.judged.requirements
    ]
    return [*results, *((f"reading/{row.chain_id}", reading_value(row)) for row in readings)]


def rigged(control: Control, stops: Iterable[Stop]) -> list[tuple[str, Any]]:
    """Stops, what was turned on them and on the rods, and the checks of parts, as signed."""
    facts: list[tuple[str, Any]] = []
    for stop in stops:
        value: dict[str, Any] = {"name": f"stop {stop.slug}", "body": stop.body, "side": stop.side}
        value |= {"at": figure(stop.at), "kind": stop.kind, "half_turns": str(stop.half_turns)}
        facts.append((f"stop/{stop.pk}", value | {"named_first": stop.named_first}))
    for rod in Rod.objects.filter(mechanism__control=control):
        turned: dict[str, Any] = {"name": f"rod {rod.slug}", "half_turns": str(rod.half_turns)}
        facts.append((f"rod/{rod.pk}", turned | {"record": dict(sorted(rod.record.items()))}))
    for c in PartCheck.objects.filter(control=control):
        value = {"name": f"{c.kind.replace('_', ' ')}, {c.subject}", "verdict": c.verdict}
        value |= {"rule": c.rule, "edition": str(c.edition), "inputs": c.inputs_hash}
        facts.append((f"part check/{c.pk}", value))
    return facts
