"""Django's test runner with a closing line that says how many tests passed."""

import unittest
from typing import Any

from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(getattr(result, "unexpectedSuccesses", []))
        skipped = len(result.skipped)
        passed = result.testsRun - failed - skipped
        print(f"{passed} passed, {failed} failed, {skipped} skipped")
        return failed
