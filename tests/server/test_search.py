"""The search for the best order of a run: in a process of its own, one for each person, stopped when nobody waits."""

import json
import threading
import time
from concurrent.futures import Future, ThreadPoolExecutor
from unittest import TestCase, mock

from django.test import override_settings

from bench.sites import site_text
from tests.samples import demo
from tests.server.test_api import ApiCase
from tutelar.core.run import Run, run
from tutelar.core.site import read_site
from tutelar.server import models
from tutelar.server.bench.search import SEARCHES, About, Searches

LONG, SHORT = 50_000_000, 500  # pieces laid: for minutes, for a moment


class Search(TestCase):
    def setUp(self) -> None:
        self.searches = Searches()
        self.site = read_site(site_text(12, 1))
        self.threads = self.enterContext(ThreadPoolExecutor(8))

    def ask(self, person: str, pk: int, effort: int = LONG, technicians: int = 1) -> "Future[Run | None]":
        """Ask in a thread, as a request does, and wait until it is under way."""
        about: About = (pk, "token", technicians, 0, effort)
        asked = self.threads.submit(self.searches.find, person, about, self.site)
        end = time.monotonic() + 30
        while not asked.done() and person not in self.people(about) and time.monotonic() < end:
            time.sleep(0.01)
        return asked

    def people(self, about: About) -> set[str]:
        with self.searches._lock:
            search = self.searches._under_way.get(about)
            return set(search.people) if search else set()

    def test_it_is_the_order_that_is_found_without_it(self) -> None:
        found = self.ask("ines", 1, SHORT, 2).result(60)
        self.assertEqual(found, run(self.site, 2, SHORT, values=False))

    def test_another_one_of_the_same_person_ends_the_one_before_and_nobody_elses(self) -> None:
        first, others = self.ask("ines", 1), self.ask("maren", 2)
        second = self.ask("ines", 3)
        self.assertIsNone(first.result(30))
        self.assertEqual((others.done(), second.done()), (False, False))
        for person, pk in (("maren", 2), ("ines", 3)):
            self.assertFalse(self.searches.stop(person, pk, 2), "it is for one technician")
            self.assertTrue(self.searches.stop(person, pk, 1))
        self.assertEqual((others.result(30), second.result(30)), (None, None))

    def test_one_that_was_stopped_is_begun_anew_at_once(self) -> None:
        first = self.ask("ines", 1)
        about: About = (1, "token", 1, 0, LONG)
        stopped = self.searches._under_way[about]
        self.searches.stop("ines", 1, 1)
        second = self.ask("ines", 1)  # while the first may still be ending
        self.assertIsNone(first.result(30))
        self.assertIsNot(self.searches._under_way[about], stopped)
        self.assertFalse(second.done())
        self.searches.stop("ines", 1, 1)
        self.assertIsNone(second.result(30))

    def test_two_who_ask_the_same_wait_for_one_and_it_goes_on_while_one_waits(self) -> None:
        first, second = self.ask("ines", 1), self.ask("maren", 1)
        self.assertEqual(len(self.searches._under_way), 1)
        self.searches.stop("ines", 1, 1)
        self.assertEqual((first.done(), second.done()), (False, False))
        self.searches.stop("maren", 1, 1)
        self.assertEqual((first.result(30), second.result(30)), (None, None))
        self.assertEqual(self.searches._under_way, {})

    def test_no_more_than_so_many_are_under_way_at_once(self) -> None:
        with mock.patch("tutelar.server.bench.search.MOST", 1):
            self.searches = Searches()
        first, waiting = self.ask("ines", 1), self.ask("maren", 2, SHORT)
        time.sleep(0.2)
        self.assertFalse(waiting.done())
        self.searches.stop("ines", 1, 1)
        self.assertIsNone(first.result(30))
        self.assertIsNotNone(waiting.result(60))


class Asked(ApiCase):
    def test_who_stops_it_is_told_so_and_the_next_search_is_found(self) -> None:
        key = self.bring(demo())
        pk = models.Site.objects.get(key=key).pk
        ended = threading.Event()

        def stop() -> None:
            while not ended.wait(0.02) and not SEARCHES.stop("ines", pk, 1):
                pass

        stopper = threading.Thread(target=stop)
        stopper.start()
        with override_settings(RUN_EFFORT=LONG):
            status, said = self.call("GET", f"/sites/{key}/bench?searched=true")
        ended.set()
        stopper.join()
        self.assertEqual((status, said["message"]), (409, "The search for the best order was stopped."))
        self.assertEqual(self.call("DELETE", f"/sites/{key}/run/search?technicians=1")[0], 204)
        status, said = self.call("GET", f"/sites/{key}/rehearsal")
        self.assertEqual((status, said["faults"]), (200, []), json.dumps(said))
