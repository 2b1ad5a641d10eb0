"""Whole jobs of weight and balance in the browser: scales, a loading dragged out, from nothing."""

import re

from playwright.sync_api import expect

from server.weight.models import WeightRow
from testkit.base import PASSWORD
from testkit.browser import InTheBrowser

NUMBER = re.compile(r"Least ballast: ([0-9.]+) kg")


class Weighing(InTheBrowser):
    """What is typed into the forms of weight and balance."""

    def setUp(self):
        super().setUp()
        self.sheet = self.page.get_by_role("complementary", name="Sheet")

    def form(self, name):
        return self.page.get_by_role("form", name=name, exact=True)

    def fill(self, form, typed):
        """Fields by the beginning of their label; rows of a table by its name."""
        for label, value in typed.items():
            if isinstance(value, list):
                for n, row in enumerate(value, 1):
                    if n > 1:
                        form.get_by_role("group", name=label).get_by_text("Add a row").click()
                    for column, text in row.items():
                        self.put(form.get_by_label(f"{label}, row {n}, {column}"), text)
                continue
            self.put(form.get_by_label(re.compile(rf"^{re.escape(label)}")).first, value)

    def put(self, field, text):
        if field.evaluate("e => e.tagName") == "SELECT":
            field.select_option(text)
        else:
            field.fill(text)

    def new(self, kind, name, typed, document=False, folds=()):
        self.page.get_by_role("button", name=f"New {kind}", exact=True).click()
        form = self.form(f"New {kind}")
        for head in folds:
            form.get_by_text(head, exact=True).click()
        form.get_by_label("Name *").fill(name)
        self.fill(form, typed)
        if document:
            form.get_by_label(re.compile("^From")).select_option(index=1)
        form.get_by_role("button", name="Keep").click()
        expect(form).to_have_count(0)

    def part(self, name):
        self.page.get_by_role("navigation", name="Parts of weight").get_by_text(name).click()


WHEELS = [
    {"Wheel": "nose", "Scale": "Scale A", "Arm": "1052", "Good to ±, mm": "3", "Chocks": "1.2"},
    {"Wheel": "left", "Scale": "Scale B", "Arm": "2781", "Good to ±, mm": "3", "Chocks": "1.2"},
    {"Wheel": "right", "Scale": "Scale C", "Arm": "2779", "Good to ±, mm": "3", "Chocks": "1.2"},
]


