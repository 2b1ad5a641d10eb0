"""A signed-in client of the API. Load goes to this machine's own server only."""

from __future__ import annotations

import http.cookiejar
import json
import urllib.request
import uuid
from typing import Any


class Client:
    """One person, signed in."""

    def __init__(self, address: str, name: str, password: str) -> None:
        self.address = address
        jar = http.cookiejar.CookieJar()
        self.open = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar)).open
        self.token = ""
        self.token = self.call("GET", "session")["csrf"]
        signed = self.call("POST", "session", {"username": name, "password": password})
        self.token = signed["csrf"]

    def call(self, method: str, path: str, body: object = None) -> Any:
        """One call; the answer as JSON."""
        headers = {"Content-Type": "application/json", "Idempotency-Key": uuid.uuid4().hex}
        headers["X-CSRFToken"] = self.token
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(f"{self.address}api/{path}", data, headers, method=method)
        with self.open(request, timeout=20) as answer:
            return json.loads(answer.read())
