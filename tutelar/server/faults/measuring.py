"""One check of one device, asked by the server: at the pretend site that is kept up, or of the real device."""

from asgiref.sync import async_to_sync, sync_to_async
from django.conf import settings

from tutelar.core.site import Reading, Site
from tutelar.field.guard import Forbidden
from tutelar.server import models
from tutelar.server.proof import queries as proof_queries
from tutelar.server.proof import targets
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected

READ_BY = {  # a check of the diagnosis and the readings that answer it, the first that the device has
    "answers": ("answers",),
    "page": ("web", "web-tls"),
    "login": ("login",),
    "stream": ("stream",),
    "clock": ("clock",),
    "linked": ("linked", "registered"),
    "relay": ("relay",),
    "neighbour": ("right-device",),
}


def can_measure(row: models.Site) -> bool:
    """Return whether the server may ask devices of a site by itself."""
    live = settings.LIVE and models.Authority.objects.filter(site=row).exists()
    return live or models.Pretend.objects.filter(site=row).exists()


def measurable(row: models.Site, at: str) -> frozenset[str]:
    """Return the checks that the server can make at a device by itself."""
    if not can_measure(row):
        return frozenset()
    wanted = {item.check for item in proof_queries.measured_expectations(row).get(at, ())}
    return frozenset(check for check, names in READ_BY.items() if not wanted.isdisjoint(names))


def measured(row: models.Site, check: str, at: str) -> str:
    """Return what a check of the laptop shows at a device now. Raises WriteRejected where the server cannot tell."""
    if check not in READ_BY or not can_measure(row):
        raise WriteRejected("The server cannot look at this by itself; look, and say what you see.", [("check", check)])
    site = documents.document(row)
    try:
        readings = async_to_sync(_asked)(row, site, at)
    except Forbidden as error:
        raise WriteRejected(str(error), status=409) from None
    by_check = {reading.check: reading for reading in readings}
    found = next((by_check[name] for name in READ_BY[check] if name in by_check), None)
    if found is None:
        raise WriteRejected("This is not measured at this device; look, and say what you see.", [("check", check)])
    silent = any(item.check == "answers" and item.result != "pass" for item in readings)
    return "silent" if silent and found.result == "skipped" else _word(found)


def _word(reading: Reading) -> str:
    if reading.result == "skipped":
        raise WriteRejected(f"It could not be told: {reading.measured}. Look, and say what you see.")
    return reading.result


async def _asked(row: models.Site, site: Site, at: str) -> list[Reading]:
    kept = await models.Pretend.objects.filter(site=row).afirst()
    if kept is not None:
        prover, places = targets.kept_up(kept, site)
    else:
        prover, places = await targets.real(row, site)
    wanted = await sync_to_async(proof_queries.measured_expectations)(row, None)
    return [item async for batch in prover.readings(site, wanted, places, [at]) for item in batch]
