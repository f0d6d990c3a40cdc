"""Ticks: what was typed into a device or compared with it, and by whom."""

from typing import NamedTuple

from django.db import transaction

from tutelar.core.credentials import SLOTS
from tutelar.core.setting import DeviceSettings
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.bench import queries
from tutelar.server.secrets import queries as secrets_queries
from tutelar.server.store import documents
from tutelar.server.store.secret_marks import secret_mark
from tutelar.server.store.writes import Stale, WriteRejected, log, site_for_update
from tutelar.server.values import queries as values_queries

COMPARED = ("connect", "confirm")  # steps whose values are compared, not typed


class Typeable(NamedTuple):
    """A value that can be ticked: what devices call it, and what a tick of it refers to (of a secret, which one)."""

    label: str
    mark: str
    secret: bool = False
    undecided: bool = False  # nothing is kept, and nobody said why


def typeable(row: models.Site, subject: str, settings: DeviceSettings) -> dict[str, Typeable]:
    """Return what can be ticked by line, for a device's key or a step's id.

    Raises WriteRejected for a subject that the site does not have.
    """
    site = settings.site
    device = site.device_by_key.get(subject)
    if device is None:
        step = next((item for item in queries.bench_run(row).steps if item.id == subject), None)
        if step is None or step.device is not None:
            raise WriteRejected(f"The site {row.name} has no device and no step '{subject}'.", status=404)
        return {value.key: Typeable(value.label, value.value) for value in step.values}
    lines = [line for group in settings.groups(device) for line in group.lines]
    kept = secrets_queries.secret_marks(row, {line.owner for line in lines if line.owner})
    said = secrets_queries.open_slots(row)
    found = {}
    for line in lines:
        mark = kept.get((line.owner or "", line.slot), secret_mark(None)) if line.slot else line.value
        place = (line.owner or "", line.slot or "")
        undecided = line.slot is not None and SLOTS[line.slot].undecided(kept=place in kept, said=place in said)
        found[line.key] = Typeable(line.label, mark, line.slot is not None, undecided)
    for kind in COMPARED:
        for line_key, label, value in values_queries.compared(settings, device, kind):
            found[f"{kind}:{line_key}"] = Typeable(label, value)
    return found


def tick(key: str, subject: str, line: str, value: str, actor: Actor, *, done: bool, page: str = "") -> None:
    """Tick a value as typed, or take the tick away; it is logged, and told to all pages but the one that says it.
    `value` is what the person had before them.

    Raises WriteRejected for a line that the device does not have, Stale where the value is another one by now.
    """
    with transaction.atomic():
        row = site_for_update(key)
        settings = values_queries.settings_of(row)
        now = typeable(row, subject, settings)
        if line not in now:
            raise WriteRejected(f"'{subject}' has no value '{line}' to type.", [("line", line)])
        item = now[line]
        if done and item.mark != value:
            raise Stale("This value", value, item.mark, row.revision)
        if done and item.undecided:
            said = f"{item.label} of {settings.site.label_of(subject)}: type one, or say why it is left open."
            raise WriteRejected(said, [("line", line)])
        ticks = models.ValueTick.objects.filter(site=row, subject=subject, line=line)
        if done:
            ticks.update_or_create(defaults={"mark": value, "by": actor.name}, site=row, subject=subject, line=line)
        elif not ticks.delete()[0]:
            return
        device = documents.document(row).device_by_key.get(subject)
        what = item.label if item.secret else f"{item.label} {value}"
        seen = "seen" if line.startswith(COMPARED) else "typed"
        sentence = f"{device.label if device else 'Laptop'}: {what} {seen if done else f'not {seen} after all'}."
        after = {"subject": subject, "line": line, "value": value, "done": done, "page": page}
        log(row, actor, queries.TICK, subject if device else row.key, sentence, None, after)
