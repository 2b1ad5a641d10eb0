"""Jobs on the lane: a new airframe, a pin left out and put in, and what is behind a panel."""

import re
from datetime import UTC, datetime

from playwright.sync_api import expect

from server.aircraft.models import Bay
from server.demo.pictures import drawing
from server.record.models import Photo
from testkit.browser import InTheBrowser


class LaneJobs(InTheBrowser):
    def test_an_aircraft_from_a_template_and_a_bay_mended_by_dragging(self):
        page = self.page
        self.sign_in("Corin")
        page.get_by_role("link", name="New aircraft").click()
        page.get_by_label("Name").fill("Dunnock")
        page.get_by_label("Wing").select_option("high")
        page.get_by_label("Landing gear").select_option("tailwheel")
        page.get_by_role("button", name="Make it").click()
        page.get_by_role("heading", name="Airframe").wait_for()
        nose = page.get_by_role("form", name="Bay", exact=True).get_by_label("Station to")
        expect(nose).to_have_value("1460 mm")
        # Drag the rear edge of the nose into the footwell: the overlap shows while it happens.
        side = page.get_by_role("group", name="Side view")
        edge = side.get_by_role("slider", name=re.compile("^rear edge")).locator(".edge-grip")
        box = edge.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 30, y, steps=6)
        expect(side.locator(".box-clash")).not_to_have_count(0)
        page.mouse.move(x - 20, y, steps=6)
        expect(side.locator(".box-clash")).to_have_count(0)
        page.mouse.up()
        expect(nose).not_to_have_value("1460 mm")
        dragged = nose.input_value()
        self.assertRegex(dragged, r"^\d+ mm$")
        back = page.get_by_role("button", name="Take the last move back")
        expect(back).to_be_enabled()
        kept = Bay.objects.get(aircraft__slug="dunnock", slug="nose")
        self.assertEqual(f"{round(kept.x1_m * 1000)} mm", dragged)
        # The arrow keys move it by a millimetre, one key takes it back, typing writes the same.
        handle = side.get_by_role("slider", name=re.compile("^rear edge"))
        handle.focus()
        page.keyboard.press("ArrowRight")
        expect(nose).to_have_value(f"{int(dragged.split()[0]) + 1} mm")
        expect(back).to_be_enabled()
        page.keyboard.press("u")
        expect(nose).to_have_value(dragged)
        page.keyboard.press("u")
        expect(nose).to_have_value("1460 mm")
        nose.fill("1500 mm")
        page.get_by_role("button", name="Keep limits").click()
        expect(page.get_by_role("alert")).to_contain_text("Nose and Footwell overlap")
        nose.fill("57 1/2 in")
        page.get_by_role("button", name="Keep limits").click()
        expect(page.get_by_role("alert")).to_contain_text("overlap")
        nose.fill("1400")
        page.get_by_role("button", name="Keep limits").click()
        expect(page.get_by_role("alert")).to_contain_text(
            "Between Nose and Footwell, 60 mm are in no bay."
        )
        nose.fill("1460")
        page.get_by_role("button", name="Keep limits").click()
        expect(page.get_by_role("alert")).to_have_count(0)
        # And a lane, whose gates are not ready as long as nobody described the bays.
        page.get_by_role("link", name="Lane 1").click()
        page.get_by_role("heading", name="Next to close").wait_for()
        expect(page.locator(".closings")).to_contain_text("Cowl")
        expect(page.locator(".gate-items").first).to_contain_text("nobody said there is none")

    def test_a_cotter_pin_left_out_blocks_the_gate_and_put_in_opens_it(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/closures/bulkhead-cover")
        page.get_by_label("Tool or object").fill("torch")
        page.get_by_role("button", name="Count in").click()
        expect(page.locator(".gate-items")).to_contain_text("inside: torch (1)")
        page.get_by_role("button", name="All out").click()
        expect(page.locator(".gate-items")).not_to_contain_text("torch")
        bar = page.locator("#entry")
        bar.fill("loose cotter pin elev idl")
        bar.press("Escape")
        bar.fill("loose cotter pin elevator idler bolt: until the final rig")
        expect(page.locator(".entry-said")).to_contain_text("Loose end at Elevator idler bolt")
        bar.press("Enter")
        state = page.locator(".gate-state")
        expect(state).to_have_text("Blocked: 2 in the way")
        expect(page.locator(".gate-items")).to_contain_text("left temporary; not safetied")
        expect(page.get_by_role("button", name="Close for good")).to_be_disabled()
        expect(page.locator(".ends-tag")).to_have_text("6 loose ends")
        page.get_by_role("region", name="Gate").get_by_role("link", name="Joints").click()
        page.get_by_role("button", name="Cotter pin is in").click()
        expect(page.locator(".joint-state")).to_have_text("Safetied, final")
        expect(page.locator(".ends-tag")).to_have_text("5 loose ends")
        self.go("/a/fenlark/closures/bulkhead-cover")
        expect(state).to_have_text("Ready to close")
        page.get_by_role("button", name="Close for good").click()
        expect(state).to_have_text("Closed")
        expect(page.locator(".happened")).to_contain_text("torch 1 in, 1 out")
        page.get_by_label("Why it is opened").fill("label forgotten")
        page.get_by_role("button", name="Open it").click()
        expect(state).to_contain_text("1 in the way")

    def test_a_joint_behind_a_closed_panel_and_what_to_open(self):
        page = self.page
        self.sign_in("Ansel")
        # Close the aft top skin over everything, by a named person with a reason.
        self.go("/a/fenlark/closures/aft-top-skin")
        page.get_by_text("Close over something that is not done").click()
        form = page.get_by_role("form", name="Override")
        for tick in form.get_by_role("checkbox").all():
            tick.check()
        form.get_by_label("Reason, who agreed").fill("counselor agreed on the telephone")
        form.get_by_label("Your password again").fill("shed-lamp-42")
        form.get_by_role("button", name="Override").click()
        expect(page.locator(".gate-state")).to_have_text("Overridden")
        page.get_by_role("button", name="Close for good").click()
        expect(page.locator(".gate-state")).to_have_text("Closed")
        expect(page.locator(".override")).to_contain_text("counselor agreed")
        # Five years later.
        page.get_by_role("link", name="Find").click()
        page.get_by_label("Look for").fill("bellcrank bolt")
        found = page.get_by_role("region", name="Aft fuselage")
        expect(found).to_contain_text("Open Left hatch")
        expect(found).to_contain_text("Aft top skin (permanent, closed)")
        expect(found.get_by_role("img")).to_be_visible()
        page.get_by_label("Look for").fill("fairlead")
        expect(found).to_contain_text("Out of reach: needs 866 mm of arm through Left hatch")
        found.get_by_role("link", name="Rudder cable fairlead").click()
        page.get_by_role("heading", name="Rudder cable fairlead").wait_for()

    def test_a_picture_is_taken_marked_and_a_broken_one_refused(self):
        page = self.page
        self.sign_in("Ines")
        self.go("/a/fenlark/bays/nose")
        page.get_by_label("What it shows").fill("gascolator from below")
        good = drawing("bolt", datetime.now(UTC))
        field = page.get_by_label("Picture", exact=True)
        field.set_input_files({"name": "a.jpg", "mimeType": "image/jpeg", "buffer": good})
        thumb = page.get_by_role("button", name=re.compile("gascolator from below"))
        thumb.click()
        large = page.locator(".photo-large")
        page.get_by_label("Label to put down").fill("drain")
        large.click(position={"x": 120, "y": 90})
        expect(large.locator(".overlay text")).to_have_text("drain")
        start, to = {"x": 40, "y": 40}, {"x": 200, "y": 160}
        large.drag_to(large, source_position=start, target_position=to)
        expect(large.locator(".overlay path")).to_have_count(1)
        # The same by the keys alone: back to the picture, an arrow down to the right.
        page.get_by_role("form", name="Draw on the picture").get_by_label("What it shows").press(
            "Shift+Tab"
        )
        expect(page.locator(".photo-cross")).to_be_visible()
        for key in ("Space", "ArrowRight", "ArrowRight", "ArrowDown", "Space"):
            page.keyboard.press(key)
        expect(large.locator(".overlay path")).to_have_count(2)
        page.get_by_role("button", name="Keep the marks").click()
        expect(page.locator(".thumb .overlay text")).to_have_text("drain")
        expect(page.locator(".thumb .overlay path")).to_have_count(2)
        arrow = Photo.objects.get(caption="gascolator from below").overlay[-1]
        self.assertEqual([arrow[k] for k in ("x0", "y0", "x1", "y1")], [0.5, 0.5, 0.55, 0.525])
        bad = {"name": "b.jpg", "mimeType": "image/jpeg", "buffer": good[:4000]}
        field.set_input_files(bad)
        expect(page.locator(".drop .said")).to_contain_text("is damaged")

    def test_documents_that_disagree_are_decided_and_the_counselor_sees_what_is_new(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/sources")
        flap = page.get_by_role("region", name=re.compile("^Flaps: Left flap"))
        expect(flap).to_contain_text("35 to 37°")
        expect(flap).to_contain_text("They have nothing in common")
        flap.get_by_label("This one counts").first.check()
        flap.get_by_label("Why; who answered").fill("kit maker's letter of 3 March")
        flap.get_by_role("button", name="Decide").click()
        expect(flap).to_contain_text("kit maker's letter of 3 March")
        self.sign_out()
        self.sign_in("Odile")
        self.go("/a/fenlark/since")
        expect(page.locator(".happened").first).to_contain_text("Decided: Flaps: Left flap")
        expect(page.get_by_role("complementary", name="Look at first")).to_contain_text(
            "Aft top skin"
        )
        page.get_by_role("button", name="I have seen all this").click()
        expect(page.get_by_text("0 changes")).to_be_visible()

    def test_the_entry_bar_completes_asks_which_and_undoes_work_on_a_joint(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/joints?joint=elevator-idler-bolt")
        bar, said = page.locator("#entry"), page.locator(".entry-said")
        bar.fill("pin elevator b")
        bar.press("Tab")
        expect(bar).to_have_value("pin elevator bellcrank bolt")
        bar.fill("pin bellcrank bushing")
        expect(said).to_contain_text("Which?")
        said.get_by_role("button", name="pin left aileron bellcrank bushing").click()
        expect(bar).to_have_value("pin left aileron bellcrank bushing")
        bar.fill("pin elevator idler")
        expect(said).to_contain_text("Elevator idler bolt: safetied")
        bar.press("Enter")
        expect(page.locator(".joint-state")).to_have_text("Safetied, final")
        said.get_by_role("button", name="Undo").click()
        expect(page.locator(".joint-state")).to_have_text("Torqued: not safetied")
