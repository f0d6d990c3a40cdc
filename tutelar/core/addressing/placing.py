"""Placing devices: which free address each of them gets, over all networks.

Preferences, in this order (docs/sources.md, addressing): a set address stays; factory addresses of devices still to
come stay free; a camera's number follows its channel where the policy wants that; the site's own block rules;
next to the family's existing addresses; a readable block with room to grow; any free address. Same input,
same output: everything is decided by the order of the document and of the places.
"""

from collections import defaultdict
from dataclasses import dataclass, field

from tutelar.core.addressing.assignment import Assignment, Source
from tutelar.core.addressing.blocks import FAMILY_RANK, lay_blocks
from tutelar.core.addressing.ranges import Span, first_of, holds, size, within, without
from tutelar.core.addressing.rules import Addresses, full_problem, to_come
from tutelar.core.addressing.subnet import Subnet, SubnetMembers
from tutelar.core.problems import Problem, problem
from tutelar.core.site.types import Device, Site
from tutelar.core.site.values import dotted
from tutelar.core.wording import count, family_plural, listed


@dataclass(frozen=True, slots=True)
class Placed:
    """Addresses and reasons of newly placed devices, by their position in the file."""

    numbers: dict[int, int] = field(default_factory=dict)
    whys: dict[int, str] = field(default_factory=dict)


def place_all(site: Site, grounds: list[SubnetMembers], addresses: Addresses) -> tuple[Placed, list[Problem]]:
    """Return an address for every device that needs one and has none, and what could not be had."""
    waiting = to_come(site, addresses)
    channels = _channels(site) if site.policy.match_channel else {}
    placed = Placed()
    notes: list[Problem] = []
    for standing in grounds:
        open_ones = [
            entry for entry in standing.devices if addresses[entry[0]] is None and entry[1].addressing != "leased"
        ]
        if open_ones:
            ground = _GroundPlan(site, standing, addresses, waiting, channels, placed)
            ground.place(open_ones)
            notes.extend(ground.notes)
    return placed, notes


def _channels(site: Site) -> dict[str, tuple[str, int]]:
    """Return (recorder, channel) of every device whose recording link has a channel; the first link counts."""
    found: dict[str, tuple[str, int]] = {}
    for link in site.links:
        if link.kind == "records" and link.slot is not None:
            found.setdefault(link.from_, (link.to, link.slot))
    return found


def assignments(
    site: Site, grounds: list[SubnetMembers], addresses: Addresses, placed: Placed
) -> tuple[Assignment, ...]:
    """Return one assignment for each device that found an address."""
    new = placed.numbers
    high, head = -1, ""
    source: Source
    rows: list[Assignment | None] = [None] * len(site.devices)
    for standing in grounds:
        ground = standing.ground
        key, prefix, dns = ground.key, ground.prefix, ground.dns_texts
        gateway = None if ground.gateway is None or ground.recorder else dotted(ground.gateway)
        for position, device in standing.devices:
            if device.addressing == "leased":
                continue
            number = addresses[position]
            if number is not None:
                source, why = ("locked", _LOCKED) if device.locked else ("kept", _KEPT)
            elif position in new:
                source, number, why = "planned", new[position], placed.whys[position]
            else:
                continue
            if number >> 8 != high:  # neighbours share all but their last number
                high = number >> 8
                head = dotted(high << 8)[:-1]
            text = f"{head}{number & 255}"
            rows[position] = Assignment(device.key, key, text, prefix, gateway, dns, source, why)
    return tuple(row for row in rows if row is not None)


_LOCKED = "Locked: a plan never moves it."
_KEPT = "Already set; a plan keeps what is set."


