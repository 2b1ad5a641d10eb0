"""Worksheets at the shed: a brake line too short at one pedal position, a fuel system from nothing,
rows pasted from a spreadsheet."""

import re

from playwright.sync_api import expect

from server.wires.models import HarnessRow
from server.worksheets.models import Worksheet
from testkit.browser import InTheBrowser

# The harness’s fields by a word.
WORDS = {
    "current": "Current, A", "protector": "Protector, A", "ambient": "Hottest place",
    "bus": "Bus: 14 or 28", "contacts": "Contacts, m", "structure": "Structure, m",
    "pins": "Pins with thinnest", "apart": "Classes that must not", "klass": "Class",
    "bundles": "In bundles", "start": "Starts at", "end": "Ends at", "length": "Length, mm",
}  # fmt: skip


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
        self.go("/a/moorhen/wires?part=circuits")
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
        expect(form.get_by_role("alert")).to_contain_text("in which document the limits stand")
        form.get_by_label("From").select_option(index=1)
        form.get_by_role("button", name="Keep").click()
        sheet = page.get_by_role("complementary", name="Sheet")
        expect(sheet.locator(".vmark-in").first).to_be_visible()
        table = page.get_by_role("region", name="Panel").get_by_role("table")
        expect(table).to_contain_text("landing light")
        self.assertEqual(
            Worksheet.objects.get(slug="panel").typed["circuits"][0]["structure"], "4 mΩ"
        )

    def test_a_lamp_is_wired_from_nothing_and_a_bundle_warns_until_it_is_moved(self):
        page = self.page
        self.sign_in("Corin")
        self.go("/a/moorhen/wires")
        harness = page.get_by_role("region", name="Harness")
        sheet = page.get_by_role("complementary", name="Sheet")
        expect(harness).to_contain_text("Nothing yet.")

        def new(kind, name, chosen=None, kept=True, **typed):
            page.get_by_role("button", name=f"New {kind}").click()
            form = page.get_by_role("form", name=f"New {kind}")
            form.get_by_label("Name *").fill(name)
            for label, value in (chosen or {}).items():
                form.get_by_label(label).select_option(value)
            for label, value in typed.items():
                form.get_by_label(WORDS.get(label, label)).first.fill(value)
            form.get_by_role("button", name="Keep").click()
            if kept:
                expect(sheet.get_by_role("heading", name=name)).to_be_visible()
            return form

        lamp = {"Returns by": "structure", "Wire rated": "150", "Duty": "continuous"}
        said = {"current": "7.2", "protector": "10", "ambient": "45", "bus": "14"}
        new("circuit", "Landing light", lamp, **said, contacts="8", structure="3")
        expect(sheet).to_contain_text("which wires it has")
        ends = {"Its contacts are": "terminal"}
        new("connector", "CB1", ends, pins="1-4 22 10")
        new("connector", "P9", {"Its contacts are": "socket"}, pins="1-2 20 10")
        new("bundle", "Wing bundle", apart="strobe/audio")
        new("circuit", "Audio")
        of = {"Circuit *": "Audio", "It is *": "signal"}
        new("wire", "W40", of, klass="audio", bundles="Wing bundle")
        of = {"Circuit *": "Landing light", "It is *": "feed", "Gauge": "16"}
        form = new("wire", "W20", of, kept=False, start="CB1.1", end="P9.1", length="6400", klass="strobe",
                   bundles="Wing")  # fmt: skip
        expect(form.get_by_role("alert")).to_contain_text("Wing is not a bundle here")
        form.get_by_label(WORDS["bundles"]).fill("Wing bundle")
        form.get_by_role("button", name="Keep").click()
        # The advised gauge is taken.
        page.get_by_role("button", name="Landing light").click()
        expect(sheet).to_contain_text("AWG 16 is too thin. Needs AWG 12 by voltage drop")
        page.get_by_role("button", name="W20", exact=True).click()
        sheet.get_by_role("button", name="Change W20").click()
        form = page.get_by_role("form", name="Change W20")
        form.get_by_label("Gauge").select_option("12")
        form.get_by_role("button", name="Keep").click()
        page.get_by_role("button", name="Landing light").click()
        expect(sheet).not_to_contain_text("too thin")
        # What shares the bundle is warned of, until it is moved.
        page.get_by_role("button", name="Wing bundle").click()
        expect(sheet).to_contain_text("W20 (strobe) with W40 (audio)")
        page.get_by_role("button", name="W40", exact=True).first.click()
        sheet.get_by_role("button", name="Change W40").click()
        form = page.get_by_role("form", name="Change W40")
        form.get_by_label(WORDS["bundles"]).fill("")
        form.get_by_role("button", name="Keep").click()
        page.get_by_role("button", name="Wing bundle").click()
        expect(sheet).to_contain_text("No two that must stay apart share it.")
        # Step by step it becomes whole.
        expect(harness).to_contain_text("0 % done")
        page.get_by_role("button", name="W20", exact=True).first.click()
        for word in ("It is run", "Its start is terminated", "Its end is terminated"):
            sheet.get_by_role("button", name=word).click()
            expect(sheet.get_by_role("button", name=word)).to_have_count(0)
        sheet.get_by_label("The meter reads").fill("78 mohm")
        sheet.get_by_label("The meter is good to").fill("1 mohm")
        sheet.get_by_label("Its leads alone").fill("40 mohm")
        sheet.get_by_label("Contacts may").fill("4 mohm")
        sheet.get_by_role("button", name="Keep this test").click()
        expect(sheet).to_contain_text("38.0 mΩ")
        expect(harness).to_contain_text("40 % done")
        sheet.get_by_role("button", name="Take back").click()
        expect(sheet).not_to_contain_text("38.0 mΩ")
        self.assertEqual(HarnessRow.objects.filter(aircraft__slug="moorhen").count(), 7)

    def test_the_first_power_goes_breaker_by_breaker_with_a_live_ammeter(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/wires?part=harness&row=main-bus")
        sheet = page.get_by_role("complementary", name="Sheet")
        expect(sheet.get_by_role("heading", level=2).nth(1)).to_contain_text("in the way of power")
        sheet.get_by_role("button", name="Strobe supply is not tested.").click()
        expect(sheet.get_by_role("heading", name="Strobe supply")).to_be_visible()
        diagram = sheet.get_by_role("group", name="The circuit, wire by wire")
        expect(diagram).to_contain_text("breaker 7.5 A")
        diagram.get_by_role("link", name="W31").click()
        expect(sheet).to_contain_text("Not yet: its start terminated")
        page.get_by_role("button", name="Night bus").click()
        sheet.get_by_label("Battery at the lugs").fill("12.6 V")
        sheet.get_by_role("button", name="Keep the polarity").click()
        expect(sheet).to_contain_text("1 thing in the way of power")
        sheet.get_by_role("button", name="Every breaker is pulled").click()
        for breaker in ("bus", "CB1.4"):
            sheet.get_by_role("button", name="Read it: ammeter of the bus").click()
            sheet.get_by_role("button", name="Take it").click()
            expect(sheet.get_by_label("The ammeter is good to")).to_have_value(re.compile("A$"))
            sheet.get_by_role("button", name=f"{breaker} is in").click()
            expect(
                sheet.get_by_text(re.compile(f"^{breaker} put in", re.IGNORECASE))
            ).to_be_visible()
        expect(sheet).to_contain_text("Every breaker is in")
        row = sheet.get_by_role("row").filter(has_text="Tail beacon")
        expect(row).to_contain_text(re.compile(r"1\.1\d ± "))

    def test_a_wire_is_tested_with_a_live_meter_and_a_section_shows_what_lies_in_its_bundle(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/wires?part=harness&row=w30")
        sheet = page.get_by_role("complementary", name="Sheet")
        sheet.get_by_role("button", name="Read it: multimeter").click()
        sheet.get_by_role("button", name="Take it").click()
        sheet.get_by_label("Its leads alone").fill("40 mohm")
        sheet.get_by_label("Contacts may").fill("10 mohm")
        sheet.get_by_role("button", name="Keep this test").click()
        expect(sheet).to_contain_text("All of it is done.")
        page.get_by_role("button", name="Aft bundle").click()
        expect(sheet).to_contain_text("beside Rudder: Right cable")
        view = sheet.get_by_role("group", name=re.compile("^Section, seen from behind"))
        expect(view.locator("circle.wire")).to_have_count(2)
        sheet.get_by_label("Station").fill("100 mm")
        expect(sheet).to_contain_text("It does not pass there.")
        pdf = page.request.get(f"{self.live_server_url}/api/aircraft/fenlark/harness/labels.pdf")
        self.assertEqual(pdf.body()[:5], b"%PDF-")

    def test_a_detector_is_triggered_recorded_and_judged_against_its_windows(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/wires?part=tests&new=over+time")
        form = page.get_by_role("form", name="New: Does it do what it should?")
        form.get_by_label("Name of this sheet").fill("Gas detector")
        windows = form.get_by_role("table").first
        for n, value in enumerate(("self-test", "0", "2", "95")):
            windows.get_by_role("textbox").nth(n).fill(value)
        windows.get_by_role("combobox").select_option("every")
        form.get_by_label("Greatest gap").fill("1.5 s")
        form.get_by_role("button", name="Trigger it and record: Gas detector").click()
        expect(form.get_by_text("Recording …")).to_be_visible()
        expect(form.get_by_text("Recording …")).to_have_count(0)
        expect(form.get_by_label("U of a reading")).to_have_value(re.compile(r"^\d"))
        form.get_by_role("button", name="Work it out").click()
        worked = page.get_by_role("region", name="Worked out, not kept")
        expect(worked).to_contain_text("As it should be.")
        expect(worked.get_by_role("img", name="Readings over time")).to_be_visible()

    def test_a_quiet_place_is_found_on_the_map_of_the_currents_as_entered(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/wires?part=compass")
        sheet = page.get_by_role("complementary", name="Sheet")
        expect(sheet).to_contain_text("right rudder cable")
        expect(sheet.locator(".verdict-line, h2 + *").first).to_be_visible()
        self.go("/a/fenlark/wires?part=compass&new=field")
        form = page.get_by_role("form", name=re.compile("^New: "))
        form.get_by_role("button", name="Begin with: the harness as entered").click()
        sensor = form.get_by_label("Sensor: station")
        sensor.fill("2550; 1600; 1000")
        form.get_by_label("Earth’s horizontal field").fill("20")
        form.get_by_label("Error allowed").fill("1")
        form.get_by_role("button", name="Work it out").click()
        worked = page.get_by_role("region", name="Worked out, not kept")
        verdict = worked.locator(".verdict-word").first
        expect(verdict).to_have_text("Out")
        field = worked.get_by_role("img", name="Error of the compass around the sensor")
        box = field.bounding_box()
        field.click(position={"x": box["width"] - 6, "y": 12})
        expect(sensor).not_to_have_value("2550; 1600; 1000")
        expect(verdict).to_have_text("In")

    def test_the_rings_of_the_panel_are_drawn_and_the_harness_begins_a_sheet(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/wires?part=grounds")
        rings = page.get_by_role("img", name=re.compile("^A ring of"))
        expect(rings).to_have_count(2)
        expect(rings.first).to_contain_text("airframe")
        self.go("/a/fenlark/wires?part=loads&new=phases")
        page.get_by_role("button", name="Begin with: the harness as entered").click()
        loads = page.get_by_role("table").last
        expect(loads.get_by_role("textbox").first).to_have_value("Right landing light")

    def test_every_kind_of_sheet_says_what_it_asks(self):
        page = self.page
        self.sign_in("Corin")
        begun = 0
        for part in (
            "circuits", "loads", "bundles", "grounds", "connectors", "tests", "compass", "antennas",
        ):  # fmt: skip
            self.go(f"/a/moorhen/wires?part={part}")
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
