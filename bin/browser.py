"""Chromium for screenshots and measurements of the running application."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from typing import Any

from playwright.sync_api import Page, sync_playwright

CHROMIUM = "/usr/bin/chromium"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-sync"]
FLAGS += ["--disable-component-update", "--no-first-run", "--disable-dev-shm-usage"]


@contextlib.contextmanager
def page(**context: Any) -> Iterator[Page]:
    """A page of a fresh browser."""
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield chromium.new_context(**context).new_page()
        chromium.close()


def sign_in(on: Page, address: str, name: str) -> None:
    """One click on one of the demo's people."""
    on.goto(address)
    on.get_by_role("button", name=name).click()
    on.get_by_role("heading", name="Aircraft").wait_for()
