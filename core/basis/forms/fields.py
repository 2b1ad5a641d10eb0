"""A field of a form as declared: its names, type, words, unit and limits."""

from __future__ import annotations

import dataclasses
import math
import types
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

from core.basis.refused import Refused


@dataclass(frozen=True)
class Shown:
    """The page shows this quantity in another unit than SI: its suffix and how many to one SI."""

    suffix: str
    unit: str
    per_si: float


DEG = Shown("_deg", "°", 180.0 / math.pi)
MM = Shown("_mm", "mm", 1e3)
MM2 = Shown("_mm2", "mm²", 1e6)
MM4 = Shown("_mm4", "mm⁴", 1e12)
GPA = Shown("_GPa", "GPa", 1e-9)
MPA = Shown("_MPa", "MPa", 1e-6)
SHOWN = (DEG, MM, MM2, MM4, GPA, MPA)


@dataclass(frozen=True)
class Unit:
    """The unit to print where the name does not carry it; `per_si` where it is composed."""

    unit: str
    per_si: float = 1.0


@dataclass(frozen=True)
class Named:
    """The page's name where it differs from the core's."""

    name: str


@dataclass(frozen=True)
class OneOf:
    """The words that are accepted."""

    words: tuple[str, ...]


@dataclass(frozen=True)
class Bound:
    """Limits of a number, in SI."""

    over: float | None = None
    at_least: float | None = None
    at_most: float | None = None

    def refuse(self, value: float, at: str) -> None:
        """Refuses a number outside."""
        if self.over is not None and value <= self.over:
            raise Refused(at, "must be greater than " + (f"{self.over:g}" if self.over else "zero"))
        if self.at_least is not None and value < self.at_least:
            said = "must not be negative" if self.at_least == 0 else f"at least {self.at_least:g}"
            raise Refused(at, said)
        if self.at_most is not None and value > self.at_most:
            raise Refused(at, f"must be at most {self.at_most:g}")


# A field that is left out of the answer where it is None.
ABSENT = "absent where None"
# A dataclass whose fields stand among those of the one that holds it.
FLAT = "flat"

SI_UNITS: dict[str, str] = {
    "_m_s_per_min": "m/s in a minute",
    "_m_per_min": "m in a minute",
    "_m3_per_m_Pa": "m³/(m·Pa)",
    "_kg_per_m": "kg/m",
    "_rad_per_m": "rad/m",
    "_Nm_per_rad": "N·m/rad",
    "_kg_m3": "kg/m³",
    "_m3_s": "m³/s",
    "_Pa_s": "Pa·s",
    "_m_s": "m/s",
    "_m3": "m³",
    "_Pa": "Pa",
    "_months": "months",
    "_ohm_per_m_20C": "Ω/m",
    "_ohm_per_m": "Ω/m",
    "_dB_per_m": "dB/m",
    "_ohm": "Ω",
    "_dB": "dB",
    "_Am2": "A·m²",
    "_Ah": "A·h",
    "_A": "A",
    "_W": "W",
    "_T": "T",
    "_C": "°C",
    "_h": "h",
    "_m_per_N": "m/N",
    "_N_per_m": "N/m",
    "_N_per_K": "N/K",
    "_per_K": "1/K",
    "_kg_m": "kg/m",
    "_Nm2": "N·m²",
    "_m2": "m²",
    "_Hz": "Hz",
    "_in": "in",
    "_m": "m",
    "_rad": "rad",
    "_K": "K",
    "_Nm": "N·m",
    "_s": "s",
    "_V": "V",
    "_N": "N",
    "_kg": "kg",
}


@dataclass(frozen=True)
class Field:
    """One field as declared: the core's name, the page's, its type, words, unit and limits."""

    core: str
    name: str
    kind: Any
    doc: str
    unit: str
    per_si: float
    required: bool
    default: Any
    optional: bool
    words: tuple[str, ...]
    bound: Bound | None
    absent: bool
    flat: bool


