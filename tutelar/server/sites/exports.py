"""What is taken away: the address schedule as CSV (RFC 4180, UTF-8 with a mark so that spreadsheets read it)."""

import csv
import io

from tutelar.core.addressing.reservations import ENDINGS, WRITERS, reservations
from tutelar.core.site.values import netmask
from tutelar.server.sites import models, queries
from tutelar.server.sites.services import Rejected

HEADER = (
    "Device", "Name", "Place", "Family", "Model", "Network", "Address", "Mask", "Gateway", "DNS", "Addressing",
    "Hardware address", "Serial number", "State", "Why",
)  # fmt: skip


def schedule_csv(row: models.Site) -> str:
    """Return the address schedule of a site: one row a device in walking order."""
    site, planned = queries.document(row), queries.planned(row)
    assignments = {item.device: item for item in planned.assignments}
    states = queries.device_states(row, queries.readings(row), queries.finished(queries.step_records(row)))
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(HEADER)
    for device in site.walking_order(list(site.devices)):
        item, model = assignments.get(device.key), site.model_of(device)
        writer.writerow(_safe(value) for value in (
            device.key, device.label, device.place, site.family_of(device), model.label if model else device.model,
            item.network if item else device.network, item.address if item else None,
            netmask(item.prefix) if item else None, item.gateway if item else None,
            " ".join(item.dns) if item else None, device.addressing, device.mac, device.serial, states[device.key],
            item.why if item else "Leased: the router gives it an address.",
        ))  # fmt: skip
    return "﻿" + out.getvalue()


def reservation_file(row: models.Site, server: str) -> tuple[str, str]:
    """Return (text, file ending) of the reservations for a DHCP server. Raises Rejected for one that is unknown,
    and where nothing can be reserved."""
    if server not in WRITERS:
        raise Rejected(f"'{server}' is not a known DHCP server; choose one of {', '.join(WRITERS)}.", status=404)
    found, missing = reservations(queries.document(row), queries.planned(row).assignments)
    if not found:
        waiting = f" {', '.join(missing)} lack a hardware address." if missing else ""
        raise Rejected(f"No device of {row.name} has its address reserved in the router.{waiting}")
    return WRITERS[server](found), ENDINGS[server]


def _safe(value: str | None) -> str:
    """Return the text so that no spreadsheet takes it for a formula."""
    text = value or ""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text
