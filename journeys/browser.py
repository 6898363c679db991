"""A real browser on the real application."""

from __future__ import annotations

import os
import re
import shutil
import threading
from functools import cache
from pathlib import Path
from typing import Any

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.signals import request_finished, request_started
from django.db import connection
from django.test import Client, override_settings, tag
from playwright.sync_api import Browser, Page, expect, sync_playwright

from garage.car.models import Car
from shell.tests.laid_down import laid_down
from shell.tests.whole import remember

AXE = Path(__file__).parent / "vendor" / "axe.min.js"
SIZE = {"desk": {"width": 1280, "height": 800}, "phone": {"width": 390, "height": 844}}


#: what the console may say: a form that came back, and a fragment given up because its page was left meanwhile (one that
#: fails is told as ``sendError`` or ``responseError``)
EXPECTED = ("422", "409", "htmx:sendAbort,", "htmx:afterRequest,")


def titled(text):
    """The label of a field exactly, with or without the unit that stands behind it."""
    return re.compile(rf"^\s*{re.escape(text)}(, \S{{1,8}})?\s*\*?\s*$")


class Busy:
    """Requests that the server is at work on; a browser may have given one up long before."""

    def __init__(self):
        self.count, self.lock = 0, threading.Condition()

    def began(self, **_):
        with self.lock:
            self.count += 1

    def ended(self, **_):
        with self.lock:
            self.count = max(0, self.count - 1)
            self.lock.notify_all()

    def wait(self, seconds=20.0):
        """Until nothing is under way, so that no table is emptied under a request."""
        with self.lock:
            self.lock.wait_for(lambda: self.count == 0, seconds)


busy = Busy()


#: the database of this process as it was before any journey, and with the scenario laid down: the whole of it,
#: revisions too, so that what was read and judged of it still stands when it is put back
_copies: dict[str, Any] = {}


@cache
def _chromium() -> Browser:
    """One for all journeys of this process; it ends with it."""
    chromium = shutil.which("chromium")
    if chromium is None:
        raise RuntimeError("Chromium is not on PATH")
    return (
        sync_playwright()
        .start()
        .chromium.launch(
            executable_path=chromium, args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"]
        )
    )


@tag("journey")
@override_settings(KEEP_PAGES=True)
class Journey(StaticLiveServerTestCase):
    """The demo scenario as it is served, Debian's Chromium, and a list of everything the console complained about."""

    #: does it begin with the demo's cars, or with nobody
    laid = True

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        # Readers never wait for the writer, as it is served.
        if connection.vendor == "sqlite":
            connection.cursor().execute("PRAGMA journal_mode=WAL")
        if "empty" not in _copies:
            _copies["empty"] = remember()
        request_started.connect(busy.began, dispatch_uid="journey-began")
        request_finished.connect(busy.ended, dispatch_uid="journey-ended")
        cls.browser = _chromium()

    @classmethod
    def tearDownClass(cls):
        request_started.disconnect(dispatch_uid="journey-began")
        request_finished.disconnect(dispatch_uid="journey-ended")
        _copies["empty"].put_back()
        super().tearDownClass()

    def setUp(self):
        if not self.laid:
            _copies["empty"].put_back()
        elif "scenario" in _copies:
            _copies["scenario"].put_back()
            self.car = Car.objects.order_by("pk").first()
        else:
            self.car = laid_down()
            _copies["scenario"] = remember()
        self.complaints: list[str] = []
        self.page = self.open("desk")

    def open(self, size: str) -> Page:
        context = self.browser.new_context(viewport=SIZE[size], has_touch=size == "phone")
        self.addCleanup(context.close)
        page = context.new_page()
        page.set_default_timeout(60000)
        expect.set_options(timeout=60000)
        page.on("pageerror", lambda error: self.complaints.append(str(error)))
        page.on(
            "console",
            lambda message: (
                self.complaints.append(message.text)
                if message.type == "error" and not any(word in message.text for word in EXPECTED)
                else None
            ),
        )
        page.on(
            "request",
            lambda request: (
                None
                if request.url.startswith((self.live_server_url, "data:"))
                else self.complaints.append(f"asked another host: {request.url}")
            ),
        )
        return page

    def _fixture_teardown(self):
        """Nothing is emptied: the next test begins from the copy."""
        busy.wait()

    def tearDown(self):
        self.assertEqual(self.complaints, [])

    def go(self, rest: str, page: Page | None = None) -> Page:
        page = page or self.page
        page.goto(f"{self.live_server_url}{rest}")
        return page

    def scroll_to(self, selector: str, page: Page | None = None):
        """In one step of the page's own, so that a fragment swapped meanwhile takes nothing from under it."""
        (page or self.page).evaluate(
            "s => [...document.querySelectorAll(s)].at(-1)?.scrollIntoView({block: 'center', behavior: 'instant'})",
            selector,
        )

    def at(self, rest: str) -> str:
        return f"/car/{self.car.pk}/{rest}"

    def sign_in_as(self, user: User) -> Page:
        """In by a session of one's own, as after a sign-in."""
        client = Client()
        client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
        cookie = client.cookies[settings.SESSION_COOKIE_NAME]
        self.page.context.add_cookies([{"name": cookie.key, "value": cookie.value, "url": self.live_server_url}])
        return self.go("/")

    def sign_in(self, page: Page | None = None) -> Page:
        page = self.go("/sign-in/", page)
        page.get_by_role("button", name="Sign in to the demo garage").click()
        page.wait_for_url(f"{self.live_server_url}/")
        return page


def click_in(page, drawing, x, y):
    """A click at a point in a drawing's own units, through its matrix: it need not fill its box."""
    drawing.scroll_into_view_if_needed()
    a, d, e, f = drawing.evaluate("svg => { const m = svg.getScreenCTM(); return [m.a, m.d, m.e, m.f]; }")
    page.mouse.click(e + x * a, f + y * d)


def missed(page, points, within=3.0):
    """Points whose click was taken for one further away than that; the text field holds what was taken."""
    taken = [tuple(map(float, line.split())) for line in page.locator("[data-points]").input_value().splitlines()]
    return [
        (want, got)
        for want, got in zip(points, taken, strict=True)
        if max(abs(want[0] - got[0]), abs(want[1] - got[1])) > within
    ]
