"""Who feeds whom over the network cable, and does the budget hold?

Watts a switch reserves at its port for each class: IEEE 802.3-2022, clauses 33 and 145.
"""

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from typing import Literal, NamedTuple

from tutelar.core.problems import Problem, problem
from tutelar.core.site.model import Model
from tutelar.core.site.once import once_a_site
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import listed

PORT_WATTS = {0: 15.4, 1: 4.0, 2: 7.0, 3: 15.4, 4: 30.0, 5: 45.0, 6: 60.0, 7: 75.0, 8: 90.0}


MOST_SUMS = 50_000
_ROUNDING = 1e-6


def reserved_watts(model: Model | None) -> float:
    """Return the watts that a switch reserves for a device of this model; 0.0 where it is fed otherwise."""
    if model is None or model.power is None or model.power.poe_class is None:
        return 0.0
    return PORT_WATTS[model.power.poe_class]


def can_feed(model: Model | None) -> bool:
    """Return whether devices of this model feed others over the network cable: powered ports, a switch, an injector."""
    if model is None:
        return False
    own = model.camera_ports is not None and model.camera_ports.poe_budget_w is not None
    return own or model.poe_budget_w is not None or model.family in ("switch", "injector")


def feeder_of(site: Site, device: Device) -> str | None:
    """Return the key of what feeds a device over its network cable: what is written down, else the recorder whose own
    powered ports it hangs on; None where nothing does or nobody says."""
    if device.powered_by is not None:
        return device.powered_by.device
    if device.behind is None:
        return None
    recorder = site.device_by_key.get(device.behind)
    model = site.model_of(recorder) if recorder else None
    powered = model is not None and model.camera_ports is not None and model.camera_ports.poe_budget_w is not None
    return device.behind if powered and reserved_watts(site.model_of(device)) else None


Verdict = Literal["unknown", "over", "tight", "ok"]


class Budget(NamedTuple):
    """What a switch, injector or recorder with powered ports gives and has to give, in W: reserved by class, drawn as
    usual, drawn at most, and which of them it counts; None where a limit is not known."""

    device: str
    ports_used: int
    ports: int | None
    budget_w: float | None
    by_class_w: float
    by_draw_w: float
    by_peak_w: float
    counts_w: float
    spare_w: float | None

    @property
    def over_w(self) -> float:
        """How many W more it has to give than it has, 0.0 where it is enough or not known."""
        return 0.0 if self.budget_w is None else max(0.0, self.counts_w - self.budget_w)

    def peak_with(self, margin: float) -> float:
        """Return the W drawn at most with a margin, a share of them, on top."""
        return self.by_peak_w * (1 + margin)

    def verdict(self, margin: float) -> Verdict:
        """Return whether it is enough: "tight" where it is, but not with the margin at night."""
        if self.budget_w is None:
            return "unknown"
        return "over" if self.over_w > 0 else "tight" if self.peak_with(margin) > self.budget_w else "ok"

    def as_dict(self) -> dict[str, object]:
        """Return the budget as the contract prints it."""
        return self._asdict()


def port_watts(model: Model | None) -> float:
    """Return the watts reserved at the port that feeds a device; one without a class counts as class 0."""
    return reserved_watts(model) or PORT_WATTS[0]


def drawn_watts(model: Model | None) -> float:
    """Return the watts that a device draws as usual, 0.0 where that is not known."""
    return (model.power.draw_w or 0.0) if model is not None and model.power is not None else 0.0


def peak_watts(model: Model | None) -> float:
    """Return the watts that a device draws at most, else as usual, 0.0 where neither is known."""
    if model is None or model.power is None:
        return 0.0
    return drawn_watts(model) if model.power.peak_w is None else model.power.peak_w


def counted_watts(feeder: Model | None, fed: Model | None) -> float:
    """Return the watts that a feeder counts for what it feeds: at most drawn or reserved by class, as it says."""
    by_draw = feeder is not None and feeder.poe_reserves == "draw"
    return peak_watts(fed) if by_draw else port_watts(fed)


def counted_of(site: Site, feeder: str, fed: Sequence[Device]) -> dict[str, float]:
    """Return the watts that a feeder counts for each device that it feeds, by key."""
    model = site.model_of(site.device_by_key[feeder])
    return {item.key: counted_watts(model, site.model_of(item)) for item in fed}


@once_a_site
def fed_by(site: Site) -> dict[str, list[Device]]:
    """Return the devices that each one feeds over their network cables, by the key of what feeds them."""
    fed: dict[str, list[Device]] = defaultdict(list)
    for device in site.devices:
        if (feeder := feeder_of(site, device)) is not None:
            fed[feeder].append(device)
    return dict(fed)


def plugged_at(device: Device) -> str | None:
    """Return the key of where a device's data cable ends: what is written down, else what powers it over the cable,
    else the recorder in whose own port it is; None where nobody says."""
    if device.plugged_into is not None:
        return device.plugged_into.device
    if device.powered_by is not None:
        return device.powered_by.device
    return device.behind


