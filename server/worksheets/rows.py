"""Rows of a trade, each as typed by the fields of its kind: entered, changed, pasted, taken away.

A trade says which kinds there are, what else is refused of a row, where it lies and who names it
(`Rows`); the model is its own (`TypedRow`), so that other rows can point at it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar, TypeVar

from django.db import models
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from core.worksheets.kinds import Kind
from core.worksheets.reading import clean, read
from server.accounts.models import Person
from server.aircraft.access import member
from server.aircraft.models import Aircraft, Fact, Member, Source
from server.aircraft.slugs import slug_for
from server.config.forms import Form
from server.config.shapes import answer
from server.config.text import Text, text
from server.journal.writing import changed, note
from server.kit.removing import reason_of, removal
from server.kit.writing import Act, Write, writes
from server.worksheets.keeping import source_of
from server.worksheets.working import limits_said, needs_source, plainly

MOST_ROWS, MOST_NAME = 500, 60
R = TypeVar("R", bound="TypedRow")


class TypedRow(Fact):
    """One row, as typed by the fields of its kind. source: the document of its limits."""

    ROWS: ClassVar[Mapping[str, Kind]]
    kind: Any
    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=MOST_NAME)
    typed = models.JSONField(default=dict)
    source = models.ForeignKey(Source, on_delete=models.PROTECT, null=True, related_name="+")
    page = models.CharField(max_length=30, blank=True)

    class Meta:
        abstract = True

    def __str__(self) -> str:
        return self.name

    @property
    def cited(self) -> str:
        """The document of its limits, in words."""
        if self.source is None:
            return ""
        return f"{self.source.cited}, page {self.page}" if self.page else self.source.cited

    @property
    def of(self) -> Kind:
        """What its kind asks."""
        return self.ROWS[self.kind]

    def values(self) -> dict[str, Any]:
        """What was typed, by the fields' names, SI. Refuses by the form's field what cannot be
        read."""
        return read(self.of, self.typed, self.aircraft.length_unit, lambda *_: None)[0]

    def told(self) -> dict[str, str]:
        """What is said of it, in words; its limits are told beside."""
        return {"name": self.name, **plainly(self.of, self.typed)}

    def limits_told(self) -> dict[str, str]:
        """Its limits and where they stand."""
        return limits_said(self.of, self.typed) | {"document": self.cited}


def among(rows: Iterable[R], instead: R | None) -> list[R]:
    """Rows with one as it would be: in its own place, or after all others."""
    found = list(rows)
    if instead is not None:
        same = next((n for n, r in enumerate(found) if r.slug == instead.slug), len(found))
        found[same : same + 1] = [instead]
    return found


class RowIn(Form):
    """A row as typed, by the fields of its kind."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=MOST_NAME)
    typed = serializers.JSONField()
    source = serializers.IntegerField(  # type: ignore[assignment]
        required=False, allow_null=True, default=None
    )
    page = text(30)
    reason = text(200)


def rows_field() -> serializers.ListField:
    """Several rows at once, as pasted: each a name and its fields."""
    return serializers.ListField(child=serializers.JSONField(), max_length=MOST_ROWS)


def nobody(r: Any, was: str, by: Person) -> int:
    """Of rows that no other names."""
    return 0


def nowhere(r: Any) -> Iterable[str]:
    """Of rows that lie in no bay."""
    return ()


