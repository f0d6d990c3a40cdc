"""Writing whole sites and their survey."""

from typing import Any

from django.db import IntegrityError, transaction

from tutelar.core.check import UNSTORABLE, check
from tutelar.core.site import UnreadableSite, read_site
from tutelar.core.wording import count
from tutelar.server.sites import models
from tutelar.server.sites.document import document_of, store_parts
from tutelar.server.sites.services.base import Rejected, Stale, bump, checked, lock, log


def import_site(text: bytes, by: str, key: str | None = None) -> models.Site:
    """Store a site file as a new site, all or nothing; `key` replaces the one in the file.

    Raises Rejected with the faults and their paths, or with status 409 where the key is taken.
    """
    try:
        document = read_site(text)
    except UnreadableSite as error:
        raise Rejected("This site file cannot be read.", error.faults) from None
    faults = [(", ".join(item.subjects), item.message) for item in check(document) if item.code in UNSTORABLE]
    if faults:
        raise Rejected(f"{count(len(faults), 'thing')} in this site file must be put right first.", faults)
    key = key or document.about.key
    with transaction.atomic():
        if models.Site.objects.filter(key=key).exists():
            raise Rejected(
                f"There is a site with the key '{key}' already; import this one under another key.", status=409
            )
        row = models.Site(key=key, name=document.about.name)
        row.save()
        try:
            with transaction.atomic():
                store_parts(row, document)
        except IntegrityError:
            raise Rejected("Two devices of this site file stand at one address in overlapping networks.") from None
        log(row, by, "site.imported", key, f"Site file imported: {count(len(document.devices), 'device')}.")
    return row


def change_survey(key: str, by: str, revision: int, changes: dict[str, Any]) -> models.Site:
    """Change what the survey holds: `site`, `internet`, `networks` and `policy` as in the document."""
    with transaction.atomic():
        row = lock(key)
        now = {name: value for name, value in document_of(row).items() if name in _SURVEY}
        before = {name: now[name] for name in changes}
        if row.revision != revision:
            raise Stale("The survey", changes, before, row.revision)
        if "site" in changes:
            about = {**changes["site"], "key": row.key}
            row.name = about.get("name", row.name)
            row.about = {name: value for name, value in about.items() if name not in ("key", "name")}
        row.internet = changes.get("internet", row.internet)
        row.policy = changes.get("policy", row.policy)
        row.save()
        if "networks" in changes:
            _change_networks(row, changes["networks"])
        checked(row)
        bump(row)
        log(row, by, "survey.changed", key, f"Survey changed: {', '.join(changes)}.", before, changes)
    return row


_SURVEY = ("site", "internet", "networks", "policy")


def _change_networks(row: models.Site, networks: list[dict[str, Any]]) -> None:
    """Replace the networks by key; a network that devices still stand in cannot be removed."""
    keys = [part.get("key") for part in networks]
    for old in models.Network.objects.filter(site=row).exclude(key__in=keys):
        used = models.Device.objects.filter(network=old).count()
        if used:
            raise Rejected(
                f"{count(used, 'device stands', 'devices stand')} in the network '{old.key}'; move them first."
            )
        old.delete()
    for position, part in enumerate(networks):
        if not isinstance(part.get("key"), str) or not isinstance(part.get("cidr"), str):
            raise Rejected(
                "A network needs a key and a range like '10.62.8.0/24'.", [(f"networks[{position}]", "incomplete")]
            )
        rest = {name: value for name, value in part.items() if name not in ("key", "cidr")}
        models.Network.objects.update_or_create(
            site=row, key=part["key"], defaults={"position": position, "cidr": part["cidr"], "rest": rest}
        )
