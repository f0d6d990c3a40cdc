"""Every write of a site: in one transaction, based on a revision, with a line in the log."""

from tutelar.server.sites.services.addresses import (
    apply_plan,
    apply_renumber,
    give_back,
    keep_free,
    preview_renumber,
    read_address,
)
from tutelar.server.sites.services.base import Rejected, Stale, log
from tutelar.server.sites.services.bench import change_run, record_step, start_run
from tutelar.server.sites.services.catalogue import (
    catalogue_models,
    catalogue_parts,
    change_site_model,
    drop_profile,
    import_catalogue,
    imported_words,
    keep_profile,
)
from tutelar.server.sites.services.devices import (
    add_device,
    change_device,
    change_devices,
    remove_devices,
    restore,
)
from tutelar.server.sites.services.kit import import_delivery, preview_delivery
from tutelar.server.sites.services.links import (
    add_link,
    apply_numbers,
    apply_proposal,
    change_link,
    change_numbering,
    import_links,
    preview_links,
    proposal,
    remove_link,
    standing_of,
    witness,
)
from tutelar.server.sites.services.logbook import add_entry, keep_photo, photo_path
from tutelar.server.sites.services.proof import cancel_proof, end_proof, keep_readings, lock_proven, start_proof
from tutelar.server.sites.services.secrets import (
    check_secret,
    count_refused,
    forget,
    reveal,
    set_secret,
    told,
)
from tutelar.server.sites.services.settings import (
    change_ports,
    choose,
    choose_school,
    clock_shown,
    decide_forward,
    drop_forward,
)
from tutelar.server.sites.services.survey import add_network, answer_question, change_survey, with_answers
from tutelar.server.sites.services.typed import tick
from tutelar.server.sites.services.whole import import_site

__all__ = [
    "Rejected",
    "Stale",
    "add_device",
    "add_entry",
    "add_link",
    "add_network",
    "answer_question",
    "apply_numbers",
    "apply_plan",
    "apply_proposal",
    "apply_renumber",
    "cancel_proof",
    "catalogue_models",
    "catalogue_parts",
    "change_device",
    "change_devices",
    "change_link",
    "change_numbering",
    "change_ports",
    "change_run",
    "change_site_model",
    "change_survey",
    "check_secret",
    "choose",
    "choose_school",
    "clock_shown",
    "count_refused",
    "decide_forward",
    "drop_forward",
    "drop_profile",
    "end_proof",
    "forget",
    "give_back",
    "import_catalogue",
    "import_delivery",
    "import_links",
    "import_site",
    "imported_words",
    "keep_free",
    "keep_photo",
    "keep_profile",
    "keep_readings",
    "lock_proven",
    "log",
    "photo_path",
    "preview_delivery",
    "preview_links",
    "preview_renumber",
    "proposal",
    "read_address",
    "record_step",
    "remove_devices",
    "remove_link",
    "restore",
    "reveal",
    "set_secret",
    "standing_of",
    "start_proof",
    "start_run",
    "tick",
    "told",
    "with_answers",
    "witness",
]
