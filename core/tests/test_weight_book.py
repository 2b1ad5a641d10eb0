"""Weight and balance of the demo's two aircraft as entered: what is said of it, with each thing left
out and each number more or less; kept, so that no check, word or refusal is lost.

Changed on purpose: ASHLANE_KEEP_PRINTS=1 keeps it anew.
"""

import hashlib
import json
import math
import os
from pathlib import Path
from unittest import TestCase

from core.basis.refused import Refused
from core.tests.test_sheets_kept import changed
from core.weight import figures
from core.weight.book import Book, Row, labels
from core.weight.checks import aircraft_checks, judged
from core.weight.entry import refuse
from core.weight.lists import LISTS
from core.weight.rows import PREPARED, READ, ROWS
from core.worksheets.reading import read
from testkit.laws import rounded

ROOT = Path(__file__).resolve().parents[2]
KEPT = Path(__file__).with_name("weight.json")
DEMO = {
    name: json.loads((ROOT / "demo" / f"{name}-weight.json").read_text(encoding="utf-8"))
    for name in ("fenlark", "moorhen")
}


def row(given, typed=None):
    """A row as the server hands it over."""
    values, _ = read(ROWS[given["kind"]], given["typed"] if typed is None else typed, "mm",
                     lambda *_: None)  # fmt: skip
    log = []
    for step in given.get("done", []):
        if step["doing"] == PREPARED:
            log.append({"doing": PREPARED, "item": step["item"]})
        else:
            kg = float(step["shown"].split()[0])
            log.append({"doing": READ, "wheel": step["wheel"], "kg": kg, "u_kg": 0.05})
    slug = given["name"].lower().replace(",", "").replace(" ", "-")
    return Row(given["kind"], slug, given["name"], values, "Manual", tuple(log))


def book(name, instead=None, typed=None, without=()):
    """The demo's; one row as it would be; without some."""
    return Book(tuple(
        row(r, typed if r is instead else None) for r in DEMO[name] if r["name"] not in without
    ))  # fmt: skip


def said(b):
    """Every check of all, then every drawing and list."""
    checks = [(c.key, c.verdict.value, c.said) for c in aircraft_checks(b)]
    for r in b.rows:
        checks += [(r.slug, c.key, c.verdict.value, c.said) for c in judged(b, r)]
    drawn = [figures.of_row(b, r) for r in b.rows]
    whole = [figures.worst_figure(b), figures.estimate_figure(b), figures.ledger_rows(b)]
    whole.append(figures.ballast_figure(b))
    planned = b.changes(planned=True)
    if planned and b.empty is not None:
        whole.append(figures.effect_of(b, planned))
    return checks, rounded(drawn), rounded(whole), [list(make(b)) for make in LISTS.values()]


def told(make):
    """In short: the verdicts of the aircraft, and a digest of every word and figure."""
    try:
        checks, *more = said(make())
    except Refused as refusal:
        return f"refused: {refusal.field}"
    digest = hashlib.sha256(json.dumps([checks, more], default=str).encode()).hexdigest()[:8]
    return " ".join([*(c[1].replace(" ", "-") for c in checks if len(c) == 3), digest])


def entered(name, given, typed):
    """The book with a row as it would be, refused as entering it would be."""
    b = book(name, given, typed)
    one = next(r for r in b.rows if r.name == given["name"])
    refuse(b, one)
    return b


class Kept(TestCase):
    def test_what_is_said_of_the_demo_and_of_everything_near_it(self):
        made = {}
        for name, rows in DEMO.items():
            made[name] = told(lambda name=name: book(name))
            for given in rows:
                for at, typed in changed(given["typed"]):
                    key = f"{name} {given['name']}: {at}"
                    made[key] = told(lambda n=name, g=given, t=typed: entered(n, g, t))
        if os.environ.get("ASHLANE_KEEP_PRINTS"):
            lines = (f"{json.dumps(k)}: {json.dumps(v)}" for k, v in made.items())
            KEPT.write_text("{\n" + ",\n".join(lines) + "\n}\n")
        kept = json.loads(KEPT.read_text())
        self.assertEqual(set(made), set(kept))
        for place, came in made.items():
            self.assertEqual(came, kept[place], place)
        refused = sum(v.startswith("refused") for v in made.values())
        self.assertGreater(refused, 100)
        self.assertGreater(len(made), 600)


