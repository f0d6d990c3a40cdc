"""What browser tests share: one demo server and one Chromium a test process, kept apart from the other tests."""

import tempfile
import threading
from collections.abc import Callable
from concurrent.futures import Future
from contextlib import ExitStack
from multiprocessing.util import Finalize
from pathlib import Path
from queue import SimpleQueue
from typing import Any
from unittest import TestCase, TestResult

from playwright.sync_api import Browser, sync_playwright

from tests.browser.driving import Server, Visit, demo_server, launch
from tests.samples import demo, shipped


class _Shared:
    """The server, the browser and a folder, made at the first use in a thread of their own.

    Playwright leaves an event loop running in its thread; elsewhere it would stand in the way of other tests.
    """

    server: Server
    browser: Browser
    folder: Path

    def __init__(self) -> None:
        self._stack = ExitStack()
        self._work: SimpleQueue[tuple[Future[Any], Callable[[], Any]] | None] = SimpleQueue()
        self._thread = threading.Thread(target=self._loop, daemon=True)
        self._thread.start()
        Finalize(None, self._close, exitpriority=10)

    def do(self, work: Callable[[], Any]) -> Any:
        """Return what `work` returns, done in the browser's thread."""
        future: Future[Any] = Future()
        self._work.put((future, work))
        return future.result()

    def _loop(self) -> None:
        with self._stack:
            self.server = self._stack.enter_context(demo_server())
            self.playwright = self._stack.enter_context(sync_playwright())
            self.browser = self._stack.enter_context(launch(self.playwright))
            Visit.start(self.browser, self.server).page.context.close()  # signed in from here on
            self.folder = Path(self._stack.enter_context(tempfile.TemporaryDirectory()))
            while (item := self._work.get()) is not None:
                future, work = item
                try:
                    future.set_result(work())
                except BaseException as error:
                    future.set_exception(error)

    def _close(self) -> None:
        self._work.put(None)
        self._thread.join(20)


REFUSED = ("status of 409", "status of 422")  # the browser says these by itself
_shared: list[_Shared] = []


class Browsing(TestCase):
    """A test in the browser. Others use the same server: it works on sites under keys of its own, and fails when the
    console complains about anything but refused writes and what it `expected`."""

    expected: tuple[str, ...] = ()

    def run(self, result: TestResult | None = None) -> TestResult | None:
        if not _shared:
            _shared.append(_Shared())
        return _shared[0].do(lambda: super(Browsing, self).run(result))  # type: ignore[no-any-return]

    def setUp(self) -> None:
        super().setUp()
        shared = _shared[0]
        self.server, self.browser, self.folder, self.playwright = (
            shared.server,
            shared.browser,
            shared.folder,
            shared.playwright,
        )
        self.addCleanup(self._leave)

    def _leave(self) -> None:
        if self._outcome.success:  # type: ignore[attr-defined]  # what failed may have left anything
            for visit in Visit.started:
                visit.park()
        parked = [page for pages in Visit.parked.values() for page in pages]
        for context in self.browser.contexts:
            if not any(page in parked for page in context.pages):
                context.close()
        said = [text for visit in Visit.started for text in visit.complaints]
        Visit.started.clear()
        left = [text for text in said if not any(word in text for word in (*REFUSED, *self.expected))]
        self.assertEqual(left, [], "the console complains")

    def file(self, name: str, text: str) -> Path:
        path = self.folder / name
        path.write_text(text)
        return path

    def ready(self, key: str, ports: int | None = None, *, whole: bool = False) -> str:
        """Bring in the demo under its own key, for a bench with so many ports; `whole`: with its recordings."""
        raw = shipped() if whole else demo()
        raw["site"]["key"] = key
        if ports is not None:
            raw["policy"]["bench"] = {"ports": ports}
        self.server.store(raw)
        return key
