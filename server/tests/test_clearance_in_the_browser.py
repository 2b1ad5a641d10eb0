"""Whole jobs of clearances in the browser: what touches, moving a clamp, accepting, measuring."""

import re

from playwright.sync_api import expect

from server.clearance.models import ClearanceRow, PairEvent
from testkit.browser import InTheBrowser


class Clearing(InTheBrowser):
    """Short words for the page of clearances."""

    def setUp(self):
        super().setUp()
        self.sheet = self.page.get_by_role("complementary", name="Sheet")

    def pick(self, name):
        self.page.get_by_role("table", name="Near pairs").get_by_role("button", name=name).click()
        expect(self.sheet.get_by_role("heading", level=2)).to_have_text(name)

    def begin(self):
        """An aircraft of nothing, and a document."""
        page = self.page
        self.sign_in("Corin")
        page.get_by_text("New aircraft").first.click()
        page.get_by_label("Name", exact=True).fill("Shed Plane")
        page.get_by_role("button", name=re.compile("Begin|Make|Create|Add aircraft")).click()
        expect(page).to_have_url(re.compile("/a/shed-plane"))
        self.go("/a/shed-plane/sources")
        form = page.get_by_role("form", name="New document", exact=True)
        form.get_by_label("New document").fill("Manual")
        form.get_by_label("Revision").fill("1")
        form.get_by_role("button", name="Add document").click()
        expect(page.locator("main")).to_contain_text("Manual")

    def part(self, name):
        self.page.get_by_role("navigation", name="Parts of clearance").get_by_text(name).click()

    def new(self, kind, name, typed, document=False):
        self.page.get_by_role("button", name=f"New: {kind}", exact=True).click()
        form = self.page.get_by_role("form", name=f"New {kind}", exact=True)
        form.get_by_label("Name *").fill(name)
        for label, value in typed.items():
            if isinstance(value, list):
                for n, row in enumerate(value, 1):
                    if n > 1:
                        form.get_by_role("group", name=label).get_by_text("Add a row").click()
                    for column, text in row.items():
                        self.put(form.get_by_label(f"{label}, row {n}, {column}"), text)
                continue
            self.put(form.get_by_label(re.compile(rf"^{re.escape(label)}")).first, value)
        if document:
            form.get_by_label(re.compile("^From")).last.select_option(index=1)
        form.get_by_role("button", name="Keep").click()
        expect(form).to_have_count(0)

    def put(self, field, text):
        if field.evaluate("e => e.tagName") == "SELECT":
            field.select_option(text)
        else:
            field.fill(text)


