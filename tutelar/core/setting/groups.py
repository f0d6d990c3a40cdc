"""The values of one device in groups, in the order in which devices ask for them."""

from collections.abc import Iterator

from tutelar.core.addressing.assignment import Assignment, Plan
from tutelar.core.clock.rules import ClockRule, clock_rule, spoken_turn
from tutelar.core.clock.sources import has_clock, time_of
from tutelar.core.clock.zones import UnknownZone
from tutelar.core.credentials.slots import LIMITED, slots_of
from tutelar.core.doors.typed import DOOR_CAUTION, door_lines, hub_lines, keypad_lines
from tutelar.core.kit.shorter import shown_names
from tutelar.core.line import Group, Line
from tutelar.core.links.registry import link_index
from tutelar.core.ports import ports_of
from tutelar.core.recording.typed import SOUND_LAW, recording_lines
from tutelar.core.setting.family import CHOICES, chosen, picture_lines, sound_lines
from tutelar.core.site.base import RECORDERS
from tutelar.core.site.types import Device, Site
from tutelar.core.site.values import netmask, packet_sum
from tutelar.core.wording import DATE_ORDERS, capital

RULE_YEARS = 10
INTERVAL_FOR_TEST = "1 min for the test, then 60 min"  # of the line "interval"
_CLOCKS = {"12h": "12 hours", "24h": "24 hours"}
_DOOR_CODE = "Whoever has this code opens the door. Escape doors follow the fire code, whatever is set here."


