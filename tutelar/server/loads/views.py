"""What is used of everything that has a limit, as the page shows it."""

from collections.abc import Mapping, Sequence
from typing import Any

from tutelar.core.links.rules import over_capacity
from tutelar.core.loads.balance import after_moves, balance, other_homes
from tutelar.core.loads.budget import (
    Budget,
    counted_of,
    drawn_watts,
    fed_by,
    fewest_to_move,
    peak_watts,
    ports_taken,
)
from tutelar.core.loads.cables import Cable, sizes_for
from tutelar.core.loads.earth import DEFER, earths
from tutelar.core.loads.patch import Patch, patches
from tutelar.core.loads.supplies import SupplyLoad
from tutelar.core.loads.uplinks import FULL
from tutelar.core.loads.whole import Loads, load_problems, loads_of
from tutelar.core.problems import in_order
from tutelar.core.site.feeding import Supply
from tutelar.core.site.types import Device, Site, first_by_key
from tutelar.core.site.writing import as_document
from tutelar.server import models
from tutelar.server.loads import schemas as shapes
from tutelar.server.schemas import Option
from tutelar.server.sheet import problem_rows, shaped
from tutelar.server.store import documents, drafts


def loads_sheet(row: models.Site, site: Site | None = None, viewers: int = 3) -> shapes.LoadsSheet:
    """Return the page of loads; of `site` where it is a trial of something else than what is stored."""
    stored = documents.document(row)
    site = stored if site is None else site
    found = loads_of(site, viewers)
    problems = in_order([*over_capacity(site), *load_problems(site, found)])
    recorders = [_recorder(site, item) for item in found.recorders]
    return shapes.LoadsSheet(
        revision=row.revision,
        units=site.about.units,
        was=drafts.touchable(stored),
        supplies_part=[as_document(item) for item in site.supplies],
        misses=_misses(recorders, [item.code for item in problems]),
        recorders=recorders,
        switches=_switches(site, found.switches),
        balance=_balance(site),
        uplinks=[
            shaped(
                shapes.UplinkRow,
                item,
                name=site.label_of(item.device),
                into=site.label_of(item.into),
                warn_mbps=FULL * item.limit_mbps,
            )
            for item in found.uplinks
        ],
        line=_line(found),
        long_cables=[
            shaped(shapes.DataCable, item, name=site.label_of(item.device))
            for item in found.cables
            if item.kind == "data" and not item.ok
        ],
        cables=[_cable(site, item) for item in found.cables if item.kind == "supply"],
        supplies=_supplies(site, found.supplies),
        panels=[shaped(shapes.PanelRow, item, name=site.label_of(item.device)) for item in found.panels],
        earths=[shaped(shapes.EarthRow, item, name=site.label_of(item.device)) for item in earths(site)],
        earth_caution=DEFER,
        devices=[Option(value=device.key, word=device.label) for device in site.devices],
        problems=problem_rows(tuple(problems)),
    )


_OF_CODE = {
    "recorder.over-capacity": "recorder",
    "switch.over-budget": "switch",
    "switch.no-margin": "switch at night",
    "switch.port-taken": "port",
    "uplink.over": "uplink",
    "uplink.circle": "uplink",
    "cable.too-long": "network cable",
    "cable.drop": "supply cable",
    "supply.over": "supply",
    "supply.too-short": "battery",
    "panel.locks-over": "lock supply",
}


def _misses(recorders: Sequence[shapes.RecorderLoad], codes: Sequence[str]) -> list[str]:
    """Return in words what does not fit, each once: "days", "switch"."""
    short = any(
        item.days is not None and item.wanted_days is not None and item.days < item.wanted_days for item in recorders
    )
    words = [_OF_CODE[code] for code in codes if code in _OF_CODE]
    return list(dict.fromkeys([*(["days"] if short else []), *words]))


def _recorder(site: Site, item: Mapping[str, Any]) -> shapes.RecorderLoad:
    device = site.device_by_key[item["device"]]
    sizes = [f"{disk.tb:g}" for disk in device.disks or ()]
    alike = f"{len(sizes)} × {sizes[0]} TB" if sizes and len({*sizes}) == 1 else f"{' + '.join(sizes)} TB"
    raid = "" if device.raid == "none" else f", RAID {device.raid}"
    names = (
        "channels_used",
        "channels",
        "incoming_mbps",
        "incoming_limit_mbps",
        "playback_at_once",
        "days",
        "wanted_days",
    )
    return shapes.RecorderLoad(
        key=device.key,
        name=device.label,
        disks=f"{alike}{raid}" if sizes else "no disk is known",
        **{name: item[name] for name in names},
    )


def _switches(site: Site, rows: Sequence[Budget]) -> list[shapes.SwitchLoad]:
    fed, plugs = fed_by(site), {item.device: item for item in patches(site)}
    taken = ports_taken(site)
    return [_switch(site, row, rows, fed.get(row.device, []), plugs.get(row.device), taken) for row in rows]


