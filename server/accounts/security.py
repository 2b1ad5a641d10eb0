"""The security log: who signed in or failed, was locked out or denied, signed, overrode, and
whose role changed. One line each, for whoever runs the server; no password, no text of work."""

from __future__ import annotations

import logging
import time
from typing import Any

from axes.signals import user_locked_out
from django.contrib.auth.signals import user_logged_in, user_logged_out, user_login_failed
from django.db import transaction
from django.http import HttpRequest

from server.accounts.addresses import address
from server.accounts.keeping import purge
from server.accounts.sessions import USED

log = logging.getLogger("ashlane.security")


def told(what: str, request: HttpRequest | None, **facts: object) -> None:
    """Write a line: what happened, by whom, from where, and what else tells it apart."""
    user = getattr(request, "user", None)
    who = {"user": user.get_username()} if user is not None and user.is_authenticated else {}
    where = {"from": address(request)} if request is not None else {}
    line = {**who, **facts, **where}
    log.info("%s %s", what, " ".join(f"{k}={_one_word(v)}" for k, v in line.items()))


def _one_word(value: object) -> str:
    """Without spaces and line ends: a name cannot write a line of its own."""
    return "".join(c if c.isprintable() and not c.isspace() else "_" for c in str(value))[:120]


def kept(what: str, **facts: object) -> None:
    """The same for what is written, once it is: a write that is taken back tells nothing."""
    transaction.on_commit(lambda: told(what, None, **facts))


def _signed_in(request: HttpRequest, user: Any, **_: object) -> None:
    told("sign-in", request, user=user.get_username())
    request.session[USED] = int(time.time())
    purge()


def _signed_out(request: HttpRequest, user: Any, **_: object) -> None:
    if user is not None:
        told("sign-out", request, user=user.get_username())


def _failed(credentials: dict[str, Any], request: HttpRequest | None = None, **_: object) -> None:
    told("wrong-password", request, user=credentials.get("username", ""))


def _locked(request: HttpRequest, username: str, **_: object) -> None:
    told("locked-out", request, user=username)


def listen() -> None:
    """Hear what the framework tells."""
    user_logged_in.connect(_signed_in, dispatch_uid="security")
    user_logged_out.connect(_signed_out, dispatch_uid="security")
    user_login_failed.connect(_failed, dispatch_uid="security")
    user_locked_out.connect(_locked, dispatch_uid="security")
