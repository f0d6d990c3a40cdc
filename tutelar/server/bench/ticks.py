"""Ticks: what was typed into a device or compared with it, and by whom."""

from django.db import transaction

from tutelar.core.setting import DeviceSettings
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.bench import queries
from tutelar.server.secrets import queries as secrets_queries
from tutelar.server.store.writes import Stale, WriteRejected, site_for_update
from tutelar.server.values import queries as values_queries

COMPARED = ("connect", "confirm")  # steps whose values are compared, not typed


def marks(row: models.Site, subject: str, settings: DeviceSettings) -> dict[str, str]:
    """Return by line what its value is today, for a device's key or a step's id; of a secret which one it is.

    Raises Rejected for a subject that the site does not have.
    """
    site = settings.site
    device = site.device_by_key.get(subject)
    if device is None:
        step = next((item for item in queries.bench_run(row).steps if item.id == subject), None)
        if step is None or step.device is not None:
            raise WriteRejected(f"The site {row.name} has no device and no step '{subject}'.", status=404)
        return {value.label: value.value for value in step.values}
    lines = [line for group in settings.groups(device) for line in group.lines]
    kept = secrets_queries.secret_marks(row, {line.owner for line in lines if line.owner})
    found = {
        line.key: kept.get((line.owner or "", line.slot), secrets_queries.secret_mark(None))
        if line.slot
        else line.value
        for line in lines
    }
    for kind in COMPARED:
        found |= {f"{kind}:{label}": value for label, value in values_queries.compared(settings, device, kind)}
    return found


def tick(key: str, subject: str, line: str, value: str, actor: Actor, *, done: bool) -> None:
    """Tick a value as typed, or take the tick away. `value` is what the person had before them.

    Raises Rejected for a line that the device does not have, Stale where the value is another one by now.
    """
    with transaction.atomic():
        row = site_for_update(key)
        now = marks(row, subject, values_queries.settings_of(row))
        if line not in now:
            raise WriteRejected(f"'{subject}' has no value '{line}' to type.", [("line", line)])
        ticks = models.ValueTick.objects.filter(site=row, subject=subject, line=line)
        if not done:
            ticks.delete()
            return
        if now[line] != value:
            raise Stale("This value", value, now[line], row.revision)
        models.ValueTick.objects.update_or_create(
            site=row, subject=subject, line=line, defaults={"mark": value, "by": actor.name}
        )
