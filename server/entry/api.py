"""The entry bar: a line understood with the aircraft's own names; nothing is saved here."""

from __future__ import annotations

from typing import Any, Literal, TypedDict

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.checks import Check
from core.entry.completion import complete
from core.entry.examples import examples
from core.entry.grammar import understand
from core.entry.names import Ambiguous
from server.aircraft.access import member
from server.aircraft.models import Bay
from server.config.forms import Form, checked
from server.config.shapes import answer
from server.config.text import Text, text
from server.config.words import Word
from server.controls.shapes import Preview
from server.entry.meaning import in_full, names_of


class WouldBe(TypedDict):
    """What a torque would be judged as, were it kept."""

    verdict: Word
    said: str


class EntryPreview(TypedDict):
    """What the line means: where it goes, or what it writes and how that is taken back.

    kind `which`: it could mean several things; `options` are lines that mean one each.
    """

    kind: Literal["jump", "reading", "joint", "loose end", "note", "leak test", "wire", "which"]
    said: str
    page: str
    path: str
    body: dict[str, Any]
    undo_path: str
    undo_body: dict[str, Any]
    options: list[str]
    preview: Preview | None
    would: WouldBe | None


class Completions(TypedDict):
    """Lines that this one may become."""

    options: list[str]


class EntryIn(Form):
    """The entry bar's line, and the bay selected on the lane."""

    line = Text(max_length=2000, allow_blank=True, trim_whitespace=False)
    bay = text(50)


class EntryView(APIView):
    """What a line typed into the entry bar means."""

    stateless = True

    @extend_schema(request=EntryIn, responses=answer(EntryPreview))
    def post(self, request: Request, slug: str) -> Response:
        """Refused by reason if it means nothing; asked back if it means two things."""
        who = member(request, slug)
        given = checked(EntryIn, request)
        names = names_of(who.aircraft)
        bay = given["bay"]
        if not Bay.objects.filter(aircraft=who.aircraft, slug=bay).exists():
            bay = ""
        try:
            found = in_full(who, understand(given["line"], names), bay)
        except Ambiguous as asked:
            return Response(
                EntryPreview(
                    kind="which",
                    said=f"{asked.reason}?",
                    page="",
                    path="",
                    body={},
                    undo_path="",
                    undo_body={},
                    options=list(asked.options),
                    preview=None,
                    would=None,
                )
            )
        return Response(
            EntryPreview(
                kind=found.kind,  # type: ignore[typeddict-item]
                said=found.said,
                page=found.page,
                path=found.path,
                body=found.body,
                undo_path=found.undo_path,
                undo_body=found.undo_body,
                options=[],
                preview=found.preview,
                would=_would(found.would),
            )
        )


def _would(c: Check | None) -> WouldBe | None:
    return None if c is None else WouldBe(verdict=c.verdict.value, said=c.said)


class ExamplesView(APIView):
    """Lines to begin with."""

    @extend_schema(responses=answer(Completions))
    def get(self, request: Request, slug: str) -> Response:
        """With the aircraft's own names; every one of them means something."""
        who = member(request, slug)
        return Response(Completions(options=list(examples(names_of(who.aircraft)))))


class CompletionsView(APIView):
    """What a line may become."""

    stateless = True

    @extend_schema(request=EntryIn, responses=answer(Completions))
    def post(self, request: Request, slug: str) -> Response:
        """From the aircraft's own names."""
        who = member(request, slug)
        line = checked(EntryIn, request)["line"]
        return Response(Completions(options=list(complete(line, names_of(who.aircraft)))))
