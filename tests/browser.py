"""The application served on a free port, and Debian's Chromium to drive it."""

from __future__ import annotations

import asyncio
import os
import socket
import tempfile
import threading
import time
import unittest
from pathlib import Path
from typing import Any

import uvicorn
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, Route, expect, sync_playwright

from cross_staff.settings import Settings
from cross_staff.web.app import create_app
from cross_staff.web.connections import ImpatientProtocol
from tests.data import Fill, put_database

CHROMIUM = os.environ.get("CHROMIUM", "/usr/bin/chromium")
TIMEOUT_MS = 30_000
LEFT = "htmx:sendAbort"  # a page that is left gives up what it was still asking for
CLOSING_S = 10.0  # a window that is closed on its way to a page may never answer
_ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-extensions",
    "--in-process-gpu",
    "--disable-dev-shm-usage",
]


class LiveServer:
    """The application in a thread, on data of its own."""

    def __init__(self, fill_with: Fill | None = None, busy_timeout_ms: int = 5000, demo: bool = False) -> None:
        self._folder = tempfile.TemporaryDirectory(prefix="cross-staff-test-")
        self.settings = Settings(data=Path(self._folder.name), busy_timeout_ms=busy_timeout_ms, demo=demo)
        put_database(self.settings.database_file, fill_with)
        self._socket = socket.socket()
        self._socket.bind(("127.0.0.1", 0))
        self.address = f"http://127.0.0.1:{self._socket.getsockname()[1]}"
        app = create_app(self.settings)
        self._server = uvicorn.Server(uvicorn.Config(app, log_level="warning", http=ImpatientProtocol))
        app.state.stopping = lambda: self._server.should_exit
        self._thread = threading.Thread(target=self._server.run, kwargs={"sockets": [self._socket]})
        self._thread.start()
        while not self._server.started:
            if not self._thread.is_alive():
                raise RuntimeError("the server did not start")
            time.sleep(0.01)

    def stop(self) -> None:
        self._server.should_exit = True
        self._thread.join()
        self._socket.close()
        self._folder.cleanup()


class Chromium:
    """One browser for the whole run; a missing one is an error, never a silent skip."""

    _playwright: Playwright | None = None
    _browser: Browser | None = None

    @classmethod
    def browser(cls) -> Browser:
        if cls._browser is None:
            if not Path(CHROMIUM).exists():
                raise RuntimeError(f"no browser at {CHROMIUM}: install Debian's chromium")
            expect.set_options(timeout=TIMEOUT_MS)  # the machine can stall
            cls._playwright = cls._playwright or sync_playwright().start()
            cls._browser = cls._playwright.chromium.launch(executable_path=CHROMIUM, args=_ARGUMENTS)
        return cls._browser

    @classmethod
    def close_window(cls, window: BrowserContext) -> None:
        """Close a window; where the browser does not answer, the next test gets another browser."""
        try:
            window._sync(asyncio.wait_for(window._impl_obj.close(reason=None), CLOSING_S))
        except TimeoutError:
            cls._browser = None

    @classmethod
    def close(cls) -> None:
        if cls._browser is not None:
            cls._browser.close()
        if cls._playwright is not None:
            cls._playwright.stop()
        cls._browser = cls._playwright = None


def unfold(page: Page) -> None:
    """Everything of a card that is folded."""
    page.locator("details.more").evaluate_all("all => all.forEach((each) => { each.open = true; })")


class Held:
    """The first request of a page for an address, held until it is let go; later ones go through."""

    def __init__(self, page: Page, address: str) -> None:
        self._page, self._routes = page, list[Route]()
        page.route(address, lambda route: route.continue_() if self._routes else self._routes.append(route))

    def wait(self) -> Route:
        """Until the page has asked."""
        end = time.monotonic() + TIMEOUT_MS / 1000.0
        while not self._routes and time.monotonic() < end:
            self._page.wait_for_timeout(20)
        return self._routes[0]

    def let_go(self) -> None:
        self.wait().continue_()


class InBrowser(unittest.TestCase):
    """Tests that drive the real interface; each class has a server of its own."""

    fill_with: Fill | None = None
    busy_timeout_ms = 5000
    demo = False
    server: LiveServer
    expected_complaints: tuple[str, ...] = ("status of 4",)

    @classmethod
    def setUpClass(cls) -> None:
        cls.server = LiveServer(cls.fill_with, cls.busy_timeout_ms, cls.demo)
        cls.addClassCleanup(cls.server.stop)

    def open(self, path: str, size: tuple[int, int] = (1280, 800), **context: Any) -> Page:
        """A fresh window on a page. Anything asked of another address, any error in the console,
        fails the test at its end."""
        viewport = {"width": size[0], "height": size[1]}
        window = Chromium.browser().new_context(
            viewport=viewport, accept_downloads=True, reduced_motion="reduce", **context
        )
        window.set_default_timeout(TIMEOUT_MS)
        page = window.new_page()
        self.outside: list[str] = []
        self.complaints: list[str] = []
        page.on("request", lambda r: self._note_outside(r.url))
        page.on("console", lambda m: self.complaints.append(m.text) if m.type == "error" else None)
        page.on("pageerror", lambda e: self.complaints.append(str(e)))
        self.addCleanup(self._close, window)
        page.goto(self.server.address + path)
        return page

    def _note_outside(self, url: str) -> None:
        if not url.startswith((self.server.address, "data:", "blob:")):
            self.outside.append(url)

    def _close(self, window: BrowserContext) -> None:
        Chromium.close_window(window)
        self.assertEqual(self.outside, [], "a page asked something of another address")
        expected = (*self.expected_complaints, LEFT)
        unexpected = [c for c in self.complaints if not any(words in c for words in expected)]
        self.assertEqual(unexpected, [], "a page complained")
