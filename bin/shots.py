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
NARROW = {"viewport": {"width": 390, "height": 844}}
VIEWS = [
    ("aircraft", "/", {}),
    ("lane", "/a/fenlark", {}),
    ("lane-narrow", "/a/fenlark", NARROW),
    ("bay", "/a/fenlark/bays/aft-fuselage", {}),
    ("gate", "/a/fenlark/closures/aft-top-skin", {}),
    ("joints", "/a/fenlark/joints?joint=rudder-pulley-bracket-bolt", {}),
    ("loose-ends", "/a/fenlark/loose-ends", {}),
    ("sources", "/a/fenlark/sources", {}),
    ("find", "/a/fenlark/find?q=bellcrank", {}),
    ("airframe", "/a/fenlark/airframe?bay=aft-fuselage", {}),
    ("controls", "/a/fenlark/controls/elevator", {}),
    ("controls-pair", "/a/fenlark/controls/ailerons", {}),
    ("controls-dark", "/a/fenlark/controls/rudder", {"color_scheme": "dark"}),
    ("linkage-elevator", "/a/fenlark/controls/elevator/linkage?pitch=14", {}),
    ("linkage-ailerons", "/a/fenlark/controls/ailerons/linkage?roll=12", {}),
    ("linkage-mixer", "/a/moorhen/controls/flaperons/linkage?roll=12&flap=6", {}),
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
                who = {"aircraft": "Odile", "linkage-mixer": "Corin"}.get(name, "Ansel")
                sign_in(on, address, who)
                on.goto(address.rstrip("/") + path)
                on.wait_for_load_state("networkidle")
                if name == "rule-book":
                    on.get_by_role("button", name="Compute").click()
                    on.locator(".outputs").wait_for()
                on.screenshot(path=FOLDER / f"{name}.png")
                if name == "controls-dark":
                    link = "api/aircraft/fenlark/controls/rudder/sheet.pdf"
                    _printed(on.context.request.get(address + link).body())
            print(f"docs/screenshots/{name}.png", flush=True)


def _printed(pdf: bytes) -> None:
    """The printed sheet as a picture."""
    with tempfile.NamedTemporaryFile(suffix=".pdf") as file:
        file.write(pdf)
        file.flush()
        out = str(FOLDER / "printed-sheet")
        subprocess.run(["pdftoppm", "-r", "90", "-png", "-singlefile", file.name, out], check=True)


if __name__ == "__main__":
    main(shots)
