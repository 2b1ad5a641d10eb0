"""Every write: who may, that it is told once and in the right bays, and kept once."""

import re
import uuid

from server.accounts.models import KeptWrite
from server.journal.models import Change
from server.signoff.models import LedgerEntry
from server.tests.every_write import COUNSELOR, HELPER, OWNER, WRITERS, WRITES, filled
from server.tests.own import Writing
from testkit.contract import operations


class Numbers(dict):
    """The demo's own numbers by the names that the table uses, looked up once when needed."""

    def __init__(self, get):
        super().__init__()
        self.get_page = get

    def __missing__(self, name):
        self[name] = found = self.found(name)
        return found

    def found(self, name):
        get = self.get_page
        named = {
            "level": ("instruments", "Digital level"),
            "gauge": ("instruments", "Cable tension gauge"),
            "nut": ("stock", "Self-locking 1/4"),
        }
        if name in named:
            page, wanted = named[name]
            return next(x["id"] for x in get(page)["results"] if x["name"] == wanted)
        if name == "surface":
            rows = get("controls/elevator")["surfaces"]
            return next(s["version"] for s in rows if s["slug"] == "elevator")
        if name in ("travel", "travel_version"):
            asked = get("controls/trim")["requirements"][0]
            return asked["version" if "_" in name else "id"]
        if name == "source":
            return get("sources")["results"][0]["id"]
        if name == "directive":
            return get("documents")["directives"][0]["id"]
        pages = {"aircraft": "", "elevator": "controls/elevator"}
        pages |= {"cables": "controls/rudder/cables", "linkage": "controls/elevator/linkage"}
        whole, _, document = name.partition("_")
        return get(pages[whole])["document" if document else "version"]


def operation(one, path):
    """The operation of the schema that this write is."""
    fits = [
        op for op in operations()
        if op.method == one.method and re.fullmatch(re.sub(r"{\w+}", "[^/]+", op.path), path)
    ]  # fmt: skip
    return min(fits, key=lambda op: op.path.count("{"))


class EveryWrite(Writing):
    def ids(self):
        """The demo's own numbers as they are now, each looked up when it is needed."""
        return Numbers(self.get)

    def sent(self, one, person, ids, key=""):
        return self.write(
            person, self.at(filled(one.path, ids)).rstrip("/"), filled(one.body, ids),
            key or uuid.uuid4().hex, one.method,
        )  # fmt: skip

    def kept(self):
        return Change.objects.count(), LedgerEntry.objects.count(), KeptWrite.objects.count()


class Once(EveryWrite):
    def test_it_is_done_told_in_its_bays_by_whom_and_kept_once(self):
        for one in WRITES:
            ids, key = self.ids(), uuid.uuid4().hex
            before, last = self.kept(), Change.objects.order_by("-pk").first()
            with self.subTest(write=one.name):
                answer = self.sent(one, OWNER if OWNER in one.may else COUNSELOR, ids, key)
                self.assertIn(answer.status_code, (200, 201), answer.content[:300])
                op = operation(one, self.at(filled(one.path, ids)).rstrip("/"))
                self.assertIsNone(op.wrong(answer.status_code, answer.json()))
                if one.stateless:
                    self.assertEqual(self.kept(), before)
                    continue
                lines = list(Change.objects.filter(pk__gt=last.pk))
                self.assertTrue(lines, "nothing is told")
                self.assertEqual({x.by.slug for x in lines}, {OWNER})
                if one.kind:
                    self.assertIn(one.kind, {x.kind for x in lines})
                bays = {b for x in lines for b in x.bays}
                self.assertLessEqual(one.bays, bays)
                if one.said:
                    self.assertTrue(any(one.said in x.said for x in lines), [x.said for x in lines])
                after = self.kept()
                again = self.sent(one, OWNER if OWNER in one.may else COUNSELOR, ids, key)
                self.assertEqual(
                    (again.status_code, again.content), (answer.status_code, answer.content)
                )
                self.assertEqual(self.kept(), after)

    def test_another_body_under_the_same_key_is_refused(self):
        for one in WRITES:
            if one.stateless:
                continue
            ids, key = self.ids(), uuid.uuid4().hex
            self.sent(one, OWNER, ids, key)
            other = self.write(
                OWNER,
                self.at(filled(one.path, ids)).rstrip("/"),
                {"another": "body"},
                key,
                one.method,
            )
            with self.subTest(write=one.name):
                self.assertEqual(
                    (other.status_code, other.json()["field"]), (422, "Idempotency-Key")
                )


