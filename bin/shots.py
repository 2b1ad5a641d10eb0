"""One current picture of each main view, made from the demo data."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page

sys.path.insert(0, str(Path(__file__).parent))
from browser import page, sign_in
from cluster import ROOT, database, free_port, main
from serve import build_web, running

FOLDER = ROOT / "docs" / "screenshots"
TALL = {"width": 1280, "height": 1180}
VIEWS = [
    ("lane", "/a/fenlark", {}),
    ("gate", "/a/fenlark/closures/aft-top-skin", {}),
    ("joints", "/a/fenlark/joints?joint=rudder-pulley-bracket-bolt", {}),
    ("instruments", "/a/fenlark/instruments", {}),
    ("sources", "/a/fenlark/sources", {}),
    ("airframe", "/a/fenlark/airframe?bay=aft-fuselage", {}),
    ("controls", "/a/fenlark/controls/elevator", {}),
    ("why", "/a/fenlark/controls/elevator", {}),
    ("controls-dark", "/a/fenlark/controls/rudder", {"color_scheme": "dark"}),
    ("linkage-elevator", "/a/fenlark/controls/elevator/linkage?pitch=14", {}),
    ("linkage-ailerons", "/a/fenlark/controls/ailerons/linkage?roll=12", {}),
    ("linkage-mixer", "/a/moorhen/controls/flaperons/linkage?roll=12&flap=6", {}),
    ("cables-tension", "/a/fenlark/cables/rudder?t=14.2 C", {}),
    ("cables-route", "/a/fenlark/cables/rudder?part=route", {}),
    ("cables-pluck", "/a/fenlark/cables/rudder?t=14.2 C", {"viewport": TALL}),
    ("sign-off", "/a/fenlark/sign-off", {}),
    ("rule-book", "/rules/controls.edge_offset", {}),
]


def shots() -> None:
    """Make them."""
    build_web()
    FOLDER.mkdir(parents=True, exist_ok=True)
    with database("ashlane_shots", fresh=True) as url, running(url, free_port(), 1) as address:
        for name, path, context in VIEWS:
            with page(**({"viewport": {"width": 1280, "height": 800}} | context)) as on:
                who = "Corin" if name == "linkage-mixer" else "Ansel"
                sign_in(on, address, who)
                on.goto(address.rstrip("/") + path)
                on.wait_for_load_state("networkidle")
                on.get_by_text("Reading …").wait_for(state="hidden")
                if name == "rule-book":
                    on.get_by_role("button", name="Compute").click()
                    on.locator(".outputs").wait_for()
                if name == "why":
                    on.get_by_role("button", name="Why this number?").first.click()
                    on.get_by_text("Step by step").wait_for()
                    on.wait_for_timeout(600)
                if name == "cables-pluck":
                    _pluck(on)
                on.screenshot(path=FOLDER / f"{name}.png")
                if name == "controls-dark":
                    at = f"{address}api/aircraft/fenlark/controls/rudder"
                    for link, printed in (
                        ("sheet.pdf", "printed-sheet"),
                        ("cables/rigging-sheet.pdf?temperature=14.2 C", "printed-rigging-sheet"),
                    ):
                        _printed(on.context.request.get(f"{at}/{link}").body(), printed)
            print(f"docs/screenshots/{name}.png", flush=True)


def _pluck(on: Page) -> None:
    """Hear the simulated cable."""
    on.get_by_role("tab", name="By sound").click()
    on.get_by_label("Free length of the span").fill("1100 mm")
    on.get_by_label("Nothing but cable").check()
    on.get_by_role("button", name="Pluck the simulated cable").click()
    on.locator(".spectrum").wait_for()


def _printed(pdf: bytes, name: str) -> None:
    """The printed sheet as a picture."""
    with tempfile.NamedTemporaryFile(suffix=".pdf") as file:
        file.write(pdf)
        file.flush()
        out = str(FOLDER / name)
        subprocess.run(["pdftoppm", "-r", "90", "-png", "-singlefile", file.name, out], check=True)


if __name__ == "__main__":
    main(shots)
