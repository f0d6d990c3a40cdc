"""Live work: who answers for testing a site's networks, and with which accounts its devices are asked."""

from ipaddress import IPv4Network

from asgiref.sync import async_to_sync
from django.conf import settings
from django.db import transaction
from django.utils import timezone

from tutelar.core.credentials import tries
from tutelar.core.links.base import login_slot
from tutelar.core.sightings import Sighting
from tutelar.core.site import Site
from tutelar.core.wording import count
from tutelar.field.guard import Guard, unfit
from tutelar.field.interface import DISCOVERY_PORT
from tutelar.field.search import Answers, search_at, search_live
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.practice.keeper import KEEPER, Searchable
from tutelar.server.secrets.sealing import opened, place_of
from tutelar.server.store import documents, lookup
from tutelar.server.store.writes import WriteRejected, log, site_for_update
from tutelar.server.vault import VaultLocked
from tutelar.standin.loopback import loopback_port
from tutelar.standin.site import StandIn

OFF = "Live work is off: the server was not started for it. Only the stand-in on this machine is measured."
_USERS = {"login": "viewer", "administrator": "admin"}


def confirm_authority(key: str, actor: Actor, person: str) -> models.Authority:
    """Write down who said that the site's networks may be tested. Raises Rejected where live work is off, no name is
    given, or the site has no network."""
    person = " ".join(person.split())
    with transaction.atomic():
        row = site_for_update(key)
        if not settings.LIVE:
            raise WriteRejected(OFF, status=409)
        if not person:
            raise WriteRejected("Name the person who answers for it.", [("person", "No name is given.")])
        networks = networks_of(documents.document(row))
        if not networks:
            raise WriteRejected("The site has no network yet; there is nothing to answer for.")
        for text in networks:
            if (why := unfit(IPv4Network(text))) is not None:
                raise WriteRejected(why, [("networks", text)])
        found, _ = models.Authority.objects.update_or_create(
            site=row, defaults={"person": person, "networks": networks, "by": actor.name}
        )
        sentence = f"{person} answers for testing {', '.join(networks)}."
        log(row, actor, "authority.given", row.key, sentence, None, {"person": person, "networks": networks})
    return found


def withdraw_authority(key: str, actor: Actor) -> None:
    """Take the authority back; nothing real is measured from now on, and what is under way stops."""
    with transaction.atomic():
        row = site_for_update(key)
        if models.Authority.objects.filter(site=row).delete()[0]:
            log(row, actor, "authority.withdrawn", row.key, "Nobody answers for testing these networks any more.")
            said = f"Stopped: {actor.name} took back that these networks may be tested."
            under_way = models.Proof.objects.filter(site=row, live=True, state__in=("waiting", "running"))
            if under_way.update(state="cancelled", message=said, finished_at=timezone.now()):
                log(row, actor, "proof.cancelled", row.key, said)


def search_field(key: str, actor: Actor) -> tuple[str, list[Sighting]]:
    """Return (what was searched, who answered) of the site: the real devices where live work is on and somebody answers
    for the networks, else the stand-in. Raises Rejected where the authority is for other networks."""
    row = lookup.site_row(key)
    site = documents.document(row)
    if settings.LIVE and models.Authority.objects.filter(site=row).exists():
        authority = require_authority(row)
        guard = Guard.for_live_work(
            [IPv4Network(text) for text in authority.networks], switched_on=True, authorised=True
        )
        seen, _ = async_to_sync(search_live)(guard)
        what = f"a search of {', '.join(authority.networks)}"
    else:
        seen, _ = async_to_sync(_search_standin)(site, KEEPER.searchable(key))
        what = "a search of the pretend site"
    log(row, actor, "field.searched", key, f"{what[0].upper()}{what[1:]}: {count(len(seen), 'device')} answered.")
    return what, seen


async def _search_standin(site: Site, kept: Searchable | None) -> Answers:
    """Search the pretend site that is kept up as it is, else one that is played for the search."""
    if kept is not None:
        return await search_at(kept.addresses, loopback_port(DISCOVERY_PORT), kept.neighbours)
    async with StandIn(site, yields=True) as pretend:
        return await search_at(pretend.searched(), loopback_port(DISCOVERY_PORT), pretend.world.neighbours())


def networks_of(site: Site) -> list[str]:
    """Return the networks that somebody answers for."""
    return sorted(str(network.cidr) for network in site.networks)


def require_authority(row: models.Site) -> models.Authority:
    """Return who answers for the site's networks as they are now. Raises Rejected with what is missing."""
    if not settings.LIVE:
        raise WriteRejected(OFF, status=409)
    found = models.Authority.objects.filter(site=row).first()
    if found is None:
        raise WriteRejected("Nobody has confirmed yet that these networks may be tested.", status=409)
    if found.networks != networks_of(documents.document(row)):
        raise WriteRejected(
            f"{found.person} answered for {', '.join(found.networks)}; the networks are others now. Confirm it again.",
            status=409,
        )
    return found


def accounts(row: models.Site) -> dict[str, tuple[str, str]]:
    """Return (user, password) of each device whose login is kept and whose tries are not used up; {} where the key of
    the vault is not at hand. It is never stored or logged."""
    site = documents.document(row)
    uses = {
        (use.device_key, use.slot): use.secret
        for use in models.SecretUse.objects.select_related("secret").filter(site=row)
    }
    refused = dict(models.FailedLogins.objects.filter(device__site=row).values_list("device__key", "number"))
    found: dict[str, tuple[str, str]] = {}
    try:
        vault = opened()
        for device in site.devices:
            slot = login_slot(site, device)
            secret, model = uses.get((device.key, slot)), site.model_of(device)
            if secret is None or tries(model.password_rule if model else None, refused.get(device.key, 0)).stop:
                continue
            user = model.factory.user if model and model.factory and slot == "administrator" else None
            found[device.key] = (user or _USERS[slot], vault.open(bytes(secret.sealed), place_of(secret)))
    except (VaultLocked, WriteRejected):
        return {}
    return found


def registrations(row: models.Site) -> dict[str, str]:
    """Return by main station the password with which others register there; {} where the vault is locked."""
    uses = models.SecretUse.objects.select_related("secret").filter(site=row, slot="registration")
    try:
        vault = opened()
        return {use.device_key: vault.open(bytes(use.secret.sealed), place_of(use.secret)) for use in uses}
    except (VaultLocked, WriteRejected):
        return {}
