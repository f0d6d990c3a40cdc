"""The proof sheet."""

from django.conf import settings

from tutelar.core.proof import CHECKS, Expectation, check_title, reading_state
from tutelar.core.wording import count
from tutelar.server.sites import models, queries, services
from tutelar.server.sites.sheets.base import Sheet
from tutelar.standin.faults import PLAYED


def proof(row: models.Site) -> Sheet:
    site = queries.document(row)
    wanted, last = queries.expectations(row), queries.readings(row)
    states = queries.device_states(row, last, queries.finished(queries.step_records(row)))
    addresses_by_key = {device.key: device.address for device in site.devices}
    cells, checks = [], dict[str, str]()
    for items in wanted.values():
        for item in items:
            checks.setdefault(item.check, check_title(item.check, site.about.date_order))
            reading = last.get((item.device, item.check))
            cells.append({
                "device": item.device, "check": item.check, "state": reading_state(reading, item),
                "expected": item.expected,
                **{name: getattr(reading, name, None) for name in ("measured", "result", "took_ms", "at", "by")},
            })  # fmt: skip
    order = {check: at for at, check in enumerate(CHECKS)}
    newest = models.Proof.objects.filter(site=row).first()
    return {
        "columns": [
            {"key": device.key, "name": device.label, "place": device.place or "No place",
             "family": site.family_of(device),
             "address": None if (at := addresses_by_key[device.key]) is None else str(at), "state": states[device.key]}
            for device in site.walking_order(list(site.devices)) if wanted[device.key]
        ],
        "checks": [
            {"check": check, "title": title}
            for check, title in sorted(checks.items(), key=lambda item: order.get(item[0], 99))
        ],
        "cells": cells,
        "last": None if newest is None else proof_run(newest),
        "fault_kinds": list(PLAYED),
        "live": live_state(row),
        "coverage": _coverage(wanted, cells),
        "changes": [
            {"device": device, "name": site.label_of(device), "check": check,
             "title": check_title(check, site.about.date_order), "before": before, "now": now, "measured": measured}
            for device, check, before, now, measured in queries.proof_changes(row)
        ],
    }  # fmt: skip


def _coverage(wanted: dict[str, list[Expectation]], cells: list[Sheet]) -> Sheet:
    expected = sum(len(items) for items in wanted.values())
    fresh = sum(cell["state"] == "proven" for cell in cells)
    return {
        "fresh": fresh,
        "expected": expected,
        "sentence": f"{fresh} of {count(expected, 'reading')} fresh and passed.",
    }


def live_state(row: models.Site) -> Sheet:
    """Return whether real devices may be measured, and who answers for it."""
    networks = services.networks_of(queries.document(row))
    found = models.Authority.objects.filter(site=row).first()
    return {
        "on": settings.LIVE, "networks": networks,
        "authority": found and {"person": found.person, "networks": found.networks, "by": found.by, "at": found.at,
                                "holds": found.networks == networks},
    }  # fmt: skip


def proof_run(proof_row: models.Proof) -> Sheet:
    names = ("state", "measured", "total", "live", "message", "faults", "by", "started_at", "finished_at")
    return {"id": proof_row.pk, **{name: getattr(proof_row, name) for name in names}}
