"""Data cables beyond their length, and what is left of the volts at the end of a supply cable.

Resistance of copper: 0.017241 Ω·mm²/m at 20 °C and 0.00393 a degree (IEC 60028); gauges: ASTM B258.
"""

from collections.abc import Iterator, Sequence
from math import pi, sqrt
from typing import NamedTuple

from tutelar.core.problems import Problem, problem
from tutelar.core.site.feeding import Fed, Supply
from tutelar.core.site.model import Power
from tutelar.core.site.types import Device, Site, first_by_key
from tutelar.core.wording import spoken_length

DATA_M = 100.0
COPPER = 0.017241
PER_DEGREE = 0.00393
AREAS = (0.5, 0.75, 1.0, 1.5, 2.5, 4.0, 6.0, 10.0)
GAUGES = (22, 20, 18, 16, 14, 12, 10)


class Cable(NamedTuple):
    """A cable of a device: of a data cable its length against the limit, of a supply cable what arrives; None where a
    figure does not belong or there is no solution."""

    device: str
    kind: str
    length_m: float
    limit_m: float | None = None
    volts: float | None = None
    min_v: float | None = None
    drop_v: float | None = None
    drop_share: float | None = None
    ok: bool | None = None
    smallest_ok: float | None = None

    def as_dict(self) -> dict[str, object]:
        """Return the cable as the contract prints it."""
        return self._asdict()


def gauge_area(awg: int) -> float:
    """Return the area in mm² of a gauge."""
    return float(pi / 4 * (0.127 * 92 ** ((36 - awg) / 39)) ** 2)


def resistance(metres: float, mm2: float, celsius: float) -> float:
    """Return the ohms of both conductors of a copper cable."""
    return 2 * metres * COPPER / mm2 * (1 + PER_DEGREE * (celsius - 20))


def is_known(power: Power | None) -> bool:
    """Return whether it is known what a device draws."""
    return power is not None and any(figure is not None for figure in (power.amps, power.peak_w, power.draw_w))


def volts_at_end(volts: float, ohms: float, power: Power | None) -> float | None:
    """Return the volts that arrive: a load of constant current takes I·R, one of constant power draws more the less
    arrives; None where it cannot run at all, or what it draws is not known (see `is_known`)."""
    if power is None or not is_known(power):
        return None
    if power.amps is not None:
        return volts - power.amps * ohms
    watts = (power.draw_w if power.peak_w is None else power.peak_w) or 0.0
    root = volts * volts - 4 * watts * ohms
    return None if root < 0 else (volts + sqrt(root)) / 2


def cables(site: Site, *, wrong: bool = False) -> list[Cable]:
    """Return the cables whose length is known, in the order of the document (see docs/loads.md); `wrong`: without the
    data cables that are short enough, which are most of a site's."""
    supplies: dict[str, Supply] = first_by_key(site.supplies)
    found, alike = [], dict[tuple[object, ...], Cable]()
    for device in site.devices:
        if device.cable_m is not None and not (wrong and device.cable_m <= DATA_M):
            ok = device.cable_m <= DATA_M
            found.append(Cable(device.key, "data", device.cable_m, limit_m=DATA_M, ok=ok))
        fed = device.fed
        if fed is None or fed.m is None or (fed.mm2 is None and fed.awg is None) or fed.supply not in supplies:
            continue
        model = site.model_of(device)
        same = (fed.supply, fed.m, fed.mm2, fed.awg, fed.celsius, device.model)
        if same not in alike:
            alike[same] = _supply_cable(device.key, fed, supplies[fed.supply], model.power if model else None)
        found.append(alike[same]._replace(device=device.key))
    return found


def _supply_cable(key: str, fed: Fed, supply: Supply, power: Power | None) -> Cable:
    metres = fed.m or 0.0
    least = power.dc_min_v if power else None

    def arrives(mm2: float) -> tuple[float | None, bool]:
        volts = volts_at_end(supply.volts, resistance(metres, mm2, fed.celsius), power)
        return volts, volts is not None and (least is None or volts >= least)

    area = fed.mm2 if fed.mm2 is not None else gauge_area(fed.awg or 0)
    volts, ok = arrives(area)
    return Cable(
        key,
        "supply",
        metres,
        volts=volts,
        min_v=least,
        drop_v=None if volts is None else supply.volts - volts,
        drop_share=None if volts is None else (supply.volts - volts) / supply.volts,
        ok=ok if is_known(power) else None,
        smallest_ok=next((size for size, mm2 in _usual(fed) if arrives(mm2)[1]), None),
    )


class Size(NamedTuple):
    """A cable that could be laid: its area in mm² or gauge, what arrives (None: it does not run), whether that is
    enough."""

    size: float
    volts: float | None
    ok: bool


def sizes_for(site: Site, device: Device) -> list[Size]:
    """Return what would arrive at a device through each usual cable of its length and kind, the thinnest first; []
    where it hangs on no cable or nobody knows what it draws."""
    fed, model = device.fed, site.model_of(device)
    supply = next((item for item in site.supplies if fed is not None and item.key == fed.supply), None)
    power = model.power if model else None
    if fed is None or fed.m is None or supply is None or not is_known(power):
        return []
    least = power.dc_min_v if power else None
    found = []
    for size, mm2 in _usual(fed):
        volts = volts_at_end(supply.volts, resistance(fed.m, mm2, fed.celsius), power)
        found.append(Size(size, volts, volts is not None and (least is None or volts >= least)))
    return found


def _usual(fed: Fed) -> list[tuple[float, float]]:
    """Return the usual sizes with their areas: in mm², or in gauges where the cable was given in one."""
    return [(size, size) for size in AREAS] if fed.awg is None else [(awg, gauge_area(awg)) for awg in GAUGES]


def cable_problems(site: Site, rows: Sequence[Cable]) -> Iterator[Problem]:
    """Yield data cables that are too long, and supply cables at whose end too little arrives."""
    units = site.about.units
    for row in rows:
        if row.ok is not False:  # None: nobody knows
            continue
        name = site.label_of(row.device)
        if row.kind == "data":
            yield problem(
                "cable.too-long",
                (row.device,),
                f"The network cable of {name} is {spoken_length(row.length_m, units)} long; "
                f"at most {spoken_length(DATA_M, units)} hold.",
                "Put a switch or an extender in between, or lay it shorter.",
            )
        else:
            arrives = "nothing it could run on" if row.volts is None else f"{row.volts:.2f} V"
            wanted = f"; it needs {row.min_v:g} V" if row.min_v is not None else ""
            unit = "AWG " if (device := site.device_by_key[row.device]).fed and device.fed.awg is not None else ""
            size = f"{unit}{row.smallest_ok:g}{'' if unit else ' mm²'}" if row.smallest_ok is not None else None
            yield problem(
                "cable.drop",
                (row.device,),
                f"At the end of {spoken_length(row.length_m, units)} {name} gets {arrives}{wanted}.",
                f"Take a cable of {size} or more." if size else "No usual cable is enough: bring the supply nearer.",
            )