class Who(EveryWrite):
    def test_each_role_may_exactly_what_the_table_says(self):
        for one in WRITES:
            for person in (OWNER, HELPER, COUNSELOR):
                with self.subTest(write=one.name, person=person):
                    ids, before = self.ids(), self.kept()
                    answer = self.sent(one, person, ids)
                    if person in one.may:
                        # Another may have done the same before: then both sides are told.
                        self.assertIn(
                            answer.status_code, (200, 201, 409, 422), answer.content[:200]
                        )
                        self.assertNotEqual(answer.status_code, 403)
                    else:
                        self.assertEqual(answer.status_code, 403, answer.content[:200])
                        self.assertEqual(self.kept(), before)

    def test_a_stranger_is_told_nothing_and_a_name_too_much_is_refused(self):
        ids, before = self.ids(), self.kept()
        for one in WRITES:
            with self.subTest(write=one.name):
                self.assertEqual(self.sent(one, "corin", ids).status_code, 404)
                more = self.write(
                    OWNER, self.at(filled(one.path, ids)).rstrip("/"),
                    filled(one.body, ids) | {"no_such_field": 1}, method=one.method,
                )  # fmt: skip
                self.assertIn(more.status_code, (400, 422), more.content[:200])
                self.assertEqual(more.json()["field"], "no_such_field")
        self.assertEqual(self.kept(), before)

    def test_what_needs_a_version_tells_both_sides_when_it_is_old(self):
        for one in WRITES:
            if "version" not in one.body:
                continue
            ids, before = self.ids(), self.kept()
            old = filled(one.body, ids) | {"version": 987654}
            answer = self.write(
                OWNER, self.at(filled(one.path, ids)).rstrip("/"), old, method=one.method
            )
            with self.subTest(write=one.name):
                self.assertEqual(answer.status_code, 409, answer.content[:200])
                told = answer.json()
                self.assertIn("theirs", told)
                self.assertTrue(told["yours"])
                self.assertEqual(self.kept(), before)


class Work(EveryWrite):
    """Hands in a bay make what was looked at there old; looking does not."""

    INSPECTED = {"doing": "inspected", "password": "fresh-eyes-88"}

    def fresh(self, bay):
        entries = self.get(f"signatures/bay:{bay}")["entries"]
        return entries[0]["fresh"] if entries else None

    def test_work_in_a_bay_disturbs_what_was_signed_there_and_reading_does_not(self):
        for bay, path, body, stays in (
            ("nose", "notes", {"text": "n", "target": "bay", "target_id": "nose"}, True),
            ("nose", "loose-ends", {"what": "cap", "ends_with": "start", "bay": "nose"}, False),
            ("nose", "joints", {"name": "New bolt", "bay": "nose"}, False),
            ("nose", "findings", {"text": "scratch", "bay": "nose"}, False),
        ):
            with self.subTest(path=path):
                self.write(COUNSELOR, self.at(f"signatures/bay:{bay}"), self.INSPECTED)
                signed = self.fresh(bay)
                if signed is None:
                    continue  # Something stands in the way of signing: nothing to disturb.
                self.post(path, body)
                self.assertEqual(self.fresh(bay), stays)
        self.assertTrue(self.post("ledger/check", {}, status=200)["ok"])

    def test_the_table_leaves_no_kind_of_write_out(self):
        """Every operation of the schema that changes something of an aircraft is tried here or
        in a test of its own."""
        own = {
            "/photos", "/hear", "/poll", "/card", "/undo", "/withdraw", "/corrections", "/decisions",
            "/resolutions", "/close", "/open", "/override", "/edit", "/signatures/{scope}", "/since",
            "/adjustments", "/assess", "/try", "/play", "/end", "/variants/{variant}", "/session",
            "/rules/{rule}", "/rules/{rule}/working", "/requirements/{requirement}", "/openings/{opening}", "/bays/{bay}",
            "/joints/{joint}", "/instruments/{instrument}", "/findings/{finding}", "/photos/{photo}",
            "/documents/{source}", "/api/aircraft", "/surfaces/{surface}/removal", "/controls/{control}/removal",
            "/people/invitations", "/invitations/{invitation}/withdraw", "/people/{person}/end", "/join/{token}", "/session/password",
            "/instruments/{instrument}/removal", "/documents/{source}/removal", "/joints/{joint}/removal",
            "/stock/{item}", "/stock/{item}/removal", "/lines/{line}", "/lines/{line}/removal", "/worksheets/{sheet}", "/worksheets/{sheet}/removal", "/leak-tests", "/opened", "/worksheets/{sheet}/readings", "/harness/rows/{row}", "/harness/rows/{row}/steps", "/harness/rows/{row}/removal", "/weight/rows/{entry}", "/weight/rows/{entry}/steps", "/capture", "/settling", "/weight/rows/{entry}/removal", "/clearance/rows/{shape}/removal", "/clearance/pairs/{event}/undo", "/compounds/{compound}", "/compounds/{compound}/removal",
            "/statements/{statement}", "/statements/{statement}/removal", "/directives/{directive}", "/directives/{directive}/removal",
            "/bays/{bay}/removal", "/closures/{closure}/removal", "/openings/{opening}/removal", "/controls/{control}/linkage/removal", "/controls/{control}/cables/removal",
        }  # fmt: skip
        tried = {f"/{one.path.replace('elevator', '{control}')}" for one in WRITES}
        for op in operations():
            if op.method == "get":
                continue
            tail = op.path.removeprefix("/api/aircraft/{slug}") or "/"
            covered = any(op.path.endswith(x) for x in own) or any(
                len(t.split("/")) == len(tail.split("/"))
                and all(
                    a == b or b.startswith("{")
                    for a, b in zip(t.split("/"), tail.split("/"), strict=True)
                )
                for t in tried
            )
            self.assertTrue(covered, op.name)

    def test_writers_are_the_members_who_are_not_mere_readers(self):
        roles = {m["person"]: m["role"] for m in self.get()["members"]}
        self.assertEqual(set(roles), WRITERS)
        self.assertEqual(roles[OWNER], "owner")
        self.assertEqual((roles[HELPER], roles[COUNSELOR]), ("helper", "counselor"))
