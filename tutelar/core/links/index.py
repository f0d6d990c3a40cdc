"""What is known of a site's links all together: who sits on which number, what each target carries, who feeds whom.

Worked out once for a look at many links; every part only when it is asked for.
"""

from collections import defaultdict
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property

from tutelar.core import graphs
from tutelar.core.links.base import Gap, Kind, Need, ResolvedLink
from tutelar.core.links.ends import why_never
from tutelar.core.links.zones import zone_faults
from tutelar.core.loads.budget import over_budget
from tutelar.core.reach import Ends
from tutelar.core.recording.channels import rate_of, said_of_channels, usual_kbps
from tutelar.core.site.base import OUTSIDE_ENDS, RECORDERS
from tutelar.core.site.model import Model
from tutelar.core.site.types import Device, Link, Site

_READY = frozenset({"set", "proven", "broken"})


@dataclass(slots=True)
class Load:
    """What a recorder takes in, each with its limit (None: the model does not say), and who came beyond it.

    `beyond` is by the position of the link in the document: which limit it passed.
    """

    channels: int = 0
    mbps: float = 0.0
    most_channels: int | None = None
    most_mbps: float | None = None
    licences: int | None = None
    per_device: bool = False  # one licence covers all channels of a device
    devices: set[str] = field(default_factory=set)
    beyond: dict[int, str] = field(default_factory=dict)

    @property
    def licensed(self) -> int:
        """How many licences what comes in takes."""
        return len(self.devices) if self.per_device else self.channels

    def add(self, position: int, device: str, mbps: float) -> None:
        """Count one more channel of a device in."""
        self.channels += 1
        self.devices.add(device)
        self.mbps += mbps
        if self.most_channels is not None and self.channels > self.most_channels:
            self.beyond[position] = "channels"
        elif self.most_mbps is not None and self.mbps > self.most_mbps + 1e-9:
            self.beyond[position] = "mbps"
        elif self.licences is not None and self.licensed > self.licences:
            self.beyond[position] = "licences"

    def room_for(self, mbps: float, device: str | None = None) -> bool:
        """Return whether one more channel of this rate fits, of a device (None: of one that is not here yet)."""
        rate = self.most_mbps is None or self.mbps + mbps <= self.most_mbps + 1e-9
        channel = self.most_channels is None or self.channels < self.most_channels
        covered = self.per_device and device in self.devices
        return rate and channel and (self.licences is None or covered or self.licensed < self.licences)

    @property
    def seats(self) -> int | None:
        """How many more devices with one channel each find room by channels and licences, None without a limit."""
        channels = None if self.most_channels is None else self.most_channels - self.channels
        licences = None if self.licences is None else self.licences - self.licensed
        return min((left for left in (channels, licences) if left is not None), default=None)


KindAndFit = Callable[[Site, Link, Device | None, Device | None], tuple[Kind, bool]]


