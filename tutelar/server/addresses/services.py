"""Writing addresses: the plan, ranges kept free, renumbering."""

from ipaddress import IPv4Address, IPv4Network
from typing import Any

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from tutelar.core.planning.renumber import Renumbering, renumber
from tutelar.core.sightings import Sighting, taken_over
from tutelar.core.site import Site
from tutelar.core.site.types import Network
from tutelar.core.site.values import as_address, as_network, read_mac
from tutelar.core.site.writing import as_document
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.catalogue.services import catalogue_models
from tutelar.server.kit.services import put_on
from tutelar.server.store import documents
from tutelar.server.store.changes import moved
from tutelar.server.store.writes import WriteRejected, bump, checked, log, log_all, site_at_revision


def apply_plan(key: str, actor: Actor, revision: int) -> models.Site:
    """Give every device its planned address; what is set stays."""
    with transaction.atomic():
        row = site_at_revision(key, revision)
        found = {item.device: item for item in documents.planned(row).assignments if item.source == "planned"}
        fresh, today = {key: item.address for key, item in found.items()}, timezone.now().date()
        devices = list(models.Device.objects.filter(site=row, key__in=fresh))
        before = {device.key: device.address for device in devices}
        for device in devices:
            device.address = fresh[device.key]
            why = f"{found[device.key].why} Planned on {today:%-d %B %Y}."
            device.planned = {"address": device.address, "why": why}
            device.revision += 1
        models.Device.objects.bulk_update(devices, ["address", "planned", "revision"], batch_size=300)
        if devices:
            bump(row)
            sentence = f"{count(len(devices), 'address', 'addresses')} planned."
            deed = log(row, actor, "plan.applied", key, sentence, None, fresh)
            log_all(row, actor, moved(devices, before), deed)
    return row


def read_sighting(address: str, mac: str, name: str | None, leased: bool | None) -> Sighting:
    """Return a line of a table as it was sent. Raises WriteRejected for what is no address or no hardware address."""
    tidy = read_mac(mac)
    if tidy is None:
        raise WriteRejected(
            f"“{mac}” is not a hardware address; twelve digits 0–9 and a–f are expected.", [("mac", mac)]
        )
    return Sighting(str(read_address(address)), tidy, " ".join((name or "").split()) or None, leased)


def take_over(key: str, actor: Actor, revision: int, model_key: str, seen: list[Sighting]) -> models.Site:
    """Make devices of a model out of those in a table that nobody knows, with their names, all or nothing.

    Raises WriteRejected for an unknown model and where nobody is unknown, Stale.
    """
    with transaction.atomic():
        row = site_at_revision(key, revision)
        site = documents.document(row)
        known = {item.key: item for item in (*catalogue_models(), *site.models)}
        if model_key not in known:
            raise WriteRejected(f"There is no model '{model_key}'.", [("model", model_key)])
        parts = taken_over(site, documents.planned(row), seen, known[model_key])
        if not parts:
            raise WriteRejected("Every one of these is known already, or stands outside the site's networks.")
        _, added = put_on(row, parts)
        checked(row)
        bump(row)
        sentence = f"Taken over from a table of the network: {count(len(parts), 'device')}."
        log_all(row, actor, added, log(row, actor, "kit.taken-over", key, sentence))
    return row


def read_address(text: str, path: str = "address") -> IPv4Address:
    """Return the address that was typed, or raise Rejected naming it."""
    try:
        return as_address(text.strip())
    except ValueError as error:
        sentence = f"{error}."
        raise WriteRejected(sentence, [(path, sentence)]) from None


def keep_free(key: str, network: str, actor: Actor, revision: int, first: str, last: str, why: str) -> models.Site:
    """Keep a range of a network free for others; the plan no longer uses it. Raises Rejected, Stale."""
    low, high = read_address(first, "first"), read_address(last, "last")
    if low > high:
        raise WriteRejected(f"The range {low}–{high} runs backward; write it as {high}–{low}.", [("last", "backward")])
    with transaction.atomic():
        row = site_at_revision(key, revision)
        part = _network_row(row, network)
        cidr = IPv4Network(part.cidr)
        if low not in cidr or high not in cidr:
            raise WriteRejected(f"The range {low}–{high} lies outside {cidr}.", [("first", "outside")])
        entry = {"first": str(low), "last": str(high)} | ({"why": why.strip()} if why.strip() else {})
        _write_kept(row, part, actor, [*part.extra.get("reserved", []), entry], f"{low}–{high} kept free")
    return row


