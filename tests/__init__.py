"""Tests by floor. Properties are tried without a time limit: a busy machine is no fault of the code."""

import os

from hypothesis import settings

settings.register_profile("tutelar", deadline=None, derandomize=bool(os.environ.get("CI")))
settings.load_profile("tutelar")
