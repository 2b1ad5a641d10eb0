"""Jobs that a person does, through the real interface."""

import io
import re

from playwright.sync_api import expect
from pypdf import PdfReader

from testkit.base import PASSWORD
from testkit.browser import InTheBrowser

ELEVATOR = "/a/fenlark/controls/elevator"


class Jobs(InTheBrowser):
    def keep(self, value):
        """Type into the capture row, read what was understood, Enter."""
        row = self.page.get_by_label(re.compile("^Reading, "))
        row.fill(value)
        expect(self.page.locator(".capture-said")).to_contain_text("Understood")
        row.press("Enter")
        expect(row).to_have_value("")

    def choose(self, label, option):
        self.page.get_by_label(re.compile(f"^{label}")).select_option(label=option)

    def verdict(self):
        return self.page.locator(".verdict-line .verdict-word")

    def sign(self, person, button):
        form = self.page.get_by_role("form", name="Sign", exact=True)
        form.get_by_label("Your password again").fill(PASSWORD[person])
        form.get_by_role("button", name=button).click()

    def test_the_whole_job_from_the_drawing_s_travel_to_a_signature_gone_stale(self):
        page = self.page
        self.sign_in("Ansel")
        page.get_by_role("heading", name="Fenlark").click()
        page.get_by_role("link", name="Controls 2").click()
        expect(page.get_by_role("heading", name="Elevator, down")).to_be_visible()
        expect(self.verdict()).to_have_text("Too close to call")
        expect(page.locator(".verdict-sheet")).to_contain_text("17.5° to 20.5°")
        # A second way of measuring, with a rule at the trailing edge: not enough yet.
        self.choose("Method", "Edge offset, straight between")
        self.keep("86 mm")
        expect(page.locator(".ways")).to_contain_text("Edge offset, straight")
        expect(self.verdict()).to_have_text("Too close to call")
        # Repeated until it is in.
        for value in ("87", "87 mm", "3-7/16 in"):
            self.keep(value)
        expect(self.verdict()).to_have_text("In")
        # The simulated level, for up.
        page.get_by_role("button", name="up", exact=True).click()
        page.get_by_role("button", name="Capture from the level").click()
        take = page.get_by_role("button", name="Take it")
        expect(take).to_be_enabled(timeout=40_000)
        take.click()
        row = page.get_by_label(re.compile("^Reading, "))
        expect(row).to_have_value(re.compile(r"26\.\d\d"))
        row.press("Enter")
        expect(page.locator(".verdict-sheet .source").nth(1)).to_contain_text("4 readings")
        # Sense check and signature of the builder.
        page.get_by_label("Yes, seen").check()
        page.get_by_label("Free", exact=True).check()
        page.get_by_role("button", name="Keep what I saw").click()
        self.sign("ansel", "Sign as done")
        expect(page.locator(".entries")).to_contain_text("Ansel Tarnfield")
        # The counselor looks, prints and signs.
        self.sign_out()
        self.sign_in("Odile")
        self.go(ELEVATOR)
        printed = self.context.request.get(
            self.live_server_url
            + page.get_by_role("link", name="Print the sheet").get_attribute("href")
        )
        text = " ".join(PdfReader(io.BytesIO(printed.body())).pages[0].extract_text().split())
        for wanted in (
            "3-7/16 in",
            "edge offset straight",
            "Ansel Tarnfield as builder",
            "right way",
        ):
            self.assertIn(wanted, text)
        self.sign("odile", "Sign as inspected")
        expect(page.locator(".sign")).to_contain_text("Two persons have signed")
        expect(page.locator(".entries .holds")).to_have_count(2)
        expect(page.get_by_role("button", name="Correct")).to_have_count(0)
        # The builder corrects a reading: both signatures are stale and say why.
        self.sign_out()
        self.sign_in("Ansel")
        self.go(ELEVATOR)
        page.get_by_role("button", name="down", exact=True).click()
        page.get_by_role("button", name="Correct").first.click()
        form = page.get_by_role("form", name="Correct a reading")
        form.get_by_label("New value").fill("-17.9")
        form.get_by_label("Reason").fill("read from the wrong side")
        form.get_by_role("button", name="Correct").click()
        expect(page.locator(".entries .stale").first).to_have_text("Stale")
        expect(page.locator(".changes").first).to_contain_text("as typed -17.5 → -17.9")
        page.get_by_role("link", name="Sign-off").click()
        page.get_by_role("button", name="Check the ledger").click()
        expect(page.locator(".checked")).to_contain_text("Everything holds.")

    def test_what_was_typed_survives_a_lost_connection_and_a_reload(self):
        page = self.page
        self.sign_in("Ansel")
        self.go(ELEVATOR)
        row = page.get_by_label(re.compile("^Reading, "))
        row.fill("-18.25")
        expect(page.locator(".capture-said")).to_contain_text("Understood")
        page.reload()
        expect(row).to_have_value("-18.25")
        # The answer is lost after the server has kept the reading.
        page.route("**/readings", lambda route: (route.fetch(), route.abort()))
        row.press("Enter")
        expect(page.locator(".unsent")).to_contain_text("Elevator, down: -18.25")
        expect(row).to_have_value("-18.25")
        page.unroute_all(behavior="wait")
        page.reload()
        page.get_by_role("button", name="Send again").click()
        expect(page.locator(".unsent")).to_have_count(0)
        expect(page.locator(".readings .num", has_text="-18.25")).to_have_count(1)

    def test_refusals_stand_beside_what_was_typed(self):
        page = self.page
        self.sign_in("Ansel")
        self.go(ELEVATOR)
        row = page.get_by_label(re.compile("^Reading, "))
        for typed, said in (
            ("1,234", "two ways"),
            ("4 mm", "not a unit of angle"),
            ("nan", "not a number"),
        ):
            row.fill(typed)
            row.press("Enter")
            expect(page.locator(".capture-said")).to_contain_text(said)
            expect(row).to_have_value(typed)
        row.press("Control+a")
        row.press("Delete")
        row.press("Enter")
        expect(page.locator(".capture-said")).to_contain_text("is empty")
        # The level is off: it says so, and typing still works.
        page.get_by_role("button", name="up", exact=True).click()
        self.switch_level_off()
        page.get_by_role("button", name="Capture from the level").click()
        expect(page.locator(".level")).to_contain_text("does not answer")
        self.keep("26.55")

    def test_the_entry_bar_keeps_a_reading_undoes_it_and_jumps(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark")
        page.get_by_role("heading", name="Next to close").wait_for()
        page.keyboard.press(".")
        page.keyboard.type("elev up 26.45 digital")
        bar = page.locator(".entry-said")
        expect(bar).to_contain_text("26.45°")
        page.keyboard.press("Enter")
        expect(bar).to_contain_text("Kept: elev up 26.45 digital")
        page.get_by_role("button", name="Undo").click()
        expect(bar).to_be_empty()
        page.locator("#entry").fill("go rudder")
        expect(bar).to_contain_text("Go to rudder")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("/controls/rudder"))

    def test_a_verdict_leads_to_its_rule_with_its_own_inputs(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/controls/ailerons")
        page.get_by_role("button", name="down", exact=True).first.click()
        page.get_by_role("button", name="Why this number?").click()
        panel = page.get_by_role("dialog")
        expect(panel).to_contain_text("Uncertainty U")
        expect(panel).to_contain_text("What the uncertainty is made of")
        expect(panel).to_contain_text("Digital level, as entered")
        page.keyboard.press("Escape")
        expect(panel).to_have_count(0)
        page.get_by_role("button", name="Why this number?").click()
        panel.get_by_role("link", name="Work with it in the rule book").click()
        expect(page.get_by_text("Filled with the verdict you came from")).to_be_visible()
        expect(page.locator(".outputs code")).to_have_count(0)
        page.get_by_role("button", name="Compute").click()
        expect(page.locator(".outputs")).to_contain_text("12.1167")
        page.get_by_label("Technical names").check()
        expect(page.locator(".outputs code").first).to_be_visible()
        page.get_by_label("Find a rule").fill("left right")
        expect(page.get_by_role("link", name=re.compile("^Left against right"))).to_be_visible()
        page.get_by_role("link", name=re.compile("^←")).click()
        expect(page).to_have_url(re.compile("/a/fenlark/controls/ailerons"))
        self.sign_out()
        self.go("/rules/controls.symmetry")
        page.get_by_role("button", name="Compute").click()
        expect(page.locator(".outputs")).to_contain_text("−0.9")

    def test_the_dark_is_chosen_and_stays(self):
        page = self.page
        self.sign_in("Ansel")
        theme = "document.documentElement.dataset.bsTheme"
        page.get_by_role("button", name="Dark").click()
        self.assertEqual(page.evaluate(theme), "dark")
        self.go("/a/fenlark")
        page.get_by_role("heading", name="Next to close").wait_for()
        self.assertEqual(page.evaluate(theme), "dark")
