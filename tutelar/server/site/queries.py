"""Reads of a whole site: how far it is."""

from tutelar.core.progress import Progress, progress
from tutelar.core.proof import left_to_see
from tutelar.server import models
from tutelar.server.bench import queries as bench_queries
from tutelar.server.links import queries as links_queries
from tutelar.server.proof import queries as proof_queries
from tutelar.server.store import documents, lookup


def site_progress(row: models.Site) -> Progress:
    done, last = lookup.finished(lookup.step_records(row)), proof_queries.readings(row)
    states = proof_queries.device_states(row, last, done)
    telling = models.PendingUpdate.objects.filter(site=row, done_at__isnull=True).values_list("sentence", flat=True)
    links = links_queries.link_standings(row, last, states)
    to_see = left_to_see(proof_queries.expectations(row), last, proof_queries.exceptions(row))
    return progress(
        documents.document(row),
        documents.planned(row),
        bench_queries.bench_run(row),
        done,
        states,
        list(telling),
        links,
        to_see,
    )
