"""What must be measured, what counts as passed, and what makes it stale?"""

from tutelar.core.proof.checks import (
    CHECKS,
    CLOCK_GOOD_S,
    IDENTITY_SERVICES,
    Expectation,
    all_expectations,
    check_title,
    expectations,
)
from tutelar.core.proof.judging import judge, spoken_offset, stranger
from tutelar.core.proof.seen import ChannelSeen, Identity, LoginAnswer, Observation, PortAnswer, StreamSeen, Told
from tutelar.core.proof.standing import State, as_row, device_state, is_stale, latest, reading_state

__all__ = [
    "CHECKS", "CLOCK_GOOD_S", "IDENTITY_SERVICES", "ChannelSeen", "Expectation", "Identity", "LoginAnswer",
    "Observation", "PortAnswer", "State", "StreamSeen", "Told", "all_expectations", "as_row", "check_title",
    "device_state", "expectations", "is_stale", "judge", "latest", "reading_state", "spoken_offset", "stranger",
]  # fmt: skip
