"""One path for every write: who may, what was sent, found and locked, version, done, answered.

A trade says what differs (`Write`); the order is the same everywhere, so that two writers never
wait for each other in a circle, and nothing is written that the journal does not tell.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.aircraft.access import allow, check_version, member
from server.aircraft.models import Member
from server.config.forms import Form
from server.config.shapes import answer
from server.journal import writing as journal

Given = dict[str, Any]


@dataclass
class Act:
    """One write at work: who, on what (locked), what was sent, the rest of the address; what
    was read for it and still holds after it; what followed from it, once it is done; and what
    was done, in words."""

    who: Member
    subject: Any
    given: Given
    at: Mapping[str, Any]
    read: Any = None
    followed: Any = None
    said: str = ""


@dataclass(frozen=True)
class Write:
    """What differs from one write to another.

    may: what one must be allowed to do (any of several). form: what is sent. find: the
    subject of an address, locked; raises Http404. shown: the subject as the other side of a
    409, where it has a version (`versioned`: the row that has it). do: the change itself,
    journalled. done: what follows from it (verdicts, covered facts). answer: what the screen
    gets.
    """

    may: tuple[str, ...]
    form: type[serializers.Serializer[Any]] | None
    find: Callable[[Member, Mapping[str, Any]], Any]
    do: Callable[[Act], Any]
    answer: Callable[[Act], Any]
    shape: Any
    status: int = 201
    shown: Callable[[Any], Any] | None = None
    done: Callable[[Act], Any] = lambda act: None
    versioned: Callable[[Any], Any] = lambda subject: subject

    def __call__(self, request: Request, slug: str, at: Mapping[str, Any]) -> Any:
        """Do it, in one transaction; the answer."""
        who = member(request, slug)
        allow(who, *self.may)
        given = self._given(request)
        with transaction.atomic():
            subject = self.find(who, at)
            if self.shown is not None:
                check_version(self.versioned(subject), given["version"], self.shown(subject), given)
            act = Act(who, subject, given, at)
            told = journal.lines()
            self.do(act)
            if journal.lines() == told:
                raise AssertionError("a write that the journal does not tell")
            act.followed = self.done(act)
            return self.answer(act)

    def _given(self, request: Request) -> Given:
        multipart = (request.content_type or "").startswith("multipart/")
        asked = (self.form or Form)(data=flat(request) if multipart else request.data)
        asked.is_valid(raise_exception=True)
        found: Given = dict(asked.validated_data)
        file = request.FILES.get("file")
        return found | ({"file": file} if file is not None else {})


def flat(request: Request) -> dict[str, Any]:
    """A multipart form as the forms take it: `typed.span` into `typed`."""
    given: dict[str, Any] = {"typed": {}}
    assert isinstance(request.data, Mapping)
    for key, value in request.data.items():
        if key.startswith("typed."):
            given["typed"][key.removeprefix("typed.")] = value
        elif key != "file":
            given[key] = value
    return given


def writes(write: Write, doc: str) -> Callable[..., Response]:
    """A method of a view that does this write; `doc` is its line in the schema."""

    def method(self: Any, request: Request, slug: str, **at: Any) -> Response:
        return Response(write(request, slug, at), status=write.status)

    method.__doc__ = doc
    found: Callable[..., Response] = extend_schema(
        request=write.form, responses=answer(write.shape, write.status)
    )(method)
    return found
