"""A write sent twice is kept once: the browser's key brings back the first answer.

The key is claimed in the same transaction as the write, so a second sending waits for the
first and then reads its answer. A refused write leaves no trace and may be sent again.
"""

from __future__ import annotations

import re
from collections.abc import Callable

from django.db import connection, transaction
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import Resolver404, resolve
from django.utils.crypto import salted_hmac

from server.accounts.models import KeptWrite
from server.accounts.passwords import count_wrong
from server.aircraft.models import Member
from server.config.pages import no_such
from server.kit.dirty import forget
from server.kit.standing import settle

HEADER = "Idempotency-Key"
MOST_WRITE = 2 * 2**20
MOST_UPLOAD = 26 * 2**20
UNSAFE = ("POST", "PUT", "PATCH", "DELETE")


class KeptOnce:
    """Middleware: every write under /api/ carries a key, unless its view saves nothing."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass reads and stateless calls through; keep the answer of a write."""
        if not self._is_write(request):
            return self.get_response(request)
        key = request.headers.get(HEADER, "")
        if not 8 <= len(key) <= 64:
            return _said(HEADER, "every write needs a key of 8 to 64 characters")
        if (found := _too_large(request)) is not None:
            return found
        # Keyed: a signature's body holds a password, which a plain hash would let one try out.
        method = (request.method or "").encode()
        whole = b"\0".join((method, request.path.encode(), request.body))
        digest = salted_hmac("kept write", whole, algorithm="sha256").hexdigest()
        with transaction.atomic():
            response = self._once(request, key, digest)
        count_wrong(request)
        return response

    def _once(self, request: HttpRequest, key: str, digest: str) -> HttpResponse:
        with connection.cursor() as cursor:
            cursor.execute(
                "INSERT INTO accounts_keptwrite (user_id, key, digest, status, body, content_type,"
                " at) VALUES (%s, %s, %s, 0, '', '', now()) ON CONFLICT DO NOTHING RETURNING id",
                [request.user.pk, key, digest],
            )
            claimed = cursor.fetchone()
        if claimed is None:
            assert request.user.pk is not None
            if not _still_member(request):
                return no_such(request)
            kept = KeptWrite.objects.get(user_id=request.user.pk, key=key)
            if kept.digest != digest:
                return _said(HEADER, "this key was used for another write")
            return HttpResponse(kept.body, status=kept.status, content_type=kept.content_type)
        response = self.get_response(request)
        if response.status_code >= 400:
            transaction.set_rollback(True)
            forget()
        else:
            settle()
            KeptWrite.objects.filter(pk=claimed[0]).update(
                status=response.status_code,
                body=response.content.decode(),
                content_type=response.headers.get("Content-Type", "application/json"),
            )
        return response

    @staticmethod
    def _is_write(request: HttpRequest) -> bool:
        if request.method not in UNSAFE or not request.path.startswith("/api/"):
            return False
        if not request.user.is_authenticated:
            return False
        try:
            view = resolve(request.path_info).func
        except Resolver404:
            return False
        return not getattr(getattr(view, "cls", None), "stateless", False)


def _still_member(request: HttpRequest) -> bool:
    """Whether who asks again has to do with the aircraft of the address, if it is of one."""
    found = re.match(r"/api/aircraft/([^/]+)", request.path_info)
    if found is None:
        return True
    slug = found[1]
    return Member.objects.filter(aircraft__slug=slug, person__users=request.user.pk).exists()


def _too_large(request: HttpRequest) -> HttpResponse | None:
    """Refuse a body beyond what a write or a photo may have, before reading it."""
    sent = int(request.headers.get("Content-Length") or 0)
    most = MOST_UPLOAD if request.content_type == "multipart/form-data" else MOST_WRITE
    if sent <= most:
        return None
    said = f"{sent / 2**20:.0f} MB were sent; at most {most / 2**20:.0f} MB are taken"
    return _said("file" if most == MOST_UPLOAD else "body", said, 413)


def _said(field: str, reason: str, status: int = 422) -> JsonResponse:
    body = {"type": "about:blank", "title": f"{field}: {reason}", "status": status}
    body |= {"field": field, "reason": reason, "errors": [{"field": field, "reason": reason}]}
    return JsonResponse(body, status=status, content_type="application/problem+json")
