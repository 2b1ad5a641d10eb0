"""Every number on every page, worked out once more from what the page itself shows."""

import itertools
import math
from collections import defaultdict

from core.rulebook import rule
from testkit.base import OnTheDemo
from testkit.contract import operations

DEG = math.degrees(1.0)
NAMED = {"worst forward": "forward_worst", "worst aft": "aft_worst"}
# Judged by what the rule says of masses, not by its verdict on the balance.
WHOLE = {"worst mass"}
LIMITS = {"in", "out", "too close", "not measured"}


def whys(value, at=""):
    """Every "why" in an answer, with what stands beside it."""
    if isinstance(value, dict):
        for key in ("why", "method_why"):
            if isinstance(value.get(key), dict) and "rule" in value[key]:
                yield f"{at}.{key}", value[key], value
        for key, part in value.items():
            yield from whys(part, f"{at}.{key}")
    elif isinstance(value, list):
        for i, part in enumerate(value):
            yield from whys(part, f"{at}.{i}")


class EveryWhy(OnTheDemo):
    PEOPLE = {"fenlark": "ansel", "moorhen": "corin"}

    def pages(self):
        """Every page that can be read, of both aircraft and of every control."""
        for slug, person in self.PEOPLE.items():
            client = self.as_(person)
            controls = client.get(f"/api/aircraft/{slug}/controls").json()["results"]
            for op in operations():
                if op.method != "get" or not op.of_aircraft:
                    continue
                for control in [c["slug"] for c in controls] if "{control}" in op.path else [""]:
                    got = client.get(op.at(slug=slug, **({"control": control} if control else {})))
                    if got.status_code == 200 and "json" in got["Content-Type"]:
                        yield f"{slug} {op.name} {control}", got.json()
        today = "/api/aircraft/fenlark/controls/rudder/cables/today"
        yield "today", self.write("ansel", today, {"temperature": "14 C"}).json()

    def test_the_rule_that_is_named_gives_the_verdict_again_from_the_inputs_shown(self):
        seen = defaultdict(int)
        for page, answer in self.pages():
            for at, why, beside in whys(answer):
                with self.subTest(page=page, at=at):
                    asked = rule(why["rule"])
                    out = asked.run(why["inputs"])
                    seen[why["rule"]] += 1
                    self.assertEqual(why["edition"], asked.edition)
                    # Of a rule that judges several things, what it says of this one.
                    key = beside.get("key", "")
                    part = out.get(NAMED.get(key, key))
                    told = (part if isinstance(part, dict) else out).get("verdict")
                    if key in WHOLE:
                        continue
                    if beside.get("conflict"):
                        continue  # Documents that disagree say more than one of them alone.
                    if at.endswith(".why") and told in LIMITS and beside.get("verdict") in LIMITS:
                        self.assertEqual(told, beside["verdict"], why)
        # The demo reaches far: what stands behind its pages are many rules, many times.
        self.assertGreater(len(seen), 15, sorted(seen))
        self.assertGreater(sum(seen.values()), 100)

    def test_every_input_shown_is_one_that_the_rule_takes(self):
        for page, answer in self.pages():
            for at, why, _ in whys(answer):
                known = rule(why["rule"]).input_schema()["properties"]
                with self.subTest(page=page, at=at):
                    self.assertLessEqual(set(why["inputs"]), set(known))

    def test_every_input_shown_says_where_it_comes_from(self):
        for page, answer in self.pages():
            for at, why, _ in whys(answer):
                with self.subTest(page=page, at=at, rule=why["rule"]):
                    self.assertEqual(set(why["inputs"]), set(why["origins"]))


