"""Whether a camera shows on its channels and is written, by what its recorders tell."""

from collections.abc import Callable

from tutelar.core.links.base import login_slot
from tutelar.core.links.registry import kind_of
from tutelar.core.links.ties import recordings
from tutelar.core.proof.check import Check, Outcome, Sight, Subject, Values, fails, passes, skips
from tutelar.core.proof.identity import stranger, unit_of
from tutelar.core.proof.seen import ChannelSeen
from tutelar.core.recording.told import difference, pattern_of, week_line
from tutelar.core.site.types import Link, Site

FRESH_S = 600  # within which something new has to be on a time line


def _wants(of: Subject) -> Values | None:
    found = recordings(of.site, of.device) if of.logs_in else []
    return {"channels": " ".join(f"{link.to}:{link.slot}" for link in found)} if found else None


def _recorders(of: Subject) -> Values:
    return {"recorder": " ".join(unit_of(of.site, link.to) for link in recordings(of.site, of.device))}


def _shown(of: Subject) -> Values:
    links = recordings(of.site, of.device)
    port = next((of.services[name] for name in kind_of(of.site, links[0]).asks if name in of.services), "")
    slot = login_slot(of.site, of.device)
    held = {
        "camera": f"{of.addresses.get(of.device.key, '')} {port}",
        "password": of.marks.get((of.device.key, slot), ""),
    }
    return {**_recorders(of), **held}


def _on_channel(at: Sight, link: Link, check: str) -> Outcome:
    recorder, seen = at.site.device_by_key[link.to], at.others.get(link.to)
    there = {"recorder": link.to}
    if seen is None or not any(port.open for port in seen.ports.values()):
        return Outcome("recorder-silent", there)
    if stranger(recorder, seen) is not None or seen.told is None or seen.told.channels is None:
        return Outcome("recorder-tells-not", there)
    mine = [item for item in seen.told.channels if item.source == f"{link.from_}:{link.from_channel or 1}"]
    channel = next((item for item in mine if item.number == link.slot), mine[0] if mine else None)
    if channel is None:
        return Outcome("on-no-channel" if check == "linked" else "on-no-channel-there", there)
    values: dict[str, str | float] = {**there, "channel": channel.number, "state": channel.state}
    if check == "linked":
        code = "elsewhere" if channel.number != link.slot else "no-picture" if channel.state != "live" else "live"
        return Outcome(code, values)
    if check == "recorded-as-set":
        return _as_set(at.site, link, channel, values)
    if channel.state != "live":
        return Outcome("not-live", values)
    return Outcome(_written(channel), values)


def _written(channel: ChannelSeen) -> str:
    """Return how a channel is written: its red dot alone is no proof, its time line is. Where only motion or an alarm
    is recorded just now the newest piece may be old, but there has to be one: somebody walks past, and it is."""
    if not channel.recording:
        return "not-written"
    if channel.newest_s is None or 0 <= channel.newest_s <= FRESH_S:
        return "written"
    if channel.mode == "nothing":
        return "rests"
    return "written" if channel.newest_s >= 0 and channel.mode in ("motion", "alarm") else "dot-only"


def _as_set(site: Site, link: Link, channel: ChannelSeen, values: dict[str, str | float]) -> Outcome:
    pattern = pattern_of(site, link)
    if channel.week is None or pattern is None:
        return Outcome("week-not-told", values)
    planned = week_line(pattern)
    if channel.week == planned:
        return Outcome("as-set", values | {"pattern": pattern.name or pattern.key})
    return Outcome("set-otherwise", values | {"how": difference(planned, channel.week)})


def _wants_week(of: Subject) -> Values | None:
    found = recordings(of.site, of.device) if of.logs_in and of.site.recording is not None else []
    patterns = [pattern_of(of.site, link) for link in found]
    if not found or None in patterns:
        return None
    known = [pattern for pattern in patterns if pattern is not None]
    return {
        "channels": " ".join(f"{link.to}:{link.slot}" for link in found),
        "pattern": ", ".join(dict.fromkeys(pattern.name or pattern.key for pattern in known)),
        "week": "; ".join(map(week_line, known)),
    }


def _judge(check: str) -> Callable[[Sight], Outcome]:
    """Judge the channels one by one; one that is wrong decides, then one that could not be asked."""

    def judged(at: Sight) -> Outcome:
        links = recordings(at.site, at.device)
        found = [_on_channel(at, link, check) for link in links]
        ending = _BY_KEY[check].endings
        for result in ("fail", "skipped"):
            wrong = next((item for item in found if ending[item.code].result == result), None)
            if wrong is not None:
                return wrong
        if not found:
            return Outcome("not-told")
        if len(found) == 1:
            return found[0]
        everywhere = " ".join(f"{link.to}:{link.slot}" for link in links)
        return Outcome(f"{found[0].code}-everywhere", {"channels": everywhere})

    return judged


_AWAY = {
    "recorder-silent": skips("not asked: {recorder:label} does not answer"),
    "recorder-tells-not": skips("not told by {recorder:label}"),
}
LINKED = Check(
    key="linked",
    title="Shows on its channel",
    rank=31,
    probe="its recorders",
    asked="what is recorded on a channel",
    wants=_wants,
    says="live on {channels:channels}",
    endings={
        "live": passes("live on channel {channel} of {recorder:label}"),
        "live-everywhere": passes("live on {channels:channels}"),
        "elsewhere": fails("on channel {channel} of {recorder:label}"),
        "no-picture": fails("channel {channel} of {recorder:label}: {state}"),
        "on-no-channel": fails("on no channel of {recorder:label}"),
        **_AWAY,
    },
    judge=_judge("linked"),
    hangs=_shown,
    itself=False,
    hung=("recorder", "camera", "password"),
)
RECORDS = Check(
    key="records",
    title="Is recorded",
    rank=32,
    probe="its recorders",
    asked="what is recorded on a channel",
    wants=_wants,
    says="written on {channels:channels}",
    endings={
        "written": passes("written by {recorder:label}"),
        "written-everywhere": passes("written on {channels:channels}"),
        "not-written": fails("channel {channel} of {recorder:label} shows and is not written"),
        "dot-only": fails(
            "channel {channel} of {recorder:label} shows its red dot, and nothing new is on its time line"
        ),
        "rests": skips("channel {channel} of {recorder:label} records nothing at this time of day"),
        "not-live": skips("not asked: no picture comes"),
        "on-no-channel-there": skips("on no channel of {recorder:label}"),
        **_AWAY,
    },
    judge=_judge("records"),
    hangs=_recorders,
    itself=False,
    hung=("recorder",),
)
AS_SET = Check(
    key="recorded-as-set",
    title="Is recorded as its pattern says",
    rank=34,
    probe="its recorders",
    asked="what is recorded on a channel, where the site says how it records",
    wants=_wants_week,
    says="as {pattern}, on {channels:channels}",
    endings={
        "as-set": passes("as {pattern}"),
        "as-set-everywhere": passes("as planned on {channels:channels}"),
        "set-otherwise": fails("channel {channel} of {recorder:label}: {how}"),
        "week-not-told": skips("not told by {recorder:label}"),
        "on-no-channel-there": skips("on no channel of {recorder:label}"),
        **_AWAY,
    },
    judge=_judge("recorded-as-set"),
    hangs=_recorders,
    itself=False,
    hung=("recorder",),
)
CHECKS = (LINKED, RECORDS, AS_SET)
_BY_KEY = {check.key: check for check in CHECKS}
