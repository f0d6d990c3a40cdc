"""Reads of a whole site: how far it is."""

from tutelar.core.progress import JobState, Progress, laptop_setting, progress
from tutelar.core.proof import left_to_see
from tutelar.core.proof.standing import door_tests_left
from tutelar.server import models
from tutelar.server.bench import queries as bench_queries
from tutelar.server.handover import queries as handover_queries
from tutelar.server.links import queries as links_queries
from tutelar.server.proof import queries as proof_queries
from tutelar.server.secrets import queries as secrets_queries
from tutelar.server.store import bench_steps, documents
from tutelar.server.store.secret_marks import all_secret_marks


def site_progress(row: models.Site) -> Progress:
    """Return what is open at each stage of a site, and its next thing."""
    done, last = bench_steps.finished(row), proof_queries.readings(row)
    states = proof_queries.device_states(row, last, done)
    wanted, left = proof_queries.expectations(row), proof_queries.exceptions(row)
    site = documents.document(row)
    bench = bench_queries.bench_run(row)
    ends = handover_queries.ends_with(row, laptop_setting(bench.steps, done))
    slotted = secrets_queries.with_administrator(row.pk, row.version_token)
    kept = {device for device, slot in all_secret_marks(row) if slot == "administrator"}
    return progress(
        JobState(
            site,
            documents.planned(row),
            bench,
            done,
            states,
            tuple((item.device.key, item.sentence) for item in secrets_queries.open_tellings(row)),
            links_queries.link_standings(row, last, states),
            left_to_see(wanted, last, left),
            (len(slotted.difference(kept)), len(slotted)),
            len(left.by_check),
            door_tests_left(site, wanted, last),
            handover_queries.holding_of(row, ends),
        )
    )
