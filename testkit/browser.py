"""Headless Chromium on the real server and the real database."""

from __future__ import annotations

import atexit
import os
import time
from functools import cache

from django.db import connection
from django.test import LiveServerTestCase
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright

from instruments.standins import StandIns
from server.demo.loading import relocate
from testkit.database import FAST, mark_used, renew

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--use-fake-device-for-media-stream",
    "--use-fake-ui-for-media-stream",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
    "--disable-dev-shm-usage",
]


@cache
def chromium() -> Browser:
    """One browser for all tests of a process."""
    # Playwright runs an event loop, which Django would take for async code.
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"
    playwright = sync_playwright().start()
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
    atexit.register(playwright.stop)
    atexit.register(browser.close)
    expect.set_options(timeout=30_000)
    return browser


class InTheBrowser(LiveServerTestCase):
    """The demo anew, and a level of its own, for each test."""

    def setUp(self) -> None:
        # Registered first, so run last: the database is taken away only after the server rests.
        self.addCleanup(self.wait_for_the_server)
        self.standins = StandIns({})
        overridden = self.settings(
            DEMO=True,
            PASSWORD_HASHERS=FAST,
            INSTRUMENT_ADDRESSES=self.standins.addresses,
            INSTRUMENT_HAND=f"127.0.0.1:{self.standins.number('hand')}",
        )
        overridden.enable()
        self.addCleanup(overridden.disable)
        self.addCleanup(self.switch_level_off)
        relocate()
        self.context: BrowserContext = chromium().new_context(
            viewport={"width": 1280, "height": 800},
            # No smooth scrolling under a pointer that was told where to go.
            reduced_motion="reduce",
        )
        self.context.set_default_timeout(40_000)
        self.addCleanup(self.context.close)
        self.page = self.context.new_page()
        self.complaints: list[str] = []
        self.page.on("pageerror", lambda e: self.complaints.append(str(e)))

    @classmethod
    def _pre_setup(cls) -> None:
        renew()
        mark_used()
        super()._pre_setup()  # type: ignore[misc]

    def _fixture_teardown(self) -> None:
        """Nothing is emptied: the next test gets a clone."""

    def wait_for_the_server(self) -> None:
        """Until no request of a closed page is at work in the database, a while long."""
        rested = 0
        for _ in range(200):
            with connection.cursor() as c:
                c.execute(
                    "SELECT count(*) FROM pg_stat_activity WHERE datname = current_database()"
                    " AND backend_type = 'client backend' AND pid <> pg_backend_pid()"
                    " AND state <> 'idle'"
                )
                row = c.fetchone()
            rested = rested + 1 if row and row[0] == 0 else 0
            if rested == 6:
                return
            time.sleep(0.05)

    def switch_level_off(self) -> None:
        self.standins.close()

    def tearDown(self) -> None:
        self.assertEqual(self.complaints, [])

    def go(self, path: str) -> Page:
        self.page.goto(self.live_server_url + path)
        return self.page

    def sign_in(self, name: str) -> None:
        """By one click on one of the demo's people."""
        page = self.go("/")
        page.get_by_role("button", name=name).click()
        page.get_by_role("heading", name="Aircraft").wait_for()

    def sign_out(self) -> None:
        self.page.get_by_role("button", name="Sign out").click()
        self.page.get_by_text("Sign in", exact=True).wait_for()
