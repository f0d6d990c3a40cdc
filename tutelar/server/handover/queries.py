"""Reads of what is open before one leaves a site, and of what somebody left open."""

from collections.abc import Sequence

from django.utils import timezone

from tutelar.core.loose_ends import LEFT_OPEN, SITE, LooseEnd, Raised, loose_ends
from tutelar.core.progress import laptop_setting
from tutelar.core.run.chain import AdapterConfig
from tutelar.core.setting import INTERVAL_FOR_TEST
from tutelar.core.site.types import Site
from tutelar.server import models
from tutelar.server.bench import queries as bench_queries
from tutelar.server.later import queries as later_queries
from tutelar.server.proof import queries as proof_queries
from tutelar.server.secrets import queries as secrets_queries
from tutelar.server.store import bench_steps, documents
from tutelar.server.store.checklist import ticks_of


def ends_of(row: models.Site) -> list[LooseEnd]:
    """Return everything that is open on a site now."""
    return ends_with(row, laptop_setting(bench_queries.bench_run(row).steps, bench_steps.finished(row)))


def ends_with(row: models.Site, laptop: AdapterConfig | None) -> list[LooseEnd]:
    """Return everything that is open on a site now, its laptop standing so."""
    site = documents.document(row)
    return loose_ends(
        site,
        documents.planned(row),
        timezone.localdate(),
        wanted=proof_queries.expectations(row),
        last=proof_queries.readings(row),
        played=_played(row),
        looks=later_queries.looks(row),
        more=_only_here(row, site, laptop),
    )


def _played(row: models.Site) -> frozenset[str]:
    found = models.Reading.objects.filter(site=row, measured_at="pretend").values_list("device__key", flat=True)
    return frozenset(found.distinct())


def _only_here(row: models.Site, site: Site, laptop: AdapterConfig | None) -> list[Raised]:
    """Return the ends that only the server knows of: the laptop of the bench, partners that were not told."""
    found = [
        Raised("partner-not-told", item.device.key, f"of {site.label_of(item.about.key)}")
        for item in secrets_queries.open_tellings(row)
    ]
    found += _typed_for_the_test(row)
    if laptop is not None:
        found.append(Raised("laptop-fixed", SITE, str(laptop.address)))
    return found


def _typed_for_the_test(row: models.Site) -> list[Raised]:
    """Return the devices whose time update interval was typed short for the test, and nobody said that it is long."""
    done = {item["subject"] for item in ticks_of(row) if item["item"] == "temporary-value"}
    typed = models.ValueTick.objects.filter(site=row, line="interval", mark=INTERVAL_FOR_TEST)
    keys = typed.values_list("subject", flat=True)
    return [Raised("temporary-value", key, "time update interval, 60 min") for key in keys if key not in done]


def left_open(row: models.Site) -> dict[tuple[str, str], dict[str, str]]:
    """Return the ends that somebody left open, with reason, name and time, by code and subject."""
    rows = row.extra.get(LEFT_OPEN)
    return {(item["code"], item["subject"]): item for item in (rows if isinstance(rows, list) else [])}


def holding_of(row: models.Site, ends: Sequence[LooseEnd]) -> list[LooseEnd]:
    """Return the ends that hold the signature: those that nobody left open."""
    left = left_open(row)
    return [end for end in ends if end.blocks and (end.code, end.subject) not in left]