class Sheets(OnTheDemo):
    """Travel sheets from the readings that are listed on them, by plain arithmetic."""

    def sheets(self):
        for control in ("elevator", "ailerons", "rudder", "flaps"):
            yield self.sheet(control)

    def test_how_far_inside_is_the_distance_to_the_nearer_limit(self):
        kinds = set()
        for sheet in self.sheets():
            for q in sheet["requirements"]:
                value, margin = q["result"]["value"], q["result"]["margin"]
                if value is None or margin is None or q["result"]["conflict"]:
                    continue
                kinds.add(q["kind"])
                lo = -math.inf if q["lo"] is None else q["lo"]
                hi = math.inf if q["hi"] is None else q["hi"]
                with self.subTest(control=sheet["slug"], asked=q["id"]):
                    self.assertAlmostEqual(margin, min(value - lo, hi - value), 6)
        self.assertGreaterEqual(kinds, {"travel", "neutral", "ratio"})

    def test_each_set_s_value_is_the_mean_turned_into_an_angle(self):
        done = 0
        for sheet in self.sheets():
            rows = {r["id"]: r for r in sheet["readings"]}
            chords = {s["slug"]: s["chord_mm"] for s in sheet["surfaces"]}
            for q in sheet["requirements"]:
                if q["kind"] != "travel":
                    continue
                for one in q["result"]["sets"]:
                    mine = [rows[i] for i in one["readings"] if i in rows]
                    if one["value_deg"] is None or len(mine) != one["n"]:
                        continue
                    mean = sum(r["value"] for r in mine) / len(mine)
                    with self.subTest(control=sheet["slug"], position=q["position"]):
                        if one["method"] == "edge_offset" and one["practice"] == "straight":
                            want = 2 * DEG * math.asin(mean / chords[q["surface"]] / 2)
                            self.assertAlmostEqual(one["value_deg"], want, 6)
                            done += 1
                        elif one["method"] == "gauge_difference":
                            neutral = [
                                r
                                for r in rows.values()
                                if r["position"] == "neutral"
                                and r["surface"] == q["surface"]
                                and r["method"] == one["method"]
                                and r["instrument"] == one["instrument"]
                                and r["current"]
                            ]
                            zero = sum(r["value"] for r in neutral) / len(neutral) if neutral else 0
                            if one["zero"] != "level":
                                zero = 0
                            self.assertAlmostEqual(one["value_deg"], abs(mean - zero), 6)
                            done += 1
        self.assertGreater(done, 8)

    def test_the_word_of_a_requirement_is_that_of_its_value_and_its_limits(self):
        for sheet in self.sheets():
            for q in sheet["requirements"]:
                r = q["result"]
                if r["value"] is None or r["U"] is None or r["conflict"] or r["disagree"]:
                    continue
                lo = -math.inf if q["lo"] is None else q["lo"]
                hi = math.inf if q["hi"] is None else q["hi"]
                value = r["value"]
                if q["kind"] in ("symmetry", "repeatability") and lo == -math.inf:
                    lo = -hi
                inside = lo + r["U"] <= value + 1e-6 and value - 1e-6 <= hi - r["U"]
                outside = value < lo - r["U"] - 1e-6 or value > hi + r["U"] + 1e-6
                want = "in" if inside else "out" if outside else "too close"
                with self.subTest(control=sheet["slug"], q=q["as_typed"], kind=q["kind"]):
                    self.assertEqual(r["verdict"], want)

    def test_the_control_s_word_is_the_worst_of_its_requirements(self):
        order = ["out", "too close", "not measured", "stale", "accepted", "in"]
        for sheet in self.sheets():
            words = [q["result"]["verdict"] for q in sheet["requirements"]]
            self.assertEqual(sheet["verdict"], min(words, key=order.index), sheet["slug"])


