"""The patch list, and label strips for ports."""

from tutelar.core.loads.patch import Patch, Plug, patches
from tutelar.core.site import Site
from tutelar.paper.strips import Strip, strip_pdf
from tutelar.paper.tables import Cell, Table
from tutelar.server import models
from tutelar.server.files import Asked, Export
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected

_ROLES = {"powers": "fed and data", "data": "data", "uplink": "uplink"}


def _ports(patch: Patch) -> int:
    return max([patch.ports or 0, *(plug.port or 0 for plug in patch.plugs)])


def _table(row: models.Site, _asked: Asked) -> Table:
    """Return one row a port: switch, port, what is in it, where that stands, what the port does."""
    site = documents.document(row)
    rows: list[tuple[Cell, ...]] = []
    for patch in patches(site):
        by_port: dict[int | None, list[Plug]] = {}
        for plug in patch.plugs:
            by_port.setdefault(plug.port, []).append(plug)
        for port in (*range(1, _ports(patch) + 1), None):
            found = by_port.get(port, [])
            if not found and port is not None:
                rows.append((site.label_of(patch.device), port, "", "", "", None))
            rows += [_row(site, patch, plug) for plug in found]
    return Table("Ports", ("Switch", "Port", "Device", "Place", "For", "Cable, m"), tuple(rows))


def _row(site: Site, patch: Patch, plug: Plug) -> tuple[Cell, ...]:
    device = site.device_by_key.get(plug.device)
    place, metres = (device.place, device.cable_m) if device is not None else (None, None)
    return (site.label_of(patch.device), plug.port, site.label_of(plug.device), place, _ROLES[plug.role], metres)


def _strips(row: models.Site, _asked: Asked) -> bytes:
    site = documents.document(row)
    strips = [_strip(site, patch) for patch in patches(site) if _ports(patch)]
    if not strips:
        raise WriteRejected(f"{row.name} has nothing with ports yet; there is nothing to print.")
    return strip_pdf(strips, f"Port labels, {site.about.title}")


def _strip(site: Site, patch: Patch) -> Strip:
    names = [""] * _ports(patch)
    for plug in patch.plugs:
        if plug.port is not None:
            said = site.label_of(plug.device)
            names[plug.port - 1] = f"{names[plug.port - 1]}, {said}" if names[plug.port - 1] else said
    return Strip(site.label_of(patch.device), tuple(names))


def _has_ports(row: models.Site) -> bool:
    return bool(patches(documents.document(row)))


EXPORTS = (Export("ports", "Ports and their labels", {"pdf": _strips}, table=_table, offered=_has_ports),)
