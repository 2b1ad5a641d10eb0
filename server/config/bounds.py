"""How much, and how often, somebody who has not signed in may ask; how much is written at once."""

from __future__ import annotations

from typing import Any

from rest_framework.exceptions import APIException
from rest_framework.request import Request
from rest_framework.throttling import AnonRateThrottle

from core.basis.refused import Refused

# So many things of a kind are worked out at once for anybody; numbers in a row may be more.
MOST_THINGS, MOST_ROWS, MOST_NUMBERS = 200, 2_000, 500_000

# Rows that are written in one statement: it takes no more than 65,535 values.
AT_ONCE = 500


class TooLarge(APIException):
    """More was sent than is read."""

    status_code = 413


class OpenRules(AnonRateThrottle):
    """The open rule book: two questions a second for each address, members without limit."""

    rate = "120/min"
    scope = "open rules"


class SignIns(AnonRateThrottle):
    """One sign-in a second for each address, whatever names are tried."""

    rate = "60/min"
    scope = "sign-in"

    def allow_request(self, request: Request, view: Any) -> bool:
        """Only trying to sign in is counted."""
        return request.method != "POST" or super().allow_request(request, view)


def within(request: Request, most: int) -> Request:
    """The request, refused before it is read where its body is larger."""
    sent = int(request.headers.get("Content-Length") or 0)
    if sent > most:
        said = f"{sent / 2**20:.0f} MB were sent; at most {most / 2**20:.0f} MB are read here."
        raise TooLarge(said)
    return request


def bounded(inputs: Any, path: str = "") -> Any:
    """The inputs, refused by name where a list is longer than is worked out for anybody."""
    if isinstance(inputs, dict):
        for key, value in inputs.items():
            bounded(value, f"{path}.{key}" if path else str(key))
    elif isinstance(inputs, list):
        first = next(iter(inputs), None)
        most = MOST_NUMBERS
        if isinstance(first, list):
            most = MOST_ROWS
        elif isinstance(first, (dict, str)):
            most = MOST_THINGS
        if len(inputs) > most:
            raise Refused(path or "inputs", f"has {len(inputs)} entries, at most {most} are taken")
        if most != MOST_NUMBERS:
            for n, value in enumerate(inputs):
                bounded(value, f"{path}.{n}")
    return inputs
