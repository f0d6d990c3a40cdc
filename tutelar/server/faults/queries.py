"""Reads of cases: the site's diagnosis, kept by the site's version, and what was seen in a case."""

from functools import lru_cache

from django.http import Http404

from tutelar.core.diagnose import Cause, Diagnoser, Ground, Seen, Wrong
from tutelar.server import models
from tutelar.server.store import documents


@lru_cache(maxsize=16)
def _diagnoser(pk: int, version_token: str) -> Diagnoser:
    return Diagnoser(Ground(documents.document_at(pk, version_token), documents.plan_at(pk, version_token)))


def diagnoser_of(row: models.Site) -> Diagnoser:
    """Return what weighs causes on a site; what faults change there is worked out once."""
    return _diagnoser(row.pk, row.version_token)


def case_of(row: models.Site, number: int) -> models.Case:
    """Return a case of a site. Raises Http404."""
    found = models.Case.objects.filter(site=row, number=number).first()
    if found is None:
        raise Http404(f"The site has no case {number}.")
    return found


def seen_in(row: models.Site, case: models.Case, *, again: bool = True) -> list[Seen]:
    """Return what was seen in a case, of devices that the site still has; not `again`: without what was looked at once
    more after something was put right."""
    there = diagnoser_of(row).ground.devices
    return [
        Seen(check=item["check"], at=item["at"], result=item["result"])
        for item in case.seen
        if item["at"] in there and (again or not item.get("again"))
    ]


def hidden_in(case: models.Case, *, left: bool = False) -> list[Cause]:
    """Return the faults that were hidden in a drill; `left`: those that are not put right yet."""
    return [Cause(item["kind"], item["at"]) for item in case.hidden or () if not (left and item.get("mended"))]


def played(row: models.Site, case: models.Case) -> Wrong:
    """Return the site with the faults of a drill that are not put right yet."""
    return Wrong(diagnoser_of(row).ground, hidden_in(case, left=True))
