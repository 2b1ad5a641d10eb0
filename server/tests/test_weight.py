"""Weight and balance from an empty aircraft: entered, weighed, loaded, changed, signed, taken away."""

import csv
import json
import math
from io import BytesIO, StringIO

from pypdf import PdfReader

from server.find.models import Findable
from server.journal.models import Change
from server.kit.models import Check
from server.kit.standing import settle
from server.tests.own import OwnPlane, Writing
from testkit.base import PASSWORD

WHEELS = [
    {
        "wheel": "left",
        "scale": "A",
        "x": "1610",
        "u_x": "4",
        "y": "-920",
        "u_y": "4",
        "tare": "1 kg",
    },
    {
        "wheel": "right",
        "scale": "B",
        "x": "1612",
        "u_x": "4",
        "y": "920",
        "u_y": "4",
        "tare": "1 kg",
    },
    {"wheel": "tail", "scale": "C", "x": "5930", "u_x": "6", "y": "0", "u_y": "4"},
]
LEVEL = {
    "rise": "0",
    "spacing": "900",
    "across": "0",
    "wide": "800",
    "height_bound": "300",
    "u_datum": "2",
}
SCALE = {"factor_u": "0.1", "reading_u": "0.2 kg", "step": "0.05 kg", "range": "0.3 kg", "drift": "1 kg",
         "window": "3 s", "creep": "0.2 kg"}  # fmt: skip
SHOWN = {"left": "143.4", "right": "142.1 kg", "tail": "54 lb"}
CORNERS = [
    {"arm": a, "mass": m}
    for a, m in (("1.75 m", "300"), ("1750", "1200 lb"), ("2100", "560"), ("2100", "300"))
]
LIMITS = {
    "plane": "arm",
    "corners": CORNERS,
    "gross": "540 kg",
    "reweigh": "5 kg",
    "left": "-100",
    "right": "100",
}


class Weight(Writing):
    def row(self, kind, name, status=201, **typed):
        more = {k: typed.pop(k) for k in ("source", "page", "reason") if k in typed}
        return self.post("weight", {"kind": kind, "name": name, "typed": typed} | more, status)

    def change(self, slug, status=200, typed=None, **more):
        row = self.get(f"weight/rows/{slug}")
        kept = {k: row[k] for k in ("version", "kind", "name", "typed", "source", "page")}
        kept["typed"] = kept["typed"] | (typed or {})
        return self.patch(f"weight/rows/{slug}", kept | more, status)

    def step(self, slug, doing, status=201, **said):
        return self.post(f"weight/rows/{slug}/steps", {"doing": doing} | said, status)

    def checks(self, slug=""):
        shown = self.get(f"weight/rows/{slug}") if slug else self.get("weight")
        return {c["key"]: c for c in shown["checks"]}

    def verdicts(self, slug=""):
        return {k: c["verdict"] for k, c in self.checks(slug).items()}


