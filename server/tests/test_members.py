"""Roles, invitations by a link that works once, joining, leaving, and passwords."""

from datetime import UTC, datetime, timedelta
from io import StringIO

from django.core.management import call_command
from django.test import Client

from server.accounts.models import KeptWrite, Person, User
from server.aircraft.models import Member
from server.people.models import Invitation
from server.tests.own import Writing
from testkit.base import PASSWORD

NEW = {"name": "Wren Hollis", "username": "wren", "password": "a-long-enough-word"}


class Members(Writing):
    def invite(self, role="helper", second=False, person=""):
        body = {"role": role, "second_inspector": second}
        return self.post("people/invitations", body, person=person)["link"]

    def join(self, link, body=None, client=None):
        client = client or Client()
        return client.post(f"/api{link}", body or {}, content_type="application/json")

    def roles(self, person=""):
        return {p["person"]: p["role"] for p in self.get("people", person=person)["results"]}

    def told(self):
        return self.get("since")["changes"][0]["said"]


class Inviting(Members):
    def test_a_link_makes_an_account_with_that_role_and_works_once(self):
        link = self.invite("helper", True)
        offered = Client().get(f"/api{link}").json()
        self.assertEqual(
            (offered["aircraft"], offered["role"], offered["second_inspector"]),
            ("Fenlark", "helper", True),
        )
        self.assertEqual(offered["made_by"], "Ansel Tarnfield")
        client = Client()
        joined = self.join(link, NEW, client)
        self.assertEqual(joined.status_code, 201, joined.content)
        self.assertEqual(joined.json()["aircraft"], "fenlark")
        self.assertEqual(joined.json()["session"]["name"], "Wren Hollis")
        # Signed in at once, with that role and no other.
        self.assertEqual(client.get("/api/aircraft").json()["results"][0]["slug"], "fenlark")
        self.assertEqual(self.roles()["wren-hollis"], "helper")
        self.assertEqual(self.told(), "Wren Hollis joined as helper")
        for again in (Client().get(f"/api{link}"), self.join(link, NEW | {"username": "other"})):
            self.assertEqual(again.status_code, 404)
            self.assertIn("was used, withdrawn, or has run out", again.json()["title"])
        self.assertEqual(User.objects.filter(username="other").count(), 0)

    def test_who_is_signed_in_joins_as_themselves_and_only_once(self):
        link = self.invite("reader")
        corin = self.as_("corin")
        self.assertEqual(self.join(link, {}, corin).status_code, 201)
        self.assertEqual(self.roles()["corin"], "reader")
        again = self.join(self.invite("helper"), {}, corin)
        self.assertEqual((again.status_code, again.json()["field"]), (422, "link"))
        self.assertEqual(self.roles()["corin"], "reader")

    def test_what_makes_no_account_is_refused_and_the_link_still_works(self):
        link = self.invite()
        for field, change in (
            ("name", {"name": " "}), ("username", {"username": "x"}), ("username", {"username": "a b c"}),
            ("username", {"username": "ANSEL"}), ("password", {"password": "short"}),
            ("password", {"password": "12345678901"}), ("password", {"password": "password123"}),
            ("password", {"password": "wrenwrenwren", "username": "wrenwren"}),
        ):  # fmt: skip
            answer = self.join(link, NEW | change)
            with self.subTest(change=change):
                self.assertEqual(
                    (answer.status_code, answer.json()["field"]), (422, field), answer.content
                )
        self.assertEqual(Person.objects.filter(name="Wren Hollis").count(), 0)
        self.assertEqual(self.join(link, NEW).status_code, 201)

    def test_withdrawn_or_run_out_it_is_worth_nothing(self):
        link = self.invite()
        (row,) = self.get("people")["invitations"]
        self.assertEqual(self.get("people", person="ines")["invitations"], [])
        self.post(f"people/invitations/{row['id']}/withdraw", status=200)
        self.assertEqual(self.join(link, NEW).status_code, 404)
        self.post(f"people/invitations/{row['id']}/withdraw", status=404)
        late = self.invite()
        Invitation.objects.filter(withdrawn_at=None).update(
            expires_at=datetime.now(UTC) - timedelta(seconds=1)
        )
        self.assertEqual(self.join(late, NEW).status_code, 404)
        self.assertEqual(self.get("people")["invitations"], [])
        self.assertEqual(Client().get("/api/join/guess").status_code, 404)

    def test_no_link_is_kept_anywhere(self):
        token = self.invite().rpartition("/")[2]
        self.assertFalse(any(token in k.body for k in KeptWrite.objects.all()))
        self.assertFalse(Invitation.objects.filter(digest__contains=token).exists())

    def test_only_an_owner_invites_and_what_is_no_role_is_refused(self):
        body = {"role": "helper", "second_inspector": False}
        for person in ("ines", "odile"):
            self.assertEqual(
                self.write(person, self.at("people/invitations"), body).status_code, 403
            )
        for field, change in (
            ("role", {"role": "king"}),
            ("second_inspector", {"role": "reader", "second_inspector": True}),
        ):
            answer = self.write("ansel", self.at("people/invitations"), body | change)
            self.assertEqual((answer.status_code, answer.json()["field"]), (422, field))

    def test_the_first_account_comes_from_the_command(self):
        out = StringIO()
        call_command("invite", stdout=out)
        link = out.getvalue().split()[-1]
        client = Client()
        joined = self.join(link, NEW, client)
        self.assertEqual((joined.status_code, joined.json()["aircraft"]), (201, ""))
        self.assertEqual(client.get("/api/aircraft").json()["count"], 0)


