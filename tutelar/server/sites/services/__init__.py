"""Every write of a site: in one transaction, based on a revision, with a line in the log."""

from tutelar.server.sites.services.base import Rejected, Stale, log
from tutelar.server.sites.services.bench import record_step
from tutelar.server.sites.services.devices import add_device, apply_plan, change_device, remove_device
from tutelar.server.sites.services.links import add_link, change_link
from tutelar.server.sites.services.proof import cancel_proof, end_proof, keep_readings, lock_proven, start_proof
from tutelar.server.sites.services.survey import add_network, answer_question, change_survey, with_answers
from tutelar.server.sites.services.whole import import_site

__all__ = [
    "Rejected",
    "Stale",
    "add_device",
    "add_link",
    "add_network",
    "answer_question",
    "apply_plan",
    "cancel_proof",
    "change_device",
    "change_link",
    "change_survey",
    "end_proof",
    "import_site",
    "keep_readings",
    "lock_proven",
    "log",
    "record_step",
    "remove_device",
    "start_proof",
    "with_answers",
]
