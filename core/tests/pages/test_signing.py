"""Gates, signatures, ledger, documents and directives written a second time."""

import copy
import hashlib
import json
from datetime import UTC, datetime, timedelta
from unittest import TestCase

from hypothesis import assume
from hypothesis import strategies as st

from core.tests.pages.asking import Agreeing, ask, field_refused, given

# Plain data whose canonical text Python's own writer gives: no numbers but small whole ones.
words = st.text('abcé—"\\\n\t 09', max_size=6)


plain = st.recursive(
    st.none() | st.booleans() | st.integers(-(2**53) + 1, 2**53 - 1) | words,
    lambda x: st.lists(x, max_size=3) | st.dictionaries(words, x, max_size=3),
    max_leaves=8,
)


def canonical(value):
    """RFC 8785 of plain data without fractions, by the standard library."""
    return json.dumps(value, sort_keys=True, ensure_ascii=False, separators=(",", ":"))


def sha(value):
    return hashlib.sha256(canonical(value).encode()).hexdigest()


class Canonical(Agreeing, TestCase):
    @given(plain)
    def test_text_and_hash(self, value):
        got = ask("signoff.canonical_hash", value=value)
        self.agrees(got, {"text": canonical(value), "sha256": sha(value)})

    @given(st.dictionaries(words, plain, min_size=2, max_size=4))
    def test_the_order_of_keys_says_nothing(self, value):
        back = dict(reversed(list(value.items())))
        one, other = (ask("signoff.canonical_hash", value=v)["sha256"] for v in (value, back))
        self.assertEqual(one, other)

    @given(st.floats(allow_nan=False, allow_infinity=False))
    def test_a_number_s_text_reads_back_as_itself(self, x):
        text = ask("signoff.canonical_hash", value=x)["text"]
        self.assertEqual(float(text), x)
        self.assertNotIn("E", text)
        self.assertFalse(text.startswith("-0") and x == 0)

    def test_what_has_no_canonical_form_is_refused(self):
        for value in (float("nan"), float("inf"), 2**53, -(2**53), "\ud800", {"a": float("-inf")}):
            self.assertIsNotNone(field_refused("signoff.canonical_hash", value=value), repr(value))


STEPS = {
    "conflict": ("resolved", "open"),
    "finding": ("closed", "open"),
    "reading": ("in", "too close", "out", "not measured"),
    "clearance": ("clear", "accepted", "touch"),
    "joint": ("final", "cotter missing"),
    "test": ("passed", "not done"),
    "task": ("done", "open"),
    "loose end": ("ended", "open"),
    "directive": ("does not apply", "complied", "complied until due", "deviation", "overdue"),
    "signature": ("fresh", "stale"),
    "photo": ("present", "missing"),
    "count": ("in", "one out"),
    "reach": ("now", "by opening", "never needed", "lost"),
}


PASSING = {
    "conflict": 1, "finding": 1, "reading": 1, "clearance": 2, "joint": 1, "test": 1, "task": 1,
    "loose end": 1, "directive": 4, "signature": 1, "photo": 1, "count": 1, "reach": 3,
}  # fmt: skip


items = st.lists(
    st.sampled_from(sorted(STEPS)).flatmap(
        lambda step: st.fixed_dictionaries(
            {
                "step": st.just(step),
                "id": st.sampled_from(["one", "two", "three"]),
                "state": st.sampled_from(STEPS[step]),
                "owner": st.sampled_from(["Ansel", "Ines", "nobody"]),
            }
        )
    ),
    max_size=7,
    unique_by=lambda i: (i["step"], i["id"]),
)


TOOLS = {"step": "count", "id": "tools", "state": "in", "owner": "Ansel"}


def passes(item):
    return item["state"] in STEPS[item["step"]][: PASSING[item["step"]]]


def names(found):
    return [(i["step"], i["id"]) for i in found]


