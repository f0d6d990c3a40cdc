"""Reads of the links: what is known of them and how far each is."""

from collections.abc import Mapping

from tutelar.core.links.index import LinkIndex
from tutelar.core.links.readiness import LinkStatus, link_statuses
from tutelar.core.links.registry import link_index
from tutelar.core.site import Reading
from tutelar.server import models
from tutelar.server.proof import queries as proof_queries
from tutelar.server.secrets import queries as secrets_queries
from tutelar.server.store import bench_steps, documents
from tutelar.server.store.secret_marks import all_secret_marks


def links_known(row: models.Site, states: Mapping[str, str] | None = None) -> LinkIndex:
    """Return what is known of a site's links; `states` are those of its devices where they are at hand."""
    if states is None:
        states = proof_queries.device_states(row, proof_queries.readings(row), bench_steps.finished(row))
    secrets = all_secret_marks(row)
    open_ = frozenset((item.device.key, item.about.key) for item in secrets_queries.open_tellings(row))
    return link_index(documents.document(row), documents.planned(row).addresses(), states, secrets, open_)


def link_ticks(row: models.Site) -> dict[tuple[str, str], str]:
    """Return what each value was when it was ticked, by (device key, line key)."""
    rows = models.ValueTick.objects.filter(site=row).values_list("subject", "line", "mark")
    return {(subject, line): mark for subject, line, mark in rows}


def link_standings(
    row: models.Site, last: Mapping[tuple[str, str], Reading] | None = None, states: Mapping[str, str] | None = None
) -> list[LinkStatus]:
    """Return how far every link is, in the order of the document."""
    last = proof_queries.readings(row) if last is None else last
    return link_statuses(links_known(row, states), last, link_ticks(row))
