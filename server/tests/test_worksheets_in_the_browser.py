"""Worksheets at the shed: a brake line too short at one pedal position, a fuel system from nothing,
rows pasted from a spreadsheet."""

from playwright.sync_api import expect

from server.worksheets.models import Worksheet
from testkit.browser import InTheBrowser


class AtTheLines(InTheBrowser):
    def test_a_brake_line_too_short_at_one_pedal_position_is_mended_by_a_longer_hose(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/lines?part=hoses&sheet=left-brake-hose-first-seat")
        sheet = page.get_by_role("complementary", name="Sheet")
        expect(sheet).to_contain_text("At pedal 20.0° the hose is too short")
        hose = page.get_by_role("region", name="Left brake hose, first seat")
        expect(hose).to_contain_text("Hose at pedal 20.0°, far: too short")
        hose.get_by_role("slider").press("Home")
        expect(hose).to_contain_text("Hose at pedal −17.0°, near: right")
        would = hose.get_by_text("governed by").inner_text().partition(" mm")[0]
        sheet.get_by_role("button", name="Change").click()
        form = page.get_by_role("form", name="Change Left brake hose")
        form.get_by_label("Length of the hose").fill("200")
        form.get_by_role("button", name="Work it out").click()
        tried = page.get_by_role("region", name="Worked out, not kept")
        expect(tried.locator(".vmark-out").first).to_be_visible()
        # Another tie: the fixed end nearer. Worked out again as it is typed, and not kept.
        form.get_by_label("Length of the hose").fill("420")
        form.get_by_label("Fixed end").fill("90; 0")
        expect(tried).not_to_contain_text("too short")
        # Its end is moved on the drawing too.
        handle = tried.get_by_role("button", name="Fixed end")
        handle.press("Shift+ArrowRight")
        expect(form.get_by_label("Fixed end")).to_have_value("100 mm; 0 mm")
        form.get_by_label("Fixed end").fill("200; 0")
        form.get_by_label("Length of the hose").fill(would)
        expect(tried.locator(".vmark-out")).to_have_count(0)
        expect(sheet).to_contain_text("too short")
        form.get_by_role("button", name="Keep").click()
        expect(sheet).not_to_contain_text("too short")
        page.reload()
        expect(sheet.locator(".vmark-in").first).to_be_visible()
        self.assertEqual(
            Worksheet.objects.get(slug="left-brake-hose-first-seat").typed["length"], would
        )

    def test_from_nothing_a_fuel_system_is_begun_corrected_and_taken_away(self):
        page = self.page
        self.sign_in("Corin")
        self.go("/a/moorhen/lines")
        page.get_by_role("link", name="Fuel", exact=True).click()
        expect(page.get_by_role("heading", name="Begin with a question")).to_be_visible()
        page.get_by_role("button", name="Fuel system").click()
        form = page.get_by_role("form", name="New: Fuel system")
        form.get_by_role("button", name="Keep").click()
        expect(form.get_by_role("alert")).to_contain_text("name")
        form.get_by_label("Name of this sheet").fill("Fuel")
        form.get_by_role("button", name="Begin with").first.click()
        lines = form.get_by_role("group", name="Lines between them")
        end = lines.get_by_label("row 3, To: part.port")
        end.fill("gascolator.inn")
        form.get_by_role("button", name="Keep").click()
        expect(form.get_by_role("alert")).to_contain_text("gascolator.inn")
        expect(end).to_have_value("gascolator.inn")
        end.fill("gascolator.in")
        form.get_by_text("Where it belongs").click()
        form.get_by_label("Nose", exact=True).check()
        form.get_by_role("button", name="Keep").click()
        sheet = page.get_by_role("complementary", name="Sheet")
        expect(sheet).to_contain_text("Not said that gascolator has a drain.")
        drawn = page.get_by_role("img", name="10 parts, 9 lines")
        expect(drawn).to_contain_text("✕ gascolator")
        sheet.get_by_role("button", name="Change").click()
        change = page.get_by_role("form", name="Change Fuel")
        parts = change.get_by_role("group", name="Parts, with what is true of them")
        parts.get_by_label("row 8, Said of it").fill("drain")
        change.get_by_role("button", name="Keep").click()
        expect(sheet).not_to_contain_text("gascolator has a drain")
        expect(sheet).to_contain_text("H1 is in the engine bay: it must resist fire")
        sheet.get_by_role("button", name="Change").click()
        sheet.get_by_role("button", name="Take away Fuel").click()
        sheet.get_by_label("Why").fill("begun twice")
        sheet.get_by_role("button", name="Take away Fuel").click()
        expect(page.get_by_role("heading", name="Begin with a question")).to_be_visible()
        self.assertFalse(Worksheet.objects.filter(aircraft__slug="moorhen").exists())

    def test_rows_are_pasted_from_a_spreadsheet_and_wrong_columns_are_told(self):
        page = self.page
        self.sign_in("Corin")
        self.go("/a/moorhen/lines?part=fittings&new=sealing")
        form = page.get_by_role("form", name="New: Sealing compound by fitting")
        form.get_by_label("Name of this sheet").fill("Fittings")
        first = form.get_by_label("Fittings, row 1, Which")

        def paste(text):
            first.evaluate(
                """(cell, text) => {
                    const data = new DataTransfer();
                    data.setData("text", text);
                    cell.dispatchEvent(new ClipboardEvent("paste",
                      { clipboardData: data, bubbles: true, cancelable: true }));
                }""",
                text,
            )

        paste("a\tb\tc\td\te\tf\tg")
        expect(form.get_by_role("alert")).to_contain_text("7 columns were pasted")
        paste("tank out\ttapered pipe thread\tfuel\ttape\tfuel\nwall\tflared\tfuel\tnothing")
        expect(form.get_by_role("alert")).to_have_count(0)
        expect(form.get_by_label("Fittings, row 2, Kind")).to_have_value("flare")
        form.get_by_role("button", name="Work it out").click()
        tried = page.get_by_role("region", name="Worked out, not kept")
        expect(tried).to_contain_text("Tape shreds")
        form.get_by_label("row 1, On its thread").select_option("paste")
        expect(tried).not_to_contain_text("Tape shreds")
        form.get_by_role("button", name="Keep").click()
        expect(
            page.get_by_role("complementary", name="Sheet").locator(".vmark-in").first
        ).to_be_visible()

    def test_every_kind_of_sheet_can_be_begun_from_its_part_and_says_what_it_asks(self):
        page = self.page
        self.sign_in("Corin")
        begun = 0
        for part in ("tubes", "hoses", "fuel", "brakes", "air-data", "tanks", "fittings"):
            self.go(f"/a/moorhen/lines?part={part}")
            rows = page.get_by_role("region", name="New worksheet").get_by_role("listitem")
            expect(rows.first).to_be_visible()
            for n in range(rows.count()):
                title = rows.nth(n).get_by_role("button").inner_text()
                rows.nth(n).get_by_role("button").click()
                form = page.get_by_role("form", name=f"New: {title}")
                form.get_by_role("button", name="Work it out").click()
                expect(
                    form.get_by_role("alert").or_(page.get_by_role("region", name="Worked out"))
                ).to_be_visible()
                form.get_by_role("button", name="Leave").click()
                begun += 1
        self.assertGreaterEqual(begun, 20)


class AtTheWires(InTheBrowser):
    def test_from_nothing_circuits_are_pasted_sized_mended_and_kept(self):
        page = self.page
        self.sign_in("Corin")
        self.go("/a/moorhen/wires")
        expect(page.get_by_role("heading", name="Begin with a question")).to_be_visible()
        page.get_by_role("button", name="Circuits: gauge and protection").click()
        form = page.get_by_role("form", name="New: Circuits: gauge and protection")
        form.get_by_label("Name of this sheet").fill("Panel")
        form.get_by_text("The system", exact=True).click()
        form.get_by_label("Bus: 14 or 28").fill("14")
        form.get_by_label("Circuits, row 1, Circuit", exact=True).evaluate(
            """(cell, text) => {
                const data = new DataTransfer();
                data.setData("text", text);
                cell.dispatchEvent(new ClipboardEvent("paste",
                  { clipboardData: data, bubbles: true, cancelable: true }));
            }""",
            "landing light\t7.9\tAWG 14\t10\t6400\tstructure\t\t4 mΩ\t12\t50\t150 °C\n"
            "radio\t2\tAWG 20\t5\t900\twire\t700\t\t10\t40\t150 °C",
        )
        form.get_by_role("button", name="Work it out").click()
        tried = page.get_by_role("region", name="Worked out, not kept")
        expect(tried).to_contain_text("AWG 14 is too thin. Needs AWG 10 by voltage drop")
        gauge = form.get_by_label("row 1, Gauge there")
        gauge.select_option("10")
        expect(tried).not_to_contain_text("too thin")
        expect(tried).to_contain_text("No limit is built in for AWG 10: enter your own")
        form.get_by_label("row 1, Your limit for it").fill("30")
        form.get_by_role("button", name="Keep").click()
        sheet = page.get_by_role("complementary", name="Sheet")
        expect(sheet.locator(".vmark-in").first).to_be_visible()
        table = page.get_by_role("region", name="Panel").get_by_role("table")
        expect(table).to_contain_text("landing light")
        self.assertEqual(
            Worksheet.objects.get(slug="panel").typed["circuits"][0]["structure"], "4 mΩ"
        )

    def test_every_kind_of_sheet_says_what_it_asks(self):
        page = self.page
        self.sign_in("Corin")
        begun = 0
        for part in (
            "",
            *["loads", "bundles", "grounds", "connectors", "tests", "compass", "antennas"],
        ):
            self.go(f"/a/moorhen/wires{part and '?part=' + part}")
            rows = page.get_by_role("region", name="New worksheet").get_by_role("listitem")
            expect(rows.first).to_be_visible()
            for n in range(rows.count()):
                title = rows.nth(n).get_by_role("button").inner_text()
                rows.nth(n).get_by_role("button").click()
                form = page.get_by_role("form", name=f"New: {title}")
                form.get_by_role("button", name="Work it out").click()
                expect(form.get_by_role("alert")).to_be_visible()
                form.get_by_role("button", name="Leave", exact=True).click()
                begun += 1
        self.assertEqual(begun, 29)
