"""One current picture of each main view, made from the demo data."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from pathlib import Path

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
    ("sources", "/a/fenlark/sources", {}),
    ("airframe", "/a/fenlark/airframe?bay=aft-fuselage", {}),
    ("controls", "/a/fenlark/controls/elevator", {}),
    ("why", "/a/fenlark/controls/elevator", {}),
    ("linkage-elevator", "/a/fenlark/controls/elevator/linkage?pitch=14", {}),
    ("cables-tension", "/a/fenlark/cables/rudder?t=14.2 C", {}),
    ("lines", "/a/fenlark/lines", {"viewport": TALL}),
    ("lines-fuel", "/a/fenlark/lines?part=fuel", {"viewport": TALL}),
    ("wires", "/a/fenlark/wires?part=harness&row=strobe-supply", {"viewport": TALL}),
    ("wires-loads", "/a/fenlark/wires?part=loads", {"viewport": TALL, "color_scheme": "dark"}),
    ("clearance", "/a/fenlark/clearance", {"viewport": TALL}),
    ("clearance-section", "/a/fenlark/clearance?part=section&at=1940", {"viewport": TALL}),
    ("weight-loading", "/a/fenlark/weight?part=loadings&row=two-with-baggage", {"viewport": TALL}),
    ("weight-worst", "/a/fenlark/weight?part=worst", {"viewport": TALL}),
    ("sign-off", "/a/fenlark/sign-off", {}),
]


def shots() -> None:
    """Make them."""
    build_web()
    FOLDER.mkdir(parents=True, exist_ok=True)
    with database("ashlane_shots", fresh=True) as url, running(url, free_port(), 1) as address:
        for name, path, context in VIEWS:
            with page(**({"viewport": {"width": 1280, "height": 800}} | context)) as on:
                sign_in(on, address, "Ansel")
                on.goto(address.rstrip("/") + path)
                on.wait_for_load_state("networkidle")
                on.get_by_text("Reading …").wait_for(state="hidden")
                if name == "clearance":
                    brake = on.get_by_role("button", name="Left cable – Park brake line")
                    brake.click()
                    on.get_by_role("region", name="Film").wait_for()
                if name == "why":
                    on.get_by_role("button", name="Why this number?").first.click()
                    on.get_by_text("Step by step").wait_for()
                    on.wait_for_timeout(600)
                if name == "lines-fuel":
                    on.get_by_role("img", name="11 parts").wait_for()
                on.screenshot(path=FOLDER / f"{name}.png")
                if name == "controls":
                    at = f"{address}api/aircraft/fenlark/controls/rudder"
                    _printed(on.context.request.get(f"{at}/sheet.pdf").body(), "printed-sheet")
            print(f"docs/screenshots/{name}.png", flush=True)


def _printed(pdf: bytes, name: str) -> None:
    """The printed sheet as a picture."""
    with tempfile.NamedTemporaryFile(suffix=".pdf") as file:
        file.write(pdf)
        file.flush()
        out = str(FOLDER / name)
        subprocess.run(["pdftoppm", "-r", "90", "-png", "-singlefile", file.name, out], check=True)


if __name__ == "__main__":
    main(shots)
