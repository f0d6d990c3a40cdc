"""The API of the proof: measuring, what somebody saw, what is left open, what the site asks for."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from tutelar.server.http import REFUSED, WRITE, who
from tutelar.server.proof import services, starting, views, witnessing
from tutelar.server.proof.schemas import (
    EvidenceSheet,
    NewException,
    NewProof,
    ProofRulesSheet,
    ProofRun,
    ProofSheet,
    RulesChange,
    Seen,
)
from tutelar.server.rights import DECIDE, SEE, WORK
from tutelar.server.schemas import ApiError, Revised
from tutelar.server.store import lookup
from tutelar.server.store.kept import kept

router = Router(tags=["proof"])


@router.get("/{key}/proof", response={200: ProofSheet, 404: ApiError}, auth=SEE, operation_id="proof")
def proof(request: HttpRequest, key: str) -> Any:
    """Return the proof sheet: every check of every device with its last reading."""
    return kept(views.proof, lookup.site_row(key))


@router.post("/{key}/proofs", response={202: ProofRun, **WRITE}, auth=WORK, operation_id="start_proof")
def start_proof(request: HttpRequest, key: str, wanted: NewProof) -> Any:
    """Queue a measuring of the pretend or the real site."""
    faults = [fault.model_dump(exclude_none=True) for fault in wanted.faults]
    started = starting.start_proof(key, who(request), faults, wanted.only, wanted.checks, live=wanted.live)
    return Status(202, views.proof_run(started))


@router.delete("/{key}/proofs/{number}", response={200: ProofRun, **WRITE}, auth=WORK, operation_id="cancel_proof")
def cancel_proof(request: HttpRequest, key: str, number: int) -> Any:
    """Stop a measuring that is under way."""
    return views.proof_run(services.cancel_proof(key, number, who(request)))


@router.post(
    "/{key}/devices/{device}/checks/{check}/seen",
    response={201: None, **WRITE},
    auth=WORK,
    operation_id="witness_check",
)
def witness_check(request: HttpRequest, key: str, device: str, check: str, seen: Seen) -> Any:
    """Keep what somebody saw with his own eyes."""
    witnessing.witness_check(key, device, check, who(request), seen.result, seen.words, seen.person)
    return Status(201, None)


@router.get(
    "/{key}/devices/{device}/checks/{check}/evidence",
    response={200: list[EvidenceSheet], 404: ApiError},
    auth=SEE,
    operation_id="evidence",
)
def evidence(request: HttpRequest, key: str, device: str, check: str) -> Any:
    """Return what last came over the wire for a check."""
    return views.evidence(lookup.site_row(key), device, check)


@router.put("/{key}/devices/{device}/exception", response={204: None, **WRITE}, auth=DECIDE, operation_id="leave_open")
def leave_open(request: HttpRequest, key: str, device: str, wanted: NewException) -> Any:
    """Leave a check open, with a reason and best a last day."""
    witnessing.leave_open(key, device, wanted.check, who(request), wanted.reason, wanted.until)
    return Status(204, None)


@router.delete(
    "/{key}/devices/{device}/exception", response={204: None, **REFUSED}, auth=WORK, operation_id="close_again"
)
def close_again(request: HttpRequest, key: str, device: str, check: str | None = None) -> Any:
    """Let a check that was left open count again."""
    witnessing.close_again(key, device, check, who(request))
    return Status(204, None)


@router.put(
    "/{key}/devices/{device}/certificate", response={204: None, **WRITE}, auth=WORK, operation_id="accept_certificate"
)
def accept_certificate(request: HttpRequest, key: str, device: str) -> Any:
    """Pin the certificate that a device showed last."""
    services.accept_certificate(key, device, who(request))
    return Status(204, None)


@router.get("/{key}/proof/rules", response={200: ProofRulesSheet, 404: ApiError}, auth=SEE, operation_id="proof_rules")
def rules(request: HttpRequest, key: str) -> Any:
    """Return what this site asks for at its proof."""
    return views.rules(lookup.site_row(key))


@router.patch("/{key}/proof/rules", response={200: Revised, **WRITE}, auth=DECIDE, operation_id="change_proof_rules")
def change_rules(request: HttpRequest, key: str, change: RulesChange) -> Any:
    """Change what this site asks for at its proof."""
    part = change.model_dump(exclude={"revision"}, exclude_none=True)
    return witnessing.change_rules(key, who(request), change.revision, part)
