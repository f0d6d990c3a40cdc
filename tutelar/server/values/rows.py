"""The values of one device or step with what was typed of them, what is stored, and what was measured."""

from collections.abc import Iterable, Mapping, Sequence

from tutelar.core.credentials import SLOTS
from tutelar.core.proof import check_title, measured_of, reading_state
from tutelar.core.run import Step
from tutelar.core.setting import Group, Line
from tutelar.core.site.types import Device
from tutelar.server import models
from tutelar.server.proof import queries as proof_queries
from tutelar.server.secrets import queries as secrets_queries
from tutelar.server.store import documents
from tutelar.server.store.readings import readings_of
from tutelar.server.store.secret_marks import secret_mark
from tutelar.server.values import queries
from tutelar.server.values.row_schemas import GroupRow, LineRow, SecretRow, TellingRow, ValueProof

_COMPARE = {"connect": "On its label", "confirm": "On its own page", "adapter": "Network settings of the laptop"}


class Values:
    """Reads once what the values of a device need: ticks, secrets, readings."""

    def __init__(self, row: models.Site, device: Device, lines: Iterable[Line] | None = None) -> None:
        self.row, self.device = row, device
        self.site, self.settings = documents.document(row), queries.settings_of(row)
        self.ticks = queries.ticks(row, device.key)
        uses = models.SecretUse.objects.select_related("secret").filter(site=row)
        if lines is None:
            lines = (line for group in self.settings.groups(device) for line in group.lines)
        owners = {line.owner for line in lines if line.owner}
        self.secrets = {(use.device_key, use.slot): use.secret for use in uses.filter(device_key__in=owners)}
        self.equal, self.open = secrets_queries.equal_passwords(row), secrets_queries.open_slots(row)
        self.wanted = {item.check: item for item in proof_queries.expectations(row).get(device.key, [])}
        found = models.Reading.objects.filter(site=row, device__key=device.key)
        self.last = {reading.check: reading for reading in readings_of(found.order_by("pk"))}

    def groups(self, *at: str, like: Device | None = None) -> list[GroupRow]:
        """Return the groups of values with what was typed, kept and measured of each; `like` is a device of the same
        model that was typed before it."""
        before = {group.key: group.lines for group in self.settings.groups(like)} if like is not None else {}
        return [
            self._group(group, like.label if like is not None and _same(group.lines, before.get(group.key)) else None)
            for group in self.settings.groups(self.device)
            if not at or group.at in at
        ]

    def lines(self, lines: Iterable[Line]) -> list[LineRow]:
        """Return these values of the device."""
        return [self._line(line) for line in lines]

    def compared(self, kind: str) -> list[GroupRow]:
        """Return what is compared at a step of this kind as one group."""
        checks = {"address": "right-device", "name": "name"} if kind == "confirm" else {}
        lines = [
            self._line(Line(f"{kind}:{key}", label, value, "", checks.get(key)))
            for key, label, value in queries.compared(self.settings, self.device, kind)
        ]
        return [GroupRow(key=kind, title=_COMPARE[kind], caution=None, lines=lines)] if lines else []

    def _group(self, group: Group, same_as: str | None) -> GroupRow:
        lines = [self._line(line) for line in group.lines]
        return GroupRow(key=group.key, title=group.title, caution=group.caution, lines=lines, same_as=same_as)

    def _line(self, line: Line) -> LineRow:
        secret = self.secrets.get((line.owner or "", line.slot or ""))
        mark = secret_mark(secret.pk if secret else None) if line.slot else line.value
        tick = self.ticks.get(line.key)
        return LineRow(
            key=line.key,
            label=line.label,
            value=line.value,
            why=line.why,
            mark=mark,
            chosen=line.chosen,
            usual=line.usual,
            proof=self._proof(line.proof),
            secret=secret_row(line.owner or "", line.slot, secret, self.equal, self.open) if line.slot else None,
            ticked=tick is not None and tick.mark == mark,
            typed_by=tick.by if tick else None,
            typed_at=tick.at if tick else None,
            typed_before=tick.mark if tick and tick.mark != mark and not line.slot else None,
        )

    def _proof(self, check: str | None) -> ValueProof | None:
        if check is None or check not in self.wanted:
            return None
        reading = self.last.get(check)
        return ValueProof(
            check=check,
            title=check_title(check, self.site.about.date_order),
            state=reading_state(reading, self.wanted[check]),
            measured=measured_of(self.site, reading) if reading else None,
            at=reading.at if reading else None,
        )


def _same(lines: Sequence[Line], before: Sequence[Line] | None) -> bool:
    """Whether every value is the one that was typed before; a secret never counts as such."""
    if before is None or any(line.slot for line in lines):
        return False
    return [(line.key, line.value) for line in lines] == [(line.key, line.value) for line in before]


def _typed_before(row: models.Site, device: Device) -> Device | None:
    """Return the device of the same model whose settings were typed last at this bench, None where there is none."""
    site = documents.document(row)
    done = models.StepRecord.objects.filter(site=row, kind="configure", state="done").exclude(device_key=device.key)
    found = (site.device_by_key.get(key) for key in done.order_by("-end_s").values_list("device_key", flat=True))
    return next((item for item in found if item is not None and item.model == device.model), None)


def secret_row(
    device: str,
    slot: str,
    secret: models.Secret | None,
    equal: Mapping[tuple[str, str], str],
    open_: Mapping[tuple[str, str], models.OpenSlot],
) -> SecretRow:
    """Return what may be said of a secret: everything but the secret."""
    left = open_.get((device, slot)) if secret is None else None
    return SecretRow(
        device=device,
        slot=slot,
        word=SLOTS[slot].short,
        makeable=SLOTS[slot].makeable,
        version=secret.version if secret else 0,
        weak=secret.reason or None if secret else None,
        same_as=equal.get((device, slot)),
        left_open=left.reason if left else None,
        undecided=SLOTS[slot].undecided(kept=secret is not None, said=left is not None),
        by=secret.by if secret else None,
        at=secret.at if secret else None,
    )


def step_groups(row: models.Site, step: Step, device: Device | None) -> list[GroupRow]:
    """Return the values of a bench step in groups."""
    if device is not None:
        values = Values(row, device)
        if step.kind in ("connect", "confirm"):
            return values.compared(step.kind)
        return values.groups(step.kind, like=_typed_before(row, device))
    if not step.values:
        return []
    ticks = queries.ticks(row, step.id)
    lines = [plain_line(item.key, item.label, item.value, tick=ticks.get(item.key)) for item in step.values]
    return [GroupRow(key=step.kind, title=_COMPARE["adapter"], caution=None, lines=lines)]


def plain_line(key: str, label: str, value: str, why: str = "", tick: models.ValueTick | None = None) -> LineRow:
    """Return a value that is neither measured nor a secret, with its tick where it has one."""
    return LineRow(
        key=key,
        label=label,
        value=value,
        why=why,
        mark=value,
        chosen=False,
        usual=None,
        proof=None,
        secret=None,
        ticked=tick is not None and tick.mark == value,
        typed_by=tick.by if tick else None,
        typed_at=tick.at if tick else None,
        typed_before=None,
    )


def telling_rows(tellings: Iterable[models.PendingUpdate]) -> list[TellingRow]:
    """Return what has to be typed into other devices after a change."""
    return [
        TellingRow(
            id=item.pk,
            device=item.device.key,
            name=item.device.name or item.device.key,
            about=item.about.key,
            about_name=item.about.name or item.about.key,
            code=item.code,
            sentence=item.sentence,
            by=item.by,
            at=item.at,
        )
        for item in tellings
    ]
