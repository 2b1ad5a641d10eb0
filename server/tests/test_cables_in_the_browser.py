"""Jobs at the cables: set the tension with the rudder straight, mend what comes too near, listen."""

import io
import re

import numpy as np
from playwright.sync_api import expect
from scipy.io import wavfile

from server.cables.keeping import file_of
from server.cables.models import Cable, CableReading, Loop
from server.cables.standing import showing
from testkit.browser import InTheBrowser

RUDDER = "/a/fenlark/cables/rudder"


def wav(samples, rate=16000):
    out = io.BytesIO()
    wavfile.write(out, rate, (np.asarray(samples) * 32767).astype(np.int16))
    return {"name": "pluck.wav", "mimeType": "audio/wav", "buffer": out.getvalue()}


def file(control):
    return file_of(Loop.objects.get(control__slug=control, aircraft__slug="fenlark"))


class AtTheCables(InTheBrowser):
    def live(self, word, times=1):
        page = self.page
        for _ in range(times):
            page.get_by_role("button", name=word).click()
            take = page.get_by_role("button", name="Take it")
            expect(take).to_be_enabled(timeout=40_000)
            take.click()

    def measure_both(self):
        page = self.page
        page.get_by_role("tab", name="Gauge with its card").click()
        for cable in ("Right cable", "Left cable"):
            page.get_by_role("button", name=cable, exact=True).click()
            self.live("Read the gauge", 3)
            readings = page.get_by_label("Readings, divisions")
            expect(readings).to_have_value(re.compile(r"\d.*;.*\d.*;.*\d"))
            page.get_by_role("button", name="Keep it").click()
            expect(readings).to_have_value("")
        page.get_by_role("tab", name="Is it straight?").click()
        self.live("Read it live")
        stands = page.get_by_label(re.compile("^The surface stands at"))
        kept = float(stands.input_value())
        page.get_by_role("button", name="Keep it").click()
        expect(stands).to_have_value("")
        return kept

    def verdict(self, side):
        return self.page.locator(f"[data-side={side}] .verdict-word")

    def test_the_rudder_cables_are_set_with_the_rudder_straight(self):
        page = self.page
        self.sign_in("Ansel")
        self.go(RUDDER)
        self.live("Read the thermometer")
        expect(page).to_have_url(re.compile(r"t=1\d\.\d"))
        off = self.measure_both()
        self.assertLess(off, -0.5)
        expect(page.locator("[data-turn=A]")).to_contain_text("Right cable: 1 turn shorter")
        expect(page.locator("[data-turn=B]")).to_contain_text("Left cable: half a turn longer")
        for side in "AB":
            expect(self.verdict(side)).not_to_have_text("In")
        page.get_by_role("button", name="I have turned them: record").click()
        for side in "AB":
            expect(self.verdict(side)).to_have_text("Not measured")
        self.assertLess(abs(self.measure_both()), 0.35)
        for side in "AB":
            expect(self.verdict(side)).to_have_text("In")
        expect(page.get_by_text("Both are in.")).to_be_visible()
        expect(page.get_by_text("Your turns show")).to_be_visible()
        page.get_by_role("link", name="Rigging sheet").click()
        step = page.locator("[data-step='tension set']")
        step.get_by_role("button", name="Done").click()
        expect(step).to_contain_text("Ansel")
        page.get_by_role("link", name="Ends and locks").click()
        right = page.get_by_role("region", name="Right cable")
        right.get_by_label("Tension again after the first").fill("10 h")
        right.get_by_role("button", name="Turnbuckle safetied").click()
        expect(right.get_by_role("button", name="Its lock was taken off")).to_be_visible()
        self.go("/a/fenlark/loose-ends")
        expect(page.get_by_text("tension after bedding in")).to_be_visible()

    def test_the_turnbuckle_too_near_its_fairlead_is_found_and_mended_by_moving_the_fairlead(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/closures/aft-top-skin")
        row = page.locator(".gate-items li").filter(has_text="Right cable: turnbuckle")
        row.filter(has_text="clearance").get_by_role("link").click()
        found = page.locator("[data-check='gap A turnbuckle']")
        expect(found).to_contain_text("45 mm from Right fairlead 4265 at full left pedal")
        page.get_by_label("Right fairlead 4265, station, mm").fill("4290")
        page.get_by_label("Right fairlead 4265, station, mm").press("Enter")
        expect(page.get_by_text("A trial: nothing is kept yet.")).to_be_visible()
        would = page.get_by_role("list", name="Keeping it would change")
        expect(would).to_contain_text("turnbuckle")
        page.get_by_label("Right fairlead 4265, water line, mm").fill("389.4")
        page.get_by_label("Right fairlead 4265, water line, mm").press("Enter")
        row = page.locator("[data-fitting='A turnbuckle']")
        expect(row.locator(".vmark-in")).to_be_visible()
        page.get_by_role("button", name="It is built so: keep").click()
        expect(page.get_by_text("A trial: nothing is kept yet.")).to_have_count(0)
        page.reload()
        expect(page.locator("[data-fitting='A turnbuckle'] .vmark-in")).to_be_visible()
        expect(page.get_by_text("Nothing is open here.")).to_be_visible()

    def test_a_pluck_is_heard_shown_and_kept_and_hum_only_with_a_person_s_word(self):
        page = self.page
        self.sign_in("Ansel")
        self.go(f"{RUDDER}?t=14.2 C")
        page.get_by_role("tab", name="By sound").click()
        pick = page.get_by_label("Recording", exact=True)
        expect(pick).to_be_disabled()
        page.get_by_label("Free length of the span").fill("1100 mm")
        page.get_by_label(re.compile("^Nothing but cable")).check()
        page.get_by_role("button", name="Pluck the simulated cable").click()
        heard = page.get_by_role("status").filter(has_text="Hz")
        expect(heard).to_be_visible()
        expect(page.get_by_role("img", name=re.compile("Spectrum: tone at"))).to_be_visible()
        page.get_by_role("button", name="Keep it").click()
        expect(page.get_by_text("Kept.")).to_be_visible()
        kept = CableReading.objects.get(method="pluck")
        self.assertTrue(kept.recording.name)
        self.assertLess(abs(kept.value - 73.0), 2 * kept.u)
        t = np.arange(16000 * 4) / 16000
        hum = sum(0.2 / h * np.sin(2 * np.pi * 50 * h * t) for h in (1, 2, 3, 4))
        for file, said in (
            (wav(np.zeros(16000 * 3)), "too weak"),
            ({"name": "x.wav", "mimeType": "audio/wav", "buffer": b"nothing"}, "cannot be read"),
            (wav(np.clip(hum * 9, -1, 1)), "clipped"),
        ):
            pick.set_input_files(file)
            expect(page.get_by_role("alert").filter(has_text=said)).to_be_visible()
        # The browser's own microphone is a made-up one that beeps: heard raw, and no pluck.
        page.get_by_role("button", name="Record 5 s").click()
        expect(page.get_by_role("button", name="Record 5 s")).to_be_enabled(timeout=15_000)
        answer = page.get_by_role("alert").filter(has_text=re.compile("samples:|Not taken"))
        expect(answer).to_be_visible()
        pick.set_input_files(wav(hum))
        expect(page.get_by_text("Not taken without you")).to_be_visible()
        expect(page.get_by_role("button", name="Keep it")).to_be_disabled()

    def test_what_a_form_does_not_show_is_kept_and_what_nobody_said_stays_not_said(self):
        page = self.page
        self.sign_in("Ansel")
        before = file("rudder")
        self.go(f"{RUDDER}?part=ends")
        page.get_by_text("What Right cable consists of").click()
        form = page.locator("details[open] form").filter(has=page.get_by_label("Name")).first
        form.get_by_label("Name").first.fill("Right rudder cable")
        form.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("heading", name="Right rudder cable")).to_be_visible()
        after = file("rudder")
        before["sides"]["A"]["name"] = "Right rudder cable"
        self.assertEqual(
            dict(after["sides"]["A"], ends=None), dict(before["sides"]["A"], ends=None)
        )
        for end, was in before["sides"]["A"]["ends"].items():
            self.assertEqual(was | {"pin_source": ""}, after["sides"]["A"]["ends"][end])

    def test_two_straight_cables_are_begun_from_nothing_and_nothing_is_made_up(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/cables/flaps")
        begin = page.get_by_role("button", name="Begin with these")
        lengths = {"Station of the front": "1800", "Station of the rear": "5900"}
        lengths |= {"Arm of the front": "120", "Arm of the rear": "85", "Water line": "500"}
        for label, value in (lengths | {"The front lever turns": "20"}).items():
            page.get_by_label(label).fill(value)
        expect(begin).to_be_disabled()
        page.locator("form select").nth(0).select_option("7x19 0.125")
        page.locator("form select").nth(1).select_option("galvanised")
        page.get_by_label("The levers turn about").select_option("upright")
        begin.click()
        page.get_by_role("link", name="Ends and locks").click()
        sheet = page.get_by_label("What stands open")
        expect(sheet.get_by_text("Not said: what it is, who made it.").first).to_be_visible()
        kept = file("flaps")
        self.assertFalse(kept.get("airframe"))
        self.assertFalse(kept["driver"].get("positive"))
        self.assertAlmostEqual(kept["driver"]["range"][1], np.radians(20.0))

    def test_turns_by_hand_say_what_thread_they_leave_before_they_are_recorded(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/cables/rudder?part=tension")
        cable = Cable.objects.get(loop__control__slug="rudder", side="A")
        a, b = showing(cable)
        page.get_by_text("I turned something else").click()
        by_hand = page.locator("form").filter(has=page.get_by_label("Turns, + shorter"))
        turns = by_hand.get_by_label("Turns, + shorter")
        for typed, said in (
            ("20", "it bottoms before that"), ("-20", "too many"),
            ("0.5", f"Then {a - 0.5:.1f} and {b - 0.5:.1f} threads show."),
        ):  # fmt: skip
            turns.fill(typed)
            expect(by_hand).to_contain_text(said)
        by_hand.get_by_role("button", name="Record").click()
        expect(turns).to_have_value("")
        cable.refresh_from_db()
        self.assertEqual(showing(cable), (a - 0.5, b - 0.5))

    def test_that_a_control_is_not_primary_has_a_reason(self):
        page = self.page
        self.sign_in("Ansel")
        self.go("/a/fenlark/controls/rudder")
        page.get_by_role("tab", name="Control", exact=True).click()
        form = page.get_by_role("form", name="This control")
        form.get_by_label("It counts as").select_option("no")
        keep = form.get_by_role("button", name="Keep")
        keep.click()
        expect(page.get_by_text("say why it is no primary control")).to_be_visible()
        page.get_by_label("Why it is not").fill("Only trims the yaw by a tab.")
        keep.click()
        expect(page.get_by_text("Does not count as a primary control: Only trims")).to_be_visible()
