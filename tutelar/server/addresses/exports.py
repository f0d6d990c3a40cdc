"""Files of the addresses: the schedule, reservations, a renumbering."""

from functools import partial

from tutelar.core.addressing.reservations import SERVERS, by_network, reservations
from tutelar.paper.schedule import schedule_table
from tutelar.paper.tables import Separator, Table, as_csv
from tutelar.server import models
from tutelar.server.addresses import services
from tutelar.server.files import Asked, Export
from tutelar.server.proof import queries as proof_queries
from tutelar.server.store import bench_steps, documents
from tutelar.server.store.writes import WriteRejected


def schedule(row: models.Site, _asked: Asked) -> Table:
    """Return the address schedule of a site: one row a device in walking order."""
    states = proof_queries.device_states(row, proof_queries.readings(row), bench_steps.finished(row))
    return schedule_table(documents.document(row), documents.planned(row), states)


def renumber_csv(row: models.Site, network: str, to: str, gateway: str, separator: Separator) -> str:
    """Return what a renumbering changes, own addresses first, then what others have typed in. Raises Rejected."""
    site = documents.document(row)
    _, result = services.preview_renumber(site, network, to, gateway)
    rows = [(site.label_of(item.device), "own address", item.old, item.new, "") for item in result.moved]
    rows += [
        (site.label_of(item.device), item.setting, item.old, item.new, ", ".join(map(site.label_of, item.after)))
        for item in result.partners
    ]
    return as_csv(("Device", "Setting", "Old", "New", "After these have changed"), rows, separator)


def _reservations(server: str, row: models.Site, _asked: Asked) -> str:
    site, assignments = documents.document(row), documents.planned(row).assignments
    found, missing = reservations(site, assignments)
    if not found:
        waiting = f" {', '.join(missing)} lack a hardware address." if missing else ""
        raise WriteRejected(f"No device of {row.name} has its address reserved in the router.{waiting}")
    return SERVERS[server].write(by_network(site, assignments))


def _reserves(row: models.Site) -> bool:
    return any(device.addressing == "reserved" for device in documents.document(row).devices)


EXPORTS = (
    Export("schedule", "Address schedule", table=schedule),
    *(
        Export(
            f"reservations-{key}",
            f"Reservations for {server.title}",
            {server.ending: partial(_reservations, key)},
            offered=_reserves,
        )
        for key, server in SERVERS.items()
    ),
)
