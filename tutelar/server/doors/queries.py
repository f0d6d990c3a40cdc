"""Reads of doors and access, kept by the site's version."""

from functools import lru_cache

from tutelar.core.access import AccessIndex
from tutelar.core.access.digest import Telling
from tutelar.server import models
from tutelar.server.store import documents


@lru_cache(maxsize=16)
def _telling(pk: int, version_token: str) -> Telling:
    return Telling(AccessIndex(documents.document_at(pk, version_token)))


def telling_of(row: models.Site) -> Telling:
    """Return what the panels of a site have to know, with its look-ups."""
    return _telling(row.pk, row.version_token)