class Counts(OnTheDemo):
    """Lane, gates and list count the same things."""

    def test_a_bay_counts_what_its_own_page_lists(self):
        client = self.as_("ansel")
        for bay in client.get("/api/aircraft/fenlark").json()["bays"]:
            page = client.get(f"/api/aircraft/fenlark/bays/{bay['slug']}/contents").json()
            with self.subTest(bay=bay["slug"]):
                self.assertEqual(bay["open"], len(page["items"]))
                self.assertEqual(bay["concerns"], len(page["items"]) + len(page["done"]))

    def test_a_gate_lists_everything_open_in_the_bays_that_it_opens(self):
        client = self.as_("ansel")
        frame = client.get("/api/aircraft/fenlark").json()
        for closure in frame["closures"]:
            gate = client.get(f"/api/aircraft/fenlark/closures/{closure['slug']}").json()
            listed = {i["id"] for i in gate["items"]}
            with self.subTest(closure=closure["slug"]):
                for bay in closure["bays"]:
                    page = client.get(f"/api/aircraft/fenlark/bays/{bay}/contents").json()
                    missing = {
                        i["id"]
                        for i in page["items"]
                        if i["step"] not in ("photo", "count", "signature", "reach", "task")
                    } - listed
                    self.assertEqual(missing, set())
                blocked = gate["state"] == "blocked"
                self.assertEqual(blocked, bool(gate["blockers"]))

    def test_the_list_of_aircraft_counts_each_verdict_of_each(self):
        client = self.as_("ansel")
        row = next(
            a for a in client.get("/api/aircraft").json()["results"] if a["slug"] == "fenlark"
        )
        self.assertTrue(row["verdicts"])
        self.assertTrue(set(row["verdicts"]) <= LIMITS | {"stale", "accepted"})
        self.assertTrue(all(n >= 0 for n in row["verdicts"].values()))

    def test_controls_count_their_requirements(self):
        client = self.as_("ansel")
        for row in client.get("/api/aircraft/fenlark/controls").json()["results"]:
            sheet = self.sheet(row["slug"])
            words = [q["result"]["verdict"] for q in sheet["requirements"]]
            self.assertEqual(
                (row["requirements"], row["in_count"]), (len(words), words.count("in"))
            )

    def test_loose_ends_are_counted_once_wherever_they_are_counted(self):
        client = self.as_("ansel")
        frame = client.get("/api/aircraft/fenlark").json()
        listed = client.get("/api/aircraft/fenlark/loose-ends?size=100").json()
        self.assertEqual(frame["loose_ends"], listed["count"])
        for bay in frame["bays"]:
            mine = [e for e in listed["results"] if e["bay"] == bay["slug"]]
            self.assertEqual(bay["loose_ends"], len(mine), bay["slug"])


class Cables(OnTheDemo):
    """What the cables page says today, from the file that it shows."""

    RUDDER = "/api/aircraft/fenlark/controls/rudder/cables"

    def cables(self):
        return self.as_("ansel").get(self.RUDDER).json()

    def test_the_curve_is_the_rule_s_curve_and_today_lies_on_it(self):
        for temperature in ("-10 C", "5 C", "21 C", "38 C"):
            day = self.write("ansel", f"{self.RUDDER}/today", {"temperature": temperature}).json()
            for side, curve in zip(day["sides"], day["curves"], strict=True):
                why = curve["why"]
                line = {k: v for k, v in why["inputs"].items() if k not in ("lo_K", "hi_K", "n")}
                want = rule("cables.tension_at_temperature").run(
                    line | {"temperature_K": day["temperature_C"] + 273.15}
                )
                with self.subTest(temperature=temperature, side=side["side"]):
                    self.assertAlmostEqual(side["set_N"], want["tension_N"], 4)
                    if want["slack_temperature_K"] is not None:
                        slack = want["slack_temperature_K"] - 273.15
                        self.assertAlmostEqual(curve["slack_C"], slack, 6)

    def test_positions_are_those_of_the_loop_rule(self):
        solved = self.cables()["solved"]
        middle = min(solved["positions"], key=lambda p: abs(p["driver_deg"]))
        self.assertAlmostEqual(middle["driver_deg"], 0.0, 6)
        self.assertAlmostEqual(middle["driven_deg"], 0.0, 4)
        for p in solved["positions"]:
            self.assertGreaterEqual(p["A_N"], 0)
            self.assertGreaterEqual(p["B_N"], 0)
            if p["status"] == "taut":
                self.assertGreater(min(p["A_N"], p["B_N"]), 0)
            # The way of each cable begins at the driver and ends at the driven lever.
            for way in (p["way_A"], p["way_B"]):
                xs = [q[0] for q in way]
                self.assertLess(min(xs), 2.2)
                self.assertGreater(max(xs), 5.8)
        lengths = {
            s: sum(math.dist(a, b) for a, b in itertools.pairwise(w))
            for s, w in (("A", middle["way_A"]), ("B", middle["way_B"]))
        }
        for side, length in lengths.items():
            # Drawn as chords around the pulleys: never longer than the cable itself.
            self.assertLessEqual(length, solved["lengths_m"][side] + 1e-6)
            self.assertGreater(length, 0.985 * solved["lengths_m"][side])
        every = [n for p in solved["positions"] for n in (p["A_N"], p["B_N"])]
        # Highest and lowest are looked for between the positions that are drawn as well.
        self.assertLessEqual(max(every), solved["highest_N"] + 1e-6)
        self.assertGreaterEqual(min(every), solved["lowest_N"] - 1e-6)
        self.assertLess(solved["highest_N"], 1.02 * max(every))

    def test_supports_turn_the_cable_as_it_is_drawn(self):
        solved = self.cables()["solved"]
        for s in solved["supports"]:
            with self.subTest(support=s["id"]):
                if s["kind"] == "pulley":
                    self.assertGreater(s["wrap_deg"], 0)
                    self.assertLess(s["wrap_deg"], 180)
                    # Two pulls of about one size: the force on the pulley by its wrap.
                    self.assertGreater(s["force_N"], 0)
                else:
                    self.assertGreaterEqual(s["deflection_deg"], 0)

    def test_what_moves_keeps_its_distance_or_is_told(self):
        cables = self.cables()
        for f in cables["solved"]["fittings"]:
            self.assertLessEqual(f["travel_low_m"], 0)
            self.assertGreaterEqual(f["travel_high_m"], 0)
            if f["gap_m"] is not None and f["gap_m"] < 0:
                self.assertEqual(f["verdict"], "out")

    def test_the_side_s_figures_are_the_shipped_rows(self):
        for side in self.cables()["sides"]:
            inch = side["diameter_m"] / 0.0254
            kind, material = side["cable"].split(",")[0].split()[0], "galvanised"
            want = rule("cables.cable_data").run(
                {"construction": kind, "diameter_in": round(inch, 6), "material": material}
            )
            self.assertAlmostEqual(side["breaking_N"], want["breaking_N"], 3)


