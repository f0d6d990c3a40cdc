"""Tests by floor. `quick` is what every change runs; `TUTELAR_TESTS=long` (make test-long) searches further.

Properties are tried without a time limit: a busy machine is no fault of the code.
"""

import os

from hypothesis import settings

LONG = os.environ.get("TUTELAR_TESTS") == "long"


def so_many(quick: int, long: int) -> int:
    """Return how many examples, seeds or rounds a test tries."""
    return long if LONG else quick


settings.register_profile("quick", deadline=None, max_examples=35, derandomize=bool(os.environ.get("CI")))
settings.register_profile("long", deadline=None, max_examples=600)
settings.load_profile("long" if LONG else "quick")
