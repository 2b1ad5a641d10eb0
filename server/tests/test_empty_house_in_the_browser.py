"""From an empty database to a closed skin, through the interface alone, without the demo."""

import re
from io import StringIO

from django.core.management import call_command
from django.db import connection
from playwright.sync_api import expect

from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.closing.models import ClosureEvent
from testkit.browser import InTheBrowser


class EmptyHouse(InTheBrowser):
    def setUp(self):
        super().setUp()
        bare = self.settings(DEMO=False)
        bare.enable()
        self.addCleanup(bare.disable)
        with connection.cursor() as cursor:
            # Behind the back of the triggers that keep the record: this house was never lived in.
            cursor.execute("SET session_replication_role = replica")
            kept = {"django_migrations"}
            names = [n for n in connection.introspection.table_names(cursor) if n not in kept]
            cursor.execute(f"TRUNCATE {', '.join(names)} RESTART IDENTITY CASCADE")
            cursor.execute("SET session_replication_role = DEFAULT")
        self.assertEqual((Person.objects.count(), Aircraft.objects.count()), (0, 0))

    def form(self, name):
        return self.page.get_by_role("form", name=name, exact=True)

    def fill(self, form, **fields):
        for label, text in fields.items():
            self.form(form).get_by_label(label.replace("_", " "), exact=True).fill(text)

    def open(self, path):
        self.go(f"/a/shed-plane/{path}")
        expect(self.page.get_by_text("Reading …")).to_have_count(0)

    def test_from_the_first_account_to_a_closed_skin(self):
        for step in (
            self.account, self.aircraft, self.control, self.limit, self.instrument, self.reading,
            self.linkage, self.lines, self.cables, self.stock, self.joint, self.closure, self.closed,
        ):  # fmt: skip
            step()

    def account(self):
        said = StringIO()
        call_command("invite", stdout=said)
        page = self.go(re.search(r"/join/\S+", said.getvalue())[0])
        for label, text in (
            ("Your name", "Wren Hollis"), ("Name to sign in with", "wren"),
            ("Password", "a-long-enough-word"),
        ):  # fmt: skip
            page.get_by_label(label).fill(text)
        page.get_by_role("button", name="Make the account").click()
        page.get_by_role("heading", name="Aircraft").wait_for()

    def aircraft(self):
        page = self.page
        page.get_by_text("New aircraft").first.click()
        page.get_by_label("Name", exact=True).fill("Shed Plane")
        page.get_by_role("button", name="Make it").click()
        expect(page).to_have_url(re.compile("/a/shed-plane"))

    def control(self):
        self.open("controls")
        self.page.get_by_label("Begin with").select_option("Elevator")
        form = self.form("New control")
        form.get_by_label("Lies in").select_option(label="Aft fuselage")
        form.get_by_role("button", name="Add the control").click()
        expect(self.page).to_have_url(re.compile("/controls/elevator"))

    def limit(self):
        self.fill("New document", New_document="Drawing 27", Revision="A")
        self.form("New document").get_by_role("button", name=re.compile("Add")).click()
        asked = self.form("New requirement")
        asked.wait_for()
        self.page.wait_for_load_state("networkidle")
        asked.get_by_label(re.compile("^Position")).select_option("up_stop")
        for label, text in (("Asked, °", "26"), ("Plus, °", "2"), ("Minus, °", "1")):
            asked.get_by_label(label).fill(text)
        asked.get_by_role("button", name="Add requirement").click()
        expect(self.page.get_by_role("heading", name="Elevator, up")).to_be_visible()

    def instrument(self):
        self.open("instruments")
        new = self.form("New instrument")
        new.get_by_label("Name", exact=True).fill("Level")
        new.get_by_label(re.compile("Accuracy")).fill("0.1")
        new.get_by_label(re.compile("One step")).fill("0.05")
        new.get_by_role("button", name="Add").click()
        expect(self.page.get_by_text("±0.1, step 0.05")).to_be_visible()

    def reading(self):
        self.open("controls/elevator")
        reading = self.page.get_by_label("Reading, °")
        reading.fill("26.4; 26.45; 26.4")
        expect(self.page.locator("#reading-said")).to_contain_text("In")
        reading.press("Enter")
        expect(self.page.locator(".verdict-line")).to_contain_text("In")

    def linkage(self):
        self.open("controls/elevator/linkage?part=geometry")
        begin = self.form("First lever")
        begin.get_by_label("The pilot moves").select_option("aft")
        for label, text in (
            ("Its pivot", "2500 0 300"),
            ("Where the first rod", "2500 0 225"),
            ("It turns", "25"),
        ):
            begin.get_by_label(label).fill(text)
        begin.get_by_role("button", name="Begin with it").click()
        expect(self.page.get_by_text("Add a lever, crank or surface")).to_be_visible()

    def lines(self):
        """A tube with its card, and a question about it, entered, corrected and taken away."""
        page = self.page
        self.open("lines?new=")
        tube = self.form("New tube")
        for label, text in (
            ("Name", "Feed"), ("Outside diameter", "3/8 in"), ("Bend radius, mm", "30"),
            ("Corners of its route", "2100 0 180\n1860 0 180\n1860 0 400"),
        ):  # fmt: skip
            tube.get_by_label(label).fill(text)
        tube.get_by_label("Material").select_option("aluminium")
        tube.get_by_role("button", name="Keep").click()
        expect(page.get_by_role("region", name="Bend card")).to_contain_text("Cut")
        page.get_by_role("link", name="About tubes").click()
        page.get_by_role("button", name="Where does water stand?").click()
        sheet = self.form("New: Where does water stand?")
        sheet.get_by_label("Name of this sheet").fill("Water in the feed")
        sheet.get_by_label("Tube", exact=False).first.select_option(label="Feed")
        sheet.get_by_role("button", name="Keep").click()
        said = page.get_by_role("complementary", name="Sheet")
        expect(said).to_contain_text("Not said how it stands parked.")
        said.get_by_role("button", name="Change").click()
        self.form("Change Water in the feed").get_by_label("Parked, nose up by").fill("8")
        self.form("Change Water in the feed").get_by_role("button", name="Keep").click()
        expect(said.locator(".vmark-in").first).to_be_visible()
        said.get_by_role("button", name="Change").click()
        for word in ("Take away Water in the feed",) * 2:
            said.get_by_role("button", name=word).click()
            if said.get_by_label("Why").count():
                said.get_by_label("Why").fill("not asked here")
        expect(page.get_by_role("heading", name="Begin with a question")).to_be_visible()
        page.get_by_role("link", name="Tubes", exact=True).click()
        said.get_by_role("button", name="Change").click()
        for word in ("Take away Feed",) * 2:
            said.get_by_role("button", name=word).click()
            if said.get_by_label("Why").count():
                said.get_by_label("Why").fill("another way")
        expect(page.get_by_text("No lines yet.")).to_be_visible()

    def cables(self):
        page = self.page
        self.open("cables/elevator")
        lengths = {"Station of the front": "2600", "Station of the rear": "5400"}
        lengths |= {"Arm of the front": "80", "Arm of the rear": "85", "Water line": "400"}
        for label, value in (lengths | {"The front lever turns": "20"}).items():
            page.get_by_label(label).fill(value)
        page.locator("form select").nth(0).select_option("7x19 0.125")
        page.locator("form select").nth(1).select_option("galvanised")
        page.get_by_label("The levers turn about").select_option("upright")
        page.get_by_role("button", name="Begin with these").click()
        page.get_by_role("link", name="Ends and locks").click()
        sheet = page.get_by_label("What stands open")
        expect(sheet.get_by_text("Not said: what it is, who made it.").first).to_be_visible()

    def stock(self):
        page = self.page
        self.open("joints")
        page.get_by_role("button", name="Stock and compounds").click()
        for kind, fields in (
            ("bolt", {"Name": "B-13", "Grip": "12.7 mm", "Length": "22.5 mm", "Threads per inch": "28"}),
            ("nut", {"Name": "N-1", "Height": "5.8 mm"}),
        ):  # fmt: skip
            form = self.form("Add to stock")
            if kind == "bolt":
                page.get_by_text("Add to stock").first.click()
            form.locator("select").first.select_option(kind)
            for label, text in fields.items():
                form.get_by_label(label, exact=True).fill(text)
            if kind == "nut":
                form.get_by_role("button", name="Add").click()
                expect(form.get_by_role("alert")).to_contain_text("say what kind of nut it is")
                form.get_by_label("Kind of nut").select_option("self_locking")
            form.get_by_role("button", name="Add").click()
            expect(page.get_by_text(fields["Name"], exact=True)).to_be_visible()
        # A slip of the finger is put right, and what nobody needs goes.
        page.get_by_role("button", name="Change B-13").click()
        self.fill("Change B-13", Length="23 mm")
        self.form("Change B-13").get_by_role("button", name="Keep").click()
        expect(page.get_by_text("length 23.0 mm")).to_be_visible()

    def joint(self):
        page = self.page
        page.get_by_role("button", name="New joint").first.click()
        joint = self.form("New joint")
        joint.get_by_label("Name", exact=True).fill("Firewall bolt")
        joint.get_by_label(re.compile("^Bay")).select_option(label="Nose")
        joint.get_by_label("Layers clamped: name thickness; …").fill("lug 12.5 mm")
        joint.get_by_label(re.compile("^Bolt")).select_option(label="B-13")
        joint.get_by_label(re.compile("^Nut")).select_option(label="N-1")
        joint.get_by_label("Washers under the nut").fill("1.6; 0.8")
        joint.get_by_role("button", name=re.compile("Keep|Add")).click()
        expect(page.get_by_role("heading", name="Firewall bolt")).to_be_visible()
        self.form("Torque").get_by_role("button", name="Torqued").click()
        expect(page.locator(".joint-state")).to_contain_text("what secures it is not said")
        page.get_by_role("button", name="Change what it needs").click()
        page.get_by_label("Secured by").select_option("self_locking")
        page.get_by_role("button", name=re.compile("^Keep")).click()
        expect(page.locator(".joint-state")).to_have_text("Torqued, final")
        expect(page.locator(".verdict-line")).to_contain_text("In")

    def closure(self):
        page = self.page
        self.open("airframe")
        page.get_by_text(re.compile(r"^Closures: \d+")).click()
        form = self.form("Closure")
        form.get_by_label("Name", exact=True).fill("Upper cowl skin")
        form.get_by_label("Nose", exact=True).check()
        form.get_by_label("Permanent: riveted, bonded or covered").check()
        form.get_by_role("button", name="Add closure").click()
        self.open("closures/upper-cowl-skin")
        expect(page.get_by_role("heading", name="Upper cowl skin")).to_be_visible()

    def closed(self):
        page = self.page
        expect(page.get_by_role("button", name="Close for good")).to_be_disabled()
        self.fill("Tool count", Tool_or_object="torch", How_many_went_in="1")
        self.form("Tool count").get_by_role("button", name="Count in").click()
        page.get_by_role("button", name="All out").click()
        # What nobody recorded is not taken to be absent: a person says so, in the bay.
        waiting = page.locator(".gate-items")
        expect(waiting).to_contain_text("controls: nothing is recorded here")
        self.open("bays/nose")
        page.get_by_role("button", name="There are no controls in this bay").click()
        expect(page.get_by_text(re.compile("Wren Hollis")).first).to_be_visible()
        self.open("closures/upper-cowl-skin")
        expect(page.locator(".gate-state")).to_have_text("Ready to close")
        page.get_by_role("button", name="Close for good").click()
        expect(page.locator(".gate-state")).to_have_text("Closed")
        event = ClosureEvent.objects.get()
        self.assertEqual(event.closure.name, "Upper cowl skin")