class LinkIndex:
    """A site with what is known besides its document.

    `addresses`: device key to address, as planned. `states`: how far each device is (None: nobody looked, so that is
    not asked for). `secrets`: what a kept secret is known by, by (device key, slot) (None: the same). `pending`: pairs
    of a device and one whose changed value it was not told yet.
    """

    def __init__(
        self,
        site: Site,
        addresses: Mapping[str, str],
        states: Mapping[str, str] | None = None,
        secrets: Mapping[tuple[str, str], str] | None = None,
        pending: frozenset[tuple[str, str]] = frozenset(),
        *,
        kind_and_fit: KindAndFit,
    ) -> None:
        self.site, self.addresses, self.states = site, addresses, states
        self.secrets: Mapping[tuple[str, str], str] | None = secrets
        self.pending = pending
        self.mbps = {key: kbps / 1000 for key, kbps in usual_kbps(site).items()}  # by model, what is usually recorded
        self._said = said_of_channels(site)
        self._kind_and_fit = kind_and_fit
        self._kinds: dict[tuple[object, ...], tuple[Kind, bool]] = {}
        self.limits: dict[tuple[str, str], tuple[int, int | None]] = {}  # numbers of a target, by (kind, target)
        self.wanted: dict[tuple[Kind, bool], tuple[Need, ...]] = {}  # needs looked at link by link
        self._never: dict[tuple[object, ...], Gap | None] = {}  # why ends that stand alike cannot be tied
        self.sound: set[tuple[object, ...]] = set()  # what stands alike and lacks none of the needs that are alike

    def case(self, link: Link) -> ResolvedLink | None:
        """Return a link with its ends, None where it names a device that the file does not have."""
        devices = self.site.device_by_key
        start, end = devices.get(link.from_), devices.get(link.to)
        if start is None or (end is None and link.to not in OUTSIDE_ENDS):
            return None
        alike = (link.kind, start.model, start.behind == link.to, link.to if end is None else end.model, end is None)
        found = self._kinds.get(alike)
        if found is None:
            found = self._kinds[alike] = self._kind_and_fit(self.site, link, start, end)
        return ResolvedLink(self.site, found[0], link, start, end, self, found[1])

    def unresolved(self, link: Link) -> ResolvedLink:
        """Return a link whose devices are not all in the file, with a bare device in the place of each such one."""
        devices = self.site.device_by_key
        start = devices.get(link.from_) or Device.model_construct(key=link.from_, model="")
        end = devices.get(link.to)
        if end is None and link.to not in OUTSIDE_ENDS:
            end = Device.model_construct(key=link.to, model="")
        return ResolvedLink(
            self.site, self._kind_and_fit(self.site, link, start, end)[0], link, start, end, self, False
        )

    def never(self, case: ResolvedLink) -> Gap | None:
        """Return why the ends of a link cannot be tied at all, None where they can (see `ends`)."""
        link, start = case.link, case.start
        own = (start.key, case.kind.key) in self.two_heads or any(start.key in circle for circle in self.circles)
        alike = (link.kind, start.model, start.network, start.behind, link.to, start.key if own else "")
        if link.from_ == link.to or own:
            return why_never(case)
        if alike not in self._never:
            self._never[alike] = why_never(case)
        return self._never[alike]

    @cached_property
    def strays(self) -> bool:
        """Whether IT said how it routes, or something is known to be set otherwise than planned."""
        return self.site.routing is not None or any(device.found is not None for device in self.site.devices)

    @cached_property
    def ends(self) -> Ends:
        """The devices as ends of a way, at the addresses that they have or will have."""
        return Ends.at(self.site, self.addresses)

    @cached_property
    def placed(self) -> set[str]:
        """Keys of the devices that have an address of their own and went over the bench."""
        addresses, states = self.addresses, self.states
        return {
            device.key
            for device in self.site.devices
            if device.key in addresses
            and (device.addressing != "leased" or device.behind is not None)
            and (states is None or states.get(device.key) in _READY)
        }

    def set_up(self, device: Device | None) -> bool:
        """Return whether a device went over the bench, as far as anybody looked."""
        if device is None or self.states is None or device.key in self.site.wired:
            return True
        return self.states.get(device.key) in _READY

    @cached_property
    def position(self) -> dict[int, int]:
        """Identity of a link object to its place in the document."""
        return {id(link): at for at, link in enumerate(self.site.links)}

    @cached_property
    def seats(self) -> dict[tuple[str, str], dict[tuple[int, str | None], Link]]:
        """(target, word) to (number, side of the door) to the first link that has it."""
        found: dict[tuple[str, str], dict[tuple[int, str | None], Link]] = defaultdict(dict)
        for link in self.site.links:
            if (slot := link.slot) is not None and self.case(link) is not None:
                found[link.to, link.kind].setdefault((slot, link.side), link)
        return found

    @cached_property
    def loads(self) -> dict[str, Load]:
        """What each recorder takes in, with links in the order of the document."""
        site, found = self.site, {}
        devices, families = site.device_by_key, site.family_by_model
        for device in site.devices:
            if families.get(device.model) in RECORDERS:
                found[device.key] = empty_load(site.model_of(device))
        for at, link in enumerate(site.links):
            if link.kind == "records" and (load := found.get(link.to)) and (start := devices.get(link.from_)):
                load.add(at, start.key, self.rate(link, start))
        return found

    def rate(self, link: Link, start: Device) -> float:
        """Return the Mbit/s of a recording link: what is said of its channel, else what is usual of its model."""
        said = self._said.get((link.to, link.slot or 0)) if self._said else None
        if said is None:
            return self.mbps.get(start.model, 0.0)
        return (rate_of(self.site, start.key, said) or 0.0) / 1000

    @cached_property
    def limited(self) -> set[str]:
        """Keys of the models that take only so many logins at once."""
        return {model.key for model in self.site.models if model.capacity and model.capacity.logins is not None}

    @cached_property
    def users(self) -> dict[str, list[str]]:
        """Device key to the keys of the devices that hold a login there, in the order of the document."""
        found: dict[str, list[str]] = defaultdict(list)
        for link in self.site.links:
            case = self.case(link)
            if case is None or not case.kind.logs_in or case.held is None or case.holder is None:
                continue
            if case.holder.key not in found[case.held.key]:
                found[case.held.key].append(case.holder.key)
        return found

    @cached_property
    def tied_from(self) -> dict[tuple[str, str], list[Link]]:
        """(start, word) to its links."""
        found: dict[tuple[str, str], list[Link]] = defaultdict(list)
        for link in self.site.links:
            found[link.from_, link.kind].append(link)
        return found

    @cached_property
    def tied_to(self) -> dict[tuple[str, str], list[Link]]:
        """(target, word) to its links."""
        found: dict[tuple[str, str], list[Link]] = defaultdict(list)
        for link in self.site.links:
            found[link.to, link.kind].append(link)
        return found

    @cached_property
    def heads(self) -> dict[tuple[str, str], list[Link]]:
        """(start, key of a kind in which one follows another) to its links of that kind."""
        found: dict[tuple[str, str], list[Link]] = defaultdict(list)
        for link in self.site.links:
            if link.kind in ("manages", "extends") and (case := self.case(link)) is not None and case.follows:
                found[link.from_, case.kind.key].append(link)
        return found

    @cached_property
    def two_heads(self) -> set[tuple[str, str]]:
        """(start, kind) of those who are told to follow more than one."""
        return {place for place, links in self.heads.items() if len(links) > 1}

    @cached_property
    def over_budget(self) -> dict[str, str]:
        """Key of a device that feeds more than it can to a sentence about it."""
        return over_budget(self.site)

    @cached_property
    def zone_faults(self) -> dict[int, str]:
        """Number of a paging zone to what is wrong with it."""
        return zone_faults(self.site)

    @cached_property
    def circles(self) -> list[list[str]]:
        """Panels that name each other as primary in a circle, and stations that extend each other."""
        return circles(self.site)


def empty_load(model: Model | None) -> Load:
    """Return the limits of a recorder's model with nothing taken in."""
    capacity = model.capacity if model else None
    if capacity is None:
        return Load()
    return Load(
        most_channels=capacity.channels,
        most_mbps=capacity.incoming_mbps,
        licences=capacity.licences,
        per_device=model is not None and model.licence_per == "device",
    )


def circles(site: Site) -> list[list[str]]:
    """Return the circles of devices each of which is told to follow the next one, by a link of one word."""
    found: list[list[str]] = []
    for word in ("manages", "extends", "registers-at", "reports-to"):
        follows: dict[str, list[str]] = defaultdict(list)
        for link in site.links:
            if link.kind == word and link.to in site.device_by_key and link.to != link.from_:
                follows[link.from_].append(link.to)
        found += graphs.circles(follows)
    return found
