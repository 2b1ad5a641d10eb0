"""From a scope's name to what its capability tells of it."""

from __future__ import annotations

from collections.abc import Callable

from server.aircraft.models import Aircraft
from server.signoff.scope import Scope

Answer = Callable[[Aircraft, str], Scope | None]
_answers: dict[str, Answer] = {}


def register(kind: str, answer: Answer) -> None:
    """Let sign-off find scopes of this kind."""
    _answers[kind] = answer


def scope(aircraft: Aircraft, name: str) -> Scope | None:
    """The scope of that name (`control:elevator`), None if there is none."""
    kind, _, rest = name.partition(":")
    answer = _answers.get(kind)
    return answer(aircraft, rest) if answer else None