class DeviceSettings:
    """The values of a site's devices; what they share is worked out once. `year` 0 leaves out daylight saving."""

    def __init__(self, site: Site, planned: Plan, year: int = 0) -> None:
        self.site = site
        self.assignments = {item.device: item for item in planned.assignments}
        self.names = shown_names(site)
        self.links = link_index(site, planned.addresses())
        self._rule: ClockRule | None = None
        self._last: tuple[Device, tuple[Group, ...]] | None = None
        if year and site.about.time_zone:
            try:
                self._rule = clock_rule(site.about.time_zone, year, RULE_YEARS)
            except UnknownZone:
                self._rule = None

    def groups(self, device: Device) -> tuple[Group, ...]:
        """Return the groups of a device, those without a value left out. The last device's are kept."""
        last = self._last  # read once: another thread may ask for another device meanwhile
        if last is None or last[0] is not device:
            self._last = last = (device, self._groups(device))
        return last[1]

    def _groups(self, device: Device) -> tuple[Group, ...]:
        found = (
            Group("contact", "First contact", "activate", tuple(self._contact(device))),
            Group("network", "Network", "configure", tuple(self._network(device))),
            Group("identity", "Name", "configure", tuple(self._identity(device))),
            Group("clock", "Date and time", "configure", chosen(self.site, device, self._clock(device))),
            Group("picture", "Picture", "configure", chosen(self.site, device, picture_lines(self.site, device))),
            Group(
                "sound",
                "Sound",
                "configure",
                chosen(self.site, device, sound_lines(self.site, device)),
                SOUND_LAW if self.site.family_of(device) == "camera" else None,
            ),
            Group("ports", "Ports", "configure", tuple(self._ports(device))),
            Group(
                "accounts",
                "Accounts",
                "configure",
                tuple(self._accounts(device)),
                _DOOR_CODE if any(slot.kind == "code" for slot in slots_of(self.site, device)) else None,
            ),
            Group("partners", "Linked devices", "links", tuple(self._partners(device))),
            self._recording(device),
            self._doors(device),
            Group("alarm", "Alarm", "configure", tuple(self._alarm(device))),
        )
        return tuple(group for group in found if group.lines)

    def _recording(self, device: Device) -> Group:
        lines = tuple(recording_lines(self.site, device)) if self.site.family_of(device) in RECORDERS else ()
        sound = any(line.key == "sound-recorded" for line in lines)
        return Group("recording", "Recording", "links", lines, SOUND_LAW if sound else None)

    def _doors(self, device: Device) -> Group:
        lines = chosen(self.site, device, door_lines(self.site, device))
        escape = any(door.escape and door.panel == device.key for door in self.site.doors)
        return Group("doors", "Doors", "links", lines, DOOR_CAUTION if escape else None)

    def _alarm(self, device: Device) -> Iterator[Line]:
        if self.site.family_of(device) == "alarm-hub":
            yield from hub_lines(self.site, device)
        yield from keypad_lines(self.site, device)

    def _contact(self, device: Device) -> Iterator[Line]:
        model = self.site.model_of(device)
        factory = model.factory if model else None
        if factory and factory.address:
            yield Line("factory-address", "Factory address", str(factory.address), "Its address as delivered.")
        if factory and factory.user:
            yield Line("factory-user", "User", factory.user, "The account it is delivered with.")
        for slot in slots_of(self.site, device):
            if slot.key in ("administrator", "recovery"):
                yield Line(slot.key, slot.title, "", slot.why, slot=slot.key, owner=device.key)

    def _network(self, device: Device) -> Iterator[Line]:
        item = self.assignments.get(device.key)
        if device.addressing == "leased":
            yield Line("addressing", "Addressing", "Automatic (DHCP)", "It takes a DHCP lease.", "answers")
        if item is None:
            return
        if device.addressing == "reserved":
            yield Line(
                "addressing",
                "Addressing",
                "Automatic (DHCP)",
                f"The router always gives {item.address} to its hardware address.",
            )
        yield from self._typed_address(item, device)
        mtu = self.site.internet.mtu if self.site.internet else None
        if mtu is not None and any(link.kind == "relays" for link in self.site.links_of(device.key)):
            yield Line("mtu", "Largest packet (MTU)", str(mtu), f"Where it asks for it: {packet_sum(mtu)}.")

    def _typed_address(self, item: Assignment, device: Device) -> Iterator[Line]:
        network = self.site.network_by_key.get(item.network)
        where = network.label if network and not device.behind else self.site.label_of(item.network)
        yield Line("address", "IPv4 address", item.address, item.why, "answers")
        yield Line("mask", "Subnet mask", netmask(item.prefix), f"/{item.prefix}, the size of {where}.")
        if item.gateway:
            yield Line("gateway", "Default gateway", item.gateway, "The router towards everything outside its network.")
        if item.dns:
            yield Line("dns", "DNS server", ", ".join(item.dns), "Resolves names, such as the time server's.")

    def _identity(self, device: Device) -> Iterator[Line]:
        if device.name:
            shown = self.names[device.key]
            why = (
                "As people at the site say it; the same on its picture and in the recorder."
                if shown == device.name
                else f"“{device.name}” does not fit on this device; this is the nearest that is still its own."
            )
            yield Line("name", "Device name", shown, why, "name")

    def _clock(self, device: Device) -> Iterator[Line]:
        if not has_clock(self.site, device):
            return
        about, model, follows = self.site.about, self.site.model_of(device), time_of(self.site, device)
        support = model.clock if model else None
        if follows.source is not None:
            yield Line("time-server", "Time server", follows.source, follows.why, "clock")
            yield Line(
                "interval",
                CHOICES["interval"],
                INTERVAL_FOR_TEST,
                "Short to see it work, then long to save traffic.",
            )
        else:
            value = "From the device it is linked to" if follows.reached else "Set by hand"
            yield Line("time-server", "Time", value, follows.why, "clock")
        if about.time_zone:
            yield Line("time-zone", "Time zone", about.time_zone, "The same on every device, or recordings disagree.")
        if self._rule is not None:
            yield from _daylight(self._rule, support.daylight_saving if support else "rule")
        yield Line(
            "date-order",
            "Date order",
            capital(DATE_ORDERS[about.date_order]),
            "As it is read at the site.",
            "date-order",
        )
        yield Line("clock-face", "Clock", _CLOCKS[about.clock], "As it is read at the site.")

    def _ports(self, device: Device) -> Iterator[Line]:
        for row in ports_of(self.site, device):
            if row.changed:
                told = f" Told: {', '.join(self.site.label_of(item.device) for item in row.told)}." if row.told else ""
                why = f"Changed here{f', usually {row.usual}' if row.usual else ''}.{told}"
            else:
                why = "As delivered; nothing here asks for another."
            yield Line(f"port-{row.service}", row.title, str(row.port), why, row.service)

    def _accounts(self, device: Device) -> Iterator[Line]:
        for slot in slots_of(self.site, device):
            if slot.key in ("administrator", "recovery"):
                continue
            if slot.limited:
                yield Line(f"{slot.key}-user", f"User for {_WHOM[slot.key]}", slot.user or "", "An account of its own.")
                yield Line(
                    f"{slot.key}-rights", f"Rights of {slot.user}", LIMITED, "Whoever knows it can do less harm."
                )
            yield Line(slot.key, slot.title, "", slot.why, slot=slot.key, owner=device.key)

    def _partners(self, device: Device) -> Iterator[Line]:
        for link in self.site.links_of(device.key):
            case = self.links.case(link)
            if case is None or self.links.never(case) is not None:
                continue
            for item in case.kind.values(case):
                at = case.start if item.end == "from" else case.end
                if at is device and not item.elsewhere:
                    yield item.line


_WHOM = {"operator": "the customer", "login": "recorders and desks"}


def _daylight(rule: ClockRule, way: str) -> Iterator[Line]:
    hours, minutes = divmod(abs(rule.utc_offset_min), 60)
    ahead = f"UTC {'−' if rule.utc_offset_min < 0 else '+'}{hours:02d}:{minutes:02d}"
    yield Line("utc-offset", "UTC offset", ahead, "Outside daylight saving; for devices that do not know the zone.")
    if way == "zone":
        yield Line("daylight", "Daylight saving", "By the time zone", "The device knows the rule of its zone.")
    elif rule.start is None or rule.end is None:
        yield Line("daylight", "Daylight saving", "By hand, each time" if rule.turned else "Off", rule.note)
    elif way == "hand":
        yield Line("daylight", "Daylight saving", "By hand, each time", rule.note)
    else:
        until = f" Holds until {rule.holds_until}." if rule.holds_until else ""
        yield Line(
            "daylight-start",
            "Daylight saving begins",
            capital(spoken_turn(rule.start)),
            f"In the form that devices ask for.{until}",
        )
        yield Line(
            "daylight-end",
            "Daylight saving ends",
            capital(spoken_turn(rule.end)),
            f"In the form that devices ask for.{until}",
        )
        yield Line("daylight-bias", "Daylight saving shift", f"{rule.bias_min} min", "Between these two days.")
