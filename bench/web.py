"""What the browser takes: the first page, and the Lane page with many concerns."""

from __future__ import annotations

import gzip
import statistics
import time

from browser import page, sign_in

from bench.api import MANY, add_many
from bench.report import Report
from bench.running import ROOT, Server


def web(report: Report, server: Server) -> None:
    """All of it."""
    report.title("web")
    report.at_most("first page ready", _first_page(server.address), 1.5, "s")
    report.at_most("script of the first page, gzip", first_script() / 1024, 250, "kB")
    add_many(server, *MANY)
    report.at_most("Lane page with 3,000 concerns more", _lane(server.address), 0.8, "s")


def first_script() -> int:
    """Bytes of script, zipped, that the first page loads before anything is opened."""
    index = (ROOT / "web" / "dist" / "index.html").read_text()
    files = (ROOT / "web" / "dist" / "assets").glob("*.js")
    return sum(len(gzip.compress(p.read_bytes(), 6)) for p in files if p.name in index)


def _first_page(address: str) -> float:
    """From the address typed to the sign-in page ready, s; median of five fresh browsers."""
    times = []
    for _ in range(5):
        with page(viewport={"width": 1280, "height": 800}) as on:
            begun = time.perf_counter()
            on.goto(address)
            on.get_by_role("button", name="Ansel").wait_for()
            times.append(time.perf_counter() - begun)
    return statistics.median(times)


def _lane(address: str) -> float:
    with page(viewport={"width": 1280, "height": 800}) as on:
        sign_in(on, address, "Ansel")
        times = []
        for _ in range(5):
            begun = time.perf_counter()
            on.goto(f"{address}a/fenlark")
            on.locator(".gate-items li").first.wait_for()
            times.append(time.perf_counter() - begun)
        return statistics.median(times)