class Said(TestCase):
    def checks(self, b, slug=""):
        found = (
            aircraft_checks(b) if not slug else judged(b, next(r for r in b.rows if r.slug == slug))
        )
        return {c.key: c for c in found}

    def test_without_a_weighing_nothing_is_known_of_loadings(self):
        b = book("fenlark", without=("First weighing", "Scales changed about"))
        self.assertIn("Not weighed yet", self.checks(b)["weighed"].said)
        self.assertEqual(self.checks(b)["worst"].verdict, "not measured")
        self.assertEqual(list(self.checks(b, "two-with-baggage")), ["loading"])
        self.assertEqual(figures.ledger_rows(b), [])

    def test_what_is_missing_is_named(self):
        for gone, words in (("Limits", "the limits"), ("Fuel", "what does a litre weigh")):
            checks = aircraft_checks(book("fenlark", without=(gone,)))
            self.assertTrue(any(words in c.said for c in checks), gone)

    def test_of_two_tanks_the_order_of_burning_must_be_said(self):
        given = next(r for r in DEMO["fenlark"] if r["name"] == "Two with baggage")
        typed = {k: v for k, v in given["typed"].items() if k != "order"}
        check = self.checks(book("fenlark", given, typed), "two-with-baggage")["burn"]
        self.assertEqual((check.verdict, check.said), (
            "not measured", "Not said: in which order the tanks are burned."))  # fmt: skip

    def test_a_repetition_that_differs_is_told_on_the_first(self):
        rows = [dict(r) for r in DEMO["fenlark"]]
        again = next(r for r in rows if r["name"] == "Scales changed about")
        again["done"] = [
            x | ({"shown": "111 kg"} if x.get("wheel") == "nose" else {}) for x in again["done"]
        ]
        b = Book(tuple(row(r) for r in rows))
        check = self.checks(b, "first-weighing")["again scales-changed-about"]
        self.assertEqual(check.verdict, "out")
        self.assertIn("the nose wheel differs most", check.said)
        self.assertIn("Weigh a third time", check.said)
        self.assertEqual(self.checks(b)["weighed"].verdict, "out")

    def test_an_uneven_stand_is_asked_about_and_accepted_with_a_reason(self):
        rows = [dict(r) for r in DEMO["fenlark"]]
        first = next(r for r in rows if r["name"] == "First weighing")
        first["done"] = [
            x | ({"shown": "98 kg"} if x.get("wheel") == "left" else {}) for x in first["done"]
        ]
        b = Book(tuple(row(r) for r in rows))
        check = self.checks(b, "first-weighing")["uneven"]
        self.assertEqual(check.verdict, "too close")
        self.assertIn("The right wheel carries 12% more than half of both", check.said)
        first["typed"] = first["typed"] | {"uneven": "the left tank was filled"}
        check = self.checks(Book(tuple(row(r) for r in rows)), "first-weighing")["uneven"]
        self.assertEqual(check.verdict, "accepted")

    def test_the_shares_of_uncertainty_are_all_of_it(self):
        b = book("fenlark")
        w = b.last_weighing
        shares = figures.shares(w, figures.budget_of(b, w))
        for what in ("arm", "mass"):
            self.assertAlmostEqual(sum(s[what] for s in shares), 1.0, 9)
        U = b.result(w)["U_x_m"] * 1e3
        total = math.sqrt(sum(s["U_mm"] ** 2 for s in shares))
        # Its attitude is only bounded: that is added, not squared.
        self.assertLess(total, U)
        self.assertAlmostEqual(shares[0]["without_mm"] ** 2 + shares[0]["U_mm"] ** 2, total**2, 9)

    def test_wheels_of_one_name_are_told_apart(self):
        given = next(r for r in DEMO["fenlark"] if r["name"] == "First weighing")
        wheels = [w | {"wheel": "other"} for w in given["typed"]["wheels"]]
        self.assertEqual(labels(row(given, given["typed"] | {"wheels": wheels})),
                         ["other 1", "other 2", "other 3"])  # fmt: skip

    def test_fuel_in_layers_burns_as_its_table_says(self):
        from core.weight.layers import layers_of, shared, through

        tank = {"name": "t", "volume_m3": 0.05, "taxi_m3": 0.01,
                "table": [[0.01, 2.0], [0.03, 2.2], [0.05, 2.3]]}  # fmt: skip
        found = layers_of(tank, 700.0)
        self.assertAlmostEqual(sum(x["mass_kg"] for x in found), 28.0)
        moment = (0.03 * 2.2 + 0.05 * 2.3) / 2 * 700.0
        self.assertAlmostEqual(sum(x["mass_kg"] * x["x_m"] for x in found), moment)
        self.assertEqual([x["name"] for x in found], ["t, layer 3", "t, layer 2", "t, layer 1"])
        plain = {"name": "p", "volume_m3": 0.02, "x_m": 2.0}
        layers = {"t": found, "p": layers_of(plain, 700.0)}
        steps = through(
            layers, [{"shares": {"t": 0.5, "p": 0.5}, "burn_kg": 20.0}, {"shares": {"t": 1.0}}]
        )
        burned = {}
        for s in steps:
            for name, share in s["shares"].items():
                burned[name] = burned.get(name, 0.0) + share * s["burn_kg"]
        self.assertAlmostEqual(burned["p"], 10.0)
        self.assertAlmostEqual(sum(v for k, v in burned.items() if k != "p"), 28.0)
        for layer in found:
            self.assertAlmostEqual(burned[layer["name"]], layer["mass_kg"])
        self.assertEqual(shared("Main tank 0.5", "row 1"), ("Main tank", 0.5))
        self.assertEqual(shared("Main", "row 1"), ("Main", 1.0))
        self.assertRaises(Refused, shared, "0.5", "row 1")