class _GroundPlan:
    """The planning of one ground, from what stays to what takes the last free address."""

    def __init__(
        self,
        site: Site,
        standing: SubnetMembers,
        addresses: Addresses,
        waiting: dict[int, list[Device]],
        channels: dict[str, tuple[str, int]],
        placed: Placed,
    ) -> None:
        self.site, self.standing, self.ground = site, standing, standing.ground
        self.addresses, self.channels = addresses, channels
        self.notes: list[Problem] = []
        self.placed = placed
        held = [number for position, _ in standing.devices if (number := addresses[position]) is not None]
        self.any_set = bool(held)
        self.kept_free = sorted(number for number in waiting if holds(self.ground.open_to_reserved, number))
        self.waiting = waiting
        if self.ground.time_source is not None:
            held.append(self.ground.time_source)
        self.taken: list[Span] = [(number, number) for number in (*held, *self.kept_free)]
        self.free = without(self.ground.open_to_fixed, self.taken)

    def place(self, open_ones: list[tuple[int, Device]]) -> None:
        """Place these devices of the ground, as many as fit; `notes` says what could not be had."""
        order, last = self.site.place_order, len(self.site.about.places)
        open_ones.sort(key=lambda entry: order.get(entry[1].place or "", last))
        rest = self._that_fit(open_ones)
        if self.channels and self.ground.recorder is None:
            rest = self._by_channel(rest)
        family_of = self.site.family_by_model
        families: dict[str, list[tuple[int, Device]]] = defaultdict(list)
        for entry in rest:
            families[family_of.get(entry[1].model, "other")].append(entry)
        self._by_rule(families)
        self._by_family(families)
        self._say_what_is_missing(open_ones)

    def _that_fit(self, open_ones: list[tuple[int, Device]]) -> list[tuple[int, Device]]:
        """Return those that get an address outside the pools: fixed ones first, each kind in walking order.

        Reserved devices that find no room there are placed inside the pools.
        """
        space = size(self.free)
        if len(open_ones) <= space:
            return open_ones
        fixed = [entry for entry in open_ones if entry[1].addressing == "fixed"]
        reserved = [entry for entry in open_ones if entry[1].addressing == "reserved"]
        left = max(0, space - len(fixed))
        self._in_pool(reserved[left:])
        chosen = {position for position, _ in (*fixed[:space], *reserved[:left])}
        return [entry for entry in open_ones if entry[0] in chosen]

    def _take(self, entries: list[tuple[int, Device]], numbers: list[int], why: str) -> None:
        """Give the entries these addresses, one each; "#" in the reason becomes the place in the row."""
        before, counted, after = why.partition("#")
        given, whys = self.placed.numbers, self.placed.whys
        for place, ((position, _), number) in enumerate(zip(entries, numbers, strict=False), 1):
            given[position] = number
            whys[position] = f"{before}{place}{after}" if counted else why
        if numbers:
            in_a_row = numbers[-1] - numbers[0] == len(numbers) - 1
            gone = [(numbers[0], numbers[-1])] if in_a_row else [(number, number) for number in numbers]
            self.free = without(self.free, gone)

    def _in_pool(self, entries: list[tuple[int, Device]]) -> None:
        if entries:
            pool = within_pools(self.ground, self.taken)
            why = "Reserved in the router by its hardware address; there is room for it only inside the DHCP pool."
            self._take(entries, first_of(pool, len(entries)), why)

    def _by_channel(self, entries: list[tuple[int, Device]]) -> list[tuple[int, Device]]:
        """Place cameras at 100 (200, 300 …: one base a recorder) plus their channel; return what is left over."""
        cameras = [entry for _, device in self.standing.devices if (entry := self.channels.get(device.key))]
        used = {recorder for recorder, _ in cameras}
        bases = [device.key for device in self.site.devices if device.key in used]
        left = []
        for position, device in entries:
            recorder, channel = self.channels.get(device.key, ("", 0))
            if self.site.family_of(device) != "camera" or recorder not in bases:
                left.append((position, device))
                continue
            base = 100 * (bases.index(recorder) + 1)
            number = self.ground.base + base + channel
            if holds(self.free, number):
                why = f"Channel {channel} of {self.site.label_of(recorder)}: {base} + {channel}."
                self._take([(position, device)], [number], why)
                continue
            left.append((position, device))
            reason = "lies outside the network" if not self.ground.contains(number) else "is not free for it"
            self.notes.append(
                problem(
                    "plan.channel-not-matched",
                    (device.key,),
                    f"{device.label} is on channel {channel} of {self.site.label_of(recorder)}, but {dotted(number)} "
                    f"({base} + {channel}) {reason}; it has an ordinary address.",
                )
            )
        return left

    def _by_rule(self, families: dict[str, list[tuple[int, Device]]]) -> None:
        """Place families that the site has block rules for; `families` keeps what has no rule."""
        blocks = self.site.policy.blocks
        if blocks == "auto" or self.ground.recorder is not None:
            return
        for rule in blocks:
            entries = [entry for family in rule.families for entry in families.pop(family, [])]
            if not entries:
                continue
            span = (self.ground.base + rule.first, min(self.ground.base + rule.last, self.ground.top))
            if span[0] > span[1]:  # backward, or beyond this network: `check` says so
                for entry in entries:
                    families.setdefault(self.site.family_of(entry[1]), []).append(entry)
                continue
            numbers = first_of(within(self.free, span), len(entries))
            names = listed([family_plural(family) for family in rule.families], 9)
            text = self._span_text(span)
            self._take(
                entries, numbers, f"Number # of the {names} in walking order; the site's rule gives them {text}."
            )
            over = entries[len(numbers) :]
            if over:
                around = [*within(self.free, (span[1] + 1, self.ground.top)), *within(self.free, (0, span[0] - 1))]
                self._take(
                    over, first_of(around, len(over)), f"The block {text} of the {names} is full; next free place."
                )
                self.notes.append(
                    problem(
                        "plan.block-overflow",
                        [device.key for _, device in over],
                        f"The block {text} holds {len(numbers)} of {len(entries)} {names} still to place in "
                        f"{self.ground.label}; {count(len(over), 'address', 'addresses')} lie outside it.",
                    )
                )

    def _by_family(self, families: dict[str, list[tuple[int, Device]]]) -> None:
        names = sorted(families, key=lambda family: FAMILY_RANK.get(family, 0))
        if self.any_set:
            for family in names:
                families[family] = self._beside_its_own(family, families[family])
        wanted = [(family, len(families[family])) for family in names if families[family]]
        free = self.free
        if self.site.policy.blocks != "auto":
            base = self.ground.base
            free = without(free, [(base + rule.first, base + rule.last) for rule in self.site.policy.blocks])
        blocks = lay_blocks(free, wanted, self.site.policy.growth, self.ground.prefix)
        for family, _ in wanted:
            entries = families[family]
            if family in blocks:
                first, last = blocks[family]
                plural, text = family_plural(family), self._span_text((first, last))
                why = f"Number # of the {plural} in walking order; their block is {text}."
                self._take(entries, list(range(first, first + len(entries))), why)
            else:
                why = "Next free address: there is no room for a block of its family here."
                self._take(entries, first_of(self.free, len(entries)), why)

    def _beside_its_own(self, family: str, entries: list[tuple[int, Device]]) -> list[tuple[int, Device]]:
        """Place new devices after, then between the set ones of their family; return what finds no place there."""
        own: list[int] = []
        foreign: list[int] = []
        for position, device in self.standing.devices:
            number = self.addresses[position]
            if number is not None and holds(self.ground.open_to_reserved, number):
                (own if self.site.family_of(device) == family else foreign).append(number)
        if not own or not entries:
            return entries
        low, high = min(own), max(own)
        limit = min((number - 1 for number in foreign if number > high), default=self.ground.top)
        numbers = first_of(within(self.free, (high + 1, limit)), len(entries))
        numbers += first_of(within(self.free, (low, high)), len(entries) - len(numbers))
        self._take(
            entries, numbers, f"Next free address beside the other {family_plural(family)} of {self.ground.label}."
        )
        return entries[len(numbers) :]

    def _say_what_is_missing(self, entries: list[tuple[int, Device]]) -> None:
        missing = [device for position, device in entries if position not in self.placed.numbers]
        if not missing:
            return
        full = full_problem(self.standing, self.addresses)
        if full is None:
            wanted = len(entries)
            kept = [
                f"{dotted(number)} (factory address of {self.waiting[number][0].label})" for number in self.kept_free
            ]
            also = f"; kept free meanwhile: {listed(kept)}" if kept else ""
            full = problem(
                "network.full",
                (self.ground.key,),
                f"{count(wanted, 'address', 'addresses')} still wanted in {self.ground.label} ({self.ground.cidr}), "
                f"{wanted - len(missing)} free for them{also}.",
                "Free an address, or plan again when the devices that start at the reserved ones have their own.",
            )
        self.notes.append(full)

    def _span_text(self, span: Span) -> str:
        first, last = dotted(span[0]), dotted(span[1])
        if self.ground.prefix >= 24:
            return f".{first.rpartition('.')[2]}–.{last.rpartition('.')[2]}"
        return f"{first}–{last}"


def within_pools(ground: Subnet, taken: list[Span]) -> list[Span]:
    """Return what a reserved device may have inside the DHCP pools."""
    return without(without(ground.open_to_reserved, ground.open_to_fixed), taken)
