"""What a kind of worksheet asks and how it is worked out: declared once, by the trade it is of."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.rules import DECLARED
from core.basis.verdicts import Verdict

TYPED_HERE = "entered on this sheet"
MOST_KEY = 100


@dataclass(frozen=True)
class Field:
    """One thing asked.

    key: as the form has it. name: as the rules have it, with its SI unit. of: a dimension of
    `core.basis.quantities`, or `text`, `choice`, `yes`, `date`, `whole`, `numbers` (several whole
    ones parted by ;), `words` (several texts parted by ;), `thing` (something of this aircraft,
    by its address) or `table`.
    unit: of a bare number. many: how many parted by ; (0: any number); None: one.
    scale: SI as typed times this is what the rule takes. limit: a maker's or a rule's figure,
    which needs its document. under: the heading under which it folds. things: under which name
    a `thing` is offered; empty: those of the kind's own trade.
    """

    key: str
    name: str
    label: str
    of: str = "text"
    unit: str = ""
    hint: str = ""
    needed: bool = False
    limit: bool = False
    many: int | None = None
    scale: float = 1.0
    choices: tuple[tuple[str, str], ...] = ()
    columns: tuple[Field, ...] = ()
    under: str = ""
    things: str = ""


@dataclass(frozen=True)
class Asked:
    """A worksheet as read: `values` by the rules' names, SI; what nobody said is not there.

    things: what its fields of `thing` stand for. cited: the document of its limits, in words.
    """

    name: str
    values: Mapping[str, Any]
    today: date
    cited: str = ""
    things: Mapping[str, Any] = field(default_factory=dict)

    def only(self, *names: str) -> dict[str, Any]:
        """Those of these that were said."""
        return {n: self.values[n] for n in names if n in self.values}

    def has(self, *names: str) -> bool:
        """Whether all of these were said."""
        return all(n in self.values for n in names)


@dataclass(frozen=True)
class Worked:
    """What the rules say: checks, further answers in words, and what the drawing needs."""

    checks: tuple[Check, ...] = ()
    facts: tuple[tuple[str, str], ...] = ()
    figure: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Kind:
    """A kind of worksheet. trade, part: where it stands. asks: what it answers, in a sentence.
    starters: filled-in beginnings by their name, as typed. step: of the gate. to_scale:
    something of it is drawn 1:1 on paper."""

    id: str
    trade: str
    part: str
    title: str
    asks: str
    fields: tuple[Field, ...]
    work: Callable[[Asked], Worked]
    caution: str = ""
    step: str = "reading"
    starters: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    to_scale: bool = False


KINDS: dict[str, Kind] = {}


def declare(kind: Kind) -> Kind:
    """Add a kind; its id is its own among all trades."""
    if kind.id in KINDS:
        raise ValueError(f"{kind.id} is declared twice")
    KINDS[kind.id] = kind
    return kind


def kind_of(name: str) -> Kind:
    """The kind of that id. Refuses one that there is not."""
    if name not in KINDS:
        raise Refused("kind", "is not a kind of worksheet")
    return KINDS[name]


def run(rule: str, inputs: Mapping[str, Any]) -> dict[str, Any]:
    """What a declared rule says of inputs under its page's names."""
    return DECLARED[rule].run(dict(inputs))


def said(
    key: str,
    what: str,
    words: str,
    verdict: Verdict,
    rule: str = "",
    inputs: Mapping[str, Any] | None = None,
    **more: Any,
) -> Check:
    """A check of a worksheet; a key that is too long to keep ends in its digest."""
    given = dict(inputs or {})
    if len(key) > MOST_KEY:
        key = f"{key[: MOST_KEY - 9]} {hashlib.sha256(key.encode()).hexdigest()[:8]}"
    return Check(key=key, what=what, said=words, verdict=verdict, rule=rule, inputs=given, **more)


def lacking(given: Mapping[str, Any], *asked: tuple[str, str]) -> list[str]:
    """Of what is asked (name, in words), the words of what was not said."""
    return [words for name, words in asked if name not in given]


def known_to(verdict: Verdict, words: str, missing: list[str]) -> tuple[Verdict, str]:
    """A verdict and its words; not measured where nobody said how well these are known."""
    if not missing:
        return verdict, words
    told = f"{words} Not said how well these are known: {', '.join(missing)}."
    return Verdict.NOT_MEASURED, told


def unsaid(key: str, what: str, *missing: str) -> Check:
    """A check that lacks what somebody must say first."""
    return said(key, what, f"Not said: {', '.join(missing)}.", Verdict.NOT_MEASURED)


def work(kind: Kind, asked: Asked) -> Worked:
    """Worked out, each check with its part, its gate step and where its inputs come from.
    Refuses by the form's field."""
    try:
        found = kind.work(asked)
    except Refused as refusal:
        raise Refused(_form_field(kind.fields, refusal.field), refusal.reason) from None
    limits = {f.name for f in kind.fields if f.limit}
    checks = []
    for c in found.checks:
        origin = {n: asked.cited if n in limits and asked.cited else TYPED_HERE for n in c.inputs}
        step = kind.step if c.step == "reading" else c.step
        checks.append(replace(c, part=kind.id, step=step, origins=origin | dict(c.origins)))
    return replace(found, checks=tuple(checks))


def _form_field(fields: Sequence[Field], name: str) -> str:
    """The form's field behind a rule's; a column's is its table."""
    for f in fields:
        if f.name == name:
            return f.key
    for f in fields:
        if any(c.name == name for c in f.columns):
            return f.key
    return name
