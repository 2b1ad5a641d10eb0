"""Jobs at the linkage: find a fault, turn what is advised, measure again; stop when reversed."""

import copy
import json
import re
from math import radians

from playwright.sync_api import expect

from server.controls.linkage.keeping import file_of
from server.controls.models import Adjustment, Mechanism
from testkit.browser import InTheBrowser

AILERONS = "/a/fenlark/controls/ailerons"
ELEVATOR = "/a/fenlark/controls/elevator"
PLACES = ("neutral alignment", "down", "up")


class AtTheLinkage(InTheBrowser):
    def choose(self, surface, position):
        row = self.page.locator(".asked tr").filter(has_text=surface)
        row.get_by_role("button", name=position, exact=True).click()
        expect(self.page.locator(".verdict-sheet h1")).to_contain_text(surface)
        return self.page.locator(".verdict-line .verdict-word")

    def keep(self, value):
        row = self.page.get_by_label(re.compile("^Reading, "))
        row.fill(value)
        row.press("Enter")
        expect(row).to_have_value("")

    def capture(self, times):
        page = self.page
        for _ in range(times):
            page.get_by_role("button", name="Capture from the level").click()
            take = page.get_by_role("button", name="Take it")
            expect(take).to_be_enabled(timeout=40_000)
            take.click()
            row = page.get_by_label(re.compile("^Reading, "))
            expect(row).to_have_value(re.compile(r"\d"))
            row.press("Enter")
            expect(row).to_have_value("")

    def test_the_left_aileron_is_in_after_at_most_two_rounds_of_advice(self):
        page = self.page
        self.sign_in("Ansel")
        for number in (1, 2):
            self.go(f"{AILERONS}/linkage?side=left")
            said = page.locator(".advice-said")
            if number == 1:
                expect(said).to_have_text(re.compile("Shorten rod left: 4 half-turns"))
                page.get_by_role("button", name="Show it on the figure").click()
                expect(page.get_by_text("Dashed: after the advised turns.")).to_be_visible()
            page.get_by_role("button", name="I have turned it: record").click()
            expect(page.get_by_role("heading", name="Turned so far")).to_be_visible()
            page.get_by_role("link", name="Travel", exact=True).click()
            words = []
            for place in PLACES:
                verdict = self.choose("Left aileron", place)
                expect(verdict).to_have_text("Not measured")
                self.capture(3)
                expect(verdict).not_to_have_text("Not measured")
                words.append(verdict.text_content())
            if set(words) == {"In"}:
                break
        self.assertEqual(set(words), {"In"}, f"after {number} rounds")
        # The right side was not touched: what was read of it still stands.
        expect(self.choose("Right aileron", "up")).to_have_text("In")
        self.go("/a/fenlark/loose-ends")
        expect(page.get_by_text("Jam nut, rod left at crank left loosened")).to_be_visible()
        self.assertEqual(Adjustment.objects.count(), number)

    def test_a_reversed_sense_stops_the_work(self):
        page = self.page
        self.sign_in("Ansel")
        self.go(AILERONS)
        page.get_by_role("button", name="Measure all again").click()
        form = page.locator(".rounds form")
        form.get_by_role("textbox").fill("cables were off")
        form.get_by_role("button", name="Begin a new round").click()
        expect(page.locator(".rounds")).to_contain_text("cables were off")
        for place, value in zip(PLACES, ("0.1", "14", "-21"), strict=True):
            self.choose("Left aileron", place)
            self.keep(value)
        self.go(f"{AILERONS}/linkage?side=left")
        expect(page.get_by_role("alert")).to_contain_text("Stop: this control moves the wrong way")
        expect(page.get_by_role("button", name="I have turned it: record")).to_have_count(0)

    def test_a_file_with_a_fault_is_named_and_a_good_one_is_tried_and_kept(self):
        page = self.page
        self.sign_in("Ansel")
        self.go(f"{ELEVATOR}/linkage?part=file")
        link = page.get_by_role("link", name="Linkage as JSON").get_attribute("href")
        good = self.context.request.get(self.live_server_url + link).json()
        bad = copy.deepcopy(good)
        bad["bodies"][1]["axis"] = [0, 0, 0]
        box = page.get_by_label("or paste it here")
        for text, said in (
            ("{", "The file is not JSON"),
            (json.dumps(bad), "bodies.idler.axis"),
        ):
            box.fill(text)
            page.get_by_role("button", name="Try this file").click()
            expect(page.get_by_role("alert").last).to_contain_text(said)
        good["bodies"][2]["points"]["top"][2] += 0.004
        box.fill(json.dumps(good))
        page.get_by_role("button", name="Try this file").click()
        expect(page.get_by_text("A trial: drawn in full")).to_be_visible()
        page.get_by_role("button", name="Keep as the linkage").click()
        expect(page.get_by_text("A trial: drawn in full")).to_have_count(0)
        page.get_by_role("tab", name="Geometry").click()
        expect(page.get_by_label("bellcrank top, water line")).to_have_value("639")

    def test_the_stick_moves_the_figure_without_asking_the_server(self):
        page = self.page
        self.sign_in("Ansel")
        self.go(f"{ELEVATOR}/linkage")
        now = page.locator(".linkage-now")
        expect(now).to_have_text("Elevator 0.0°")
        page.wait_for_load_state("networkidle")
        asked = []
        page.on("request", lambda r: asked.append(r.url) if "/api/" in r.url else None)
        grip = page.locator(".linkage .ball", has=page.locator("title", has_text="stick, grip"))
        box = grip.bounding_box()
        page.mouse.move(box["x"] + 4, box["y"] + 4)
        page.mouse.down()
        page.mouse.move(box["x"] + 60, box["y"] + 8, steps=6)
        page.mouse.up()
        expect(now).not_to_have_text("Elevator 0.0°")
        page.get_by_role("button", name="elevator up 24.2°").click()
        expect(now).to_have_text("Elevator 26.0°")
        # Only whether anything was done elsewhere is asked meanwhile.
        self.assertEqual([a for a in asked if not a.endswith("/pulse")], [])
        page.get_by_role("tab", name="Geometry").click()
        cell = page.get_by_role("textbox", name="Stop elevator up")
        cell.fill("-24")
        cell.press("Enter")
        page.get_by_role("tab", name="Travel and stops").click()
        row = page.locator(".asked tr").filter(has_text="elevator up")
        expect(row).to_contain_text("24.0°")
        expect(row).to_contain_text("1.0° short by its geometry")

    def test_turns_by_hand_warn_of_thread_and_begin_a_round(self):
        page = self.page
        self.sign_in("Ansel")
        self.go(f"{ELEVATOR}/linkage")
        page.get_by_text("I turned something else").click()
        by_hand = page.locator("form").filter(has=page.get_by_label("Half-turns, + longer"))
        by_hand.get_by_label("Rod or stop").select_option("fwd")
        turns = by_hand.get_by_label("Half-turns, + longer")
        turns.fill("60")
        expect(by_hand).to_contain_text("short of thread, or bottomed")
        turns.fill("1")
        expect(by_hand).not_to_contain_text("short of thread")
        by_hand.get_by_label("Rod or stop").select_option("elevator_up")
        turns.fill("6")
        expect(by_hand).to_contain_text("cannot be turned so far: −5 to +5 half-turns are left")
        by_hand.get_by_label("Rod or stop").select_option("fwd")
        turns.fill("1")
        before = Adjustment.objects.count()
        by_hand.get_by_role("button", name="Record").click()
        expect(turns).to_have_value("")
        self.assertEqual(Adjustment.objects.count(), before + 1)

    def test_a_linkage_is_entered_lever_by_lever(self):
        page = self.page
        self.sign_in("Corin")
        self.go("/a/moorhen/controls/elevator/linkage?part=geometry")
        begin = page.get_by_role("form", name="First lever")
        begin.get_by_label("The pilot moves").select_option("aft")
        begin.get_by_label("Its pivot").fill("2500 0")
        begin.get_by_label("Where the first rod").fill("2500 0 225")
        begin.get_by_label("It turns").fill("25")
        begin.get_by_role("button", name="Begin with it").click()
        expect(begin.get_by_role("alert")).to_contain_text("pivot: must be station")
        begin.get_by_label("Its pivot").fill("2500 0 300")
        begin.get_by_role("button", name="Begin with it").click()
        page.get_by_text("Add a lever, crank or surface").click()
        form = page.locator("form").filter(has=page.get_by_label("Rod held at, mm"))
        form.get_by_label("Name").fill("Idler")
        form.get_by_label("Pivot, mm").fill("3550 0")
        form.get_by_label("Which").select_option("stick/low")
        form.get_by_label("Rod held at, mm").fill("3550 0 340")
        form.get_by_role("button", name="Try it").click()
        expect(form.get_by_role("alert")).to_contain_text("pivot: must be station")
        form.get_by_label("Pivot, mm").fill("3550 0 430")
        form.get_by_role("button", name="Try it").click()
        expect(page.get_by_text("A trial: drawn in full")).to_be_visible()
        # What it moves, how far, and its stops: all as the demo's own files say it.
        page.get_by_text("What it moves: 1").click()
        moves = page.get_by_role("form", name="New output")
        moves.get_by_label("Another output").fill("Elevator")
        moves.get_by_label("It is").select_option("idler")
        moves.get_by_label("Surface").select_option("elevator")
        moves.get_by_label("Input + leads to").select_option("up_stop")
        moves.get_by_label("Input − leads to").select_option("down_stop")
        moves.get_by_role("button", name="Try it as an output").click()
        expect(page.get_by_text("What it moves: 2")).to_be_visible()
        page.get_by_text("What moves it: 1").click()
        hand = page.get_by_role("form", name="Input stick")
        hand.get_by_label("Looked at each way").fill("22")
        hand.get_by_role("button", name="Try it").click()
        page.get_by_text("Add a stop").click()
        stop = page.locator("form").filter(has=page.get_by_label("At, °"))
        for name, end, at in (("Stick aft", "max", "20"), ("Stick forward", "min", "-15")):
            stop.get_by_label("Name").fill(name)
            stop.get_by_label("End").select_option(end)
            stop.get_by_label("At, °").fill(at)
            stop.get_by_label("Kind").select_option("input")
            stop.get_by_role("button", name="Try it").click()
            expect(page.get_by_label(f"Stop {name.lower()}", exact=True).first).to_be_visible()
        page.get_by_text("Stops: 2").click()
        aft = page.get_by_role("form", name="Stop stick aft")
        aft.get_by_label("A half-turn moves it").fill("0.35")
        aft.get_by_label("Half-turns, from").fill("-4")
        aft.get_by_label("to", exact=True).fill("4")
        aft.get_by_role("button", name="Try it").click()
        expect(
            page.get_by_role("form", name="Stop stick aft").get_by_label("to", exact=True)
        ).to_have_value("4")
        expect(
            page.get_by_role("button", name="Take out rod idler rod with idler, 1 output")
        ).to_be_visible()
        page.get_by_role("button", name="Keep as the linkage").click()
        expect(page.get_by_text("A trial: drawn in full")).to_have_count(0)
        kept = file_of(Mechanism.objects.get(control__slug="elevator", aircraft__slug="moorhen"))
        moved = {
            "body": "idler",
            "sign": 1,
            "surface": "elevator",
            "plus": "up_stop",
            "minus": "down_stop",
        }
        self.assertEqual(kept["outputs"]["elevator"], moved)
        self.assertAlmostEqual(kept["inputs"]["stick"]["limit"], radians(22))
        self.assertEqual(
            [(s["kind"], s.get("most")) for s in kept["stops"]], [("input", 4), ("input", None)]
        )
        page.get_by_role("tab", name="Travel and stops").click()
        expect(page.locator("tr").filter(has_text="up")).to_contain_text("stick aft")
        page.get_by_role("tab", name="Rods").click()
        expect(page.get_by_role("heading", name="Rod idler rod")).to_be_visible()
        page.get_by_role("tab", name="Geometry").click()
        page.get_by_role("button", name="Take out rod idler rod").click()
        expect(page.get_by_text("What it moves: 1")).to_be_visible()
        page.get_by_role("button", name="Leave the trial").click()
