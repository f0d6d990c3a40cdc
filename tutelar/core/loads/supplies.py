"""What power supplies give against what hangs on them, how long batteries last, and what panels have left for locks."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from tutelar.core.loads.budget import fed_by, feeder_of, peak_watts
from tutelar.core.problems import Problem, problem
from tutelar.core.site.feeding import Supply
from tutelar.core.site.types import Device, Site, first_by_key

AT_DEVICE_W = {0: 12.95, 1: 3.84, 2: 6.49, 3: 12.95, 4: 25.5, 5: 40.0, 6: 51.0, 7: 62.0, 8: 71.3}


@dataclass(frozen=True, slots=True)
class SupplyLoad:
    """A supply: its load in W (a transformer: VA), what it is rated, what is left; minutes that its batteries last and
    the ampere hours that the wanted minutes take at the voltage of the bank. None where that is not known."""

    key: str
    unit: str
    load: float
    rated: float | None
    spare: float | None
    ok: bool | None
    minutes: float | None
    needed_ah: float | None

    def as_dict(self) -> dict[str, object]:
        """Return the supply as the contract prints it."""
        found = {name: getattr(self, name) for name in ("key", "rated", "spare", "ok", "minutes", "needed_ah")}
        return {"key": self.key, f"load_{self.unit}": self.load, **found}


class PanelLocks(NamedTuple):
    """What a panel that is fed over the network cable has left for locks, in A, and what its locks take."""

    device: str
    lock_a_free: float
    lock_a_wanted: float
    ok: bool

    def as_dict(self) -> dict[str, object]:
        """Return the panel as the contract prints it."""
        return self._asdict()


def supplies(site: Site) -> list[SupplyLoad]:
    """Return the load of every supply in the order of the document (see docs/loads.md)."""
    powered = fed_by(site)
    hang: dict[str, list[Device]] = {}
    for device in site.devices:
        if device.fed is not None:
            hang.setdefault(device.fed.supply, []).append(device)
    return [_supply(site, supply, hang.get(supply.key, []), powered) for supply in site.supplies]


def _supply(site: Site, supply: Supply, fed: list[Device], powered: dict[str, list[Device]]) -> SupplyLoad:
    models = [site.model_of(device) for device in fed]
    if supply.kind == "transformer":
        load = sum((model.power.va or 0.0) for model in models if model is not None and model.power is not None)
        rated = supply.rated_va
    else:
        load, rated = _watts(site, supply, fed, powered), supply.rated_w
    battery = supply.battery if supply.kind == "ups" else None
    minutes = needed = None
    if battery is not None and load > 0:
        arrives = battery.depth * battery.efficiency
        minutes = battery.volts * battery.ah * battery.count * arrives / load * 60
        if supply.wanted_min is not None:
            needed = load * supply.wanted_min / 60 / (battery.volts * battery.count * arrives)
    elif battery is not None and supply.wanted_min is not None:
        needed = 0.0
    return SupplyLoad(
        key=supply.key,
        unit="va" if supply.kind == "transformer" else "w",
        load=load,
        rated=rated,
        spare=None if rated is None else rated - load,
        ok=None if rated is None else load * (1 + site.policy.power_margin) <= rated + 1e-9,
        minutes=minutes,
        needed_ah=needed,
    )


def _watts(site: Site, supply: Supply, fed: list[Device], powered: dict[str, list[Device]]) -> float:
    """Return the watts of what hangs on a supply, with what switches among it power, each device once."""
    seen: set[str] = set()
    total, waiting = 0.0, list(fed)
    while waiting:
        device = waiting.pop()
        if device.key in seen:
            continue
        seen.add(device.key)
        model = site.model_of(device)
        amps = model.power.amps if model is not None and model.power is not None else None
        direct = device.fed is not None and device.fed.supply == supply.key
        total += amps * supply.volts if amps is not None and direct else peak_watts(model)
        waiting.extend(powered.get(device.key, ()))
    return total


def panels(site: Site) -> list[PanelLocks]:
    """Return what every panel that is fed over the network cable has left for locks, in the order of the document."""
    wanted: dict[str, float] = {}
    for door in site.doors:
        if door.panel is not None:
            wanted[door.panel] = wanted.get(door.panel, 0.0) + (door.lock_a or 0.0)
    powers = {key: model.power for key, model in site.model_by_key.items()}
    found = []
    for device in site.devices:
        power = powers.get(device.model)
        lock = power.lock_supply if power is not None else None
        if lock is None or power is None or feeder_of(site, device) is None:
            continue
        free = (AT_DEVICE_W[power.poe_class or 0] * lock.efficiency - lock.own_w) / lock.volts
        takes = wanted.get(device.key, 0.0)
        found.append(PanelLocks(device.key, free, takes, takes <= free + 1e-9))
    return found


def feeding_problems(site: Site, rows: Sequence[SupplyLoad], locks: Sequence[PanelLocks]) -> Iterator[Problem]:
    """Yield supplies that are asked for too much or last too short, panels without current for their locks, and
    supplies that are not there."""
    labels: dict[str, Supply] = first_by_key(site.supplies)
    for row in rows:
        supply, unit = labels[row.key], row.unit.upper()
        if row.rated is not None and not row.ok:
            over = row.load > row.rated
            margin = "" if over else f", with {site.policy.power_margin:.0%} on top"
            yield problem(
                "supply.over",
                (row.key,),
                f"{row.load:.1f} {unit} hang on {supply.label}{margin}; it is rated {row.rated:g} {unit}.",
                "Take a larger one, or feed some of it from elsewhere.",
                level="error" if over else "warning",
            )
        if supply.kind == "ups" and supply.wanted_min is not None and (row.minutes or 0.0) < supply.wanted_min:
            if row.minutes is None and row.load == 0 and supply.battery is not None:
                continue
            lasts = "has no battery" if row.minutes is None else f"lasts {row.minutes:.0f} min"
            more = f"{row.needed_ah:.1f} Ah are needed." if row.needed_ah is not None else "Give it batteries."
            said = f"{supply.label} {lasts}; {supply.wanted_min:g} min are wanted."
            yield problem("supply.too-short", (row.key,), said, more)
    for item in locks:
        if not item.ok:
            yield problem(
                "panel.locks-over",
                (item.device,),
                f"{site.label_of(item.device)} has {item.lock_a_free:.2f} A for locks; they take "
                f"{item.lock_a_wanted:.2f} A.",
                "Give the locks a supply of their own; where a door is for escape, local fire code decides how.",
            )
    for device in site.devices:
        if device.fed is not None and device.fed.supply not in labels:
            yield problem(
                "device.unknown-supply",
                (device.key,),
                f"{device.label} is fed by '{device.fed.supply}', which the file does not have.",
                "Add that supply or correct the key.",
            )
