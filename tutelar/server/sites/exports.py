"""What is taken away: the address schedule, reservations, the request to the IT person."""

import json

from django.utils import timezone

from tutelar.core.addressing.reservations import ENDINGS, WRITERS, reservations
from tutelar.core.handover.request import request
from tutelar.core.site.values import netmask
from tutelar.server.catalogue import FORMAT
from tutelar.server.paper.request import request_pdf, tables
from tutelar.server.paper.tables import as_csv, as_xlsx
from tutelar.server.sites import models, queries
from tutelar.server.sites.services import Rejected, catalogue_parts

HEADER = (
    "Device", "Name", "Place", "Family", "Model", "Network", "Address", "Mask", "Gateway", "DNS", "Addressing",
    "Hardware address", "Serial number", "State", "Why",
)  # fmt: skip


def schedule_csv(row: models.Site) -> str:
    """Return the address schedule of a site: one row a device in walking order."""
    site, planned = queries.document(row), queries.planned(row)
    assignments = {item.device: item for item in planned.assignments}
    states = queries.device_states(row, queries.readings(row), queries.finished(queries.step_records(row)))
    rows = []
    for device in site.walking_order(list(site.devices)):
        item, model = assignments.get(device.key), site.model_of(device)
        rows.append((
            device.key, device.label, device.place, site.family_of(device), model.label if model else device.model,
            item.network if item else device.network, item.address if item else None,
            netmask(item.prefix) if item else None, item.gateway if item else None,
            " ".join(item.dns) if item else None, device.addressing, device.mac, device.serial, states[device.key],
            item.why if item else "Leased: the router gives it an address.",
        ))  # fmt: skip
    return as_csv(HEADER, rows)


_REQUEST_FILES = ("request.pdf", "request.xlsx", "addresses.csv", "flows.csv", "open.csv")


def request_file(row: models.Site, name: str) -> tuple[bytes, str]:
    """Return (bytes, media type) of the request to the IT person. Raises Rejected for a file it does not have."""
    if name not in _REQUEST_FILES:
        raise Rejected(f"The request has no file '{name}'; choose one of {', '.join(_REQUEST_FILES)}.", status=404)
    asked = request(queries.document(row), queries.planned(row))
    if name == "request.pdf":
        return request_pdf(asked, timezone.localdate()), "application/pdf"
    if name == "request.xlsx":
        return as_xlsx(tables(asked)), "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    table = next(item for item in tables(asked) if item.title.lower() == name.removesuffix(".csv"))
    return as_csv(table.header, table.rows).encode(), "text/csv; charset=utf-8"


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


def catalogue_text() -> str:
    """Return the whole catalogue as an open JSON file, ready to be imported elsewhere."""
    whole = {"format": FORMAT, "version": 1, "models": list(catalogue_parts().values())}
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"
