"""More jobs through the real interface: deciding, refusing, reworking, preparing."""

import re

from playwright.sync_api import expect

from testkit.base import PASSWORD
from testkit.browser import InTheBrowser


class MoreJobs(InTheBrowser):
    def test_sources_that_disagree_are_shown_side_by_side_and_decided_with_a_reason(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/controls/flaps")
        part = page.get_by_role("region", name="Sources")
        expect(page.get_by_role("heading", name="Sources disagree")).to_be_visible()
        expect(part).to_contain_text("35° to 37°")
        expect(part).to_contain_text("38° to 40°")
        part.get_by_role("radio").first.check()
        part.get_by_label("Why this one").fill("no")
        part.get_by_role("button", name="Decide").click()
        expect(part).to_contain_text("10 characters")
        part.get_by_label("Why this one").fill("maker confirmed the drawing in writing")
        part.get_by_role("button", name="Decide").click()
        expect(page.get_by_role("heading", name="Decided between sources")).to_be_visible()
        expect(page.locator(".verdict-line .verdict-word")).to_have_text("In")

    def test_a_counselor_refuses_with_a_reason_and_cannot_correct_readings(self):
        page = self.page
        self.sign_in("Odile")
        self.go("/a/fenlark/controls/elevator")
        page.get_by_role("heading", name="Signatures").wait_for()
        expect(page.get_by_role("button", name="Correct")).to_have_count(0)
        expect(page.get_by_role("button", name="Measure all again")).to_have_count(0)
        form = page.get_by_role("form", name="Sign", exact=True)
        form.get_by_label("Reason").fill("aft jam nut has no witness mark")
        form.get_by_label("Your password again").fill("wrong")
        form.get_by_role("button", name="Refuse to sign").click()
        expect(form).to_contain_text("is not yours")
        form.get_by_label("Your password again").fill(PASSWORD["odile"])
        form.get_by_role("button", name="Refuse to sign").click()
        expect(page.locator(".entries")).to_contain_text("aft jam nut has no witness mark")

    def test_after_rework_all_is_measured_again_and_the_old_round_is_kept(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/controls/elevator")
        page.get_by_role("button", name="Measure all again").click()
        page.get_by_label("What was reworked").fill("aft rod one turn longer")
        page.get_by_role("button", name="Begin a new round").click()
        expect(page.locator(".verdict-line .verdict-word")).to_have_text("Not measured")
        page.get_by_role("button", name="Round 1").click()
        expect(page).to_have_url(re.compile("round=1"))
        expect(page.locator(".verdict-line .verdict-word")).to_have_text("Too close to call")
        expect(page.get_by_text("closed for readings")).to_be_visible()
        expect(page.get_by_role("form", name="Keep a reading")).to_have_count(0)

    def test_a_change_made_meanwhile_is_shown_beside_one_s_own(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/controls/elevator")
        page.get_by_role("button", name="Change", exact=True).click()
        form = page.get_by_role("form", name="Requirement", exact=True)
        form.get_by_label("High").fill("21")
        form.get_by_label("Why it is changed").fill("revision B")
        # Meanwhile the same requirement is changed in another window.
        other = self.context.new_page()
        other.goto(page.url)
        other.get_by_role("button", name="Change", exact=True).click()
        theirs = other.get_by_role("form", name="Requirement", exact=True)
        theirs.get_by_label("High").fill("20.8")
        theirs.get_by_label("Why it is changed").fill("letter of the maker")
        theirs.get_by_role("button", name="Keep").click()
        expect(other.locator(".verdict-sheet")).to_contain_text("17.5° to 20.8°")
        # What was done elsewhere is told, and changes nothing under what is being entered.
        expect(page.get_by_text("Something was done elsewhere meanwhile")).to_be_visible()
        form.get_by_role("button", name="Keep").click()
        expect(form).to_contain_text("changed meanwhile")
        expect(form).to_contain_text("17.5 to 20.8")
        expect(form.get_by_label("High")).to_have_value("21")

    def test_a_template_is_made_for_a_position_and_a_bad_one_says_which_field(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/controls/elevator")
        page.get_by_role("tab", name="Template").click()
        form = page.get_by_role("form", name="Template")
        expect(form.get_by_label("Included angle")).to_have_attribute("placeholder", "145.5")
        for kind in ("PDF, 1:1", "SVG", "DXF"):
            with page.expect_download() as download:
                form.get_by_role("button", name=kind).click()
            ending = kind.split(",")[0].lower()
            self.assertEqual(download.value.suggested_filename, f"elevator-template.{ending}")
        form.get_by_label("Notch radius").fill("2")
        form.get_by_role("button", name="SVG").click()
        expect(form).to_contain_text("notch must take away the corner")

    def test_geometry_instruments_and_requirements_are_entered_as_typed(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/controls/trim")
        page.get_by_role("tab", name="Surfaces").click()
        geometry = page.get_by_role("form", name="Geometry, Trim tab")
        geometry.get_by_label("Hinge axis").fill("4 in")
        geometry.get_by_role("button", name="Keep").click()
        expect(page.get_by_text("hinge to trailing edge 102 mm")).to_be_visible()
        geometry.get_by_label("Hinge axis").fill("-4")
        geometry.get_by_role("button", name="Keep").click()
        expect(geometry).to_contain_text("greater than zero")
        page.get_by_role("tab", name="Instruments").click()
        new = page.get_by_role("form", name="New instrument")
        new.get_by_label("Name").fill("Small level")
        new.get_by_label("One step").fill("0.1")
        new.get_by_role("button", name="Add").click()
        expect(new).to_contain_text("accuracy: is needed")
        new.get_by_label("Accuracy").fill("0.15°")
        new.get_by_role("button", name="Add").click()
        expect(page.locator(".paperwork .rows")).to_contain_text("Small level")
        # A gauge past its calibration is renewed where it stands.
        page.get_by_role("button", name="Change Old angle gauge").click()
        renewed = page.get_by_role("form", name="Change Old angle gauge")
        renewed.get_by_label("Calibration due").fill("2099-12-31")
        renewed.get_by_role("button", name="Keep").click()
        expect(page.locator(".paperwork .rows")).to_contain_text("good to 2099-12-31")
        page.get_by_role("tab", name="Requirements").click()
        asked = page.get_by_role("form", name="New requirement")
        asked.get_by_label(re.compile("^What is asked")).select_option("neutral")
        for label, value in (("Asked", "0"), ("Plus", "0.5"), ("Minus", "0.5")):
            asked.get_by_role("textbox", name=f"{label}, °").fill(value)
        asked.get_by_role("button", name="Add requirement").click()
        expect(page.locator(".asked")).to_contain_text("neutral alignment")

    def test_the_lane_steps_by_keyboard_and_narrows_every_page(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark")
        page.get_by_role("heading", name="Next to close").wait_for()
        page.keyboard.press("]")
        expect(page).to_have_url(re.compile("bay=nose"))
        expect(page.locator(".closings > li")).to_have_count(1)
        page.get_by_role("button", name=re.compile("^Fin: Stale")).click()
        expect(page).to_have_url(re.compile("bay=fin"))
        # On a bay's own page the lane steps from page to page.
        page.get_by_role("link", name="Everything in this bay").click()
        page.get_by_role("heading", name="Stale Fin").wait_for()
        page.keyboard.press("[")
        expect(page).to_have_url(re.compile("bays/right-tip"))
        page.keyboard.press("]")
        page.get_by_role("heading", name="Stale Fin").wait_for()
        page.keyboard.press("2")
        expect(page).to_have_url(re.compile("controls/elevator.*bay=fin"))
        page.keyboard.press("\\")
        expect(page).not_to_have_url(re.compile("bay="))
        page.keyboard.press("?")
        expect(page.get_by_role("dialog", name="Help")).to_be_visible()
        page.get_by_label("Single keys act").uncheck()
        page.get_by_role("button", name="Close", exact=True).click()
        page.keyboard.press("1")
        expect(page).to_have_url(re.compile("controls"))

    def test_a_cut_end_shows_against_the_witness_written_down(self):
        page = self.page
        self.sign_in("Odile")
        self.go("/a/fenlark/sign-off")
        form = page.get_by_role("form", name="Check the ledger")
        form.get_by_label("Witnessed entry number").fill("3")
        form.get_by_role("button", name="Check the ledger").click()
        expect(form).to_contain_text("a witness has a number and a hash")
        form.get_by_label("Its hash").fill("a" * 64)
        form.get_by_role("button", name="Check the ledger").click()
        expect(page.locator(".checked")).to_contain_text("ledger ends before the witnessed entry")


class Together(InTheBrowser):
    """Two people at once, and a line that breaks."""

    def test_what_another_does_is_seen_within_two_seconds_and_what_is_typed_stays(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/controls/elevator")
        page.get_by_label("Reading, °").fill("26.")
        tag = page.get_by_role("link", name=re.compile("loose ends?$"))
        before = tag.inner_text()
        other = self.context.browser.new_context()
        self.addCleanup(other.close)
        theirs = other.new_page()
        theirs.goto(self.live_server_url)
        theirs.get_by_role("button", name="Ines").click()
        theirs.get_by_role("heading", name="Aircraft").wait_for()
        theirs.goto(f"{self.live_server_url}/a/fenlark/loose-ends")
        theirs.get_by_text("Leave something loose").click()
        form = theirs.get_by_role("form", name="Loose end", exact=True)
        form.get_by_label("What is loose").fill("cap left off")
        form.get_by_label("What ends it").fill("the first start")
        form.get_by_role("button", name="Leave it loose").click()
        expect(theirs.get_by_text("cap left off")).to_be_visible()
        expect(tag).not_to_have_text(before, timeout=3_000)
        expect(page.get_by_label("Reading, °")).to_have_value("26.")

    def test_without_a_connection_the_menu_stays_and_it_goes_on_by_itself(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/controls/elevator")
        page.get_by_label("Reading, °").wait_for()
        self.context.set_offline(True)
        told = page.get_by_text("No connection. What you see is as it was read last")
        expect(told).to_be_visible()
        page.get_by_role("navigation", name="Trades").get_by_role("link", name="Sign-off").click()
        expect(page.get_by_role("navigation", name="Trades")).to_be_visible()
        self.context.set_offline(False)
        expect(told).to_have_count(0)
        expect(page.get_by_role("heading", name="Sign-off", exact=True)).to_be_visible()
