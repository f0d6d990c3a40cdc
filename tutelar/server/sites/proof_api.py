"""The API of the proof: the sheet, measuring, what is witnessed, what is left open, who answers for live work."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Status

from tutelar.server.sites import exports, queries, services, sheets
from tutelar.server.sites.api import REFUSED, WRITE, download, who
from tutelar.server.sites.schemas.base import Refusal, Revised
from tutelar.server.sites.schemas.pretend import NewPretend, PretendHandling, PretendSheet
from tutelar.server.sites.schemas.proof import (
    EvidenceSheet,
    NewAuthority,
    NewException,
    NewProof,
    ProofRulesSheet,
    ProofRun,
    ProofSheet,
    RulesChange,
    Seen,
)

router = Router(tags=["proof"])


@router.get("/{key}/proof", response={200: ProofSheet, 404: Refusal}, operation_id="proof")
def proof(request: HttpRequest, key: str) -> Any:
    return sheets.proof(queries.site_row(key))


@router.post("/{key}/proofs", response={202: ProofRun, **WRITE}, operation_id="start_proof")
def start_proof(request: HttpRequest, key: str, wanted: NewProof) -> Any:
    faults = [fault.model_dump(exclude_none=True) for fault in wanted.faults]
    started = services.start_proof(key, who(request), faults, wanted.only, wanted.checks, live=wanted.live)
    return Status(202, sheets.proof_run(started))


@router.get("/{key}/proof.{ending}", response={200: str, **REFUSED}, operation_id="proof_file")
def proof_file(request: HttpRequest, key: str, ending: str) -> HttpResponse:
    content, kind = exports.proof_file(queries.site_row(key), ending)
    return download(content, kind, f"{key}-proof.{ending}")


@router.put("/{key}/authority", response={204: None, **WRITE}, operation_id="confirm_authority")
def confirm_authority(request: HttpRequest, key: str, given: NewAuthority) -> Any:
    services.confirm_authority(key, who(request), given.person)
    return Status(204, None)


@router.delete("/{key}/authority", response={204: None, **REFUSED}, operation_id="withdraw_authority")
def withdraw_authority(request: HttpRequest, key: str) -> Any:
    services.withdraw_authority(key, who(request))
    return Status(204, None)


@router.delete("/{key}/proofs/{number}", response={200: ProofRun, **WRITE}, operation_id="cancel_proof")
def cancel_proof(request: HttpRequest, key: str, number: int) -> Any:
    return sheets.proof_run(services.cancel_proof(key, number, who(request)))


@router.post("/{key}/devices/{device}/checks/{check}/seen", response={201: None, **WRITE}, operation_id="witness_check")
def witness_check(request: HttpRequest, key: str, device: str, check: str, seen: Seen) -> Any:
    services.witness_check(key, device, check, who(request), seen.result, seen.words, seen.person)
    return Status(201, None)


@router.get(
    "/{key}/devices/{device}/checks/{check}/evidence",
    response={200: list[EvidenceSheet], 404: Refusal},
    operation_id="evidence",
)
def evidence(request: HttpRequest, key: str, device: str, check: str) -> Any:
    return sheets.evidence(queries.site_row(key), device, check)


@router.put("/{key}/devices/{device}/exception", response={204: None, **WRITE}, operation_id="leave_open")
def leave_open(request: HttpRequest, key: str, device: str, wanted: NewException) -> Any:
    services.leave_open(key, device, wanted.check, who(request), wanted.reason, wanted.until)
    return Status(204, None)


@router.delete("/{key}/devices/{device}/exception", response={204: None, **REFUSED}, operation_id="close_again")
def close_again(request: HttpRequest, key: str, device: str, check: str | None = None) -> Any:
    services.close_again(key, device, check, who(request))
    return Status(204, None)


@router.put("/{key}/devices/{device}/certificate", response={204: None, **WRITE}, operation_id="accept_certificate")
def accept_certificate(request: HttpRequest, key: str, device: str) -> Any:
    services.accept_certificate(key, device, who(request))
    return Status(204, None)


@router.get("/{key}/pretend", response={200: PretendSheet, 404: Refusal}, operation_id="pretend")
def pretend(request: HttpRequest, key: str) -> Any:
    return sheets.pretend(queries.site_row(key))


@router.put("/{key}/pretend", response={204: None, **WRITE}, operation_id="keep_up")
def keep_up(request: HttpRequest, key: str, wanted: NewPretend) -> Any:
    faults = [fault.model_dump(exclude_none=True) for fault in wanted.faults]
    services.keep_up(key, who(request), faults, fresh=wanted.fresh)
    return Status(204, None)


@router.post("/{key}/pretend/{device}", response={204: None, **WRITE}, operation_id="handle_pretend")
def handle_pretend(request: HttpRequest, key: str, device: str, wanted: PretendHandling) -> Any:
    services.handle_pretend(key, device, who(request), wanted.do)
    return Status(204, None)


@router.delete("/{key}/pretend", response={204: None, **REFUSED}, operation_id="take_down")
def take_down(request: HttpRequest, key: str) -> Any:
    services.take_down(key, who(request))
    return Status(204, None)


@router.get("/{key}/proof/rules", response={200: ProofRulesSheet, 404: Refusal}, operation_id="proof_rules")
def rules(request: HttpRequest, key: str) -> Any:
    return sheets.rules(queries.site_row(key))


@router.patch("/{key}/proof/rules", response={200: Revised, **WRITE}, operation_id="change_proof_rules")
def change_rules(request: HttpRequest, key: str, change: RulesChange) -> Any:
    part = change.model_dump(exclude={"revision"}, exclude_none=True)
    return services.change_rules(key, who(request), change.revision, part)
