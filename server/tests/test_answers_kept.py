"""What the demo answers, page by page and after each kind of write: a digest of every part.

A part that answers otherwise was changed on purpose: look at it, then keep it anew with
ASHLANE_KEEP_PRINTS=1.
"""

import hashlib
import json
import os
import re
from pathlib import Path

from django.apps import apps
from django.core.management.color import no_style
from django.db import connection
from django.test import override_settings

from server.tests.every_write import COUNSELOR, OWNER, WRITES, filled
from server.tests.test_every_write import EveryWrite

FOLDER = Path(__file__).with_name("answers")
OTHER = "moorhen"
# What each run makes anew: times, days and how many are left, hashes, and the machine's own ports.
PASSING = (
    (re.compile(r"\d{4}-\d\d-\d\d(T\d\d:\d\d(:\d\d)?(\.\d+)?(Z|\+00:00)?)?"), "DAY"),
    (re.compile(r"\b[0-9a-f]{16,64}\b"), "HASH"),
    (re.compile(r"\b\d{2,3} days\b"), "DAYS"),
    (re.compile(r"127\.0\.0\.1::\d+"), "PORT"),
)
PAGES = [
    "", "lane", "joints?size=200", "stock", "instruments", "cables", "cards", "controls", "sources",
    "documents", "loose-ends", "findings", "notes", "photos", "ledger", "ledger/check", "people",
    "openings", "lines", "worksheets?trade=lines", "worksheets/fuel-system", "harness", "weight", "weight/datum?at=1 m", "since?size=200", "find?q=bolt", "find?q=elevator", "find?q=aft", "find?q=cable+rudder",
]  # fmt: skip
OF_CONTROL = [
    "", "linkage", "linkage/variants", "linkage/file.json", "linkage/points.csv", "part-checks",
    "cables", "cables/file.json",
]  # fmt: skip
TODAY = ({"temperature": "14 C"}, {"temperature": "-20 C"}, {"temperature": "38 C"})


def steady(value):
    """The same in every run; numbers to nine digits."""
    if isinstance(value, dict):
        return {k: steady(v) for k, v in value.items()}
    if isinstance(value, list):
        return [steady(v) for v in value]
    if isinstance(value, float):
        return float(f"{value:.9g}")
    if isinstance(value, str):
        for pattern, instead in PASSING:
            value = pattern.sub(instead, value)
    return value


def digest(value):
    """Short, of the steady value."""
    text = json.dumps(steady(value), sort_keys=True, ensure_ascii=False)
    return hashlib.sha256(text.encode()).hexdigest()[:10]


class Kept(EveryWrite):
    def setUp(self):
        super().setUp()
        self.made, self.seen = {}, {}
        # Whatever other tests took and gave back, the next number is the demo's next one.
        with connection.cursor() as cursor:
            for statement in connection.ops.sequence_reset_sql(no_style(), apps.get_models()):
                cursor.execute(statement)

    def take(self, name, answer):
        """Keep the digest of each part of an answer."""
        kind = answer.headers.get("Content-Type", "")
        whole = answer.json() if "json" in kind else answer.content.decode()
        parts = whole if isinstance(whole, dict) else {"": whole}
        self.made[name] = {"status": answer.status_code} | {k: digest(v) for k, v in parts.items()}
        self.seen[name] = parts
        return whole

    def page(self, path, slug="fenlark", person=OWNER):
        address = f"/api/aircraft/{slug}/{path}".rstrip("/")
        return self.take(f"{person} {slug}/{path}", self.as_(person).get(address))

    def assertKept(self, file):
        """As kept in this file; else with what it is now."""
        path = FOLDER / file
        if os.environ.get("ASHLANE_KEEP_PRINTS"):
            lines = (f"{json.dumps(k)}: {json.dumps(v)}" for k, v in sorted(self.made.items()))
            path.write_text("{\n" + ",\n".join(lines) + "\n}\n")
        kept = json.loads(path.read_text())
        self.assertEqual(set(self.made), set(kept))
        for name, made in self.made.items():
            for key in sorted(made.keys() | kept[name].keys()):
                if made.get(key) != kept[name].get(key):
                    now = json.dumps(steady(self.seen[name].get(key)), ensure_ascii=False)
                    with self.subTest(answer=name, key=key):
                        self.fail(f"answers otherwise; now: {now[:600]}")

    def of_control(self, control, slug, person):
        self.page(f"signatures/control:{control}", slug, person)
        for path in OF_CONTROL:
            self.page(f"controls/{control}/{path}".rstrip("/"), slug, person)
        asked = [("linkage/advice", {}), *(("cables/today", body) for body in TODAY)]
        for path, body in asked:
            answer = self.write(person, f"/api/aircraft/{slug}/controls/{control}/{path}", body)
            self.take(f"{person} {slug}/{control}/{path} {json.dumps(body)}", answer)


class Pages(Kept):
    def test_every_page_of_the_demo(self):
        for person, slug in ((OWNER, "fenlark"), (COUNSELOR, OTHER)):
            frame = self.page("", slug, person)
            for path in PAGES[1:]:
                self.page(path, slug, person)
            for bay in frame["bays"]:
                self.page(f"bays/{bay['slug']}/contents", slug, person)
                self.page(f"signatures/bay:{bay['slug']}", slug, person)
            for closure in frame["closures"]:
                self.page(f"closures/{closure['slug']}", slug, person)
                self.page(f"closures/{closure['slug']}?purpose=temporary", slug, person)
            for joint in self.page("joints?size=200", slug, person)["results"]:
                self.page(f"joints/{joint['slug']}", slug, person)
            for control in self.page("controls", slug, person)["results"]:
                self.of_control(control["slug"], slug, person)
        self.assertGreater(len(self.made), 120)
        self.assertKept("pages.json")


class Writes(Kept):
    @override_settings(AXES_ENABLED=False)
    def test_every_write_and_what_is_new_after_all_of_them(self):
        for n, one in enumerate(WRITES):
            person = OWNER if OWNER in one.may else COUNSELOR
            ids = self.ids()
            answer = self.sent(one, person, ids)
            self.assertIn(answer.status_code, (200, 201), (one.name, filled(one.body, ids)))
            self.take(f"{n} {one.name}", answer)
        for path in PAGES:
            self.page(path)
        for control in ("elevator", "rudder", "trim", "flaps"):
            self.of_control(control, "fenlark", OWNER)
        self.assertKept("writes.json")
