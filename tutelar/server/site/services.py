"""Writing whole sites and their survey."""

import json
import re
from itertools import count as count_from
from typing import Any

from django.db import IntegrityError, transaction

from tutelar.core.check import UNSTORABLE, check
from tutelar.core.site import UnreadableSite, read_site
from tutelar.core.site.base import KEY_LONGEST, KEY_PATTERN
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.store import documents, lookup
from tutelar.server.store.changes import added
from tutelar.server.store.document import device_document, store_parts
from tutelar.server.store.writes import WriteRejected, log, log_all


def practise_on_copy(key: str, actor: Actor) -> models.Site:
    """Store a copy of a site to practise on, without its readings, and return it; the site itself stays as it is."""
    row = lookup.site_row(key)
    whole: dict[str, Any] = {**documents.export(row), "readings": [], "exceptions": []}
    whole["site"] = {**whole["site"], "practice": True}
    base = f"{key[:60].rstrip('._-')}-practice"
    taken = set(models.Site.objects.filter(key__startswith=base).values_list("key", flat=True))
    names = (base if number == 1 else f"{base}-{number}" for number in count_from(1))
    return import_site(json.dumps(whole).encode(), actor, next(name for name in names if name not in taken))


def import_site(text: bytes, actor: Actor, key: str | None = None) -> models.Site:
    """Store a site file as a new site, all or nothing; `key` replaces the one in the file.

    Raises Rejected with the faults and their paths, or with status 409 where the key is taken.
    """
    try:
        document = read_site(text)
    except UnreadableSite as error:
        raise WriteRejected("This site file cannot be read.", error.faults) from None
    faults = [(", ".join(item.subjects), item.message) for item in check(document) if item.code in UNSTORABLE]
    if faults:
        raise WriteRejected(f"{count(len(faults), 'thing')} in this site file must be put right first.", faults)
    key = document.about.key if key is None else key
    if not re.fullmatch(KEY_PATTERN, key) or len(key) > KEY_LONGEST:
        said = "A site's key is small letters, digits and - . _ between them, at most 80 characters"
        raise WriteRejected(f"{key[:80]!r} is no key of a site. {said}.", [("key", f"{said}, for example 'old-mill'.")])
    with transaction.atomic():
        there = models.Site.objects.filter(key=key).first()
        if there is not None and there.removed_at is not None:
            said = (
                f"A site with the key '{key}' was removed and can still be restored; import this one under another key."
            )
            raise WriteRejected(said, status=409)
        if there is not None:
            raise WriteRejected(
                f"There is a site with the key '{key}' already; import this one under another key.", status=409
            )
        row = models.Site(key=key, name=document.about.name)
        row.save()
        try:
            with transaction.atomic():
                store_parts(row, document)
        except IntegrityError:
            raise WriteRejected("Two devices of this site file stand at one address in overlapping networks.") from None
        deed = log(row, actor, "site.imported", key, f"Site file imported: {count(len(document.devices), 'device')}.")
        devices = models.Device.objects.select_related("model", "network", "behind").filter(site=row)
        log_all(row, actor, [added(device, device_document(device)) for device in devices], deed)
    return row
