"""The real server in a process of its own, and Debian's Chromium driven against it."""

import json
import os
import re
import shutil
import signal
import subprocess
import sys
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, ClassVar
from urllib.error import HTTPError
from urllib.parse import urlsplit
from urllib.request import Request, urlopen

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import (
    Browser,
    ConsoleMessage,
    Error,
    Locator,
    Page,
    Playwright,
    StorageState,
    ViewportSize,
    expect,
    sync_playwright,
)

from tests.places import with_tables

expect.set_options(timeout=30_000)  # generous: the machine may be busy with the other half of the tests
DESK: ViewportSize = {"width": 1280, "height": 800}
LONG = os.environ.get("TUTELAR_TESTS") == "long"
PHONE: ViewportSize = {"width": 390, "height": 844}
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--no-first-run",
    "--js-flags=--no-turbofan",  # pages live for seconds here: what the last compiler does to them never pays
]


# nothing is on its way, three looks in a row, and what came was drawn between them, a page that was put off included
QUIET = """() => new Promise((done) => {
  let still = 0;
  const look = () => {
    const away = document.documentElement.dataset.busy !== "0" || document.querySelector("[aria-busy=true]");
    still = away ? 0 : still + 1;
    if (still > 2) done(true); else requestAnimationFrame(() => setTimeout(look, 20));
  };
  look();
})"""

SHOWN = "() => document.querySelector('main').innerHTML"

# the address changes, and the application hears of it as when somebody goes back and forth
FOLLOW = """(path) => {
  history.pushState({ idx: (history.state?.idx ?? 0) + 1, key: path, usr: null }, "", path);
  dispatchEvent(new PopStateEvent("popstate", { state: history.state }));
}"""


@dataclass
class Server:
    """A running demo server: its address and login."""

    address: str
    user: str
    password: str
    signed_in: StorageState | None = None

    def store(self, raw: Any) -> None:
        """Bring in a site by request."""
        if self.signed_in is None:
            raise AssertionError("nobody has signed in yet")
        crumbs = {item["name"]: item["value"] for item in self.signed_in["cookies"]}
        cookie = "; ".join(f"{name}={value}" for name, value in crumbs.items())
        headers = {"Cookie": cookie, "X-CSRFToken": crumbs["csrftoken"], "Content-Type": "application/json"}
        request = Request(f"{self.address}/api/sites", json.dumps(raw).encode(), headers)
        refusal = ""
        try:
            urlopen(request, timeout=60).close()
        except HTTPError as error:  # which cannot go from one test process to another
            refusal = error.read().decode()
        assert not refusal, refusal


@contextmanager
def demo_server(*flags: str) -> Iterator[Server]:
    """Serve the demo from an empty place on a free port; stopped and cleaned away afterwards."""
    with tempfile.TemporaryDirectory() as folder:
        environment = with_tables(folder, DJANGO_SETTINGS_MODULE="tutelar.server.settings", TUTELAR_EFFORT="2000")
        command = [sys.executable, "-m", "tutelar.server", "--demo", "--port", "0", *flags]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment) as process:
            try:
                yield _greeting(process)
            finally:
                process.send_signal(signal.SIGINT)
                process.wait(15)


def _greeting(process: "subprocess.Popen[str]") -> Server:
    said = ""
    assert process.stdout
    for line in process.stdout:
        said += line
        found = re.search(r"(http://\S+?)/\s.*Login:\s+(\S+)\s+password:\s+(\S+)", said, re.DOTALL)
        if found:
            return Server(found[1], found[2], found[3])
    raise AssertionError(f"the server said only: {said}")


@contextmanager
def chromium() -> Iterator[Browser]:
    """Start Debian's Chromium without a window."""
    with sync_playwright() as playwright:
        yield launch(playwright)


def filmed(film: Path) -> list[str]:
    """Return the flags with which the browser's camera sees a film (Y4M)."""
    return [
        "--use-fake-device-for-media-stream",
        "--use-fake-ui-for-media-stream",
        f"--use-file-for-fake-video-capture={film}",
    ]


def launch(playwright: Playwright, more: Sequence[str] = ()) -> Browser:
    """Start Debian's Chromium without a window, with more flags."""
    path = shutil.which("chromium-headless-shell") or shutil.which("chromium")
    return playwright.chromium.launch(executable_path=path, args=[*FLAGS, *more])