class Roles(Members):
    def role(self, person, was, role, second=False, status=200, by=""):
        body = {"was": was, "role": role, "second_inspector": second}
        return self.patch(f"people/{person}", body, status, person=by)

    def test_a_role_is_changed_by_an_owner_and_told(self):
        self.role("ines", "helper", "counselor")
        self.assertEqual(self.roles()["ines"], "counselor")
        self.assertIn("is now a counselor", self.told())
        self.role("ines", "helper", "reader", status=409)
        self.role("ines", "counselor", "helper", True)
        self.assertIn("second inspector", self.told())
        self.role("odile", "counselor", "reader", status=403, by="ines")
        self.role("nobody", "helper", "reader", status=404)
        self.role("ines", "helper", "reader", True, status=422)

    def test_an_aircraft_never_loses_its_last_owner(self):
        self.role("ansel", "owner", "helper", status=422)
        self.post("people/ansel/end", {"reason": "sold it"}, 422)
        self.role("ines", "helper", "owner")
        self.role("ansel", "owner", "reader")
        self.assertEqual(self.roles(), self.roles("ines"))
        self.assertEqual(Member.objects.filter(aircraft=self.fenlark, role="owner").count(), 1)

    def test_one_leaves_or_is_ended_and_what_was_done_stays(self):
        self.post("people/odile/end", {"reason": "not my turn"}, 403, person="ines")
        self.post("people/ines/end", {"reason": "x"}, 422, person="ines")
        self.post("people/ines/end", {"reason": "moved away"}, 200, person="ines")
        self.assertIn("left, because moved away", self.told())
        self.get("", status=404, person="ines")
        sheet = self.sheet()
        self.assertTrue(any(r["taken_by"].startswith("Ines") for r in sheet["readings"]))
        self.post("people/odile/end", {"reason": "another counselor"}, 200)
        self.assertNotIn("odile", self.roles())
        self.assertTrue(self.post("ledger/check", {}, status=200)["ok"])


class Passwords(Members):
    def change(self, client, old, new):
        body = {"old": old, "new": new}
        return client.post("/api/session/password", body, content_type="application/json")

    def test_it_is_changed_with_the_old_one_and_ends_every_other_session(self):
        mine, other = self.as_("ines"), self.as_("ines")
        self.assertEqual(
            self.change(mine, "wrong", "quite-another-word").json()["field"], "password"
        )
        for bad in ("short", "1234567890", "ines"):
            self.assertEqual(self.change(mine, PASSWORD["ines"], bad).json()["field"], "new")
        self.assertEqual(self.change(mine, PASSWORD["ines"], "quite-another-word").status_code, 200)
        self.assertEqual(mine.get("/api/aircraft").status_code, 200)
        self.assertEqual(other.get("/api/aircraft").status_code, 403)
        fresh = Client()
        for word, want in ((PASSWORD["ines"], 422), ("quite-another-word", 200)):
            body = {"username": "ines", "password": word}
            self.assertEqual(
                fresh.post("/api/session", body, content_type="application/json").status_code, want
            )

    def test_nobody_changes_a_password_without_signing_in(self):
        self.assertIn(self.change(Client(), "a", "quite-another-word").status_code, (401, 403))