@dataclass(frozen=True)
class Rows:
    """What a trade says of its rows.

    read: what was typed, as the core takes it. refuse: what of that cannot be among the other
    rows. bays: where it lies as it is kept. follow: those that name it follow its
    name; how many. link: its page; page: that of all. journal: the kind of its lines, its own
    kind where empty. key: as its address names it. answer: of one; all_of: of an aircraft.
    """

    model: type[Any]
    form: type[Form]
    read: Callable[[Any], Any]
    refuse: Callable[[Any, Any], None]
    link: Callable[[Any], str]
    shape: Any
    answer: Callable[[Aircraft, str], Any]
    all_shape: Any
    all_of: Callable[[Aircraft], Any]
    bays: Callable[[Any], Iterable[str]] = nowhere
    follow: Callable[[Any, str, Person], int] = nobody
    what: str = "row"
    page: str = ""
    journal: str = ""
    key: str = "row"
    may: tuple[str, ...] = ("measure",)

    def locked(self, who: Member, at: Mapping[str, Any]) -> Any:
        """The row of an address, locked."""
        rows = self.model._default_manager.select_for_update()
        found = rows.filter(aircraft=who.aircraft, slug=at[self.key]).first()
        if found is None:
            raise Http404
        found.aircraft = who.aircraft
        return found

    def fresh(self, who: Member, at: Mapping[str, Any]) -> Any:
        """A row that is not kept yet."""
        return self.model(aircraft=who.aircraft, changed_by=who.person)

    def put(self, r: Any, given: Mapping[str, Any]) -> None:
        """What was typed, read and judged once among the others, so that what cannot be is
        refused."""
        name = " ".join(str(given["name"]).split())
        if not name:
            raise Refused("name", "is needed")
        if r.kind and r.kind != given["kind"]:
            raise Refused("kind", "stays: a row of another kind is a new row")
        if not isinstance(given["typed"], dict):
            raise Refused("typed", "must be the fields of its kind")
        r.kind, r.name, r.page = given["kind"], name, given["page"]
        r.source = source_of(r.aircraft, given["source"])
        r.typed = dict(given["typed"])
        found = self.read(r)
        r.typed = clean(r.of, r.typed)
        needs_source(r.of, r.typed, r.source)
        self.refuse(r, found)

    def tell(
        self, act: Act, r: Any, said: str, bays: Iterable[str] | None = None, work: bool = False
    ) -> None:
        """A line of the journal."""
        where = sorted(self.bays(r) if bays is None else bays)
        text = f"{r.of.title.lower()} {r.name}: {said}"
        kind = self.journal or r.kind
        note(act.who.aircraft, act.who.person, kind, text, where, self.link(r), work)

    def _enter(self, act: Act) -> None:
        r = act.subject
        self.put(r, act.given)
        r.slug = slug_for(self.model, act.who.aircraft, r.name)
        r.save()
        self.tell(act, r, "entered")

    def _change(self, act: Act) -> None:
        """Told with what it was; a limit has a reason; those that name it follow its name."""
        r = act.subject
        bays, was, limits, name = set(self.bays(r)), r.told(), r.limits_told(), r.name
        self.put(r, act.given)
        said = changed(was, r.told())
        if other := changed(limits, r.limits_told()):
            why = reason_of(act.given, "why the limit is changed")
            said = "; ".join(x for x in (f"{other}, because {why}", said) if x)
        r.version, r.changed_by = r.version + 1, act.who.person
        r.save()
        if followed := self.follow(r, name, act.who.person):
            said += f"; {followed} that name it follow"
        self.tell(act, r, said or "kept as it was", bays | set(self.bays(r)))

    def _answer(self, act: Act) -> Any:
        return self.answer(act.who.aircraft, act.subject.slug)

    def entering(self) -> Write:
        """A new one."""
        return Write(self.may, self.form, self.fresh, self._enter, self._answer, self.shape)

    def changing(self) -> Write:
        """Another content; 409 with both sides on an old version."""
        return Write(
            self.may,
            self.form,
            self.locked,
            self._change,
            self._answer,
            self.shape,
            200,
            shown=lambda r: self.answer(r.aircraft, r.slug),
        )

    def pasting(self, form: type[Form], kind: Callable[[Mapping[str, Any]], str]) -> Write:
        """Many at once: all of them, or none and which row is wrong. kind: of what was sent."""

        def paste(act: Act) -> None:
            for n, given in enumerate(act.given["rows"], 1):
                if not isinstance(given, dict) or not isinstance(given.get("name"), str):
                    raise Refused("rows", f"row {n}: needs its name")
                r = self.fresh(act.who, act.at)
                try:
                    self._pasted(act, r, given, kind(act.given))
                except Refused as refusal:
                    raise Refused("rows", f"row {n}, {refusal.field}: {refusal.reason}") from None
                self.tell(act, r, "entered")
            if not act.given["rows"]:
                raise Refused("rows", "needs at least one")

        return Write(
            self.may,
            form,
            lambda who, at: who.aircraft,
            paste,
            lambda act: self.all_of(act.who.aircraft),
            self.all_shape,
        )

    def _pasted(self, act: Act, r: Any, given: Mapping[str, Any], kind: str) -> None:
        typed = {k: v for k, v in given.items() if k != "name"}
        document = {"source": act.given.get("source"), "page": act.given.get("page", "")}
        self.put(r, {"kind": kind, "name": given["name"], "typed": typed, **document})
        if len(r.name) > MOST_NAME:
            raise Refused("name", f"at most {MOST_NAME} characters")
        r.slug = slug_for(self.model, act.who.aircraft, r.name)
        r.save()

    def write(self, form: type[Form] | None, do: Callable[[Act], Any]) -> Write:
        """Something else done to a row, answered with it as it stands then."""
        return Write(self.may, form, self.locked, do, self._answer, self.shape)

    def removing(self, journal: str = "") -> Write:
        """With its version and the reason; refused while others name it."""
        return removal(
            self.what,
            self.locked,
            before=lambda act, r: set(self.bays(r)),
            may=self.may[0],
            link=self.page,
            journal=journal,
        )

    # Its addresses

    def all_view(self, doc: str, reads: str, enters: str) -> type[APIView]:
        """All rows of an aircraft: reading them, entering one."""

        def get(view: APIView, request: Request, slug: str) -> Response:
            return Response(self.all_of(member(request, slug).aircraft))

        get.__doc__ = reads
        shown = extend_schema(responses=answer(self.all_shape))(get)
        return _view(doc, get=shown, post=writes(self.entering(), enters))

    def row_view(self, doc: str) -> type[APIView]:
        """One row: reading it, changing it."""

        def get(view: APIView, request: Request, slug: str, **at: Any) -> Response:
            aircraft = member(request, slug).aircraft
            rows = self.model._default_manager.filter(aircraft=aircraft, slug=at[self.key])
            if not rows.exists():
                raise Http404
            return Response(self.answer(aircraft, at[self.key]))

        get.__doc__ = "As it stands."
        shown = extend_schema(responses=answer(self.shape))(get)
        changes = writes(self.changing(), "Change it; 409 with both sides on an old version.")
        return _view(doc, get=shown, patch=changes)

    def pasted_view(
        self, doc: str, form: type[Form], kind: Callable[[Mapping[str, Any]], str]
    ) -> type[APIView]:
        """Many rows at once."""
        said = "As pasted from a table: all of them, or none and which row is wrong."
        return _view(doc, post=writes(self.pasting(form, kind), said))

    def removal_view(self, journal: str = "") -> type[APIView]:
        """Taking a row away."""
        said = "With its version and the reason; refused while others name it."
        return _view("Taking a row away.", post=writes(self.removing(journal), said))


def _view(doc: str, **methods: Any) -> type[APIView]:
    return type("RowsView", (APIView,), {"__doc__": doc, **methods})
