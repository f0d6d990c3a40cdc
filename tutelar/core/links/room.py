"""Room at a recorder: channels, Mbit/s and licences are told apart, and so is what it can take in at all."""

from collections.abc import Iterator
from typing import TYPE_CHECKING

from tutelar.core.links.base import EndValue, Gap, Need, ResolvedLink, Test
from tutelar.core.links.needs import limit_of, why_apart
from tutelar.core.links.partner_values import address_line, login_lines, own_account, port_lines
from tutelar.core.wording import count

if TYPE_CHECKING:
    from tutelar.core.links.index import LinkIndex, Load


def _room(case: ResolvedLink) -> Gap | None:
    known = case.known
    load = known.loads.get(case.link.to)
    if load is None or not load.beyond:
        return None
    why = load.beyond.get(known.position.get(id(case.link), -1))
    return None if why is None else Gap("room", full(load, why), never=True, nearest=_elsewhere(case))


def full(load: "Load", why: str) -> str:
    """Return which limit of its recorder the link passes, with both numbers."""
    if why == "channels":
        return f"no channel left: {load.channels} wanted, {load.most_channels} there"
    if why == "mbps":
        return f"no room: {load.mbps:.1f} Mbit/s wanted, {load.most_mbps:g} taken in"
    return f"no licence left: {load.licensed} wanted, {load.licences} there"


def _elsewhere(case: ResolvedLink) -> str:
    """Return the nearest thing that can be done: another recorder with room, else less of what is full."""
    known, rate = case.known, case.known.rate(case.link, case.start)
    for key, load in known.loads.items():
        recorder = case.site.device_by_key[key]
        if key != case.link.to and load.room_for(rate) and why_apart(case.site, case.start, recorder) is None:
            free = _free_channel(known, key, load)
            return f"Take channel {free} of {recorder.label}" if free else f"Take {recorder.label}"
    load = known.loads[case.link.to]
    why = load.beyond[known.position[id(case.link)]]
    if why == "mbps" and load.most_mbps is not None:
        least = rate - (load.mbps - load.most_mbps)
        if least > 0:
            return f"Lower the main stream of {case.start.label} to {least:.1f} Mbit/s"
        return "Lower the main streams of several cameras"
    return f"Add {count(load.licensed - (load.licences or 0), 'licence')}" if why == "licences" else "Add a recorder"


def _free_channel(known: "LinkIndex", key: str, load: "Load") -> int | None:
    taken = {number for number, _ in known.seats.get((key, "records"), {})}
    most = load.most_channels or len(taken) + 1
    return next((number for number in range(1, most + 1) if number not in taken), None)


def _room_met(case: ResolvedLink) -> str:
    load = case.known.loads.get(case.link.to)
    if load is None:
        return f"What {case.to} takes in is not known"
    said = [
        f"{load.channels} of {load.most_channels} channels" if load.most_channels is not None else "",
        f"{load.mbps:.1f} of {load.most_mbps:g} Mbit/s" if load.most_mbps is not None else "",
        f"{load.licensed} of {count(load.licences, 'licence')}" if load.licences is not None else "",
    ]
    return f"Room in {case.to}: {', '.join(filter(None, said)) or 'its limits are not known'}"


room = Need("room", _room_met, _room, idle=lambda known: not any(load.beyond for load in known.loads.values()))


def _codec(case: ResolvedLink) -> Gap | None:
    model = case.site.model_of(case.end) if case.end else None
    if model is None or model.codecs is None:
        return None
    stream = case.site.main_stream_of(case.start)
    if stream is None or stream.codec in model.codecs:
        return None
    takes = " and ".join(model.codecs) or "no codec that is known"
    return Gap(
        "codec",
        f"{case.to} does not take {stream.codec}, only {takes}",
        "settings",
        never=True,
        nearest=f"Set the main stream of {case.start.label} to {takes}, if it can",
    )


def _codec_met(case: ResolvedLink) -> str:
    stream = case.site.main_stream_of(case.start)
    return f"{case.to} takes {stream.codec}" if stream else "Its codec is not known"


codec = Need("codec", _codec_met, _codec, alike=True)


def _own_channel(case: ResolvedLink) -> Gap | None:
    model = case.site.model_of(case.start)
    has = model.capacity.channels if model and model.capacity else None
    wanted = case.link.from_channel
    if wanted is None:
        if has is not None and has <= 1:
            return None
        return Gap("own-channel", f"not said which channel of {case.start.label}")
    if wanted < 1 or (has is not None and wanted > has):
        return Gap(
            "own-channel",
            f"{case.start.label} has no channel {wanted}, only {has or 0}",
            never=True,
            nearest=f"Choose one from 1 to {has}",
        )
    twice = [
        link
        for link in case.known.tied_from.get((case.start.key, "records"), [])
        if link.to == case.link.to and link.from_channel == wanted
    ]
    if len(twice) > 1 and twice[0] is not case.link:
        return Gap(
            "own-channel",
            f"{case.to} records channel {wanted} of {case.start.label} already",
            never=True,
            nearest="Untie one of the two",
        )
    return None


own_channel = Need("own-channel", lambda case: f"Channel {case.link.from_channel} of it is meant", _own_channel)


def channels(case: ResolvedLink) -> tuple[int, int | None]:
    """Return the channels that a recorder has."""
    model = case.site.model_of(case.end) if case.end else None
    return 1, model.capacity.channels if model and model.capacity else None


def shorts(case: ResolvedLink) -> tuple[int, int | None]:
    """Return the short numbers that a desk has."""
    first, last = limit_of(case.site, case.start, "short-numbers")
    return first if first is not None else 1, last


def recorded_values(case: ResolvedLink) -> Iterator[EndValue]:
    """Yield what is typed into a recorder for one channel, and the account that must be on the camera."""
    what = f"Channel{'' if case.link.slot is None else f' {case.link.slot}'}: {case.start.label}{case.channel}"
    for line in address_line(case, what, f"It records {case.start.label} there."):
        yield EndValue("to", line)
    for line in (*port_lines(case, what), *login_lines(case, what)):
        yield EndValue("to", line)
    for line in own_account(case):
        yield EndValue("from", line, elsewhere=True)


RECORDING_TESTS = (
    Test("live", "Shows live", lambda case: f"a moving picture on channel {case.link.slot} of {case.to}"),
    Test("named", "Shows its name", lambda case: f"“{case.start.label}” on the picture"),
    Test("records", "Records", lambda case: f"{case.to} writes channel {case.link.slot}; look at the time line"),
    Test("plays-back", "Plays back", lambda case: f"the last minutes of channel {case.link.slot}, zoomed in"),
)
