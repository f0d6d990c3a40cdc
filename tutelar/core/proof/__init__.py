"""What must be measured or witnessed, what counts as passed, what is left open, and what makes a proof stale?"""

from tutelar.core.proof.checks import (
    CHECKS,
    CLOCK_GOOD_S,
    IDENTITY_SERVICES,
    PAGES,
    Expectation,
    all_expectations,
    check_title,
    expectations,
    factory_login,
)
from tutelar.core.proof.exceptions import Exceptions
from tutelar.core.proof.judging import judge, spoken_offset, stranger
from tutelar.core.proof.seen import (
    CertificateSeen,
    ChannelSeen,
    Identity,
    LoginAnswer,
    Observation,
    PortAnswer,
    StreamSeen,
    Told,
)
from tutelar.core.proof.standing import (
    CellState,
    Coverage,
    State,
    as_row,
    cell_state,
    changed_since,
    device_state,
    is_stale,
    latest,
    left_to_see,
    reading_state,
)

__all__ = [
    "CHECKS", "CLOCK_GOOD_S", "IDENTITY_SERVICES", "PAGES", "CellState", "CertificateSeen", "ChannelSeen", "Coverage",
    "Exceptions", "Expectation", "Identity", "LoginAnswer", "Observation", "PortAnswer", "State", "StreamSeen", "Told",
    "all_expectations", "as_row", "cell_state", "changed_since", "check_title", "device_state", "expectations",
    "factory_login", "is_stale", "judge", "latest", "left_to_see", "reading_state", "spoken_offset", "stranger",
]  # fmt: skip
