"""The log of every site."""

from django.db.models import Q

from tutelar.server import models
from tutelar.server.logbook import queries
from tutelar.server.sheet import Sheet

MOST = 200


def log(search: str, before: int | None = None, most: int = MOST) -> Sheet:
    """Return the newest lines of every site's log that hold every word; none without a word to look for."""
    lines = queries.log_lines(None, search) if search.strip() else models.Event.objects.none()
    if before is not None:
        lines = lines.filter(pk__lt=before)
    found = list(lines[: most + 1])
    names = dict(models.Site.objects.filter(key__in={item.site_key for item in found}).values_list("key", "name"))
    subjects = Q(pk=None)
    for item in found:
        subjects |= Q(site__key=item.site_key, key=item.subject)
    rows = models.Device.objects.filter(subjects).values_list("site__key", "key", "name") if found else []
    called = {(site, key): name or key for site, key, name in rows}
    return {
        "lines": [
            {
                "id": item.pk,
                "at": item.at,
                "by": item.by,
                "site": item.site_key,
                "site_name": names.get(item.site_key, item.site_key),
                "gone": item.site_key not in names,
                "subject": item.subject,
                "name": called.get((item.site_key, item.subject)),
                "sentence": item.sentence,
            }
            for item in found[:most]
        ],
        "more": len(found) > most,
    }
