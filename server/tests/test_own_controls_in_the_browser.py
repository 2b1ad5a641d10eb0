"""From an empty lane to a first verdict, through the interface alone."""

import re
import time

from playwright.sync_api import expect

from testkit.browser import InTheBrowser


class FirstVerdict(InTheBrowser):
    def form(self, name):
        return self.page.get_by_role("form", name=name, exact=True)

    def fill(self, form, **fields):
        for label, text in fields.items():
            self.form(form).get_by_label(label.replace("_", " "), exact=True).fill(text)

    def begin(self):
        page = self.page
        self.sign_in("Corin")
        page.get_by_text("New aircraft").first.click()
        page.get_by_label("Name", exact=True).fill("Shed Plane")
        page.get_by_role("button", name="Make it").click()
        page.get_by_role("heading", name=re.compile("Airframe|Shed Plane")).first.wait_for()
        self.go("/a/shed-plane/controls")

    def add_elevator(self):
        page = self.page
        expect(page.get_by_text("No controls yet")).to_be_visible()
        page.get_by_label("Begin with").select_option("Elevator")
        form = self.form("New control")
        expect(form.get_by_label("Name", exact=True)).to_have_value("Elevator")
        form.get_by_label("Lies in").select_option(index=1)
        form.get_by_role("button", name="Add the control").click()
        expect(page).to_have_url(re.compile("/controls/elevator"))
        expect(page).to_have_title("Elevator travel · Shed Plane")

    def test_a_first_evening_ends_with_a_verdict(self):
        began = time.monotonic()
        page = self.page
        self.begin()
        self.add_elevator()
        # Every limit has its document: the page asks for it first.
        expect(page.get_by_text("Every limit has its document")).to_be_visible()
        self.fill("New document", New_document="Drawing 27", Revision="A")
        self.form("New document").get_by_role("button", name=re.compile("Add")).click()
        asked = self.form("New requirement")
        asked.get_by_label(re.compile("^Position")).select_option("up_stop")
        asked.get_by_label("Asked, °").fill("26")
        asked.get_by_label("Plus, °").fill("2")
        asked.get_by_label("Minus, °").fill("1")
        asked.get_by_role("button", name="Add requirement").click()
        expect(page.get_by_role("heading", name="Elevator, up")).to_be_visible()
        page.get_by_role("tab", name="Instruments").click()
        new = self.form("New instrument")
        new.get_by_label("Name", exact=True).fill("Level")
        new.get_by_label(re.compile("Accuracy")).fill("0.1")
        new.get_by_label(re.compile("One step")).fill("0.05")
        new.get_by_role("button", name="Add").click()
        reading = page.get_by_label("Reading, °")
        reading.fill("26.4; 26.45; 26.4")
        expect(page.locator("#reading-said")).to_contain_text("In")
        reading.press("Enter")
        verdict = page.locator(".verdict-line")
        expect(verdict).to_contain_text("In")
        self.assertLess(time.monotonic() - began, 600)

    def test_a_limit_is_changed_with_its_reason_and_a_control_taken_away(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/controls/elevator")
        page.get_by_role("button", name="Change", exact=True).click()
        form = self.form("Requirement")
        form.get_by_label("High, °").fill("24")
        form.get_by_role("button", name="Keep").click()
        expect(form).to_contain_text(re.compile("reason", re.IGNORECASE))
        form.get_by_label("Why it is changed").fill("misread the drawing")
        form.get_by_role("button", name="Keep").click()
        expect(page.get_by_text("because misread the drawing")).to_be_visible()
        # One that nothing stands on goes; one with readings stays, and says why.
        page.get_by_role("link", name="Add a control").click()
        page.get_by_label("Begin with").select_option("Spoilers")
        self.form("New control").get_by_role("button", name="Add the control").click()
        expect(page).to_have_url(re.compile("/controls/spoilers"))
        self.take_away("Spoilers")
        expect(
            page.get_by_role("navigation", name="Controls").get_by_text("Spoilers")
        ).to_have_count(0)
        self.go("/a/fenlark/controls/elevator")
        self.take_away("Elevator")
        expect(page.get_by_role("alert")).to_contain_text("readings")

    def take_away(self, name):
        page = self.page
        page.get_by_role("tab", name="Control", exact=True).click()
        page.get_by_role("button", name=f"Take away {name}").click()
        form = self.form(f"Take away {name}")
        form.get_by_label("Why").fill("entered by mistake")
        form.get_by_role("button", name=f"Take away {name}").click()

    def test_a_second_person_is_invited_joins_by_the_link_once_and_leaves(self):
        page = self.page
        self.begin()
        self.go("/a/shed-plane/people")
        expect(page.get_by_text("A second person checks flight controls")).to_be_visible()
        self.form("Invite").get_by_label("As").select_option("counselor")
        self.form("Invite").get_by_role("button", name="Make a link").click()
        link = page.get_by_label("The link").input_value()
        expect(page.get_by_role("heading", name="Open invitations")).to_be_visible()
        other = self.context.browser.new_context()
        self.addCleanup(other.close)
        theirs = other.new_page()
        theirs.goto(link)
        expect(theirs.get_by_text("invites you to Shed Plane as counselor")).to_be_visible()
        theirs.get_by_label("Your name").fill("Wren Hollis")
        theirs.get_by_label("Name to sign in with").fill("wren")
        theirs.get_by_label("Password").fill("short")
        theirs.get_by_role("button", name="Make the account").click()
        expect(theirs.get_by_role("alert")).to_contain_text("too short")
        theirs.get_by_label("Password").fill("a-long-enough-word")
        theirs.get_by_role("button", name="Make the account").click()
        expect(theirs).to_have_url(re.compile("/a/shed-plane$"))
        expect(theirs.get_by_text("Sign out Wren")).to_be_visible()
        page.goto(link)
        expect(page.get_by_role("alert")).to_contain_text("was used, withdrawn, or has run out")
        theirs.goto(f"{self.live_server_url}/a/shed-plane/people")
        theirs.get_by_role("button", name="Change: Wren Hollis").click()
        leaving = theirs.get_by_role("form", name="Leave this aircraft: Wren Hollis")
        leaving.get_by_label("Why").fill("only had a look")
        leaving.get_by_role("button", name="Leave this aircraft").click()
        expect(theirs.get_by_text("Shed Plane")).to_have_count(0)

    def test_instruments_are_entered_before_there_is_any_control(self):
        page = self.page
        self.begin()
        self.go("/a/shed-plane/instruments")
        expect(page.get_by_text("Nothing measures here yet")).to_be_visible()
        new = self.form("New instrument")
        new.get_by_label("Name", exact=True).fill("Gauge")
        new.get_by_label(re.compile("^Measures")).select_option("tension")
        new.get_by_label(re.compile("Accuracy")).fill("0.5")
        new.get_by_label(re.compile("One step")).fill("0.5")
        new.get_by_role("button", name="Add").click()
        expect(
            page.get_by_role("heading", name="Calibration cards of tension gauges")
        ).to_be_visible()
        rows = page.get_by_label("Rows of the card")
        rows.fill("2; 1/8 in; 12; 10 lb\n2; 1/8 in; 19; 20 lb")
        page.get_by_role("button", name="Keep the card").click()
        expect(page.get_by_text("Its calibration card", exact=True)).to_be_visible()

    def test_pages_that_need_a_control_lead_to_where_one_is_added(self):
        self.begin()
        for path in ("cables", "sign-off"):
            self.go(f"/a/shed-plane/{path}")
            main = self.page.locator("main")
            main.get_by_role("link", name=re.compile("^(Add a control|Controls)$")).last.click()
            expect(self.page.get_by_label("Begin with")).to_be_visible()
