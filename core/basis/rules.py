"""A rule of the book, declared where it is computed: its words beside the function's signature.

The function's parameters (or the fields of the forms it takes) are the rule's inputs, what it
returns is the output; `core.basis.forms` reads, writes and describes both. The rule book
gathers what was declared; nothing here imports it.
"""

from __future__ import annotations

import dataclasses
import inspect
import math
import re
import types
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar, Union, get_args, get_origin, get_type_hints

from core.basis.forms import (
    Field,
    field_of,
    fields_of,
    is_form,
    names_in,
    object_schema,
    page_path,
    plain,
    read_fields,
    write,
)
from core.basis.forms.reading import UNKNOWN
from core.basis.refused import Refused

# An answer whose names are the ids of what was asked.
ANY_NAME = "*"
# A place in a list, as in `scales.0.gross_kg`.
PLACE = re.compile(r"\.(\d+)(?=\.|$)")
F = TypeVar("F", bound=Callable[..., Any])


@dataclass(frozen=True)
class Declared:
    """A rule as declared. `edition` is a whole number, raised whenever its result may change."""

    id: str
    title: str
    purpose: str
    source: str
    validity: str
    caution: str
    edition: int
    compute: Callable[..., Any]
    answers: type | None = None
    own_names: bool = False
    brackets: bool = False

    @cached_property
    def inputs(self) -> tuple[Field, ...]:
        """A field for each parameter; a form without words of its own lends its fields."""
        hints = get_type_hints(self.compute, include_extras=True)
        found = []
        for p in inspect.signature(self.compute).parameters.values():
            required = p.default is inspect.Parameter.empty
            f = field_of(p.name, hints[p.name], required, None if required else p.default)
            if is_form(f.kind) and not f.doc and not f.flat:
                f = dataclasses.replace(f, flat=True)
            found.append(f)
        return tuple(found)

    @cached_property
    def outputs(self) -> tuple[Field, ...]:
        """The fields of what is returned; of all kinds that may be."""
        hint = self.answers or get_type_hints(self.compute, include_extras=True)["return"]
        kinds = get_args(hint) if get_origin(hint) in (Union, types.UnionType) else (hint,)
        forms = [k for k in kinds if is_form(k)]
        if not forms:
            return (self._single,)
        found: dict[str, Field] = {}
        for form in forms:
            for f in fields_of(form):
                found.setdefault(f.name, f)
        return tuple(found.values())

    @cached_property
    def _single(self) -> Field:
        hint = get_type_hints(self.compute, include_extras=True)["return"]
        return field_of("value", hint, True)

    def run(self, inputs: Any) -> dict[str, Any]:
        """The outputs for these inputs, both under the page's names and units.

        Raises Refused with the page's field name, and where an answer would be no number.
        """
        try:
            values = read_fields(self.inputs, inputs)
        except Refused as refusal:
            raise self._refused(refusal.field, refusal.reason) from None
        try:
            answer = self._shown(self.compute(**values))
        except Refused as refusal:
            at = page_path(self.inputs, refusal.field)
            raise self._refused(at, refusal.reason) from None
        except (OverflowError, ZeroDivisionError):
            raise Refused("inputs", TOO_EXTREME) from None
        if not all_finite(answer):
            raise Refused("inputs", TOO_EXTREME)
        return answer

    def _refused(self, at: str, reason: str) -> Refused:
        """By its path; by the input's own name where the rule's page has it so."""
        if self.brackets:
            return Refused(PLACE.sub(r"[\1]", at), reason)
        if not self.own_names:
            return Refused(at, reason)
        steps = at.split(".")
        known = next((s for s in reversed(steps) if s in self._names), at)
        name = steps[-1] if reason == UNKNOWN else known
        place = " ".join(str(int(s) + 1) if s.isdigit() else s for s in steps)
        place = place.removesuffix(name).strip()
        return Refused(name, f"{place}: {reason}" if place else reason)

    @cached_property
    def _names(self) -> frozenset[str]:
        """Every input's name, those inside lists too."""
        return frozenset(names_in(self.inputs))

    def _shown(self, found: Any) -> dict[str, Any]:
        if is_form(type(found)):
            return write(found)
        if self.answers:
            return dict(plain(found))
        if self._single.name == ANY_NAME:
            return dict(plain(found, self._single.per_si))
        return {self._single.name: plain(found, self._single.per_si)}

    def input_schema(self) -> dict[str, Any]:
        """JSON Schema of the inputs."""
        return object_schema(self.inputs)

    def output_schema(self) -> dict[str, Any]:
        """JSON Schema of the outputs."""
        every = tuple(
            dataclasses.replace(f, required=f.required and not f.absent) for f in self.outputs
        )
        if [f.name for f in every] == [ANY_NAME]:
            return object_schema(()) | {"additionalProperties": {}}
        return object_schema(every) | {"required": []}


TOO_EXTREME = "lie too far from each other for an answer in numbers"


def all_finite(value: Any) -> bool:
    """Whether plain data hold no infinity and nothing that is not a number."""
    if isinstance(value, float):
        return math.isfinite(value)
    if isinstance(value, Mapping):
        return all(map(all_finite, value.values()))
    return all(map(all_finite, value)) if isinstance(value, (list, tuple)) else True


DECLARED: dict[str, Declared] = {}


def rule(
    rule_id: str,
    *,
    title: str,
    purpose: str,
    source: str,
    validity: str,
    caution: str = "",
    edition: int = 1,
    answers: type | None = None,
    own_names: bool = False,
    brackets: bool = False,
) -> Callable[[F], F]:
    """Declare a function as the rule of this id.

    answers: the form that describes a plain answer whose names hang on the inputs. own_names: a
    refusal names an input inside a list by its own name, not by its path. brackets: its path has
    places in brackets, `scales[0].gross_kg`.
    """

    def add(compute: F) -> F:
        if rule_id in DECLARED:
            raise ValueError(f"{rule_id} is declared twice")
        DECLARED[rule_id] = Declared(
            rule_id, title, purpose, source, validity, caution, edition, compute, answers,
            own_names, brackets,
        )  # fmt: skip
        return compute

    return add
