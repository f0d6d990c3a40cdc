"""How many days the disks of a recorder hold, and which disks would hold those that are wanted."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from tutelar.core.recording.channels import Channel, recording_of
from tutelar.core.site.base import RECORDERS
from tutelar.core.site.feeding import Raid
from tutelar.core.site.types import Device, Site

TB = 10**12
SIZES_TB = (1, 2, 3, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24)
_ROUNDING = 1e-12


@dataclass(frozen=True, slots=True)
class Proposal:
    """Equal disks that hold what is wanted: TB of each, and the days they hold."""

    disks: tuple[int, ...]
    raid: Raid
    days: float

    def as_dict(self) -> dict[str, object]:
        """Return the proposal as the contract prints it."""
        return {"disks": list(self.disks), "raid": self.raid, "days": self.days}


@dataclass(frozen=True, slots=True)
class Storage:
    """What a recorder writes a day and holds, in bytes as sold and as usable, against the days wanted; None where that
    is not known."""

    device: str
    bytes_per_day: float
    label_bytes: float
    usable_bytes: float
    days: float | None
    wanted_days: int | None
    wanted_label_bytes: float | None
    wanted_label_bytes_with_reserve: float | None
    propose: Proposal | None

    def as_dict(self) -> dict[str, Any]:
        """Return the storage as the contract prints it."""
        found = {name: getattr(self, name) for name in Storage.__slots__}
        return found | {"propose": self.propose.as_dict() if self.propose else None}


def raid_share(raid: Raid, disks: int) -> float | None:
    """Return the share of n equal disks that is left for recordings; None for a number that the level does not take."""
    if raid == "none":
        return 1.0
    if disks < {"0": 2, "1": 2, "5": 3, "6": 4, "10": 4}[raid] or (raid == "10" and disks % 2):
        return None
    return {"0": 1.0, "1": 1 / disks, "5": (disks - 1) / disks, "6": (disks - 2) / disks, "10": 0.5}[raid]


def label_bytes(device: Device) -> float:
    """Return bytes as sold of a recorder's disks: all of them, with a RAID level the smallest as often as there are."""
    sizes = [disk.tb for disk in device.disks or ()]
    whole = sum(sizes) if device.raid == "none" or not sizes else min(sizes) * len(sizes)
    return whole * TB


def recorders_of(site: Site) -> list[Device]:
    """Return the recorders of a site, and whatever else is recorded at, in the order of the document."""
    used = {link.to for link in site.links if link.kind == "records" and link.slot is not None}
    return [device for device in site.devices if device.key in used or site.family_of(device) in RECORDERS]


def storage_of(site: Site, channels: Iterable[Channel]) -> list[Storage]:
    """Return what every recorder writes and holds, in the order of the document (see docs/recording.md)."""
    written: dict[str, float] = {}
    for channel in channels:
        written[channel.recorder] = written.get(channel.recorder, 0.0) + (channel.bytes_per_day or 0.0)
    return [_storage(site, device, written.get(device.key, 0.0)) for device in recorders_of(site)]


def _storage(site: Site, device: Device, bytes_per_day: float) -> Storage:
    whole, wanted = recording_of(site), site.survey.retention_days
    disks = len(device.disks or ())
    share = raid_share(device.raid, disks)
    label = label_bytes(device)
    usable = label * (share or 0.0) * whole.usable_share
    needed = None
    if wanted is not None and share is not None:
        needed = bytes_per_day * wanted / (whole.usable_share * share)
    return Storage(
        device=device.key,
        bytes_per_day=bytes_per_day,
        label_bytes=label,
        usable_bytes=usable,
        days=usable / bytes_per_day if bytes_per_day else None,
        wanted_days=wanted,
        wanted_label_bytes=needed,
        wanted_label_bytes_with_reserve=None if needed is None else needed * (1 + whole.reserve_share),
        propose=propose_disks(site, device, bytes_per_day),
    )


def propose_disks(site: Site, device: Device, bytes_per_day: float) -> Proposal | None:
    """Return the equal disks of the least total label that hold the wanted days with the reserve in the recorder's
    bays and RAID level, of equal ones the fewest; None where none do, or bays, days or bytes are not known."""
    whole, wanted, model = recording_of(site), site.survey.retention_days, site.model_of(device)
    bays = model.capacity.bays if model and model.capacity else None
    if not bays or wanted is None or not bytes_per_day:
        return None
    needed = bytes_per_day * wanted * (1 + whole.reserve_share) * (1 - _ROUNDING)
    best: tuple[int, int, int, float] | None = None
    for disks in range(1, bays + 1):
        share = raid_share(device.raid, disks)
        if share is None:
            continue
        size = next((size for size in SIZES_TB if disks * size * TB * share * whole.usable_share >= needed), None)
        if size is not None and (best is None or (disks * size, disks) < best[:2]):
            best = (disks * size, disks, size, disks * size * TB * share * whole.usable_share)
    if best is None:
        return None
    return Proposal((best[2],) * best[1], device.raid, best[3] / bytes_per_day)