def field_of(core: str, hint: Any, required: bool, default: Any = None) -> Field:
    """A field from an annotated type; `hint` with its markers in any order."""
    marks: list[Any] = []
    while get_origin(hint) is Annotated:
        marks = [*hint.__metadata__, *marks]
        hint = hint.__origin__
    optional = False
    if get_origin(hint) in (Union, types.UnionType):
        rest = [a for a in get_args(hint) if a is not type(None)]
        optional = len(rest) < len(get_args(hint))
        if len(rest) == 1:
            hint = rest[0]
            while get_origin(hint) is Annotated:
                marks = [*hint.__metadata__, *marks]
                hint = hint.__origin__
    shown = next((m for m in marks if isinstance(m, Shown)), None)
    unit = next((m for m in marks if isinstance(m, Unit)), None)
    named = next((m.name for m in marks if isinstance(m, Named)), core)
    words = next((m.words for m in marks if isinstance(m, OneOf)), ())
    if get_origin(hint) is Literal:
        words, hint = tuple(get_args(hint)), str
    docs = [m for m in marks if isinstance(m, str) and m not in (ABSENT, FLAT)]
    name = named + (shown.suffix if shown else "")
    # A yes or no has no unit, whatever its name ends with.
    by_name = next((u for s, u in SI_UNITS.items() if hint is not bool and name.endswith(s)), "")
    return Field(
        core=core,
        name=name,
        kind=hint,
        doc=docs[0] if docs else "",
        unit=shown.unit if shown else unit.unit if unit else by_name,
        per_si=shown.per_si if shown else unit.per_si if unit else 1.0,
        required=required,
        default=default,
        optional=optional,
        words=words,
        bound=next((m for m in marks if isinstance(m, Bound)), None),
        absent=ABSENT in marks,
        flat=FLAT in marks,
    )


@cache
def fields_of(form: type) -> tuple[Field, ...]:
    """The fields of a form (a frozen dataclass), in their order."""
    hints = get_type_hints(form, include_extras=True)
    found = []
    for f in dataclasses.fields(form):
        default: Any = f.default
        if f.default_factory is not dataclasses.MISSING:
            default = f.default_factory()
        required = default is dataclasses.MISSING
        found.append(field_of(f.name, hints[f.name], required, None if required else default))
    return tuple(found)


def is_form(kind: Any) -> bool:
    """Whether a type is a dataclass."""
    return isinstance(kind, type) and dataclasses.is_dataclass(kind)


@cache
def bare(kind: Any) -> Any:
    """The type without its markers and without None."""
    while get_origin(kind) is Annotated:
        kind = kind.__origin__
    if get_origin(kind) in (Union, types.UnionType):
        rest = [a for a in get_args(kind) if a is not type(None)]
        return bare(rest[0]) if len(rest) == 1 else kind
    return kind


def of_item(f: Field, kind: Any) -> Field:
    """The field for one of its items: an item's own markers count before the list's."""
    return _of_item(f.core, kind, f.per_si, f.bound, f.words)


@cache
def _of_item(
    core: str, kind: Any, per_si: float, bound: Bound | None, words: tuple[str, ...]
) -> Field:
    own = field_of(core, kind, True)
    return dataclasses.replace(
        own,
        per_si=own.per_si if own.per_si != 1.0 else per_si,
        bound=own.bound or bound,
        words=own.words or words,
    )


def flattened(fields: Sequence[Field]) -> Iterable[Field]:
    """All fields under the page's names, those of flat forms among them."""
    for f in fields:
        if f.flat:
            yield from flattened(fields_of(f.kind))
        else:
            yield f


def page_path(fields: Sequence[Field], core_path: str) -> str:
    """The page's path of a field that the core refused by its own names."""
    head, dot, tail = core_path.partition(".")
    own = [f for f in fields if not f.flat]
    for f in (*own, *flattened([f for f in fields if f.flat])):
        if f.core == head:
            inner = bare(get_args(f.kind)[0]) if get_args(f.kind) else f.kind
            if dot and is_form(inner):
                index, more, rest = tail.partition(".")
                if index.isdigit() and more:
                    return f"{f.name}.{index}.{page_path(fields_of(inner), rest)}"
                return f"{f.name}.{page_path(fields_of(inner), tail)}"
            return f.name + dot + tail
    # Named as on the page, without the page's unit.
    for f in flattened(fields):
        if f.name in (head, *(head + shown.suffix for shown in SHOWN)):
            return f.name + dot + tail
    return core_path


def names_in(fields: Sequence[Field]) -> Iterable[str]:
    """The page's name of every field, and of those of every form inside."""
    for f in fields:
        yield f.name
        for kind in kinds_in(f.kind):
            if is_form(kind):
                yield from names_in(fields_of(kind))


def kinds_in(kind: Any) -> Iterable[Any]:
    """A type and all that it is made of."""
    yield kind
    for inner in get_args(kind):
        yield from kinds_in(inner)
