"""The real server in a process of its own, and Debian's Chromium driven against it."""

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
from typing import Any

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import (
    Browser,
    Locator,
    Page,
    Playwright,
    Request,
    StorageState,
    ViewportSize,
    expect,
    sync_playwright,
)

expect.set_options(timeout=60_000)  # generous: the machine may be busy with the other half of the tests
DESK: ViewportSize = {"width": 1280, "height": 800}
PHONE: ViewportSize = {"width": 390, "height": 844}
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--no-first-run",
]


@dataclass
class Server:
    """A running demo server: its address and login."""

    address: str
    user: str
    password: str
    signed_in: StorageState | None = None


@contextmanager
def demo_server() -> Iterator[Server]:
    """Serve the demo from an empty folder on a free port; stopped and cleaned away afterwards."""
    with tempfile.TemporaryDirectory() as folder:
        environment = {**os.environ, "TUTELAR_DATA": folder, "DJANGO_SETTINGS_MODULE": "tutelar.server.settings"}
        command = [sys.executable, "-m", "tutelar.server", "--demo", "--port", "0"]
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
def chromium(film: Path | None = None) -> Iterator[Browser]:
    """Start Debian's Chromium without a window; `film` (Y4M) is what its camera sees."""
    flags = ["--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream",
             f"--use-file-for-fake-video-capture={film}"] if film else []  # fmt: skip
    with sync_playwright() as playwright:
        yield launch(playwright, flags)


def launch(playwright: Playwright, more: Sequence[str] = ()) -> Browser:
    path = shutil.which("chromium") or "/usr/bin/chromium"
    return playwright.chromium.launch(executable_path=path, args=[*FLAGS, *more])


@dataclass
class Visit:
    """A signed-in page; `complaints` collects what the browser's console says."""

    page: Page
    server: Server
    complaints: list[str] = field(default_factory=list)
    writing: int = 0
    waiting: int = 0

    @classmethod
    def start(cls, browser: Browser, server: Server, viewport: ViewportSize = DESK, dark: bool = False) -> "Visit":
        context = browser.new_context(
            viewport=viewport, color_scheme="dark" if dark else "light", reduced_motion="reduce", accept_downloads=True,
            storage_state=server.signed_in,
        )  # fmt: skip
        context.set_default_timeout(60_000)
        visit = cls(context.new_page(), server)
        visit.page.on("console", lambda said: visit.complaints.append(said.text) if said.type == "error" else None)
        visit.page.on("pageerror", lambda error: visit.complaints.append(str(error)))
        visit.page.on("request", lambda request: visit._count(request, 1))
        visit.page.on("requestfinished", lambda request: visit._count(request, -1))
        visit.page.on("requestfailed", lambda request: visit._count(request, -1))
        visit.page.goto(f"{server.address}/")
        if server.signed_in is None:
            visit.page.get_by_label("Name").fill(server.user)
            visit.page.get_by_label("Password").fill(server.password)
            visit.page.get_by_role("button", name="Sign in").click()
        visit.page.get_by_role("heading", name="Sites").wait_for()
        server.signed_in = server.signed_in or context.storage_state()
        return visit

    def store(self, raw: Any) -> None:
        """Bring in a site by request, without the page."""
        token = next(item["value"] for item in self.page.context.cookies() if item["name"] == "csrftoken")
        answer = self.page.request.post(
            f"{self.server.address}/api/sites", data=raw, headers={"X-CSRFToken": token, "Referer": self.server.address}
        )
        assert answer.status == 201, answer.text()

    def _count(self, request: Request, change: int) -> None:
        self.writing += change if request.method != "GET" else 0
        self.waiting += change if request.resource_type != "eventsource" else 0  # a stream stays open

    def saved(self) -> None:
        """Wait until every change that was sent has been answered, and none has followed it for a while."""
        still = 0
        for _ in range(200):
            self.page.wait_for_timeout(50)
            still = still + 1 if self.writing == 0 else 0
            if still == 6:
                return
        raise AssertionError(f"{self.writing} changes are still unanswered")

    def quiet(self) -> None:
        """Wait until nothing has been on its way for a while."""
        still = 0
        for _ in range(400):
            self.page.wait_for_timeout(50)
            still = still + 1 if self.waiting <= 0 else 0
            if still == 6:
                return
        raise AssertionError(f"{self.waiting} requests are still unanswered")

    def go(self, path: str) -> Page:
        """Open a path and wait until everything was fetched."""
        self.page.goto(f"{self.server.address}{path}")
        self.quiet()
        expect(self.page.get_by_role("status").filter(has_text="Fetching")).to_have_count(0)
        self.page.locator("h1").first.wait_for()
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

    def violations(self) -> list[str]:
        """Return what axe finds wrong on the page as it stands."""
        found = Axe().run(self.page, options={"resultTypes": ["violations"]}).response["violations"]
        return [f"{item['id']}: {node['target']}" for item in found for node in item["nodes"][:3]]
