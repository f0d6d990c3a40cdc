"""How many people can look from outside at once over the line of the site."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import floor

from tutelar.core.recording.channels import Channel, said_of_channels
from tutelar.core.site.types import Site

_ROUNDING = 1e-9


@dataclass(frozen=True, slots=True)
class Upstream:
    """The upstream in Mbit/s and how much of it is for pictures; the largest main and sub stream that may be looked at,
    how many of each go at once, and mixes for so many viewers as (main, sub, Mbit/s, fits)."""

    upstream_mbps: float
    usable_mbps: float
    main_mbps: float | None
    sub_mbps: float | None
    main_viewers: int | None
    sub_viewers: int | None
    mixes: tuple[tuple[int, int, float, bool], ...]

    def as_dict(self) -> dict[str, object]:
        """Return the line as the contract prints it."""
        names = ("main", "sub", "mbps", "fits")
        found: dict[str, object] = {name: getattr(self, name) for name in Upstream.__slots__}
        return found | {"mixes": [dict(zip(names, mix, strict=True)) for mix in self.mixes]}


def upstream_of(site: Site, channels: Sequence[Channel], viewers: int = 3) -> Upstream | None:
    """Return what the line carries for so many viewers, None where its upstream is not known (see docs/loads.md)."""
    internet = site.internet
    if internet is None or internet.connection == "none" or internet.upstream_mbps is None:
        return None
    usable = internet.upstream_mbps * site.policy.upstream_share
    main, sub = (_largest(site, channels, name) for name in ("main", "sub"))
    mixes = []
    if main is not None and sub is not None:
        for number in range(viewers, -1, -1):
            mbps = number * main + (viewers - number) * sub
            mixes.append((number, viewers - number, mbps, mbps <= usable + _ROUNDING))
    return Upstream(
        upstream_mbps=internet.upstream_mbps,
        usable_mbps=usable,
        main_mbps=main,
        sub_mbps=sub,
        main_viewers=_times(usable, main),
        sub_viewers=_times(usable, sub),
        mixes=tuple(mixes),
    )


def _times(usable: float, mbps: float | None) -> int | None:
    return floor(usable / mbps + _ROUNDING) if mbps else None


def _largest(site: Site, channels: Sequence[Channel], name: str) -> float | None:
    """Return Mbit/s of the largest stream of that name that is looked at from outside; what is set beats the model."""
    relayed = {link.from_ for link in site.links if link.kind == "relays"}
    seen = relayed | {channel.device for channel in channels if channel.recorder in relayed}
    said = said_of_channels(site)
    set_rates: dict[str, float] = {}
    for channel in channels:
        own = said.get((channel.recorder, channel.slot))
        if own is not None and own.kbps is not None and channel.stream == name:
            set_rates[channel.device] = max(own.kbps, set_rates.get(channel.device, 0.0))

    def rates(keys: Iterable[str]) -> list[float]:
        found = []
        for key in keys:
            device = site.device_by_key.get(key)
            stream = site.streams_by_model.get(device.model, {}).get(name) if device else None
            rate = set_rates.get(key, stream.kbps if stream else None)
            if rate is not None:
                found.append(rate / 1000)
        return found

    cameras = (device.key for device in site.devices if site.family_of(device) == "camera")
    return max(rates(seen) or rates(cameras), default=None)
