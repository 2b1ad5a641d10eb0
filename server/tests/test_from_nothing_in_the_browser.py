"""A new owner's first evening, through the interface alone, without any of the demo's data."""

import re

from playwright.sync_api import expect

from testkit.browser import InTheBrowser


class FirstEvening(InTheBrowser):
    def form(self, name):
        return self.page.get_by_role("form", name=name, exact=True)

    def begin(self):
        page = self.page
        self.sign_in("Corin")
        page.get_by_text("New aircraft").first.click()
        page.get_by_label("Name", exact=True).fill("Shed Plane")
        page.get_by_role("button", name=re.compile("Begin|Make|Create|Add aircraft")).click()
        expect(page).to_have_url(re.compile("/a/shed-plane"))

    def open(self, path):
        self.go(f"/a/shed-plane/{path}")
        expect(self.page.get_by_text("Reading …")).to_have_count(0)

    def test_every_page_of_an_empty_aircraft_says_what_goes_there(self):
        self.begin()
        page = self.page
        for path, said in (
            ("", ""), ("controls", ""), ("cables", ""), ("joints", ""), ("loose-ends", ""), ("sources", ""),
            ("airframe", "Nose"), ("since", ""), ("sign-off", ""), ("find", "Names, parts"),
        ):  # fmt: skip
            self.open(path)
            with self.subTest(path=path):
                expect(page.locator("main")).to_contain_text(said)
                # Nothing is in, and nothing is ready, before anybody said anything.
                self.assertEqual(page.locator(".vmark-in").count(), 0, path)

    def test_from_the_first_bolt_in_the_drawer_to_a_joint_that_is_final(self):
        self.begin()
        page = self.page
        self.open("joints")
        page.get_by_role("button", name="Stock and compounds").click()
        page.get_by_text("Add to stock").first.click()
        form = self.form("Add to stock")
        for label, text in (
            ("Name", "My bolt"), ("Thread", "1/4-28"), ("Grip", "12.7 mm"), ("Length", "23.8 mm"),
            ("Threads per inch", "28"),
        ):  # fmt: skip
            form.get_by_label(label, exact=True).fill(text)
        form.get_by_role("button", name="Add").click()
        expect(page.get_by_text("My bolt")).to_be_visible()
        page.get_by_role("button", name="New joint").first.click()
        joint = self.form("New joint")
        joint.get_by_label("Name", exact=True).fill("First bolt")
        joint.get_by_label(re.compile("^Bay")).select_option(index=1)
        joint.get_by_role("button", name=re.compile("Keep|Add")).click()
        expect(page.get_by_role("heading", name="First bolt")).to_be_visible()
        self.form("Torque").get_by_role("button", name="Torqued").click()
        expect(page.locator("main")).to_contain_text("What was done")
        expect(page.locator("main")).to_contain_text("Torqued")

    def test_a_loose_end_is_left_and_ended_again(self):
        self.begin()
        page = self.page
        self.open("loose-ends")
        page.get_by_text("Leave something loose").click()
        form = self.form("Loose end")
        form.get_by_label("What is loose").fill("cap left off")
        form.get_by_label("What ends it").fill("the first start")
        form.get_by_role("button", name="Leave it loose").click()
        expect(page.get_by_text("cap left off")).to_be_visible()
        page.get_by_role("button", name="It is done").first.click()
        expect(page.get_by_role("button", name="It is done")).to_have_count(0)
