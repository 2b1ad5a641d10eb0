"""The demo loaded once, and a client that writes as the browser does."""

from __future__ import annotations

import json
import uuid
from typing import Any

from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.test import Client, TestCase, override_settings

from server.accounts.models import KeptWrite
from server.aircraft.models import Aircraft
from server.controls.models import Control
from testkit.database import ON_THE_DEMO, renew
from testkit.invariants import broken

ELEVATOR = "/api/aircraft/fenlark/controls/elevator"
PASSWORD = {
    "ansel": "shed-lamp-42",
    "ines": "second-look-17",
    "odile": "fresh-eyes-88",
    "corin": "tube-and-cloth-5",
}


@override_settings(**ON_THE_DEMO)
class OnTheDemo(TestCase):
    """The demo as loaded; what a test writes is taken back.

    tampered: rows were changed behind the application's back, as a test of what that shows.
    """

    tampered = False
    fenlark: Aircraft

    @classmethod
    def setUpClass(cls) -> None:
        renew()
        super().setUpClass()

    @classmethod
    def setUpTestData(cls) -> None:
        cls.fenlark = Aircraft.objects.get(slug="fenlark")

    def tearDown(self) -> None:
        cache.clear()
        if KeptWrite.objects.exists() and not self.tampered:
            self.assertEqual(broken(), [])
        super().tearDown()

    def as_(self, person: str) -> Client:
        client = Client()
        client.force_login(
            get_user_model().objects.get(username=person),
            backend="django.contrib.auth.backends.ModelBackend",
        )
        return client

    def write(self, person: str, path: str, body: Any, key: str = "", method: str = "post") -> Any:
        if "/signatures/" in path and method == "post" and "seen" not in body:
            # Whoever signs has looked at it as it is.
            looked = self.as_(person).get(path).json() if "doing" in body else {}
            body = body | {"seen": looked.get("seen", {})}
        send = getattr(self.as_(person), method)
        headers = {"Idempotency-Key": key or uuid.uuid4().hex}
        return send(path, json.dumps(body), content_type="application/json", headers=headers)

    def sheet(self, control: str = "elevator", person: str = "ansel") -> Any:
        return self.as_(person).get(f"/api/aircraft/fenlark/controls/{control}").json()

    def instrument(self, name: str) -> int:
        rows = self.as_("ansel").get("/api/aircraft/fenlark/instruments").json()["results"]
        return int(next(i["id"] for i in rows if i["name"] == name))

    def reading(self, value: str, position: str = "down_stop", **more: Any) -> dict[str, Any]:
        return {
            "surface": "elevator",
            "position": position,
            "method": "gauge_difference",
            "value": value,
            "zero": "fixed surface",
            "skin": "upper",
            "instrument": self.instrument("Digital level"),
        } | more

    def mend_elevator(self) -> None:
        """Read the elevator's down travel with the level until it is in, and check its sense."""
        reading = self.reading("-18.6; -18.55; -18.6; -18.6")
        self.assertEqual(self.write("ansel", f"{ELEVATOR}/readings", reading).status_code, 201)
        sense = {"right_way": True, "free": True}
        self.assertEqual(self.write("ansel", f"{ELEVATOR}/sense-checks", sense).status_code, 201)

    def control(self, slug: str = "elevator") -> Control:
        return Control.objects.get(aircraft=self.fenlark, slug=slug)
