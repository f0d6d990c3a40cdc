"""Looking for the best order of a run: in processes of their own, so that nobody's page waits for it.

Few are under way at once, one of them for each person: whoever asks for another one lets go of the one before, and a
search that nobody waits for any more ends.
"""

import os
import pickle
import signal
import subprocess
import sys
import threading

from tutelar.core.run import Run, run
from tutelar.core.site import Site
from tutelar.server.single import the_only

MOST = max(1, (os.cpu_count() or 2) - 1)  # at once
COMMAND = (sys.executable, "-c", "from tutelar.server.bench.search import main; main()")
About = tuple[int, str, int, int, int | None]  # the site, its version, technicians, times that are known, effort


class _Search:
    """One that is under way, and who waits for it."""

    def __init__(self) -> None:
        self.people: set[str] = set()
        self.found: Run | None = None
        self.over, self.stopped = threading.Event(), False
        self.process: subprocess.Popen[bytes] | None = None

    def stop(self) -> None:
        """End it; whoever waits gets nothing."""
        self.stopped = True
        if self.process is not None:
            self.process.terminate()


class Searches:
    """Those that are under way, by what they are about."""

    def __init__(self) -> None:
        self._under_way: dict[About, _Search] = {}
        self._ended = False
        self._lock, self._room = threading.Lock(), threading.Semaphore(MOST)

    def find(self, person: str, about: About, site: Site) -> Run | None:
        """Return the best order found, None where the search was stopped: by who asked, or because he asked for another
        one. One that is under way about the same is joined; another one of this person is left."""
        with self._lock:
            joined = self._under_way.get(about)
            if joined is not None and joined.stopped:
                joined = None  # it ends in a moment, with nothing
            for other in self._under_way.values():
                if other is not joined:
                    self._leave(person, other)
            mine = self._under_way[about] = joined or _Search()
            mine.people.add(person)
        if joined is None:
            try:
                with self._room:
                    self._work(mine, about, site)
            finally:
                with self._lock:
                    if self._under_way.get(about) is mine:
                        del self._under_way[about]
                mine.over.set()
        mine.over.wait()
        return mine.found

    def stop(self, person: str, pk: int, technicians: int) -> bool:
        """Leave what a person waits for at a site, for so many technicians; return whether there was anything."""
        with self._lock:
            about = [each for each in self._under_way if (each[0], each[2]) == (pk, technicians)]
            left = [each for each in about if self._leave(person, self._under_way[each])]
        return bool(left)

    @staticmethod
    def _leave(person: str, search: _Search) -> bool:
        if person not in search.people:
            return False
        search.people.discard(person)
        if not search.people:
            search.stop()
        return True

    def end(self) -> None:
        """Stop them all, and begin no other: the server ends."""
        with self._lock:
            self._ended = True
            for search in self._under_way.values():
                search.stop()

    def _work(self, search: _Search, about: About, site: Site) -> None:
        with self._lock:
            if search.stopped or self._ended:
                return
            search.process = subprocess.Popen(COMMAND, stdin=subprocess.PIPE, stdout=subprocess.PIPE)  # noqa: S603 - this program itself
        said, _ = search.process.communicate(pickle.dumps((site, about[2], about[4])))
        if search.process.returncode == 0:
            search.found = pickle.loads(said)  # noqa: S301 - of this program itself
        elif not (search.stopped or self._ended):
            raise RuntimeError(f"The search for an order ended with {search.process.returncode}.")


def main() -> None:
    """Read a site, the number of technicians and the effort from standard input; write the best run found."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # whoever started it ends it
    os.nice(10)  # who looks at a page comes first
    site, technicians, effort = pickle.load(sys.stdin.buffer)  # noqa: S301 - of this program itself
    sys.stdout.buffer.write(pickle.dumps(run(site, technicians, effort, values=False)))


SEARCHES = the_only("searches", Searches)