class OnTheDemo(Weighing):
    def test_a_whole_weighing_from_simulated_scales_to_a_signed_record(self):
        page, sheet = self.page, self.sheet
        self.sign_in("Ansel")
        self.go("/a/fenlark/weight")
        folds = ("How level it stands", "Height of the balance")
        level = {
            "Lengthwise": "0", "The two points": "900", "Across": "0", "These two points": "800",
            "Or lies within": "300", "The datum’s plumb": "2",
        }  # fmt: skip
        table = {"Wheels on their scales": [
            {"Wheel": r["Wheel"], "Scale": r["Scale"], "Arm, mm": r["Arm"], "Chocks, kg": "1.2"}
            for r in WHEELS
        ]}  # fmt: skip
        self.new(
            "weighing",
            "Before the first flight",
            {"Day": "2026-11-28"} | table | level,
            folds=folds,
        )
        expect(sheet).to_contain_text("what stands on the nose, left, right wheel")
        figure = page.get_by_role("img", name=re.compile("On its scales"))
        expect(figure).to_contain_text("not read")
        # Prepared one after another; the first open one leads.
        while sheet.get_by_role("button", name=re.compile("^Done: ")).count():
            left = sheet.get_by_role("button", name=re.compile("^Done: ")).count()
            sheet.get_by_role("button", name=re.compile("^Done: ")).first.click()
            expect(sheet.get_by_role("button", name=re.compile("^Done: "))).to_have_count(left - 1)
        sheet.get_by_role("button", name="Read all scales live").click()
        take = sheet.get_by_role("button", name="Take all")
        expect(take).to_be_disabled()
        expect(sheet.get_by_text(re.compile("settled at"))).to_have_count(3, timeout=120_000)
        take.click()
        expect(sheet).to_contain_text("read live and settled")
        # The arms were measured, and nobody said how well: it says so until somebody does.
        expect(sheet).to_contain_text("Not said how well these are known: the wheels’ arms")
        sheet.get_by_role("button", name="Change Before the first flight").click()
        form = self.form("Change Before the first flight")
        for n in (1, 2, 3):
            cells = form.get_by_label(f"Wheels on their scales, row {n}, Good to ±, mm")
            cells.first.fill("3")
        form.get_by_role("button", name="Keep").click()
        expect(sheet.locator(".verdict-line .vmark-in")).to_be_visible()
        shown = sheet.get_by_text(re.compile(r"Empty 35[5-8]\.[0-9] kg ±")).first
        expect(shown).to_be_visible()
        expect(page.get_by_role("img", name=re.compile("On its scales"))).to_contain_text("mm")
        expect(sheet.get_by_role("region", name="What makes it uncertain")).to_contain_text("Most:")
        # Again with every scale under the next wheel: the form is filled in but for what is read.
        sheet.get_by_role("button", name=re.compile("^Weigh again")).click()
        form = self.form("New weighing")
        expect(form.get_by_label("Name *")).to_have_value(re.compile("scales changed about"))
        expect(form.get_by_label("Wheels on their scales, row 1, Scale")).to_have_value("Scale B")
        expect(form.get_by_label("Wheels on their scales, row 3, Scale")).to_have_value("Scale A")
        form.get_by_role("button", name="Keep").click()
        for wheel, shown in (("nose", "109.45"), ("left", "125.6"), ("right", "124.65")):
            by_hand = self.form("A scale by hand")
            self.fill(by_hand, {"Wheel": wheel, "The scale shows": f"{shown} kg"})
            by_hand.get_by_role("button", name="Keep it").click()
            expect(sheet).to_contain_text(f"{wheel.capitalize()} wheel: {float(shown):.2f} kg")
        page.get_by_role("button", name="Before the first flight", exact=True).click()
        expect(sheet).to_contain_text("Both agree within their uncertainties")
        # Signed, and stale as soon as an item of equipment changes.
        sheet.get_by_role("button", name="I have looked again").click()
        self.fill(self.form("Sign"), {"Your password again": PASSWORD["ansel"]})
        self.form("Sign").get_by_role("button", name="Sign as done").click()
        expect(
            sheet.locator(".signature, .entries, li").filter(has_text="Ansel").first
        ).to_be_visible()
        with page.expect_download() as got:
            sheet.get_by_text("Weight and balance record (PDF)").click()
        self.assertTrue(got.value.suggested_filename.endswith(".pdf"))
        self.part("Equipment")
        self.new("change of equipment", "Fire bottle", {
            "Day": "2026-11-28", "It was": "add", "Mass": "1.6 kg", "Arm": "2200"})  # fmt: skip
        self.part("Weighing")
        page.get_by_role("button", name="Before the first flight", exact=True).click()
        expect(sheet).to_contain_text(re.compile("[Cc]hanged|Stale|stale"))

    def test_a_loading_is_dragged_out_of_the_envelope_and_brought_back_with_ballast(self):
        page, sheet = self.page, self.sheet
        self.sign_in("Ansel")
        self.go("/a/fenlark/weight?part=loadings")
        self.new("loading", "Two heavy", {
            "On board": [
                {"Station": "Pilot", "Mass, kg": "85"},
                {"Station": "Passenger", "Mass, kg": "115"},
                {"Station": "Baggage", "Mass, kg": "10"},
            ],
            "Fuel": [
                {"Tank": "Left tank", "On the ramp, l": "5", "Burned in flight, l": "4"},
                {"Tank": "Right tank", "On the ramp, l": "5", "Burned in flight, l": "4"},
            ],
            "Tanks in the order of burning": [
                {"From tanks, with the share of each": "Left tank 0.5; Right tank 0.5"},
            ],
        })  # fmt: skip
        expect(sheet.locator(".verdict-line .vmark-in")).to_be_visible()
        slider = sheet.get_by_role("slider", name=re.compile("^Baggage"))
        at = page.locator(".envelope-chart .state circle").first
        before = float(at.get_attribute("cx"))
        slider.focus()
        for _ in range(30):
            slider.press("ArrowRight")
        # The point has moved before anybody was asked; what is said of it follows.
        self.assertGreater(float(at.get_attribute("cx")), before + 20)
        what_if = sheet.get_by_role("group", name="With these loads")
        expect(what_if.locator(".verdict-line .vmark-out")).to_be_visible()
        what_if.get_by_role("button", name="As it was").click()
        expect(what_if).to_have_count(0)
        self.assertAlmostEqual(float(at.get_attribute("cx")), before, 3)
        slider.focus()
        for _ in range(30):
            slider.press("ArrowRight")
        what_if.get_by_role("button", name="Keep these loads").click()
        expect(what_if).to_have_count(0)
        expect(sheet.locator(".verdict-line .vmark-out")).to_be_visible()
        # The least ballast for all loadings is read, put in, and the loading is in again.
        self.part("Worst cases")
        said = page.get_by_role("region", name="Worst cases").get_by_text(NUMBER)
        least = float(NUMBER.search(said.inner_text())[1])
        self.part("Equipment")
        self.new("change of equipment", "Ballast on the shelf", {
            "Day": "2026-11-28", "It was": "add", "Mass": f"{least + 0.3:.1f} kg", "Arm": "1480"})  # fmt: skip
        self.part("Loadings")
        page.get_by_role("button", name="Two heavy", exact=True).click()
        expect(sheet.locator(".verdict-line .vmark-in")).to_be_visible()

    def test_a_scale_that_is_lost_in_mid_weighing_loses_nothing_that_was_taken(self):
        page, sheet = self.page, self.sheet
        self.sign_in("Ansel")
        self.go("/a/fenlark/weight?row=first-weighing")
        before = WeightRow.objects.get(slug="first-weighing").events.count()
        sheet.get_by_role("button", name="Read all scales live").click()
        expect(sheet.get_by_text(re.compile("settled at")).first).to_be_visible(timeout=120_000)
        self.standins.close()
        expect(sheet.get_by_text("does not answer").first).to_be_visible()
        expect(sheet.get_by_role("button", name="Take all")).to_be_disabled()
        expect(sheet.get_by_role("alert")).to_contain_text("does not answer")
        sheet.get_by_role("button", name="Stop").click()
        self.fill(self.form("A scale by hand"), {"Wheel": "left", "The scale shows": "125.6 kg"})
        self.form("A scale by hand").get_by_role("button", name="Keep it").click()
        expect(sheet).to_contain_text("Left wheel: 125.60 kg")
        self.assertEqual(WeightRow.objects.get(slug="first-weighing").events.count(), before + 1)
        expect(page.locator(".verdict-line").first).to_be_visible()


