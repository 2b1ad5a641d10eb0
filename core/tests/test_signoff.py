"""Facts of sign-off: what is signed is exactly what was seen; a chain shows where it broke."""

from copy import deepcopy
from datetime import date, datetime
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.signoff.canonical import canonical_bytes, canonical_hash, figure
from core.signoff.directive import Directive, Limits, standing
from core.signoff.dual import NONE_FRESH, NOT_INDEPENDENT, ONE_PERSON, Signed, dual_inspection
from core.signoff.gate import Item, Override, gate
from core.signoff.ledger import (
    ALTERED,
    BROKEN,
    CUT_OFF,
    OUT_OF_ORDER,
    REBUILT,
    START,
    entry_hash,
    verify,
)
from core.signoff.signature import Fact, freshness, signature_body

FACTS = [
    Fact(
        "req/elevator/up",
        1,
        {"max": "28", "min": "25", "source": "drawing 27-01 rev C", "unit": "deg"},
    ),
    Fact("joint/elevator/bellcrank-aft", 3, {"state": "final", "torque": "per manual 4.2 — done"}),
    Fact(
        "reading/elevator/up/7",
        1,
        {"as_typed": "26.4", "instrument": "inclinometer 2", "u": "0.2", "unit": "deg"},
    ),
]
FIRST = signature_body(
    FACTS,
    "control:elevator",
    "ansel",
    "builder",
    "2027-03-06T14:05:00Z",
    "I measured it and it is in.",
)
SECOND = signature_body(
    FACTS,
    "control:elevator",
    "ines",
    "independent",
    "2027-03-06T15:40:00Z",
    "I inspected it independently.",
)


def chain(*bodies):
    entries, prev = [], START
    for seq, body in enumerate(bodies, 1):
        digest = entry_hash(body, "signature", prev, seq)
        entries.append(
            {"body": body, "kind": "signature", "prev": prev, "seq": seq, "hash": digest}
        )
        prev = digest
    return entries


class Ledger(TestCase):
    def test_the_page_s_example_hashes_to_the_digits_given(self):
        self.assertEqual(
            FACTS[1].hash, "b33d6e61de927c4d32ce6e688c71d8b8dbe7fb911f242a0655fc824ced8a0627"
        )
        self.assertEqual(len(canonical_bytes({"id": FACTS[1].id, "rev": 3, "v": FACTS[1].v})), 102)
        self.assertEqual(
            canonical_hash(FIRST),
            "f9e36af045d4a5295164378ee848cdf4da02da14cd01483e68841ef12292f462",
        )
        first, second = chain(FIRST, SECOND)
        self.assertEqual(
            first["hash"], "fb6349f6b9bcff016991047f0f357bc8fbd2a3b059f4abce97de4a04a9cfbfff"
        )
        self.assertEqual(
            second["hash"], "c391ba653d65fc909958468e9ede69d3cef198f2b82e30bb4c84ff0f7281ce09"
        )

    def test_each_fault_is_named_where_it_is(self):
        good = chain(FIRST, SECOND)
        altered = deepcopy(good)
        altered[0]["body"]["by"] = "odile"
        rehung = deepcopy(good)
        rehung[1]["prev"] = START
        witness = {"seq": 2, "hash": good[1]["hash"]}
        for entries, seen, seq, fault in [
            (altered, None, 1, ALTERED),
            (good[1:], None, 1, OUT_OF_ORDER),
            (rehung, None, 2, BROKEN),
            (good[:1], witness, 2, CUT_OFF),
            (chain(FIRST, FIRST), witness, 2, REBUILT),
        ]:
            with self.subTest(fault=fault):
                found = verify(entries, seen)
                self.assertEqual((found.ok, found.seq, found.fault), (False, seq, fault))
        self.assertTrue(verify(good, witness).ok)

    def test_a_value_changed_and_changed_back_is_stale(self):
        now = [*FACTS[:2], Fact(FACTS[2].id, 3, FACTS[2].v), Fact("finding/12", 1, {})]
        found = freshness(FIRST, now)
        self.assertEqual(
            (found.changed, found.added, found.removed), ((FACTS[2].id,), ("finding/12",), ())
        )
        self.assertFalse(freshness(FIRST, FACTS[::-1]).stale)

    @given(
        st.recursive(
            st.none()
            | st.booleans()
            | st.text()
            | st.floats(allow_nan=False, allow_infinity=False),
            lambda c: st.lists(c) | st.dictionaries(st.text(), c),
            max_leaves=8,
        )
    )
    def test_the_canonical_form_does_not_depend_on_order(self, value):
        turned = dict(reversed(value.items())) if isinstance(value, dict) else value
        self.assertEqual(canonical_hash(value), canonical_hash(turned))

    def test_what_cannot_be_kept_exactly_is_refused(self):
        for value in (float("nan"), float("inf"), 2**53, "\ud800", {1: "a"}, {"a": [b"x"]}):
            with self.subTest(value=repr(value)), self.assertRaises(Refused):
                canonical_bytes(value)
        for facts, by in (([], "a"), ([FACTS[0]] * 2, "a"), (FACTS, " ")):
            with self.assertRaises(Refused):
                signature_body(facts, "control:x", by, "builder", "2027-03-06T14:05:00Z", "seen")
        self.assertEqual(figure(-0.0), "0")


