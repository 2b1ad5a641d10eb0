"""Checks as every page shows them, and "Why this number?": the rule with the very inputs."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any, TypedDict

from core.basis.checks import Check, Shift
from core.rulebook import rule
from server.config.words import Word
from server.kit.models import Check as Row


class Why(TypedDict):
    """The rule behind a result, with the very inputs that gave it.

    origins: where an input came from, in words, by its name. units: of inputs whose rule takes
    any unit; under "" the answer's.
    """

    rule: str
    edition: int
    inputs: dict[str, Any]
    origins: dict[str, str]
    units: dict[str, str]


class CheckShown(TypedDict):
    """One thing judged: where it stands in a gate, in words, and the rule behind it."""

    key: str
    part: str
    side: str
    what: str
    said: str
    verdict: Word
    step: str
    state: str
    bays: list[str]
    due: str
    why: Why | None


class ShiftShown(TypedDict):
    """A verdict that keeping a trial would change; null where it is not there."""

    what: str
    before: Word | None
    after: Word | None
    said: str


def shift_shown(s: Shift) -> ShiftShown:
    """As the screen takes it."""
    return ShiftShown(
        what=s.what,
        before=s.before.value if s.before else None,
        after=s.after.value if s.after else None,
        said=s.said,
    )


def why(
    rule_id: str,
    inputs: Mapping[str, Any],
    origins: Mapping[str, str] | None = None,
    units: Mapping[str, str] | None = None,
) -> Why:
    """The rule with its inputs under the page's names, absent ones left out."""
    given = {k: v for k, v in inputs.items() if v is not None}
    known = {k: v for k, v in (origins or {}).items() if k in given and v}
    return Why(
        rule=rule_id,
        edition=rule(rule_id).edition,
        inputs=given,
        origins=known,
        units=dict(units or {}),
    )


def row_shown(r: Row) -> CheckShown:
    """A kept check, as the calendar has it today."""
    what, state, verdict = r.what, r.state, r.verdict
    for change in r.later:
        if change["on"] <= date.today().isoformat():
            what, state, verdict = change["what"] or what, change["state"], change["verdict"]
    return CheckShown(
        key=r.key,
        part=r.part,
        side=r.side,
        what=what,
        said=r.said,
        verdict=verdict,  # type: ignore[typeddict-item]
        step=r.step,
        state=state,
        bays=r.bays,
        due=r.due_on.isoformat() if r.due_on else "",
        why=why(r.rule, r.inputs, r.origins) if r.rule else None,
    )


def check_shown(c: Check) -> CheckShown:
    """A check that is not kept: of a what-if."""
    return CheckShown(
        key=c.key,
        part=c.part,
        side=c.side,
        what=c.what,
        said=c.said,
        verdict=c.verdict.value,
        step=c.step,
        state=c.word,
        bays=list(c.bays),
        due=c.later[0].on.isoformat() if c.later else "",
        why=why(c.rule, c.inputs, c.origins) if c.rule else None,
    )