class Linkages(OnTheDemo):
    """The positions of a linkage page are those of the rule, input by input."""

    def test_every_solved_position_again(self):
        for slug, control, person in (
            ("fenlark", "elevator", "ansel"), ("fenlark", "ailerons", "ansel"),
            ("moorhen", "flaperons", "corin"),
        ):  # fmt: skip
            page = self.as_(person).get(f"/api/aircraft/{slug}/controls/{control}/linkage").json()
            solved, file = page["solved"], page["document"]
            axis = solved["axes"][0]
            others = solved["axes"][1:]
            stride = 1
            for other in others:
                stride *= len(other["values"])
            middle = 0
            for other in others:
                nearest = min(
                    range(len(other["values"])), key=lambda i, o=other: abs(o["values"][i])
                )
                middle = middle * len(other["values"]) + nearest
            for i in (1, len(axis["values"]) // 2, len(axis["values"]) - 2):
                at = {f"{axis['name']}_deg": axis["values"][i]}
                for other in others:
                    nearest = min(other["values"], key=abs)
                    at[f"{other['name']}_{'deg' if other['unit'] == '°' else 'mm'}"] = nearest
                want = rule("controls.linkage").run({"mechanism": file, "at": at})
                if "outputs" not in want:
                    continue
                for out in solved["outputs"]:
                    got = out["values"][i * stride + middle]
                    with self.subTest(control=control, output=out["name"], at=at):
                        self.assertAlmostEqual(got, want["outputs"][out["name"]], 4)

    def test_the_stops_met_are_those_of_the_rule(self):
        page = self.as_("ansel").get("/api/aircraft/fenlark/controls/elevator/linkage").json()
        file = page["document"]
        stops = [
            {"id": s["id"], "body": s["body"], "side": s["side"], "at_deg": s["at"] * DEG, "kind": s["kind"]}
            | ({"named_first": True} if s.get("named_first") else {})
            for s in file["stops"]
        ]  # fmt: skip
        limit = file["inputs"]["pitch"]["limit"] * DEG
        want = rule("controls.stops").run(
            {
                "mechanism": file, "input": "pitch", "output": "elevator", "limit_deg": limit,
                "stops": stops,
            }
        )  # fmt: skip
        said = str(page)
        for way in ("plus", "minus"):
            self.assertIn(want[way]["first"], said)