class FromNothing(Weighing):
    def test_a_new_owner_weighs_loads_corrects_and_takes_away(self):
        page, sheet = self.page, self.sheet
        self.sign_in("Corin")
        page.get_by_text("New aircraft").first.click()
        page.get_by_label("Name", exact=True).fill("Shed Plane")
        page.get_by_role("button", name=re.compile("Begin|Make|Create|Add aircraft")).click()
        expect(page).to_have_url(re.compile("/a/shed-plane"))
        self.go("/a/shed-plane/sources")
        form = self.form("New document")
        self.fill(form, {"New document": "Manual", "Revision": "1"})
        form.get_by_role("button", name="Add document").click()
        expect(page.locator("main")).to_contain_text("Manual")
        self.go("/a/shed-plane/weight?part=estimate")
        expect(page.get_by_role("region", name="Estimate")).to_contain_text("Nothing yet")
        for name, mass, arm, known in (("Wings", "80", "1800", "guessed"), ("Engine", "70", "600", "maker"),
                                       ("Fuselage", "120", "2400", "measured")):  # fmt: skip
            self.new("part", name, {"Mass": mass, "Arm": arm, "Known as": known})
        expect(page.get_by_role("region", name="Estimate")).to_contain_text("does not add up yet")
        self.new("how sure parts are", "How sure", {
            "Measured masses": "1", "Measured arms": "5", "Makers’ masses": "4", "Makers’ arms": "20",
            "Guessed masses": "20", "Guessed arms": "80", "A part weighed": "0.2"})  # fmt: skip
        estimate = page.get_by_role("region", name="Estimate")
        expect(estimate).to_contain_text("270 kg")
        expect(estimate.locator(".weigh-next li").first).to_contain_text("Wings")
        self.part("Weighing")
        for name in ("Scale A", "Scale B", "Scale C"):
            self.new("scale", name, {"That is known to": "0.1", "A reading repeats": "0.2"})
        table = {"Wheels on their scales": [
            {"Wheel": w, "Scale": s, "Arm, mm": x}
            for w, s, x in (("left", "Scale A", "1600"), ("right", "Scale B", "1600"), ("tail", "Scale C", "5900"))
        ]}  # fmt: skip
        self.new("weighing", "First", {"Day": "2026-11-01"} | table)
        for wheel, shown in (("left", "125 kg"), ("right", "123 kg"), ("tail", "22 kg")):
            form = self.form("A scale by hand")
            self.fill(form, {"Wheel": wheel, "The scale shows": shown})
            form.get_by_role("button", name="Keep it").click()
            expect(sheet).to_contain_text(f"{wheel.capitalize()} wheel: {shown.split()[0]}.00 kg")
        expect(sheet).to_contain_text("Empty 270.0 kg")
        # A slip of the key is corrected: the last reading counts, the first stays in the record.
        form = self.form("A scale by hand")
        self.fill(form, {"Wheel": "tail", "The scale shows": "24 kg"})
        form.get_by_role("button", name="Keep it").click()
        expect(sheet).to_contain_text("Empty 272.0 kg")
        self.part("Limits and stations")
        corners = [
            {"Arm, mm": a, "Mass, kg": m}
            for a, m in (("1750", "250"), ("1750", "540"), ("2150", "540"), ("2150", "250"))
        ]
        form_typed = {
            "Edges of the envelope": "arm",
            "Corners of the envelope, in order": corners,
            "Gross mass": "540",
        }
        self.new("limits", "Limits", form_typed, document=True)
        expect(
            page.get_by_role("img", name=re.compile("Everything that can be flown"))
        ).to_be_visible()
        self.new("fuel", "Fuel", {"Density, kg/m3": "6 lb/gal"}, document=True)
        self.new("station", "Front", {"Arm": "1900", "At most": "100"}, document=True)
        self.new("tank", "Wing tank", {"Usable fuel": "15 gal", "Arm": "1850"}, document=True)
        self.part("Loadings")
        self.new("loading", "Alone", {
            "On board": [{"Station": "Front", "Mass, kg": "80"}],
            "Fuel": [{"Tank": "Wing tank", "On the ramp, l": "30", "Burned in flight, l": "20"}]})  # fmt: skip
        expect(sheet).to_contain_text("while fuel burns")
        expect(page.get_by_role("img", name="Loading in the envelope")).to_be_visible()
        with page.expect_download() as got:
            page.get_by_text("Loading sheet with a graph (PDF)").click()
        self.assertIn("loading", got.value.suggested_filename)
        self.part("Worst cases")
        expect(page.get_by_role("table").first).to_contain_text("Front 100 kg")
        self.part("Limits and stations")
        page.get_by_role("button", name="Front", exact=True).click()
        sheet.get_by_role("button", name="Change Front").click()
        form = self.form("Change Front")
        self.put(form.get_by_label(re.compile("^Arm")), "1950")
        form.get_by_role("button", name="Keep").click()
        expect(sheet).to_contain_text("1950")