def give_back(key: str, network: str, actor: Actor, revision: int, first: str, last: str) -> models.Site:
    """Take a range out of what is kept free; ranges that reach further are cut. Raises Rejected, Stale."""
    low, high = read_address(first, "first"), read_address(last, "last")
    with transaction.atomic():
        row = site_at_revision(key, revision)
        part = _network_row(row, network)
        kept = []
        for item in part.extra.get("reserved", []):
            start, end = IPv4Address(item["first"]), IPv4Address(item["last"])
            if end < low or start > high:
                kept.append(item)
                continue
            if start < low:
                kept.append(item | {"last": str(low - 1)})
            if end > high:
                kept.append(item | {"first": str(high + 1)})
        if kept == part.extra.get("reserved", []):
            raise WriteRejected(f"Nothing between {low} and {high} is kept free.")
        _write_kept(row, part, actor, kept, f"{low}–{high} given back to the plan")
    return row


def _network_row(row: models.Site, key: str) -> models.Network:
    part = models.Network.objects.filter(site=row, key=key).first()
    if part is None:
        raise Http404(f"The site {row.name} has no network '{key}'.")
    return part


def _write_kept(row: models.Site, part: models.Network, actor: Actor, kept: list[Any], said: str) -> None:
    before = part.extra.get("reserved", [])
    part.extra = part.extra | {"reserved": kept}
    part.save()
    checked(row)
    bump(row)
    log(row, actor, "network.changed", part.key, f"{part.extra.get('name') or part.key}: {said}.", before, kept)


def preview_renumber(site: Site, key: str, to: str, gateway: str | None) -> tuple[Network, Renumbering]:
    """Return the network and its renumbering to another range. Raises Rejected for what is typed wrongly."""
    network = site.network_by_key.get(key)
    if network is None:
        raise Http404(f"The site {site.about.name} has no network '{key}'.")
    try:
        cidr = as_network(to.strip())
    except ValueError as error:
        raise WriteRejected(f"{error}.", [("to", f"{error}.")]) from None
    router = read_address(gateway, "gateway") if gateway and gateway.strip() else None
    if router is not None and router not in cidr:
        sentence = f"The gateway {router} lies outside {cidr}; give one inside."
        raise WriteRejected(sentence, [("gateway", sentence)])
    if cidr == network.cidr and router in (None, network.gateway):
        sentence = f"{network.label} is {cidr} already; give the new range."
        raise WriteRejected(sentence, [("to", sentence)])
    return network, renumber(site, network, cidr, router)


def apply_renumber(
    key: str, network_key: str, actor: Actor, revision: int, to: str, gateway: str | None
) -> models.Site:
    """Write the new range and every new address, all or nothing; proofs of moved devices become stale."""
    with transaction.atomic():
        row = site_at_revision(key, revision)
        site = documents.document(row)
        network, result = preview_renumber(site, network_key, to, gateway)
        moving = {item.device: item.new for item in result.moved}
        part = _network_row(row, network_key)
        fresh = as_document(result.site.network_by_key[network_key])
        part.cidr, part.extra = fresh["cidr"], {n: v for n, v in fresh.items() if n not in ("key", "cidr")}
        part.save()
        devices = list(models.Device.objects.filter(site=row, key__in=moving))
        before = {device.key: device.address for device in devices}
        models.Device.objects.filter(pk__in=[device.pk for device in devices]).update(address=None)
        for device in devices:
            device.address = moving[device.key]
            device.locked = device.locked and device.address is not None
            device.revision += 1
        models.Device.objects.bulk_update(devices, ["address", "locked", "revision"], batch_size=300)
        checked(row)
        bump(row)
        sentence = (
            f"{network.label} renumbered from {network.cidr} to {fresh['cidr']}: {count(len(devices), 'device')}, "
            f"{count(len(result.partners), 'setting')} elsewhere."
        )
        deed = log(row, actor, "network.renumbered", network_key, sentence, before, moving)
        log_all(row, actor, moved(devices, before), deed)
    return row