class Gates(Agreeing, TestCase):
    FINAL = {"id": "skin", "kind": "permanent", "purpose": "final"}

    @given(items)
    def test_what_does_not_pass_blocks_in_the_page_s_order(self, listed):
        every = [*listed, TOOLS]
        order = list(STEPS)
        failing = [i for i in every if not passes(i)]
        failing.sort(key=lambda i: order.index(i["step"]))
        got = ask("signoff.gate", closure=self.FINAL, items=every)
        self.assertEqual(names(got["blockers"]), names(failing))
        self.assertEqual(got["state"], "blocked" if failing else "ready")

    @given(items)
    def test_for_a_night_only_the_count_blocks(self, listed):
        every = [*listed, TOOLS]
        night = {"id": "hatch", "kind": "removable", "purpose": "temporary"}
        got = ask("signoff.gate", closure=night, items=every)
        failing = [i for i in every if not passes(i)]
        self.assertEqual(
            sorted(names(got["carried"])),
            sorted(names(i for i in failing if i["step"] != "count")),
        )
        counts = [i for i in failing if i["step"] == "count"]
        self.assertEqual(names(got["blockers"]), names(counts))
        carried = "carried" if got["carried"] else "ready"
        self.assertEqual(got["state"], "blocked" if counts else carried)

    @given(items, st.sets(st.integers(0, 6)))
    def test_an_override_covers_exactly_what_it_lists(self, listed, chosen):
        every = [*listed, TOOLS]
        failing = [i for i in every if not passes(i)]
        covered = [i for n, i in enumerate(failing) if n in chosen]
        override = {
            "person": "Ines", "reason": "seen with the counselor", "blockers": list(map(sha, covered))
        }  # fmt: skip
        assume(covered)
        got = ask("signoff.gate", closure=self.FINAL, items=every, overrides=[override])
        self.assertEqual(sorted(names(got["overridden"])), sorted(names(covered)))
        left = [i for i in failing if i not in covered]
        self.assertEqual(sorted(names(got["blockers"])), sorted(names(left)))
        self.assertEqual(got["state"], "blocked" if left else "overridden")
        # The same thing in another state, or another's, blocks again.
        for change in ({"state": "something else"}, {"owner": "Odile"}):
            changed = [i | change if i is covered[0] else i for i in every]
            again = ask("signoff.gate", closure=self.FINAL, items=changed, overrides=[override])
            self.assertIn((covered[0]["step"], covered[0]["id"]), names(again["blockers"]))

    def test_two_persons_for_flight_control_and_fuel(self):
        for critical in ("flight control", "fuel line"):
            bolt = {
                "step": "joint", "id": "bolt", "state": "cotter missing", "owner": "Ansel",
                "critical": critical, "workers": ["Ansel"],
            }  # fmt: skip
            covers = [sha({k: bolt[k] for k in ("id", "owner", "state", "step")})]
            for person, second, fine in (
                ("Ansel", "Ines", True), ("Ines", "Ansel", True), ("Ines", "Odile", True),
                ("Ansel", "", False), ("Ines", "", False), ("Ines", "Ines", False),
                ("Ansel", " ", False),
            ):  # fmt: skip
                override = {
                    "person": person, "second": second, "reason": "looked at together",
                    "blockers": covers,
                }  # fmt: skip
                given_ = {"closure": self.FINAL, "items": [bolt, TOOLS], "overrides": [override]}
                refused = field_refused("signoff.gate", **given_)
                self.assertEqual(refused, None if fine else "override.person", (person, second))
            nobody = bolt | {"workers": []}
            override["second"] = "Odile"
            self.refuses(
                "items.workers", "signoff.gate", closure=self.FINAL, items=[nobody, TOOLS],
                overrides=[override],
            )  # fmt: skip

    def test_refusals(self):
        good = {"closure": self.FINAL, "items": [TOOLS]}
        for change in (
            {"items": []},
            {"items": [TOOLS | {"step": "wish"}]},
            {"closure": self.FINAL | {"purpose": "temporary"}},
            {"closure": self.FINAL | {"kind": "welded"}},
            {"overrides": [{"person": " ", "reason": "long enough now", "blockers": []}]},
            {"overrides": [{"person": "Ines", "reason": "too short", "blockers": []}]},
        ):
            with self.subTest(change=change):
                self.assertIsNotNone(field_refused("signoff.gate", **(good | change)))


facts = st.lists(
    st.fixed_dictionaries(
        {"id": st.sampled_from("abcdef"), "rev": st.integers(1, 4), "v": st.dictionaries(words, plain)}
    ),
    min_size=1, max_size=5, unique_by=lambda f: f["id"],
)  # fmt: skip


def body_of(listed, by="ansel", role="builder", at="2027-03-06T14:05:00Z"):
    hashed = sorted(({"hash": sha(f), "id": f["id"]} for f in listed), key=lambda f: f["id"])
    return {
        "at": at, "by": by, "facts": hashed, "role": role, "scope": "control:x",
        "statement": "It is in.",
    }  # fmt: skip


