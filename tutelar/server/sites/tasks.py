"""Long jobs, carried out by the worker process."""

import json
import time

from asgiref.sync import async_to_sync, sync_to_async
from django_tasks import task

from tutelar.core.site import Reading
from tutelar.core.wording import count
from tutelar.field.guard import Guard, Refused
from tutelar.field.prove import Prover, targets_of
from tutelar.server.sites import models, queries, services
from tutelar.standin.faults import read_faults
from tutelar.standin.loopback import NoRoomError, loopback_port
from tutelar.standin.site import CannotListen, StandIn

_STORE_EVERY_S = 0.15


@task()
def measure(number: int) -> None:
    """Measure the stand-in of a site and keep the readings; the proof's row says how far it is."""
    proof = models.Proof.objects.select_related("site").get(pk=number)
    if proof.state != "waiting":
        return
    proof.state = "running"
    proof.save(update_fields=["state"])
    try:
        passed, total = async_to_sync(_measure)(proof)
    except (CannotListen, NoRoomError, Refused) as error:
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
    site = await sync_to_async(queries.document)(proof.site)
    wanted = await sync_to_async(queries.expectations)(proof.site)
    faults = read_faults(json.dumps({"faults": proof.faults}), site)
    passed = total = 0
    async with StandIn(site, faults, yields=True) as pretend:
        targets = targets_of(pretend.targets(), loopback_port)
        waiting: list[Reading] = []
        stored_at = time.monotonic()
        batches = Prover(Guard()).readings(site, wanted, targets, proof.only)
        async for batch in batches:
            waiting += batch
            proof.measured += 1
            total += len(batch)
            passed += sum(1 for item in batch if item.result == "pass")
            if time.monotonic() - stored_at > _STORE_EVERY_S:
                if not await _store(proof, waiting):
                    await batches.aclose()
                    return passed, total
                waiting, stored_at = [], time.monotonic()
        proof.measured = proof.total
        await _store(proof, waiting)
    return passed, total


@sync_to_async
def _store(proof: models.Proof, readings: list[Reading]) -> bool:
    """Keep readings and progress; return False where somebody stopped the measuring."""
    services.keep_readings(proof, readings)
    models.Proof.objects.filter(pk=proof.pk).update(measured=proof.measured)
    return models.Proof.objects.filter(pk=proof.pk, state="running").exists()