def _switch(
    site: Site,
    row: Budget,
    rows: Sequence[Budget],
    fed: Sequence[Device],
    patch: Patch | None,
    taken: Mapping[str, set[int]],
) -> shapes.SwitchLoad:
    device = site.device_by_key[row.device]
    model = site.model_of(device)
    watts = counted_of(site, row.device, fed)
    gone = fewest_to_move(watts, row.over_w) if row.over_w else []
    margin = site.policy.power_margin
    reserves = model.poe_reserves if model else "class"
    ordered = sorted(fed, key=lambda item: (item.key not in gone, -watts[item.key]))
    return shaped(
        shapes.SwitchLoad,
        row,
        key=device.key,
        name=device.label,
        place=device.place,
        family=site.family_of(device),
        verdict=row.verdict(margin),
        reserves=reserves,
        peak_with_margin_w=row.peak_with(margin),
        uplink=site.label_of(patch.uplink) if patch is not None and patch.uplink is not None else None,
        fed=[
            _fed(site, item, watts[item.key], item.key in gone, rows if item.key in gone else (), taken)
            for item in ordered
        ],
        plugs=[
            shaped(shapes.PlugRow, plug, name=site.label_of(plug.device), family=_family(site, plug.device))
            for plug in (patch.plugs if patch is not None else ())
        ],
    )


def _family(site: Site, key: str) -> str:
    device = site.device_by_key.get(key)
    return site.family_of(device) if device else "other"


def _fed(
    site: Site, device: Device, watts: float, moves: bool, rows: Sequence[Budget], taken: Mapping[str, set[int]]
) -> shapes.FedRow:
    model = site.model_of(device)
    feeder = site.device_by_key.get(device.powered_by.device) if device.powered_by else None
    homes = []
    for key, spare in other_homes(site, rows, device)[:3]:
        other = site.device_by_key[key]
        ports = next(row.ports for row in rows if row.device == key)
        free = next((port for port in range(1, (ports or 0) + 1) if port not in taken.get(key, ())), None)
        same = feeder is not None and other.place is not None and other.place == feeder.place
        homes.append(shapes.HomeRow(device=key, name=other.label, port=free, spare_w=spare, same_place=same))
    return shapes.FedRow(
        device=device.key,
        name=device.label,
        port=device.powered_by.port if device.powered_by else None,
        poe_class=model.power.poe_class if model and model.power else None,
        draw_w=drawn_watts(model),
        peak_w=peak_watts(model),
        counts_w=watts,
        moves=moves,
        homes=homes,
    )


def _balance(site: Site) -> shapes.BalanceRow:
    found = balance(site)
    then = after_moves(site, found.moves)
    devices = {}
    for move in found.moves:
        whole = as_document(then.device_by_key[move.device])
        devices[move.device] = {name: whole[name] for name in ("powered_by", "plugged_into") if whole.get(name)}
    return shapes.BalanceRow(
        moves=[
            shapes.MoveRow(
                device=move.device,
                name=site.label_of(move.device),
                from_name=site.label_of(move.from_) if move.from_ else None,
                to=move.to,
                to_name=site.label_of(move.to),
                port=move.port,
            )
            for move in found.moves
        ],
        left=[site.label_of(key) for key in found.left],
        devices=devices,
    )


def _line(found: Loads) -> shapes.OutsideLine | None:
    if found.internet is None:
        return None
    mixes = [shapes.MixRow(main=main, sub=sub, mbps=mbps, fits=fits) for main, sub, mbps, fits in found.internet.mixes]
    return shaped(shapes.OutsideLine, found.internet, mixes=mixes)


def _cable(site: Site, item: Cable) -> shapes.SupplyCable:
    device = site.device_by_key[item.device]
    fed = device.fed
    supplies: dict[str, Supply] = first_by_key(site.supplies)
    supply = supplies[fed.supply if fed else ""]
    model = site.model_of(device)
    known = peak_watts(model)
    return shaped(
        shapes.SupplyCable,
        item,
        name=device.label,
        supply=supply.key,
        supply_name=supply.label,
        supply_v=supply.volts,
        watts=known or None,
        mm2=fed.mm2 if fed else None,
        awg=fed.awg if fed else None,
        celsius=fed.celsius if fed else 20.0,
        sizes=[shapes.SizeRow(size=size, volts=volts, ok=ok) for size, volts, ok in sizes_for(site, device)],
    )


def _supplies(site: Site, rows: Sequence[SupplyLoad]) -> list[shapes.SupplyRow]:
    supplies: dict[str, Supply] = first_by_key(site.supplies)
    hangs: dict[str, list[str]] = {}
    for device in site.devices:
        if device.fed is not None:
            hangs.setdefault(device.fed.supply, []).append(device.label)
    return [
        shaped(
            shapes.SupplyRow,
            item,
            name=supplies[item.key].label,
            kind=supplies[item.key].kind,
            unit=item.unit.upper(),
            volts=supplies[item.key].volts,
            wanted_min=supplies[item.key].wanted_min,
            battery_ah=battery.ah if (battery := supplies[item.key].battery) is not None else None,
            hangs=hangs.get(item.key, []),
        )
        for item in rows
    ]