class FromNothing(Weight, OwnPlane):
    def setUp(self):
        super().setUp()
        self.manual = self.document("Manual")

    def scales(self, *names):
        for name in names:
            self.row("scale", name, **SCALE)

    def weigh(self, name="First", shown=SHOWN, prepared=True, **more):
        asked = {"day": "2026-10-01", "wheels": WHEELS} | LEVEL | more
        slug = self.row("weighing", name, **asked)["slug"]
        for wheel, text in shown.items():
            self.step(slug, "read", wheel=wheel, shown=text)
        if prepared:
            for item in self.get("weight")["preparations"]:
                self.step(slug, "prepared", item=item["value"])
        return slug

    def limits(self, **more):
        return self.row("limits", "Limits", source=self.manual, **LIMITS | more)

    def seats(self):
        self.row(
            "fuel", "Fuel", density="6 lb/gal", expansion="0.001", coldest="-20", source=self.manual
        )
        for name, x, y in (("Front", "1900", "0"), ("Rear", "2500", "0")):
            self.row("station", name, x=x, y=y, max="100 kg", min="0", u_x="10", source=self.manual)
        self.row("tank", "Wing tank", x="1850", y="0", capacity="15 gal", u="4", source=self.manual)

    def test_weighed_from_the_scales_to_a_signature_that_goes_stale(self):
        self.scales("A", "B", "C")
        slug = self.row("weighing", "First", day="2026-10-01", wheels=WHEELS, **LEVEL)["slug"]
        self.assertEqual(self.verdicts(slug), {"prepared": "not measured", "read": "not measured"})
        self.assertEqual(self.verdicts()["weighed"], "not measured")
        for wheel, shown in SHOWN.items():
            row = self.step(slug, "read", wheel=wheel, shown=shown)
        found = row["figure"]["result"]
        net = [142.4, 141.1, 54 * 0.45359237]
        mass = sum(net)
        self.assertAlmostEqual(found["mass_kg"], mass, 6)
        arm = (142.4 * 1610 + 141.1 * 1612 + net[2] * 5930) / mass
        self.assertAlmostEqual(found["x_mm"], arm, 6)
        # A reading is known by its scale: to half of ± 0.2 kg, and to its display's step.
        u = math.hypot(0.1, 0.05 / math.sqrt(12))
        squares = sum(u**2 + (0.0005 * n) ** 2 for n in net)
        self.assertAlmostEqual(found["U_kg"], 2 * math.sqrt(squares), 6)
        self.assertEqual(
            row["figure"]["budget"][0]["arm"], max(b["arm"] for b in row["figure"]["budget"])
        )
        self.assertAlmostEqual(sum(b["arm"] for b in row["figure"]["budget"]), 1.0, 9)
        for item in self.get("weight")["preparations"]:
            self.assertEqual(self.verdicts(slug)["prepared"], "not measured")
            self.step(slug, "prepared", item=item["value"])
        self.assertEqual(set(self.verdicts(slug).values()), {"in"})
        self.assertEqual(self.verdicts()["weighed"], "in")
        at = f"signatures/weight:{slug}"
        self.post(at, {"doing": "done", "password": PASSWORD[self.person]})
        self.assertTrue(self.get(at)["entries"][0]["fresh"])
        before = self.get(f"weight/rows/{slug}")["figure"]["result"]["x_mm"]
        self.change(slug, typed={"wheels": [WHEELS[0], WHEELS[1], WHEELS[2] | {"x": "5900"}]})
        self.assertLess(self.get(f"weight/rows/{slug}")["figure"]["result"]["x_mm"], before)
        self.assertFalse(self.get(at)["entries"][0]["fresh"])

    def test_what_nobody_said_is_not_measured(self):
        self.scales("A", "B", "C")
        bare = [{k: w[k] for k in ("wheel", "scale", "x")} for w in WHEELS]
        slug = self.row("weighing", "Bare", day="2026-10-01", wheels=bare)["slug"]
        for wheel, shown in SHOWN.items():
            self.step(slug, "read", wheel=wheel, shown=shown)
        check = self.checks(slug)["result"]
        self.assertEqual(check["verdict"], "not measured")
        for words in ("the wheels’ arms", "the datum’s plumb line", "how level it stood across",
                      "Sideways it is not measured", "attitude is not in the budget"):  # fmt: skip
            self.assertIn(words, check["said"])

    def test_what_cannot_be_is_refused_by_its_field_and_nothing_is_kept(self):
        self.scales("A", "B", "C")
        self.weigh()
        self.limits()
        self.seats()
        day = {"day": "2026-10-02"}
        for kind, name, typed, field in (
            ("weighing", "W", day | {"wheels": WHEELS[:2]}, "wheels"),
            ("weighing", "W", day | {"wheels": [*WHEELS[:2], WHEELS[2] | {"scale": "Z"}]}, "wheels"),
            ("weighing", "W", day | {"wheels": [*WHEELS[:2], WHEELS[2] | {"scale": "A"}]}, "wheels"),
            ("weighing", "W", day | {"wheels": [w | {"x": "2000"} for w in WHEELS]}, "wheels"),
            ("weighing", "W", day | {"wheels": [WHEELS[0] | {"y": "3"}, *WHEELS[1:]]}, "wheels"),
            ("weighing", "W", day | {"wheels": WHEELS, "rise": "30", "spacing": "900"}, "rise"),
            ("weighing", "W", day | {"wheels": WHEELS, "rise": "1"}, "spacing"),
            ("weighing", "W", day | {"wheels": WHEELS, "again": "Third"}, "again"),
            ("weighing", "W", {"wheels": WHEELS}, "day"),
            ("weighing", "first", day | {"wheels": WHEELS}, "name"),
            ("limits", "More", LIMITS, "kind"),
            ("station", "Bin", {"x": "2000", "min": "9 kg", "max": "3 kg"}, "max"),
            ("station", "Bin", {"x": "2000", "min": "-1 kg"}, "min"),
            ("station", "Wing tank", {"x": "2000"}, "name"),
            ("tank", "Aux", {"x": "2000", "capacity": "0"}, "capacity"),
            ("tank", "Aux", {"arms": [{"volume": "9", "x": "1"}, {"volume": "3", "x": "1"}]}, "arms"),
            ("group", "G", {"names": "Front; Nobody", "max": "3 kg"}, "names"),
            ("loading", "L", {"loads": [{"at": "Sofa", "mass": "3"}]}, "loads"),
            ("loading", "L", {"loads": [{"at": "Front", "mass": "-3"}]}, "loads"),
            ("loading", "L", {"fuel": [{"tank": "Wing tank", "volume": "16 gal"}]}, "fuel"),
            ("loading", "L", {"fuel": [{"tank": "Wing tank", "volume": "9 l", "burn": "9.1 l"}]}, "fuel"),
            ("loading", "L", {"fuel": [{"tank": "Wing tank", "volume": "9 l"}],
                              "order": [{"shares": "Wing tank 0.5"}]}, "order"),
            ("change", "C", day | {"doing": "move", "mass": "2", "x": "1"}, "x_to"),
            ("change", "C", day | {"doing": "add", "mass": "-2", "x": "1"}, "mass"),
            ("change", "C", {"day": "2026-09-01", "doing": "remove", "mass": "2", "x": "1 kg"}, "x"),
            ("part", "P", {"mass": "0", "x": "1", "class": "guessed"}, "mass"),
            ("part", "P", {"mass": "1", "x": "1", "class": "heard"}, "class"),
            ("scale", "D", {"factor": "0"}, "factor"),
            ("fuel", "F", {"density": "400"}, "kind"),
            ("part", "P", {"mass": "1", "x": "1", "class": "guessed", "colour": "red"}, "colour"),
        ):  # fmt: skip
            body = {"kind": kind, "name": name, "typed": typed, "source": self.manual}
            with self.subTest(kind=kind, typed=str(typed)[:60]):
                self.refused(field, "post", "weight", body)
        for typed, field in (
            ({"corners": CORNERS[:2]}, "corners"),
            ({"corners": [{"moment": "9", "mass": "3"}, *CORNERS[1:]]}, "corners"),
            ({"corners": [CORNERS[0], CORNERS[2], CORNERS[1], CORNERS[3]]}, "corners"),
            ({"gross": "-1"}, "gross"), ({"left": "200"}, "left"), ({"mac": "0"}, "mac"),
            ({"left_moment": "-9"}, "left_moment"),
        ):  # fmt: skip
            row = self.get("weight/rows/limits")
            body = {k: row[k] for k in ("version", "kind", "name", "source", "page")}
            body |= {"typed": row["typed"] | typed, "reason": "a trial of it"}
            self.refused(field, "patch", "weight/rows/limits", body)
        self.refused(
            "source",
            "post",
            "weight",
            {"kind": "place", "name": "P", "typed": {"x": "1", "max": "2"}},
        )

    def test_scales_are_read_by_hand_corrected_and_taken_back(self):
        self.scales("A", "B", "C")
        slug = self.weigh(prepared=False)
        at = f"weight/rows/{slug}/steps"
        for body, field in (
            ({"doing": "read", "wheel": "nose", "shown": "3"}, "wheel"),
            ({"doing": "read", "wheel": "left", "shown": "0.9 kg"}, "shown"),
            ({"doing": "read", "wheel": "left", "shown": "3 mm"}, "shown"),
            ({"doing": "read", "wheel": "left"}, "shown"),
            ({"doing": "read", "wheel": "left", "shown": "3", "u": "-1"}, "u"),
            ({"doing": "prepared", "item": "coffee"}, "item"),
            ({"doing": "prepared", "item": "level", "shown": "3"}, "shown"),
        ):
            self.refused(field, "post", at, body)
        again = self.step(slug, "read", wheel="left", shown="144.4", u="0.5")
        self.assertAlmostEqual(again["figure"]["wheels"][0]["kg"], 144.4)
        event = again["events"][0]
        self.assertEqual(event["said"], "left wheel: 144.40 kg ± 0.50")
        back = self.post(f"{at}/{event['id']}/undo")
        self.assertAlmostEqual(back["figure"]["wheels"][0]["kg"], 143.4)
        self.step(slug, "prepared", item="level")
        self.refused("item", "post", at, {"doing": "prepared", "item": "level"})
        self.refused("doing", "post", "weight/rows/a/steps", {"doing": "prepared", "item": "level"})

    def series(self, kg, seconds=9.0, settle=0.4, every=0.3):
        t = [n * every for n in range(int(seconds / every))]
        return {"t": t, "kg": [kg - 2.0 * math.exp(-x / settle) for x in t]}

    def test_all_scales_live_are_taken_together_once_they_have_settled(self):
        self.scales("A", "B", "C")
        slug = self.weigh(shown={}, prepared=False)
        good = {"left": self.series(143.4), "right": self.series(142.1), "tail": self.series(24.7)}
        at = f"weight/rows/{slug}"
        told = self.post(f"{at}/settling", {"scales": good}, 200)
        self.assertEqual([x["settled"] for x in told], [True] * 3)
        slow = good | {"tail": self.series(24.7, settle=30.0)}
        told = {x["wheel"]: x for x in self.post(f"{at}/settling", {"scales": slow}, 200)}
        self.assertEqual((told["tail"]["settled"], told["tail"]["reason"]), (False, "drift"))
        short = good | {"tail": self.series(24.7, 1.0)}
        late = good | {
            "tail": {"t": [x + 8.0 for x in good["tail"]["t"]], "kg": good["tail"]["kg"]}
        }
        for scales in (slow, short, late, {k: good[k] for k in ("left", "right")},
                       good | {"nose": good["tail"]}, {"left": {"t": [1.0]}}, {}):  # fmt: skip
            self.refused("scales", "post", f"{at}/capture", {"scales": scales})
        self.assertEqual(self.get(at)["events"], [])
        row = self.post(f"{at}/capture", {"scales": good})
        for wheel, kg in zip(row["figure"]["wheels"], (143.4, 142.1, 24.7), strict=True):
            self.assertAlmostEqual(wheel["kg"], kg, 1)
        self.assertEqual(len(row["events"]), 3)
        self.assertIn("read live and settled", Change.objects.latest("pk").said)

    def test_weighed_again_with_the_scales_changed_about(self):
        self.scales("A", "B", "C")
        self.weigh()
        turned = [w | {"scale": s} for w, s in zip(WHEELS, "BCA", strict=True)]
        self.row("weighing", "Second", day="2026-10-01", wheels=turned, again="First", **LEVEL)
        self.assertNotIn("again second", self.checks("first"))
        for wheel, shown in SHOWN.items():
            self.step("second", "read", wheel=wheel, shown=shown)
        check = self.checks("first")["again second"]
        self.assertEqual((check["verdict"], check["why"]["rule"]), ("in", "weight.swap_test"))
        self.step("second", "read", wheel="left", shown="146 kg")
        check = self.checks("first")["again second"]
        self.assertEqual(check["verdict"], "out")
        self.assertIn("left wheel differs most", check["said"])
        self.assertEqual(self.verdicts()["weighed"], "out")

    def test_a_scale_from_elsewhere_is_corrected_for_gravity(self):
        self.scales("B", "C")
        self.row("scale", "A", **SCALE, cal_g="9.8189")
        slug = self.weigh(here_g="9.7817")
        found = self.get(f"weight/rows/{slug}")
        net = found["figure"]["wheels"][0]["net_kg"]
        self.assertAlmostEqual(net, 142.4 * 9.8189 / 9.7817, 9)
        self.assertIn("Not said where B, C was calibrated", self.checks(slug)["result"]["said"])

    def test_loadings_worst_cases_and_what_is_missing_for_them(self):
        self.assertEqual(self.get("weight")["checks"], [])
        self.scales("A", "B", "C")
        self.weigh()
        self.assertIn("Not said: the limits", self.checks()["worst"]["said"])
        self.limits()
        self.seats()
        loading = self.row("loading", "Both", loads=[{"at": "front", "mass": "80 kg", "u": "1"}],
                           fuel=[{"tank": "Wing tank", "volume": "30 l", "burn": "20 l"}])  # fmt: skip
        self.assertEqual({c["key"]: c["verdict"] for c in loading["checks"]},
                         {"takeoff": "in", "landing": "in", "zero_fuel": "in", "burn": "in"})  # fmt: skip
        rho = 6 * 0.45359237 / 3.785411784e-3
        now = loading["figure"]["states"]
        empty = self.get("weight")["ledger"][-1]["kg"]
        self.assertAlmostEqual(now["takeoff"]["kg"], empty + 80 + 0.03 * rho, 6)
        self.assertAlmostEqual(now["landing"]["kg"], empty + 80 + 0.01 * rho, 6)
        over = self.row("loading", "Over", loads=[{"at": "Front", "mass": "300 kg"}])
        exceeded = [c["what"] for c in over["checks"] if c["key"].startswith("over")]
        self.assertEqual(exceeded, ["Over: Front", "Over: take-off"])
        worst = self.get("weight")["worst"]
        self.assertEqual(worst["worst"]["aft"]["loads"]["Rear"], 100.0)
        self.assertEqual(set(self.verdicts()), {
            "weighed", "worst forward", "worst aft", "worst mass", "lateral left", "lateral right"})  # fmt: skip
        self.row("group", "Seats", names="Front; Rear", max="120 kg", source=self.manual)
        less = self.get("weight")["worst"]
        self.assertLessEqual(less["full_kg"], worst["full_kg"])
        self.assertGreaterEqual(
            less["worst"]["aft"]["margin_mm"], worst["worst"]["aft"]["margin_mm"] - 1e-9
        )

    def test_a_tank_whose_arm_varies_is_followed_layer_by_layer(self):
        self.scales("A", "B", "C")
        self.weigh()
        self.limits()
        self.row("fuel", "Fuel", density="720", source=self.manual)
        arms = [
            {"volume": v, "x": x} for v, x in (("10 l", "1800"), ("30 l", "1900"), ("50 l", "1950"))
        ]
        self.row("tank", "Long tank", capacity="50 l", arms=arms, source=self.manual)
        row = self.row(
            "loading", "Long", fuel=[{"tank": "Long tank", "volume": "50 l", "burn": "35 l"}]
        )
        track = row["figure"]["track"]
        states = row["figure"]["states"]
        # It ends where the aircraft has no fuel, and passes where it lands.
        self.assertAlmostEqual(track[-1][0], states["zero_fuel"]["x_mm"], 6)
        at = states["landing"]
        near = min(abs(x - at["x_mm"]) for x, kg in track if abs(kg - at["kg"]) < 0.7)
        self.assertLess(near, 0.2)

    def test_the_ledger_follows_and_says_when_a_weighing_is_due(self):
        self.scales("A", "B", "C")
        self.weigh()
        self.limits(reweigh_moment="9 kg m")
        self.seats()
        base = self.get("weight")["ledger"][0]
        day = {"day": "2026-10-10"}
        self.row("change", "Radio", doing="add", mass="2 kg", u="0.1", x="1500", **day)
        self.assertEqual(self.verdicts()["changed"], "in")
        now = self.get("weight")["ledger"][-1]
        self.assertAlmostEqual(now["kg"], base["kg"] + 2, 9)
        self.assertAlmostEqual(now["moment"], base["moment"] + 3.0, 9)
        self.row("change", "Old battery", doing="remove", mass="4 kg", x="4000", **day)
        check = self.checks()["changed"]
        self.assertEqual(check["verdict"], "out")
        self.assertIn("6.0 kg of 5.0 kg", check["said"])
        planned = self.row(
            "change", "Shelf", doing="add", mass="1 kg", x="3000", planned="yes", **day
        )
        self.assertEqual(planned["said"], "planned")
        effect = self.get("weight")["effect"]
        self.assertAlmostEqual(effect["change"]["kg"], 1.0, 9)
        self.assertTrue(effect["reweigh_due"])
        self.assertEqual(len(self.get("weight")["ledger"]), 3)
        self.weigh("Anew", day="2026-11-01", shown=SHOWN | {"tail": "30 kg"})
        compared = self.checks()["compared"]
        self.assertEqual(compared["verdict"], "out")
        self.assertIn("A single forgotten thing would sit at", compared["said"])

    def test_the_estimate_and_what_to_weigh_next(self):
        for name, mass, x, known in (
            ("Wing", "40 kg", "1800", "guessed"),
            ("Engine", "70 kg", "600", "maker"),
        ):
            body = {"kind": "part", "name": name, "typed": {"mass": mass, "x": x, "class": known}}
            self.post("weight", body)
        self.assertIn("Wing", self.get("weight")["estimate"]["why"])
        self.row(
            "sureness",
            "Sure",
            guessed="20",
            guessed_x="100",
            maker="4",
            maker_x="20",
            weigh="0.2 kg",
        )
        found = self.get("weight")["estimate"]
        self.assertAlmostEqual(found["kg"], 110.0)
        self.assertAlmostEqual(found["U_kg"], 2 * math.hypot(4.0, 1.4), 9)
        self.assertEqual([n["name"] for n in found["next"]], ["Wing", "Engine"])
        self.assertIn("110.0 kg ± 8", self.checks()["weighed"]["said"])

    def test_names_are_followed_and_what_is_named_stays(self):
        self.scales("A", "B", "C")
        self.weigh()
        self.limits()
        self.seats()
        self.row("group", "Seats", names="Front; Rear", max="150 kg", source=self.manual)
        self.row("loading", "Both", loads=[{"at": "Front", "mass": "80 kg"}],
                 fuel=[{"tank": "Wing tank", "volume": "30 l"}],
                 order=[{"shares": "Wing tank 1"}])  # fmt: skip
        self.change("front", name="Pilot")
        self.change("wing-tank", name="Main tank")
        self.change("a", name="Old scale")
        both = self.get("weight/rows/both")["typed"]
        self.assertEqual((both["loads"][0]["at"], both["fuel"][0]["tank"]), ("Pilot", "Main tank"))
        self.assertEqual(both["order"][0]["shares"], "Main tank 1")
        self.assertEqual(self.get("weight/rows/seats")["typed"]["names"].split(";")[0], "Pilot")
        self.assertEqual(self.get("weight/rows/first")["typed"]["wheels"][0]["scale"], "Old scale")
        for slug in ("front", "wing-tank", "a"):
            version = self.get(f"weight/rows/{slug}")["version"]
            self.gone(f"weight/rows/{slug}", version, 422)
        self.gone("weight/rows/both", self.get("weight/rows/both")["version"])
        version = self.get("weight/rows/wing-tank")["version"]
        self.gone("weight/rows/wing-tank", version)
        self.get("weight/rows/wing-tank", 404)

    def test_limits_are_changed_with_a_reason_and_both_sides_of_a_conflict_are_shown(self):
        self.limits()
        self.assertEqual(self.change("limits", 422, {"gross": "550 kg"})["field"], "reason")
        row = self.change("limits", typed={"gross": "550 kg"}, reason="the maker raised it")
        self.assertIn("the maker raised it", Change.objects.latest("pk").said)
        stale = {k: row[k] for k in ("kind", "name", "typed", "source", "page")} | {"version": 1}
        told = self.patch("weight/rows/limits", stale, 409)
        self.assertEqual(told["theirs"]["typed"]["gross"], "550 kg")

    def test_rows_are_pasted_all_or_none(self):
        rows = [
            {"name": f"Part {n}", "mass": "3 kg", "x": "1000", "class": "maker"} for n in range(4)
        ]
        bad = [*rows, {"name": "Last", "mass": "3 mm", "x": "1000", "class": "maker"}]
        said = self.refused("rows", "post", "weight/pasted", {"kind": "part", "rows": bad})
        self.assertIn("row 5", said)
        self.assertEqual(self.post("weight/pasted", {"kind": "part", "rows": rows})["count"], 4)
        stations = {"kind": "station", "rows": [{"name": "Bin", "x": "2000", "max": "9 kg"}]}
        self.refused("rows", "post", "weight/pasted", stations)
        self.post("weight/pasted", stations | {"source": self.manual, "page": "3"})

    def test_another_datum_changes_arms_and_nothing_else(self):
        self.scales("A", "B", "C")
        self.weigh()
        self.limits()
        self.seats()
        found = self.get("weight/datum?at=1 m")
        empty = self.get("weight")["ledger"][0]
        self.assertAlmostEqual(found["x_mm"], empty["x_mm"] - 1000, 6)
        self.assertAlmostEqual(found["corners"][0][0], 750.0, 6)
        self.assertEqual(found["stations"][0][0], "Front")
        self.assertAlmostEqual(found["stations"][0][1], 900.0, 9)
        self.get("weight/datum?at=near", 422)

    def test_it_is_taken_away_on_paper_and_for_programs(self):
        self.scales("A", "B", "C")
        slug = self.weigh()
        self.limits(index="100 kg m")
        self.seats()
        self.row("change", "=Radio", doing="add", mass="2 kg", x="1500", day="2026-10-10")
        rows = list(
            csv.reader(StringIO(self.get("weight/lists/equipment").content.decode("utf-8-sig")))
        )
        self.assertEqual((rows[1][1], rows[2][1]), ("First", "'=Radio"))
        self.get("weight/lists/nothing", 404)
        whole = json.loads(self.get("weight/weight.json", 200)["results"] and "{}")
        self.assertEqual(whole, {})
        for path, words in (
            (f"rows/{slug}/record.pdf", ("weight and balance record", "142.1", "Empty")),
            ("made/equipment.pdf", ("equipment list", "=Radio")),
            ("made/loading.pdf", ("loading sheet", "Wing tank", "Index", "Gross 540 kg")),
        ):
            text = PdfReader(BytesIO(self.get(f"weight/{path}").content)).pages[0].extract_text()
            for word in words:
                self.assertIn(word, text)
        self.get("weight/made/none.pdf", 404)
        self.get("weight/rows/limits/record.pdf", 404)

    def test_it_stands_in_the_lane_and_is_found(self):
        self.scales("A", "B", "C")
        self.weigh()
        settle()
        found = Check.objects.filter(aircraft__slug=self.slug, trade="weight", subject="aircraft")
        self.assertEqual({tuple(c.bays) for c in found}, {()})
        self.assertTrue(Findable.objects.filter(aircraft__slug=self.slug, title="First").exists())