def budgets(site: Site) -> list[Budget]:
    """Return the budget of every switch, of whatever has powered ports, and of whatever feeds others, in the order of
    the document (see docs/loads.md)."""
    fed = fed_by(site)
    occupied = _occupied(site)
    models = site.model_by_key.items()
    with_ports = {key for key, model in models if can_feed(model) or model.camera_ports is not None}
    found = []
    for device in site.devices:
        if device.model not in with_ports and device.key not in fed:
            continue
        model = site.model_of(device)
        mine = [site.model_of(item) for item in fed.get(device.key, ())]
        counts = sum(counted_watts(model, item) for item in mine)
        budget = _budget_of(model)
        own = model.ports if model else None
        if own is None and model is not None and model.camera_ports is not None:
            own = model.camera_ports.count
        found.append(
            Budget(
                device=device.key,
                ports_used=len(occupied.get(device.key, ())),
                ports=own,
                budget_w=budget,
                by_class_w=sum(port_watts(item) for item in mine),
                by_draw_w=sum(drawn_watts(item) for item in mine),
                by_peak_w=sum(peak_watts(item) for item in mine),
                counts_w=counts,
                spare_w=None if budget is None else budget - counts,
            )
        )
    return found


def _budget_of(model: Model | None) -> float | None:
    if model is None:
        return None
    if model.poe_budget_w is None and model.camera_ports is not None:
        return model.camera_ports.poe_budget_w
    return model.poe_budget_w


def _occupied(site: Site) -> dict[str, set[object]]:
    """Return the ports in which anything is powered or plugged, by device: numbers, else the device that is in it."""
    taken: dict[str, set[object]] = defaultdict(set)
    for device in site.devices:
        if plugged_at(device) is None:
            continue
        ends = [end for end in (device.powered_by, device.plugged_into) if end is not None]
        for key in {end.device for end in ends}:
            numbers = {end.port for end in ends if end.device == key and end.port is not None}
            taken[key] |= numbers or {device.key}
        if device.behind is not None and all(end.device != device.behind for end in ends):
            taken[device.behind].add(device.key)
        if site.family_of(device) == "switch":
            taken[device.key].add("uplink")
    return taken


def ports_taken(site: Site) -> dict[str, set[int]]:
    """Return the numbers of the ports in which something is powered or plugged, by the key of what has them."""
    found: dict[str, set[int]] = defaultdict(set)
    for device in site.devices:
        for end in (device.powered_by, device.plugged_into):
            if end is not None and end.port is not None:
                found[end.device].add(end.port)
    return found


def supply_problems(site: Site, rows: Sequence[Budget] | None = None) -> Iterator[Problem]:
    """Yield switches and recorders whose powered ports are asked for more than they give, and doubly used ports."""
    fed = fed_by(site)
    for row in budgets(site) if rows is None else rows:
        name, verdict = site.label_of(row.device), row.verdict(site.policy.power_margin)
        if verdict == "over":
            mine = fed.get(row.device, [])
            watts = counted_of(site, row.device, mine)
            gone = fewest_to_move(watts, row.over_w)
            moved = listed([site.label_of(key) for key in gone])
            yield problem(
                "switch.over-budget",
                (row.device,),
                f"{_said(site, row, len(mine))}.",
                f"Feed {moved} from elsewhere ({sum(watts[key] for key in gone):g} W).",
            )
        elif verdict == "tight":
            yield problem(
                "switch.no-margin",
                (row.device,),
                f"{name} gives up to {row.by_peak_w:.1f} W at night; with {site.policy.power_margin:.0%} on top that "
                f"is more than its {row.budget_w:g} W.",
                "Feed one of them from elsewhere.",
            )
    ports: dict[tuple[str, int], list[Device]] = defaultdict(list)
    for device in site.devices:
        if device.powered_by is not None and device.powered_by.port is not None:
            ports[device.powered_by.device, device.powered_by.port].append(device)
    for (key, port), devices in ports.items():
        if len(devices) > 1:
            yield problem(
                "switch.port-taken",
                [*(device.key for device in devices), key],
                f"{listed([device.label for device in devices])} are all on port {port} of {site.label_of(key)}.",
                "Give each its own port.",
            )


def over_budget(site: Site) -> dict[str, str]:
    """Return what is said of each device that must feed more than it can, without a full stop, by its key."""
    fed = fed_by(site)
    rows = [row for row in budgets(site) if row.over_w > 0]
    return {row.device: _said(site, row, len(fed.get(row.device, ()))) for row in rows}


def _said(site: Site, row: Budget, number: int) -> str:
    model = site.model_of(site.device_by_key[row.device])
    how = "at the peak" if model is not None and model.poe_reserves == "draw" else "by class"
    return (
        f"{site.label_of(row.device)} must reserve {row.counts_w:.1f} W {how} for {number} devices; "
        f"it has {row.budget_w:g} W"
    )


def fewest_to_move(watts: Mapping[str, float], over: float) -> list[str]:
    """Return the fewest of these devices whose watts come to at least `over`, of equally many the least watts.

    As many of the largest as are needed give the number; then the sums that so many of them can come to are worked out
    one device after the other. Exact up to MOST_SUMS different sums; beyond that, the largest ones are named.
    """
    order = sorted(watts, key=lambda key: (-watts[key], key))
    number, reached = 0, 0.0
    while number < len(order) and reached < over - _ROUNDING:
        reached += watts[order[number]]
        number += 1
    ways: list[dict[float, tuple[str, ...]]] = [{} for _ in range(number + 1)]
    ways[0][0.0] = ()
    for key in order:
        for size in range(number - 1, -1, -1):
            for total, chosen in list(ways[size].items()):
                ways[size + 1].setdefault(round(total + watts[key], 6), (*chosen, key))
        if sum(len(way) for way in ways) > MOST_SUMS:
            return order[:number]
    enough = [(total, chosen) for total, chosen in ways[number].items() if total >= over - _ROUNDING]
    return list(min(enough)[1]) if enough else order[:number]
