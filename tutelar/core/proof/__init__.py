"""What must be measured or witnessed, what counts as passed, what is left open, and what makes a proof stale?"""

from tutelar.core.proof.check import IDENTITY_SERVICES, PAGES
from tutelar.core.proof.checks.clock import CLOCK_GOOD_S
from tutelar.core.proof.exceptions import Exceptions
from tutelar.core.proof.expectation import Expectation, all_expectations, expectations
from tutelar.core.proof.identity import factory_login, stranger
from tutelar.core.proof.judging import expected_of, judge, measured_of
from tutelar.core.proof.registry import CHECKS, WITNESSED, check_of, check_title
from tutelar.core.proof.saying import short_mark, spoken_offset
from tutelar.core.proof.seen import (
    CertificateSeen,
    ChannelSeen,
    DiskSeen,
    Identity,
    LoginAnswer,
    Observation,
    PortAnswer,
    PortFault,
    ReportedState,
    StreamSeen,
)
from tutelar.core.proof.standing import (
    CellState,
    Coverage,
    State,
    as_row,
    cell_state,
    changed_since,
    device_state,
    is_planned,
    is_stale,
    latest,
    left_to_see,
    proving_sources,
    reading_state,
)

__all__ = [
    "CHECKS",
    "CLOCK_GOOD_S",
    "IDENTITY_SERVICES",
    "PAGES",
    "WITNESSED",
    "CellState",
    "CertificateSeen",
    "ChannelSeen",
    "Coverage",
    "DiskSeen",
    "Exceptions",
    "Expectation",
    "Identity",
    "LoginAnswer",
    "Observation",
    "PortAnswer",
    "PortFault",
    "ReportedState",
    "State",
    "StreamSeen",
    "all_expectations",
    "as_row",
    "cell_state",
    "changed_since",
    "check_of",
    "check_title",
    "device_state",
    "expectations",
    "expected_of",
    "factory_login",
    "is_planned",
    "is_stale",
    "judge",
    "latest",
    "left_to_see",
    "measured_of",
    "proving_sources",
    "reading_state",
    "short_mark",
    "spoken_offset",
    "stranger",
    "subject_of",
]