class Signatures(Agreeing, TestCase):
    @given(facts, st.randoms())
    def test_a_signature_is_the_hash_of_its_facts_in_any_order(self, listed, chance):
        mixed = list(listed)
        chance.shuffle(mixed)
        body = body_of(listed)
        rest = {k: body[k] for k in ("scope", "by", "role", "at", "statement")}
        self.agrees(ask("signoff.sign", facts=mixed, **rest), {"sha256": sha(body)})

    def test_no_facts_or_one_twice_are_not_signed(self):
        rest = {k: v for k, v in body_of([]).items() if k != "facts"}
        fact = {"id": "a", "rev": 1, "v": "1"}
        for listed in ([], [fact, fact | {"rev": 2}]):
            self.assertIsNotNone(field_refused("signoff.sign", facts=listed, **rest))

    @given(facts, st.sets(st.sampled_from("abcdef")), st.sets(st.sampled_from("abcdef")))
    def test_what_changed_what_went_and_what_came(self, listed, touched, gone):
        now = [
            f | {"rev": f["rev"] + 1} if f["id"] in touched else f
            for f in listed
            if f["id"] not in gone
        ] + [{"id": "new", "rev": 1, "v": "1"}]
        got = ask("signoff.freshness", body=body_of(listed), facts=now)
        ids = {f["id"] for f in listed}
        self.agrees(
            got,
            {
                "changed": sorted((touched - gone) & ids), "removed": sorted(gone & ids),
                "added": ["new"], "stale": True,
            },
        )  # fmt: skip
        same = ask("signoff.freshness", body=body_of(listed), facts=listed[::-1])
        self.agrees(same, {"stale": False, "changed": [], "removed": [], "added": []})

    @given(
        st.lists(
            st.tuples(st.sampled_from(["ansel", "ines", "odile"]), st.integers(-3, 3)), max_size=4
        ),
        st.sets(st.sampled_from(["ansel", "ines"]), min_size=1),
    )
    def test_two_persons_after_the_work_one_of_them_not_its_doer(self, signed, workers):
        done = datetime(2027, 3, 6, 12, tzinfo=UTC)
        after = [by for by, hours in signed if hours >= 0]
        persons = set(after)
        if not after:
            reason = "no fresh signature after the work"
        elif len(persons) < 2:
            reason = "only one person signed"
        elif not persons - workers:
            reason = "no signer is independent of the work"
        else:
            reason = None
        got = ask(
            "signoff.dual_inspection", workers=sorted(workers), work_done_at=done.isoformat(),
            signatures=[
                {"by": by, "at": (done + timedelta(hours=h)).isoformat()} for by, h in signed
            ],
        )  # fmt: skip
        self.assertEqual(got["ok"], reason is None, got)
        if reason:
            self.assertEqual(got["reason"], reason)
        self.assertIsNotNone(
            field_refused(
                "signoff.dual_inspection", signatures=[], workers=[], work_done_at=done.isoformat()
            )
        )


class Ledgers(Agreeing, TestCase):
    @staticmethod
    def chain(count):
        prev, rows = "0" * 64, []
        for seq in range(1, count + 1):
            row = {"body": {"n": seq}, "kind": "signature", "prev": prev, "seq": seq}
            prev = sha(row)
            rows.append(row | {"hash": prev})
        return rows

    @given(st.integers(0, 5))
    def test_a_whole_chain_tells_its_head(self, count):
        rows = self.chain(count)
        got = ask("signoff.verify_ledger", ledger=rows)
        self.assertTrue(got["ok"])
        self.assertEqual(got["entries"], count)
        if rows:
            self.assertEqual(got["head"], rows[-1]["hash"])

    @given(st.integers(1, 5), st.data())
    def test_the_first_fault_is_found_whatever_was_done(self, count, data):
        rows = self.chain(count)
        i = data.draw(st.integers(0, count - 1))
        way = data.draw(st.sampled_from(["body", "kind", "hash", "prev", "drop", "swap"]))
        fault, at = "altered", i + 1
        bad = copy.deepcopy(rows)
        if way == "body":
            bad[i]["body"] = {"n": -1}
        elif way == "kind":
            bad[i]["kind"] = "override"
        elif way == "hash":
            bad[i]["hash"] = "f" * 64
        elif way == "prev":
            bad[i]["prev"] = "e" * 64
            fault = "does not follow the entry before"
        elif way == "drop":
            assume(i < count - 1)
            del bad[i]
            fault = "missing or out of order"
        else:
            assume(i < count - 1)
            bad[i], bad[i + 1] = bad[i + 1], bad[i]
            fault = "missing or out of order"
        got = ask("signoff.verify_ledger", ledger=bad)
        self.assertFalse(got["ok"])
        self.assertEqual((got["seq"], got["fault"]), (at, fault))

    @given(st.integers(1, 5), st.data())
    def test_a_witness_sees_an_end_cut_off_and_a_chain_made_anew(self, count, data):
        rows = self.chain(count)
        seq = data.draw(st.integers(1, count))
        witness = {"seq": seq, "hash": rows[seq - 1]["hash"]}
        self.assertTrue(ask("signoff.verify_ledger", ledger=rows, witness=witness)["ok"])
        cut = ask("signoff.verify_ledger", ledger=rows[: seq - 1], witness=witness)
        self.assertEqual(cut["fault"], "ledger ends before the witnessed entry")
        other = ask("signoff.verify_ledger", ledger=rows, witness=witness | {"hash": "a" * 64})
        self.assertEqual((other["fault"], other["seq"]), ("not the witnessed entry", seq))
