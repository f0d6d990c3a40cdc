"""Writing whole sites and their survey."""

from django.db import IntegrityError, transaction

from tutelar.core.check import UNSTORABLE, check
from tutelar.core.site import UnreadableSite, read_site
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.store.document import store_parts
from tutelar.server.store.writes import WriteRejected, log


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
    key = key or document.about.key
    with transaction.atomic():
        if models.Site.objects.filter(key=key).exists():
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
        log(row, actor, "site.imported", key, f"Site file imported: {count(len(document.devices), 'device')}.")
    return row
