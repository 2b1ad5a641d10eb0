"""A mangled tube, made again from its record: entered, stepped through, corrected, taken away."""

from playwright.sync_api import expect

from server.runs.models import Run
from server.tests.every_write import LEAK, TUBE
from testkit.browser import InTheBrowser


class AtTheBender(InTheBrowser):
    def test_a_tube_is_entered_stepped_through_corrected_and_taken_away(self):
        page = self.page
        self.sign_in("Corin")
        self.go("/a/moorhen/lines")
        expect(page.get_by_text("No lines yet.")).to_be_visible()
        page.get_by_role("button", name="New tube").click()
        form = page.get_by_role("form", name="New tube")
        for label, text in (
            ("Name", "Feed tube"), ("Outside diameter", "3/8 in"), ("Bend radius, mm", "30"),
            ("Corners of its route", TUBE["points"].replace("2150", "two")),
            ("Clamps along it", "200; 400"),
        ):  # fmt: skip
            form.get_by_label(label).fill(text)
        form.get_by_label("Material").select_option("aluminium")
        form.get_by_role("button", name="Keep").click()
        # What was typed is still there, and says what is wrong with it.
        expect(form.get_by_role("alert")).to_contain_text("points")
        expect(form.get_by_label("Corners of its route")).to_have_value(
            TUBE["points"].replace("2150", "two")
        )
        form.get_by_label("Corners of its route").fill(TUBE["points"])
        form.get_by_role("button", name="Keep").click()
        card = page.get_by_role("region", name="Bend card")
        expect(card).to_contain_text("Cut 682.7 mm")
        expect(card).to_contain_text("Next, bend 1: mark at 278.5 mm; bend to 42.0°.")
        sheet = page.get_by_role("complementary", name="Sheet")
        expect(sheet).to_contain_text("not said: what the bender grips")
        slider = card.get_by_role("slider")
        for said in ("turn the tube 180.0° counter-clockwise", "turn the tube 56.3°", "Finished"):
            slider.press("ArrowRight")
            expect(card.locator(".next-bend")).to_contain_text(said)
        sheet.get_by_role("button", name="Change Feed tube").click()
        change = page.get_by_role("form", name="Change Feed tube")
        change.get_by_text("Bender, fittings and springback").click()
        change.get_by_label("Straight that the bender grips").fill("60")
        change.get_by_label("First straight: flare").fill("40")
        change.get_by_label("Last straight needs").fill("40")
        change.get_by_role("button", name="Keep").click()
        expect(sheet).to_contain_text("No bend tighter than 23.8 mm, straights long enough.")
        page.reload()
        expect(sheet.locator(".vmark-in").first).to_be_visible()
        # A tank test that looks bad and is not: the air cooled, the gauge fell.
        leak = page.get_by_role("region", name="Leak test")
        leak.get_by_text("Test it").click()
        test = leak.get_by_role("form", name="Leak test")
        for label, text in (
            ("Air space of tank", LEAK["volume"]), ("The most it endures", LEAK["max_test"]),
            ("Gauge at the start", LEAK["start_gauge"]), ("Gauge at the end", "9 kPa"),
            ("Air in it at the start", LEAK["start_temperature"]),
            ("Air in it at the end", LEAK["end_temperature"]),
            ("Station pressure at the start", LEAK["start_barometer"]),
            ("Station pressure at the end", LEAK["end_barometer"]),
            ("Minutes from start", LEAK["minutes"]), ("Allowed", LEAK["allowed"]),
            ("Gauge known to", LEAK["u_gauge"]), ("Temperature, K", LEAK["u_temperature"]),
            ("Barometer", LEAK["u_barometer"]), ("Where test pressure", LEAK["source"]), ("Air space, %", LEAK["u_volume"]),
        ):  # fmt: skip
            test.get_by_label(label).fill(text)
        test.get_by_role("button", name="Work it out").click()
        expect(test.get_by_role("alert")).to_contain_text("highest test pressure")
        test.get_by_label("Gauge at the end").fill(LEAK["end_gauge"])
        test.get_by_role("button", name="Work it out").click()
        expect(leak.get_by_role("status")).to_contain_text("In")
        expect(leak.get_by_role("status")).to_contain_text("would show 2.209 kPa")
        test.get_by_role("button", name="Keep this test").click()
        expect(sheet).to_contain_text("allowed 1.20")
        leak.get_by_role("button", name="It was opened").click()
        expect(sheet).to_contain_text("test it again")
        leak.get_by_role("button", name="Take back").click()
        expect(sheet).to_contain_text("allowed 1.20")
        # What was done to it stays, and so does the line; one that nothing was done to goes.
        sheet.get_by_role("button", name="Change Feed tube").click()
        page.get_by_role("button", name="Take away Feed tube").click()
        away = page.get_by_role("form", name="Take away Feed tube")
        away.get_by_label("Why").fill("another route")
        away.get_by_role("button", name="Take away Feed tube").click()
        expect(away.get_by_role("alert")).to_contain_text("things done to it in the record")
        page.get_by_role("button", name="New tube").click()
        form = page.get_by_role("form", name="New tube")
        form.get_by_label("Name").fill("Spare tube")
        form.get_by_label("Entered by").select_option("bends")
        form.get_by_label("A straight on each line").fill("178.5 0 42\n84.7 180 42\n110")
        form.get_by_label("Outside diameter").fill("3/8 in")
        form.get_by_label("Bend radius, mm").fill("30")
        form.get_by_label("Material").select_option("steel")
        form.get_by_role("button", name="Keep").click()
        expect(sheet).to_contain_text("it has no place in the aircraft yet")
        sheet.get_by_role("button", name="Change Spare tube").click()
        page.get_by_role("button", name="Take away Spare tube").click()
        away = page.get_by_role("form", name="Take away Spare tube")
        away.get_by_label("Why").fill("another route")
        away.get_by_role("button", name="Take away Spare tube").click()
        expect(page.get_by_role("heading", name="1 line")).to_be_visible()
        self.assertEqual(Run.objects.filter(aircraft__slug="moorhen").count(), 1)

    def test_corners_are_pointed_at_on_the_airframe_and_moved_in_another_view(self):
        page = self.page
        self.sign_in("Corin")
        self.go("/a/moorhen/lines?new=")
        form = page.get_by_role("form", name="New tube")
        form.get_by_text("Point at its corners on the airframe").click()
        side = form.get_by_role("img", name="From the left side")
        corners = form.get_by_label("Corners of its route")

        def rows():
            return [[float(x) for x in r.split()] for r in corners.input_value().split("\n")]

        for n, x in enumerate((90, 150), 1):
            side.click(position={"x": x, "y": 50})
            expect(form.get_by_role("button", name=f"Hold corner {n}")).to_be_visible()
        first, second = rows()
        self.assertLess(first[0], second[0])
        self.assertEqual(first[1], second[1])
        self.assertAlmostEqual(first[2], second[2], delta=40)
        form.get_by_role("button", name="Hold corner 2").click()
        form.get_by_role("img", name="Plan").click(position={"x": 200, "y": 30})
        moved = rows()
        self.assertEqual(moved[0], first)
        self.assertEqual(moved[1][2], second[2])
        self.assertNotEqual(moved[1][:2], second[:2])
        form.get_by_role("button", name="Take corner 2 out").click()
        self.assertEqual(rows(), [first])

    def test_a_leak_test_is_read_live_and_worked_out_as_it_comes(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/lines?line=pitot-line-left-wing")
        leak = page.get_by_role("region", name="Leak test")
        leak.get_by_text("Test it").click()
        form = leak.get_by_role("form", name="Leak test")
        form.get_by_label("Air space of tank").fill("0.1 l")
        form.get_by_label("The most it endures").fill("3.4 kPa")
        form.get_by_label("Allowed, ml").fill("0.1")
        form.get_by_label("Air space, %").fill("3")
        form.get_by_label("Where test pressure").fill("Manual chapter 9, p. 31")
        live = leak.get_by_role("region", name="Read live")
        live.get_by_role("button", name="Begin, read live").click()
        expect(live.get_by_role("img", name="Gauge through the test")).to_be_visible()
        said = leak.get_by_role("status").filter(has_text="Without a leak")
        expect(said).to_contain_text("ml of air a minute")
        live.get_by_role("button", name="End here").click()
        start = form.get_by_label("Gauge at the start").input_value()
        self.assertAlmostEqual(float(start.removesuffix(" kPa")), 2.45, delta=0.02)
        outside = form.get_by_label("Station pressure at the end").input_value()
        self.assertAlmostEqual(float(outside.removesuffix(" kPa")), 101.12, delta=0.05)
        form.get_by_role("button", name="Keep this test").click()
        expect(leak.get_by_role("listitem").first).to_contain_text("Leak test")
        kept = Run.objects.get(slug="pitot-line-left-wing").events.get()
        self.assertEqual(kept.typed["start_gauge"], start)
        self.assertGreater(kept.inputs["u_gauge_Pa"], 4.0)