class OnTheDemo(Clearing):
    BRAKE = "Rudder: Left cable – Park brake line"
    ROD = "Selector to gascolator – Rudder: pedal left rod"

    def test_what_touches_only_at_full_left_pedal_is_found_moved_and_clear(self):
        page, sheet = self.page, self.sheet
        self.sign_in("Ansel")
        self.go("/a/fenlark/clearance")
        self.pick(self.BRAKE)
        expect(sheet).to_contain_text("Touch")
        expect(sheet).to_contain_text("left pedal forward")
        film = sheet.get_by_role("region", name="Film")
        slider = film.get_by_role("slider")
        expect(film.locator(".clear-now")).to_contain_text("Touch")
        slider.focus()
        slider.press("Home")
        expect(film.locator(".clear-now")).to_contain_text(re.compile(r"\d+(\.\d)? mm"))
        film.get_by_role("button", name="Back to the worst").click()
        expect(film.locator(".clear-now")).to_contain_text("Touch")
        sheet.get_by_role("button", name="Try Park brake line elsewhere").click()
        moved = sheet.get_by_role("region", name="Park brake line elsewhere")
        for n in (3, 4):
            moved.get_by_label(f"Corner {n}, butt line").fill("-190")
        row = moved.get_by_role("table", name="What it would change").get_by_role("row")
        expect(row.filter(has_text="Left cable")).to_contain_text(
            re.compile(r"touch.*(\d\d\.\d|far)")
        )
        moved.get_by_role("button", name="Keep it there").click()
        expect(moved).to_have_count(0)
        expect(page.get_by_role("table", name="Near pairs")).not_to_contain_text(self.BRAKE)
        kept = ClearanceRow.objects.get(slug="park-brake-line", aircraft__slug="fenlark")
        self.assertEqual(kept.typed["corners"][2]["y"], "-190 mm")

    def test_a_corner_is_dragged_in_the_drawing_and_dropped(self):
        sheet = self.sheet
        self.sign_in("Ansel")
        self.go("/a/fenlark/clearance")
        self.pick(self.BRAKE)
        sheet.get_by_role("button", name="Try Park brake line elsewhere").click()
        moved = sheet.get_by_role("region", name="Park brake line elsewhere")
        expect(moved.get_by_role("table", name="What it would change")).to_be_visible()
        expect(sheet.get_by_role("region", name="Film").get_by_role("slider")).to_be_visible()
        top = moved.get_by_role("img", name="Park brake line elsewhere, top")
        handle = top.locator("[data-handle='3']")
        top.evaluate("e => e.scrollIntoView({block: 'center'})")
        box = handle.bounding_box()
        before = moved.get_by_label("Corner 4, butt line").input_value()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x, y - 40, steps=5)
        self.page.mouse.up()
        field = moved.get_by_label("Corner 4, butt line")
        expect(field).not_to_have_value(before)
        self.assertLess(float(field.input_value()), float(before))
        moved.get_by_role("button", name="Drop").click()
        expect(moved).to_have_count(0)
        kept = ClearanceRow.objects.get(slug="park-brake-line", aircraft__slug="fenlark")
        self.assertEqual(kept.typed["corners"][3]["y"], before)

    def test_a_measured_gap_overrules_the_model_and_is_accepted_with_a_reason(self):
        page, sheet = self.page, self.sheet
        self.sign_in("Ansel")
        self.go("/a/fenlark/clearance")
        self.pick(self.ROD)
        expect(sheet).to_contain_text("It may touch")
        expect(sheet.get_by_text("Accept it knowingly")).to_have_count(0)
        sheet.get_by_text("Measure it with a feeler or gauge").click()
        form = sheet.get_by_role("form", name="Measured by hand")
        form.get_by_role("button", name="Keep the gap").click()
        expect(form.get_by_role("alert")).to_contain_text("gap")
        form.get_by_label("Smallest gap").fill("4.0 mm")
        form.get_by_label("Good to ±").fill("0.3 mm")
        form.get_by_label("Where, at which position").fill("pedals neutral")
        form.get_by_role("button", name="Keep the gap").click()
        expect(sheet.get_by_role("list", name="Done to it")).to_contain_text("4.0 ± 0.3 mm")
        expect(sheet).to_contain_text("it counts before the model")
        sheet.get_by_text("Accept it knowingly").click()
        form = sheet.get_by_role("form", name="Accept")
        form.get_by_label("What keeps it from rubbing").fill("abrasion sleeve on the tube")
        form.get_by_label("Why that is good enough").fill("rod is guided at both ends")
        form.get_by_role("button", name="Accept").click()
        expect(sheet.locator(".verdict-big")).to_contain_text(re.compile("accepted", re.I))
        expect(page.locator(".clear-answer")).to_contain_text("accepted")
        self.assertEqual(PairEvent.objects.filter(doing="accepted").count(), 1)
        sheet.get_by_role("button", name="Take back").click()
        expect(sheet.locator(".verdict-big")).to_contain_text(re.compile("out", re.I))

    def test_the_section_follows_the_plane(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/clearance?part=section&at=1940")
        table = page.get_by_role("table", name="What passes here")
        expect(table).to_contain_text("Park brake line")
        plane = page.get_by_role("slider")
        plane.fill("4500")
        expect(page.locator(".clear-answer")).to_contain_text("4500")
        expect(table).not_to_contain_text("Park brake line")
        expect(table).to_contain_text("Aft bundle")


class FromNothing(Clearing):
    def test_a_new_owner_enters_corrects_and_takes_away_everything(self):
        page, sheet = self.page, self.sheet
        self.begin()
        self.go("/a/shed-plane/clearance")
        expect(page.get_by_text("Nothing comes near anything else yet")).to_be_visible()
        self.part("Shapes")
        fuel = {"It is": "fuel", "As": "line", "Corners of a line, in order": [
            {"Station": "1000", "Butt line": "0", "Water line": "100"},
            {"Station": "2000", "Butt line": "0", "Water line": "100"},
        ], "Thickness": "10"}  # fmt: skip
        self.new("shape", "Feed", fuel)
        loom = fuel | {"It is": "wire", "Corners of a line, in order": [
            {"Station": "1000", "Butt line": "0", "Water line": "140"},
            {"Station": "2000", "Butt line": "0", "Water line": "140"},
        ]}  # fmt: skip
        self.new("shape", "Loom", loom)
        self.new("what moves it", "Hatch", {
            "A point of its hinge": "1500; 200; 300", "Direction of its hinge": "1; 0; 0",
            "Turns to": "90",
        })  # fmt: skip
        lid = {"It is": "structure", "As": "box", "Middle": "1500; 100; 300", "Size": "100; 200; 2"}
        self.new("shape", "Lid", lid | {"Fixed to": "Hatch"})
        self.part("How sure")
        self.new("how sure places are", "Sure", {"Shapes": "1 mm"})
        self.part("Zones")
        self.new("zone to stay out of", "Hot box", {
            "It is": "box", "Middle": "1500; 0; 100", "Half its size": "20; 20; 20", "Kinds": "fuel",
            "And stay away": "10",
        }, document=True)  # fmt: skip
        expect(sheet).to_contain_text("inside")
        self.part("Near pairs")
        self.pick("Feed – Loom")
        expect(sheet).to_contain_text("30.0 mm apart")
        sheet.get_by_text("Accept it knowingly").click()
        form = sheet.get_by_role("form", name="Accept")
        form.get_by_label("What keeps it from rubbing").fill("clamped both sides")
        form.get_by_label("Why that is good enough").fill("moves together")
        form.get_by_role("button", name="Accept").click()
        expect(page.locator(".clear-answer")).to_contain_text("accepted")
        # Corrected: the acceptance was for another geometry.
        self.part("Shapes")
        page.get_by_role("button", name="Loom", exact=True).click()
        sheet.get_by_role("button", name="Change Loom").click()
        form = sheet.get_by_role("form", name="Change Loom")
        form.get_by_label("Corners of a line, in order, row 1, Water line").fill("145")
        form.get_by_role("button", name="Keep").click()
        expect(form).to_have_count(0)
        self.part("Near pairs")
        self.pick("Feed – Loom")
        expect(sheet).to_contain_text("changed since")
        with page.expect_download() as taken:
            page.get_by_role("link", name="Near pairs (CSV)").click()
        self.assertIn("Feed", taken.value.path().read_text(encoding="utf-8-sig"))
        self.part("Shapes")
        page.get_by_role("button", name="Loom", exact=True).click()
        sheet.get_by_role("button", name="Change Loom").click()
        sheet.get_by_role("button", name="Take away Loom").click()
        form = sheet.get_by_role("form", name="Take away Loom")
        form.get_by_label("Why").fill("not fitted")
        form.get_by_role("button", name="Take away Loom").click()
        expect(page.get_by_role("button", name="Loom", exact=True)).to_have_count(0)
