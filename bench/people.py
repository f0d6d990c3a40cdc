"""Twenty people at once, and three hundred open pages: what do a write and a read take, against one alone?

    python -m bench.people [PEOPLE [PROCESSES]]     scripts/with-postgres python -m bench.people 50 2

Half of them read four sheets, half write a line of the log, each 0.3 s after the other; every answer has to be one.
Then 300 event streams stand open while one reads. The references are one writer and one reader in the same run.
"""

import http.client
import json
import statistics
import sys
import threading
import time
from collections.abc import Callable
from itertools import chain
from urllib.parse import urlsplit

from tests.browser.driving import Server, Visit, chromium, demo_server

SECONDS, PAUSE_S, STREAMS = 20.0, 0.3, 300
PEOPLE = int(sys.argv[1]) if len(sys.argv) > 1 else 20
PROCESSES = sys.argv[2] if len(sys.argv) > 2 else "1"
SHEETS = ("kit", "links", "proof", "job")
SITE = "/api/sites/brackwater"


class Person:
    """Somebody with a connection of his own."""

    def __init__(self, server: Server) -> None:
        self.where = urlsplit(server.address).netloc
        cookies = server.signed_in["cookies"] if server.signed_in else []
        crumbs = {item["name"]: item["value"] for item in cookies}
        cookie = "; ".join(f"{name}={value}" for name, value in crumbs.items())
        self.headers = {"Cookie": cookie, "X-CSRFToken": crumbs["csrftoken"], "Content-Type": "application/json"}
        self.line = http.client.HTTPConnection(self.where, timeout=60)

    def ask(self, method: str, path: str, body: object = None) -> float:
        """Return the milliseconds that an answer takes; raises AssertionError where it is a refusal."""
        begun = time.perf_counter()
        self.line.request(method, path, json.dumps(body) if body is not None else None, self.headers)
        answer = self.line.getresponse()
        said = answer.read()
        assert answer.status < 300, (answer.status, said[:200])
        return (time.perf_counter() - begun) * 1000

    def write(self, number: int) -> float:
        return self.ask("POST", f"{SITE}/log", {"text": f"Line {number}.", "subject": "cam-01"})

    def read(self, number: int) -> float:
        return self.ask("GET", f"{SITE}/{SHEETS[number % len(SHEETS)]}")

    def listen(self) -> http.client.HTTPResponse:
        self.line.request("GET", f"{SITE}/bench/events", headers=self.headers)
        return self.line.getresponse()


def main() -> None:
    with demo_server("--processes", PROCESSES) as server, chromium() as browser:
        Visit.start(browser, server).page.context.close()
        one = Person(server)
        for number in range(8 * int(PROCESSES) ** 2):  # what is worked out once is worked out, in each
            one.read(number)
            one.write(number)
        alone_writes = _each(server, [Person.write])[0]
        alone_reads = _each(server, [Person.read])[0]
        many = _each(server, [Person.write, Person.read] * (PEOPLE // 2))
        writes, reads = list(chain(*many[::2])), list(chain(*many[1::2]))
        _say("a write", alone_writes, writes, " (goal 5.0)")
        _say("a read", alone_reads, reads)
        listeners = [Person(server) for _ in range(STREAMS)]
        open_ = [person.listen() for person in listeners]
        assert all(answer.status == 200 for answer in open_)
        listened = _each(server, [Person.read])[0]
        medians = statistics.median(alone_reads), statistics.median(listened)
        print(f"a read, median: {medians[0]:.0f} ms, with {STREAMS} open streams {medians[1]:.0f} ms: ", end="")
        print(f"{medians[1] / medians[0]:.1f} times (goal 2.0)")


def _say(what: str, alone: list[float], together: list[float], goal: str = "") -> None:
    one, many = _p95(alone), _p95(together)
    print(f"{what}, 95 of 100: one alone {one:.0f} ms, {PEOPLE} people {many:.0f} ms: {many / one:.1f} times{goal}")


def _each(server: Server, works: list[Callable[[Person, int], float]]) -> list[list[float]]:
    """Return the milliseconds of each person's asking for a while."""
    took: list[list[float]] = [[] for _ in works]

    def go_on(at: int) -> None:
        person, number, end = Person(server), at, time.monotonic() + SECONDS
        time.sleep(PAUSE_S * at / len(works))
        while time.monotonic() < end:
            took[at].append(works[at](person, number))
            number += 1
            time.sleep(PAUSE_S)

    threads = [threading.Thread(target=go_on, args=(at,)) for at in range(len(works))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert all(took), "somebody's asking broke off"
    return took


def _p95(values: list[float]) -> float:
    return sorted(values)[int(len(values) * 0.95)]


if __name__ == "__main__":
    main()
