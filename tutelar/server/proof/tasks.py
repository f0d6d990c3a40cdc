"""Long jobs, carried out by the worker process."""

import json
import time

from asgiref.sync import async_to_sync, sync_to_async
from django_tasks import task

from tutelar.core.proof import Observation
from tutelar.core.site import Reading, Site
from tutelar.core.wording import count
from tutelar.field.guard import Forbidden, Guard
from tutelar.field.look import Target
from tutelar.field.neighbours import known
from tutelar.field.prove import Prover, targets_of
from tutelar.server import models
from tutelar.server.proof import queries, services, targets
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected
from tutelar.standin.faults import read_faults
from tutelar.standin.loopback import NoRoomError, loopback_port
from tutelar.standin.site import CannotListen, StandIn

_STORE_EVERY_S = 0.15


@task()
def measure(number: int) -> None:
    """Measure a site, its stand-in or its real devices, and keep the readings; the proof's row says how far it is."""
    proof = models.Proof.objects.select_related("site").get(pk=number)
    if proof.state != "waiting":
        return
    proof.state = "running"
    proof.save(update_fields=["state"])
    try:
        passed, total = async_to_sync(_measure)(proof)
    except (CannotListen, NoRoomError, Forbidden, WriteRejected) as error:
        services.end_proof(proof, "failed", str(error))
        return
    except BaseException:
        services.end_proof(proof, "failed", "The measuring broke off; the server's log says why.")
        raise
    proof.refresh_from_db()
    if proof.state == "running":
        services.end_proof(proof, "done", f"{passed} of {count(total, 'reading')} passed.")
        services.lock_proven(proof)


async def _measure(proof: models.Proof) -> tuple[int, int]:
    """Return (passed, all) readings."""
    site = await sync_to_async(documents.document)(proof.site)
    if proof.live:
        return await _sweep(proof, site, *(await targets.real(proof.site, site)))
    kept = await models.Pretend.objects.filter(site=proof.site_id).afirst()
    if kept is not None:
        return await _sweep(proof, site, *targets.kept_up(kept, site))
    faults = read_faults(json.dumps({"faults": proof.faults}), site)
    async with StandIn(site, faults, yields=True) as pretend:
        prover = Prover(Guard(), neighbours=known(pretend.neighbours()))
        return await _sweep(proof, site, prover, targets_of(pretend.targets(), loopback_port, site))


async def _sweep(proof: models.Proof, site: Site, prover: Prover, places: dict[str, Target]) -> tuple[int, int]:
    wanted = await sync_to_async(queries.measured_expectations)(proof.site, proof.checks)
    passed = total = 0
    waiting: list[Reading] = []
    seen: dict[str, Observation] = {}
    stored_at = time.monotonic()
    batches = prover.readings(site, wanted, places, proof.only, seen.__setitem__)
    async for batch in batches:
        waiting += batch
        proof.measured += 1
        total += len(batch)
        passed += sum(1 for item in batch if item.result == "pass")
        if time.monotonic() - stored_at > _STORE_EVERY_S:
            if not await _store(proof, waiting, _taken(seen, waiting)):
                await batches.aclose()
                return passed, total
            waiting, stored_at = [], time.monotonic()
    proof.measured = proof.total
    await _store(proof, waiting, _taken(seen, waiting))
    return passed, total


def _taken(seen: dict[str, Observation], readings: list[Reading]) -> dict[str, Observation]:
    """Take out what was seen of the devices that these readings are of: others are being looked at meanwhile."""
    devices = {item.device for item in readings} & seen.keys()
    return {key: seen.pop(key) for key in devices}


@sync_to_async
def _store(proof: models.Proof, readings: list[Reading], seen: dict[str, Observation]) -> bool:
    """Keep readings, what was seen, and progress; return False where somebody stopped the measuring."""
    services.keep_readings(proof, readings)
    services.keep_seen(proof, readings, seen)
    models.Proof.objects.filter(pk=proof.pk).update(measured=proof.measured)
    return models.Proof.objects.filter(pk=proof.pk, state="running").exists()
