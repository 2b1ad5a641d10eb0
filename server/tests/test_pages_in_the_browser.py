"""Every page in both themes and two widths: it fits, and can be used by eye, ear and key."""

from pathlib import Path
from urllib.parse import quote

from playwright.sync_api import expect

from testkit.browser import InTheBrowser

AXE = Path(__file__).resolve().parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "best-practice"]
F = "/a/fenlark"
PAGES = (
    "/", "/new", "/rules", "/rules/controls.verdict", F, f"{F}/controls/elevator", f"{F}/controls/flaps",
    f"{F}/controls/elevator/linkage", f"{F}/cables/rudder", f"{F}/lines", f"{F}/lines?new=", *(f"{F}/lines?part={p}" for p in ("tubes", "hoses", "fuel", "tanks")), f"{F}/lines?part=fuel&new=fuel+path", f"{F}/wires", f"{F}/wires?part=loads", f"{F}/wires?part=harness&row=p3", *(f"{F}/wires?part=harness&row={r}" for r in ("main-bus", "strobe-supply", "aft-bundle")), f"{F}/wires?part=grounds", f"{F}/wires?part=harness&new=wire", f"{F}/wires?part=circuits", f"{F}/wires?part=circuits&new=circuits", f"{F}/weight", f"{F}/weight?new=weighing", *(f"{F}/weight?part={p}" for p in ("estimate", "equipment", "loadings", "worst", "limits")), f"{F}/clearance", f"{F}/clearance?new=shape&part=shapes", *(f"{F}/clearance?part={x}" for x in ("section", "shapes", "zones", "rules", "known", "crossings")), f"{F}/joints", f"{F}/joints?joint=elevator-horn-bolt",
    f"{F}/sign-off", f"{F}/sign-off?scope={quote('control:elevator')}", f"{F}/loose-ends", f"{F}/sources",
    f"{F}/find?q=bolt", f"{F}/since", f"{F}/airframe", f"{F}/instruments", f"{F}/people",
    f"{F}/bays/aft-fuselage", f"{F}/closures/aft-top-skin",
)  # fmt: skip
# A bay's cell is named in full words, among them its name as drawn; what stands beside it in
# short, such as "2 loose", is in the name as "2 loose ends".
ASKED = """async (only) => {
  const found = await axe.run(document, {runOnly: only});
  return found.violations.flatMap(v =>
    v.nodes.filter(n => !(v.id === 'label-content-name-mismatch' && n.target.join().includes('.cell')))
      .map(n => `${v.id}: ${n.target.join(' ')} ${n.failureSummary.split('\\n')[1] ?? ''}`));
}"""
# What a theme changes is its colours: all else is asked once.
THEMES = {"light": TAGS, "dark": ["color-contrast"]}


class Every(InTheBrowser):
    """pages: every second one, so that two processes share them."""

    pages = ("sign-in", *PAGES[::2])

    def look(self, where):
        page = self.page
        page.locator("h1, h2").first.wait_for()
        expect(page.get_by_text("Reading …")).to_have_count(0)
        page.evaluate(AXE.read_text())
        told = []
        for width in (1280, 390):
            page.set_viewport_size({"width": width, "height": 844})
            for theme, asked in THEMES.items():
                page.emulate_media(color_scheme=theme)
                expect(page.locator("html")).to_have_attribute("data-bs-theme", theme)
                page.wait_for_timeout(100)
                told += [f"{theme}: {fault}" for fault in page.evaluate(ASKED, asked)]
            wide = page.evaluate("document.documentElement.scrollWidth - innerWidth")
            told += [f"{wide} px too wide"] if wide > 0 else []
        return [f"{where}: {fault}" for fault in told]

    def test_every_page(self):
        faults = []
        self.go("/")
        if "sign-in" in self.pages:
            faults += self.look("sign-in")
        self.sign_in("Ansel")
        for path in self.pages:
            if path == "sign-in":
                continue
            self.go(path)
            faults += self.look(path)
            if path.startswith(F) and path != f"{F}/since":
                heads = self.page.locator("h1:visible").count()
                faults += [f"{path}: {heads} headings of the first order"] * (heads != 1)
        self.assertEqual(faults, [])


class EveryOther(Every):
    pages = PAGES[1::2]
