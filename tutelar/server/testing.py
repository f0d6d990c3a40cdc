"""Django's test runner: the longest classes first, the ten slowest tests at the end, and a closing line with figures.

How long each class took is remembered in `var/`; where nothing is remembered yet, browser tests come first.
"""

import json
import time
import unittest
from collections import defaultdict
from typing import Any

from django.conf import settings
from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner

REMEMBERED = settings.BASE_DIR / "var" / "test-seconds.json"
SLOWEST = 10


class _Timed:
    """A result that measures each test from its start to its end, set-up and clean-up included."""

    def _took(self, test: unittest.TestCase, seconds: float) -> None:
        raise NotImplementedError

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self._started = time.perf_counter()
        super().startTest(test)  # type: ignore[misc]

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self._took(test, time.perf_counter() - self._started)
        super().stopTest(test)  # type: ignore[misc]


class _RemoteResult(_Timed, RemoteTestResult):
    def _took(self, _test: unittest.TestCase, seconds: float) -> None:
        self.events.append(("add_seconds", self.test_index, seconds))


class _RemoteRunner(RemoteTestRunner):
    resultclass = _RemoteResult


class Suite(ParallelTestSuite):
    """Tests spread over processes, the longest classes first."""

    runner_class = _RemoteRunner

    def __init__(self, subsuites: list[unittest.TestSuite], *args: Any, **kwargs: Any) -> None:
        known = _remembered()
        super().__init__(sorted(subsuites, key=lambda suite: -_expected(suite, known)), *args, **kwargs)


class Result(unittest.TextTestResult):
    """Collects (seconds, test id), of tests that ran here and of those that other processes ran."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.seconds: list[tuple[float, str]] = []

    def add_seconds(self, test: unittest.TestCase, seconds: float) -> None:
        """Note how long a test took."""
        self.seconds.append((seconds, test.id()))


class _HereResult(_Timed, Result):
    def _took(self, test: unittest.TestCase, seconds: float) -> None:
        self.add_seconds(test, seconds)


class Runner(DiscoverRunner):
    """Django's runner with the ten slowest and a closing line."""

    parallel_test_suite = Suite

    def get_resultclass(self) -> type[unittest.TextTestResult]:
        return super().get_resultclass() or (Result if self.parallel > 1 else _HereResult)

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(getattr(result, "unexpectedSuccesses", []))
        skipped = len(result.skipped)
        seconds = getattr(result, "seconds", [])
        _remember(seconds)
        if len(seconds) > SLOWEST:
            print("The slowest tests:")
            for took, name in sorted(seconds, reverse=True)[:SLOWEST]:
                print(f"  {took:6.1f} s  {name}")
            floors = _sums(seconds, lambda name: ".".join(name.split(".")[:2]))
            print("Seconds by floor: " + ", ".join(f"{name} {took:.0f}" for name, took in sorted(floors.items())))
        print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
        return failed


def _sums(seconds: list[tuple[float, str]], group: Any) -> dict[str, float]:
    found: dict[str, float] = defaultdict(float)
    for took, name in seconds:
        found[group(name)] += took
    return found


def _class_of(name: str) -> str:
    return name.rsplit(".", 1)[0]


def _expected(suite: unittest.TestSuite, known: dict[str, float]) -> float:
    name = next((_class_of(test.id()) for test in suite if isinstance(test, unittest.TestCase)), "")
    return known.get(name, 1000.0 if ".browser." in name else 0.0)


def _remembered() -> dict[str, float]:
    try:
        return {str(name): float(took) for name, took in json.loads(REMEMBERED.read_text()).items()}
    except (OSError, ValueError, AttributeError):
        return {}


def _remember(seconds: list[tuple[float, str]]) -> None:
    REMEMBERED.parent.mkdir(parents=True, exist_ok=True)
    found = {**_remembered(), **_sums(seconds, _class_of)}
    REMEMBERED.write_text(json.dumps(found, indent=0, sort_keys=True))
