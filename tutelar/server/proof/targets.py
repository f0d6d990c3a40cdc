"""Where devices are asked: at the pretend site that is kept up, or in networks that somebody answers for."""

from ipaddress import IPv4Address, IPv4Network

from asgiref.sync import sync_to_async
from django.conf import settings

from tutelar.core.site import Site
from tutelar.field.guard import Guard
from tutelar.field.login import Account
from tutelar.field.look import Target
from tutelar.field.neighbours import LaptopTable
from tutelar.field.prove import LIVE_MANNERS, Prover, factory_account, targets_of
from tutelar.server import models
from tutelar.server.live import services as live_services
from tutelar.server.store import documents
from tutelar.standin.device import pretend_password
from tutelar.standin.loopback import loopback_port

Asking = tuple[Prover, dict[str, Target]]


def kept_up(kept: models.Pretend, site: Site) -> Asking:
    """Return who asks the pretend site that is kept up, and where."""
    places = {
        key: (at, user, pretend_password(site, key))
        for key, (at, user) in kept.targets.items()
        if key in site.device_by_key
    }
    return Prover(Guard()), targets_of(places, loopback_port, site)


async def real(row: models.Site, site: Site) -> Asking:
    """Return who asks the real devices, slowly, in the networks that somebody answers for. Raises WriteRejected."""
    authority = await sync_to_async(live_services.require_authority)(row)
    kept = {key: Account(*item) for key, item in (await sync_to_async(live_services.accounts)(row)).items()}
    planned = (await sync_to_async(documents.planned)(row)).addresses()
    networks = [IPv4Network(text) for text in authority.networks]
    guard = Guard.for_live_work(networks, switched_on=settings.LIVE, authorised=True)
    registrations = await sync_to_async(live_services.registrations)(row)
    targets = {
        device.key: Target(
            planned[device.key],
            account=kept.get(device.key),
            registration=registrations.get(device.key),
            factory=factory_account(site, device),
        )
        for device in site.devices
        if device.behind is None
        and device.key in planned
        and any(IPv4Address(planned[device.key]) in network for network in networks)
    }
    return Prover(guard, neighbours=LaptopTable(), **LIVE_MANNERS), targets