class OnTheDemo(Weight):
    def test_the_demo_shows_what_it_should(self):
        self.assertEqual(self.verdicts()["worst aft"], "out")
        loading = self.checks("two-with-baggage")
        self.assertIn("Leaves the envelope aft", loading["burn"]["said"])
        page = self.get("weight")
        self.assertTrue(page["ballast"]["feasible"])
        self.assertEqual(page["ballast"]["after"], "in")
        self.assertEqual(page["effect"]["after"]["verdict"], "in")

    def test_moorhen_is_not_weighed_and_says_what_is_known(self):
        self.slug, self.person = "moorhen", "corin"
        page = self.get("weight")
        self.assertEqual(page["verdict"], "not measured")
        self.assertEqual(page["ledger"], [])
        self.assertGreater(page["estimate"]["U_kg"], 5)

    def test_a_load_is_tried_without_being_kept(self):
        row = self.get("weight/rows/two-with-baggage")
        loads = [
            x | ({"mass": "5 kg"} if x["at"] == "Baggage" else {}) for x in row["typed"]["loads"]
        ]
        body = {"kind": "loading", "row": row["slug"], "typed": row["typed"] | {"loads": loads}}
        tried = self.post("weight/try", body, 200)
        self.assertEqual(tried["verdict"], "in")
        self.assertEqual(self.get("weight/rows/two-with-baggage"), row)
        body["typed"] = {"loads": [{"at": "Sofa", "mass": "1"}]}
        self.assertEqual(self.post("weight/try", body, 422)["field"], "loads")

    def test_a_line_weighs_a_wheel_and_is_taken_back(self):
        said = self.post("entry", {"line": "weigh le 125.7 kg"}, 200)
        self.assertIn("left wheel: 125.7 kg", said["said"])
        self.assertIn("Empty", said["would"]["said"])
        kept = self.post(said["path"], said["body"])
        event = kept["events"][0]
        self.assertIn("125.70 kg", event["said"])
        self.post(said["undo_path"].format(event["id"]))
        for line in ("weigh tail 20 kg", "weigh left 3 mm", "weigh left", "weigh left 0.5 kg"):
            self.assertEqual(self.post("entry", {"line": line}, 422)["field"], "entry")
        lines = self.post("entry/completions", {"line": "weigh r"}, 200)
        self.assertIn("weigh right", json.dumps(lines))