@dataclass
class Visit:
    """A signed-in page; `complaints` collects what the browser's console says."""

    started: ClassVar[list["Visit"]] = []  # of the test under way
    parked: ClassVar[dict[tuple[Browser, int, bool], list[Page]]] = {}  # tabs of tests before, by width and darkness
    page: Page
    server: Server
    complaints: list[str] = field(default_factory=list)
    window: tuple[Browser, int, bool] | None = None

    @classmethod
    def start(cls, browser: Browser, server: Server, viewport: ViewportSize = DESK, dark: bool = False) -> "Visit":
        """Open a tab that is signed in, or go on in one that a test before left as it was opened: the application is
        read in once for many of them, as at a bench whose tab stays open all day."""
        window = (browser, viewport["width"], dark)
        waiting = cls.parked.get(window)
        page = waiting.pop() if waiting else cls._opened(browser, server, viewport, dark)
        visit = cls(page, server, window=window)
        cls.started.append(visit)
        visit.page.on("console", visit._hear)
        visit.page.on("pageerror", visit._see)
        if server.signed_in is None:
            visit.page.goto(f"{server.address}/")
            visit.page.get_by_label("Name").fill(server.user)
            visit.page.get_by_label("Password").fill(server.password)
            visit.page.get_by_role("button", name="Sign in").click()
            visit.page.get_by_role("heading", name="Sites").wait_for()
            server.signed_in = visit.page.context.storage_state()
        return visit

    @staticmethod
    def _opened(browser: Browser, server: Server, viewport: ViewportSize, dark: bool) -> Page:
        context = browser.new_context(
            viewport=viewport,
            color_scheme="dark" if dark else "light",
            reduced_motion="reduce",
            accept_downloads=True,
            storage_state=server.signed_in,
        )
        context.set_default_timeout(30_000)
        return context.new_page()

    def _hear(self, said: ConsoleMessage) -> None:
        if said.type == "error":
            self.complaints.append(said.text)

    def _see(self, error: Error) -> None:
        self.complaints.append(str(error))

    def park(self) -> None:
        """Leave the tab to the next test, where this one left nothing in it: nothing kept by the browser, the same
        session, the same window, no address that is answered by the test."""
        page, signed_in = self.page, self.server.signed_in
        if self.window is None or page.is_closed() or not signed_in or len(page.context.pages) > 1 or not self.inside:
            return
        kept, size = page.evaluate("[localStorage.length + sessionStorage.length, innerWidth]")
        crumbs = [
            {item["name"]: item["value"] for item in each} for each in (page.context.cookies(), signed_in["cookies"])
        ]
        if (kept, size) == (0, self.window[1]) and crumbs[0] == crumbs[1]:
            page.unroute_all()
            page.remove_listener("console", self._hear)
            page.remove_listener("pageerror", self._see)
            self.parked.setdefault(self.window, []).append(page)

    def store(self, raw: Any) -> None:
        """Bring in a site by request, without the page."""
        self.server.store(raw)

    def quiet(self) -> None:
        """Wait until nothing is fetched or changed, as the page itself counts it, and nothing has followed for a moment."""
        self.page.wait_for_function(QUIET)

    saved = quiet

    def press(self, key: str) -> None:
        """Press a key, and wait until the page shows that it was pressed."""
        stood = self.page.evaluate(SHOWN)
        self.page.keyboard.press(key)
        self.page.wait_for_function(f"(stood) => ({SHOWN})() !== stood", arg=stood)

    @property
    def inside(self) -> bool:
        """Whether the tab stands in the application, signed in."""
        return self.page.url.startswith(f"{self.server.address}/") and "/sign-in" not in self.page.url

    def go(self, path: str) -> Page:
        """Go to a path and wait until everything was fetched: as its links do where the tab stands in the application.
        The page where it stands already is opened anew, since it may still show what a test before did there."""
        stands = urlsplit(self.page.url).path == urlsplit(path).path
        return self.follow(path) if self.inside and not stands else self.load(path)

    def load(self, path: str) -> Page:
        """Open a path as from the browser's own line: everything is read in anew."""
        self.page.goto(f"{self.server.address}{path}")
        return self._shown()

    def follow(self, path: str) -> Page:
        """Go to a path within the application, as its links do, and wait until everything was fetched."""
        self.page.evaluate(FOLLOW, path)
        return self._shown()

    def _shown(self) -> Page:
        self.page.locator("h1").first.wait_for()
        self.quiet()
        expect(self.page.get_by_role("status").filter(has_text="Fetching")).to_have_count(0)
        return self.page

    def start_the_run(self) -> None:
        """Start the run at the bench, and wait for its first step."""
        expect(self.page.locator("footer")).to_contain_text("then start the run")
        self.page.keyboard.press("Space")
        expect(self.step).to_contain_text(re.compile(r"step 1 of \d+"))

    @property
    def step(self) -> Locator:
        """The step in hand at the bench."""
        return self.page.get_by_role("region", name="The step in hand")

    def at_step(self, number: int) -> None:
        """Wait until so many steps less one are settled; say that the device is ready where it still boots."""
        expect(self.step).to_contain_text(re.compile(rf"step {number} of \d+"))
        ready = self.page.locator("footer").get_by_role("button", name="It is ready")
        if ready.count():
            expect(ready).to_be_enabled()
            self.page.keyboard.press("Space")
            expect(self.page.locator("footer")).to_contain_text("Your turn")
            self.saved()

    def bring(self, file: Path) -> None:
        """Choose a site file on the page of sites."""
        self.go("/")
        self.page.get_by_label("Site file").set_input_files(str(file))

    def violations(self, *, contrast: bool = LONG) -> list[str]:
        """Return what axe finds wrong on the page as it stands.

        What asks for colours takes it most of its time. Every colour is one of the theme's, whose pairs a test of their
        own computes; so they are measured on a few pages only, and on all of them in the long run.
        """
        rules = {name: {"enabled": contrast} for name in ("color-contrast", "link-in-text-block")}
        options = {"resultTypes": ["violations"], "rules": rules, "preload": False}
        if not self.page.evaluate("'axe' in window"):
            self.page.evaluate(Axe().axe_script)
        found = self.page.evaluate("(options) => axe.run(document, options)", options)["violations"]
        return [f"{item['id']}: {node['target']}" for item in found for node in item["nodes"][:3]]