class Persons(TestCase):
    def test_two_persons_one_of_them_independent(self):
        at = lambda h, m=0: datetime(2027, 3, 6, h, m)
        done, ansel, ines = at(12), Signed("ansel", at(14, 5)), Signed("ines", at(15, 40))
        ok = dual_inspection([ansel, ines], ["ansel"], done)
        self.assertEqual((ok.ok, ok.first, ok.second), (True, "ansel", "ines"))
        for signed, workers, reason in [
            ([ansel, ines], ["ansel", "ines"], NOT_INDEPENDENT),
            ([ines, Signed("ines", at(16))], ["ansel"], ONE_PERSON),
            ([Signed("ansel", at(11, 5)), ines], ["ansel"], ONE_PERSON),
            ([Signed("ansel", at(14), fresh=False)], ["ansel"], NONE_FRESH),
        ]:
            self.assertEqual(dual_inspection(signed, workers, done).reason, reason)
        with self.assertRaises(Refused):
            dual_inspection([ansel], [" "], done)


class Gates(TestCase):
    def test_an_override_covers_exactly_its_blocker_in_its_state(self):
        tools = Item("count", "tools", "in", "Ansel")
        conflict = Item("conflict", "flap travel", "open", "Ansel")
        self.assertEqual(
            conflict.hash, "0b1f14b1bb935e907f66e388a53869353e91d1a175491a75cdda6324c3fda106"
        )
        cover = Override("Ansel", "asked the maker, answer awaited", (conflict.hash,))
        self.assertEqual(gate("permanent", "final", [tools, conflict], [cover]).state, "overridden")
        moved = Item("conflict", "flap travel", "open", "Ines")
        self.assertEqual(gate("permanent", "final", [tools, moved], [cover]).state, "blocked")
        self.assertEqual(gate("removable", "temporary", [tools, moved]).state, "carried")
        self.assertEqual(gate("permanent", "final", [tools]).state, "ready")
        for kind, items in (("permanent", [tools]), ("removable", [conflict])):
            with self.assertRaises(Refused):
                gate(kind, "temporary", items)

    def test_a_directive_is_due_by_hours_or_date_whichever_comes_first(self):
        d = Directive(
            [{"model": "Fenlark", "serial": [12, 88]}, {"pump": "P-30"}],
            interval=Limits(50, months=12),
            done=Limits(41.2, date(2026, 2, 28)),
            warn_hours=10,
            warn_days=30,
        )
        at = lambda facts, day, hours: standing(d, facts, day, hours)
        soon = at({"model": "Fenlark", "serial": 40}, date(2027, 2, 10), 79.0)
        self.assertEqual(
            (soon.state, soon.due_date, soon.left_days), ("due soon", date(2027, 2, 28), 18)
        )
        self.assertAlmostEqual(soon.left_hours, 12.2)
        self.assertEqual(
            at({"model": "Fenlark", "serial": 90, "pump": "Q"}, date(2027, 2, 10), 79).applies, "no"
        )
        late = at({"model": "Fenlark", "serial": 90}, date(2027, 3, 1), 79)
        self.assertEqual((late.applies, late.state, late.left_days), ("not known", "overdue", -1))
