"""The door schedule, who may open what, the alarm sheet, and labels for doors."""

from tutelar.core.alarm.hubs import hub_standings
from tutelar.paper.doors import access_table, alarm_table, doors_table
from tutelar.paper.labels import Label, label_pdf
from tutelar.paper.tables import Table
from tutelar.server import models
from tutelar.server.doors import queries
from tutelar.server.files import Asked, Export
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected


def _doors(row: models.Site, _asked: Asked) -> Table:
    return doors_table(documents.document(row))


def _access(row: models.Site, _asked: Asked) -> Table:
    return access_table(queries.telling_of(row).known)


def _alarm(row: models.Site, _asked: Asked) -> Table:
    return alarm_table(documents.document(row))


def _labels(row: models.Site, asked: Asked) -> bytes:
    site = documents.document(row)
    if not site.doors:
        raise WriteRejected(f"{row.name} has no door yet; there is nothing to print.")
    labels = [
        Label(
            f"{asked.base}sites/{row.key}/doors?door={door.key}",
            door.label,
            (
                door.place or "",
                f"{site.label_of(door.panel)}, door {door.number}" if door.panel and door.number else "",
                "escape route" if door.escape else "",
            ),
        )
        for door in site.doors
    ]
    return label_pdf(labels, f"Door labels, {site.about.title}")


def _has_doors(row: models.Site) -> bool:
    return bool(documents.document(row).doors)


def _has_access(row: models.Site) -> bool:
    return documents.document(row).access is not None


def _has_hubs(row: models.Site) -> bool:
    return bool(hub_standings(documents.document(row)))


EXPORTS = (
    Export("doors", "Door schedule", table=_doors, offered=_has_doors),
    Export("access", "Who may open what", table=_access, offered=_has_access),
    Export("alarm", "Alarm sheet", table=_alarm, offered=_has_hubs),
    Export("door-labels", "Labels for doors", {"pdf": _labels}, offered=_has_doors),
)
