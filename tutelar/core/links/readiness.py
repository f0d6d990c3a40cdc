"""How far is a link: can it be made, was it typed at both ends, is it proven, and does the proof still hold?

A reading of a link keeps what the link was like when it was seen (its basis); whatever differs today makes the link
doubtful and is named. A fresh failed reading makes it broken, fresh readings of all its tests make it proven.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from tutelar.core.links.base import EndValue, Gap, Kind, Need, ResolvedLink, Test, login_slot
from tutelar.core.links.ends import missing_end
from tutelar.core.links.index import LinkIndex
from tutelar.core.links.zones import zone_address
from tutelar.core.loads.budget import feeder_of
from tutelar.core.site.types import Link, Reading

State = Literal["ready", "waiting", "impossible", "tied", "proven", "doubtful", "broken"]
Last = Mapping[tuple[str, str], Reading]
Ticks = Mapping[tuple[str, str], str]  # (device key, line key) to what the value was when it was ticked
OPEN: tuple[State, ...] = ("impossible", "broken", "doubtful", "waiting", "ready")  # in the order of their weight

_WORDS = {
    "from.address": "the address of {from}",
    "to.address": "the address of {to}",
    "from.hardware": "{from} itself (its hardware address)",
    "to.hardware": "{to} itself (its hardware address)",
    "port": "the port",
    "number": "the {number}",
    "from.channel": "the channel of {from}",
    "to.channel": "the channel of {to}",
    "password": "the password",
    "account": "the account",
    "multicast": "the multicast address",
    "at": "the address of {to}",
}


@dataclass(frozen=True, slots=True)
class Tested:
    """One test of a link with its last reading, and in words what changed since (empty: it still tells)."""

    case: ResolvedLink
    test: Test
    check: str
    reading: Reading | None
    changed: tuple[str, ...]

    @property
    def expected(self) -> str:
        """What is seen where it works."""
        return self.test.expects(self.case)

    @property
    def passed(self) -> bool:
        """Whether it was seen to work, and still tells."""
        return self.reading is not None and self.reading.result == "pass" and not self.changed

    @property
    def failed(self) -> bool:
        """Whether it was seen to fail, and still tells."""
        return self.reading is not None and self.reading.result in ("fail", "silent") and not self.changed


@dataclass(slots=True, eq=False)
class LinkStatus:
    """A link's state with the one reason that stands along its thread, everything missing, and its last readings."""

    case: ResolvedLink
    state: State
    reason: str | None
    last: "Last"
    gaps: tuple[Gap, ...] = ()
    changed: tuple[str, ...] = ()

    @property
    def values(self) -> tuple[EndValue, ...]:
        """What is typed at both ends; nothing for a link that cannot be made."""
        return () if self.state == "impossible" else tuple(self.case.kind.values(self.case))

    @property
    def tested(self) -> tuple[Tested, ...]:
        """Its tests with what was seen last, and what changed since."""
        return tested(self.case, self.last)


def check_name(link: Link, test: Test) -> str:
    """Return the name under which a reading of a link's test is kept with the device that the link starts at."""
    channel = f".ch{link.from_channel}" if link.from_channel is not None else ""
    return f"{link.kind}.{link.to}{channel}.{test.key}"


def basis(case: ResolvedLink) -> dict[str, str]:
    """Return what a link is like today: everything whose change puts its proofs in doubt."""
    link, known, held = case.link, case.known, case.held
    found: dict[str, str] = {}
    for end, device in (("from", case.start), ("to", case.end)):
        if device is None:
            continue
        if at := known.addresses.get(device.key):
            found[f"{end}.address"] = at
        if who := device.unit:
            found[f"{end}.hardware"] = who
    if (port := case.port()) is not None:
        found["port"] = str(port[1])
    for name, value in (
        ("number", link.slot),
        ("from.channel", link.from_channel),
        ("to.channel", link.to_channel),
        ("account", link.account),
        ("at", link.at),
    ):
        if value is not None:
            found[name] = str(value)
    if link.kind == "pages" and link.slot is not None:
        address, number = zone_address(case.site, link)
        found["multicast"] = f"{address}:{number}"
    if held is not None and known.secrets is not None:
        slot = login_slot(case.site, held) if case.kind.logs_in else "registration"
        mark = known.secrets.get((held.key, slot))
        if mark is not None:
            found["password"] = mark
    return found


def changed_since(case: ResolvedLink, then: Mapping[str, str]) -> tuple[str, ...]:
    """Return in words what of a link is no longer as it was when a reading was taken."""
    now, found = basis(case), []
    for name, before in then.items():
        after = now.get(name)
        if after == before or (name == "password" and after is None):
            continue
        number = case.kind.number.word if case.kind.number else "number"
        word = _WORDS.get(name, name).replace("{from}", case.start.label).replace("{to}", case.to)
        word = word.replace("{number}", number)
        said = "" if name == "password" else f": {before} then, {after or 'nothing'} now"
        found.append(f"{word} changed{said}")
    return tuple(found)


def tested(case: ResolvedLink, last: Last) -> tuple[Tested, ...]:
    """Return the tests of a link with their last readings."""
    key, found = case.start.key, []
    for test in case.kind.tests:
        check = check_name(case.link, test)
        reading = last.get((key, check))
        changed = () if reading is None or reading.basis is None else changed_since(case, reading.basis)
        found.append(Tested(case, test, check, reading, changed))
    return tuple(found)


def gaps(case: ResolvedLink) -> tuple[Gap, ...]:
    """Return everything that is missing for a link, in the order of its needs."""
    if (never := case.known.never(case)) is not None:
        return (never,)
    kind, start, link, known = case.kind, case.start, case.link, case.known
    sound, placed = known.sound, known.placed
    feeder = feeder_of(case.site, start)
    alike = (kind.key, start.model, start.network, start.behind, feeder, link.to)
    if start.services is None and alike in sound:
        both = start.key in placed and (case.end is None or link.to in placed)
        needs = known.wanted.get((kind, both))
        if needs is None:
            needs = known.wanted[kind, both] = _own_needs(kind, known, both)
        return tuple([gap for need in needs if (gap := need.gap(case)) is not None])
    found, shared = [], False
    for need in kind.needs:
        gap = need.gap(case)
        if gap is not None:
            found.append(gap)
            shared = shared or need.alike
    if not shared and start.services is None:
        sound.add(alike)
    return tuple(found)


def _own_needs(kind: Kind, known: LinkIndex, placed: bool) -> tuple[Need, ...]:
    """Return the needs that differ from link to link, without those that nobody on the site lacks."""
    return tuple(
        need
        for need in kind.needs
        if not need.alike and not (placed and need.placed) and not (need.idle is not None and need.idle(known))
    )


def _typed(case: ResolvedLink, ticks: Ticks) -> tuple[int, int, bool]:
    """Return how many values of a link were typed as they are today, how many there are, and whether one is older."""
    done = total = 0
    older = False
    secrets = case.known.secrets or {}
    for item in case.kind.values(case):
        device = case.start if item.end == "from" else case.end
        if device is None:
            continue
        total += 1
        line = item.line
        tick = ticks.get((device.key, line.key))
        if tick is not None:
            now = secrets.get((line.owner or "", line.slot)) if line.slot else line.value
            done += tick == now
            older = older or tick != now
    return done, total, older


def _untold(case: ResolvedLink) -> list[str]:
    holder, held = case.holder, case.held
    if holder is None or held is None or (holder.key, held.key) not in case.known.pending:
        return []
    return [f"{holder.label} was not told of a changed value of {held.label}"]


def _all_seen(case: ResolvedLink, last: Last) -> bool:
    """Return whether every test passed when the link was exactly as it is today; quick, as most proven ones are so."""
    now, key = basis(case), case.start.key
    for test in case.kind.tests:
        reading = last.get((key, check_name(case.link, test)))
        if reading is None or reading.result != "pass" or reading.basis != now:
            return False
    return True


def standing(case: ResolvedLink, last: Last, ticks: Ticks) -> LinkStatus:
    """Return how far one link is."""
    untold = _untold(case) if case.known.pending else []
    if last and not untold and _all_seen(case, last):
        return LinkStatus(case, "proven", None, last)
    proofs = tested(case, last) if last else ()
    failed = next((item for item in proofs if item.failed), None)
    if failed is not None:
        measured = failed.reading.measured if failed.reading else None
        return LinkStatus(case, "broken", f"{failed.test.title}: {measured or 'failed'}", last, gaps(case))
    changed = [*dict.fromkeys(word for item in proofs for word in item.changed), *untold]
    if proofs and all(item.passed for item in proofs) and not changed:
        return LinkStatus(case, "proven", None, last)
    missing = gaps(case)
    never = next((gap for gap in missing if gap.never), None)
    if never is not None:
        return LinkStatus(case, "impossible", never.what, last, missing, tuple(changed))
    done, total, older = _typed(case, ticks) if ticks else (0, 1, False)
    if older and not changed:
        changed.append("a value was typed before it changed")
    if changed and (done or any(item.reading for item in proofs)):
        return LinkStatus(case, "doubtful", changed[0], last, missing, tuple(changed))
    if missing:
        return LinkStatus(case, "waiting", missing[0].what, last, missing)
    return LinkStatus(case, "tied" if done == total and total else "ready", None, last)


def link_statuses(known: LinkIndex, last: Last, ticks: Ticks) -> list[LinkStatus]:
    """Return how far every link of the document is, in its order; one to an unknown device is impossible."""
    seen = {device for device, check in last if "." in check}  # of most devices of a large site nothing is there yet
    ticked = {device for device, _ in ticks}
    found = []
    for link in known.site.links:
        case = known.case(link)
        if case is None:
            lost = known.unresolved(link)
            gap = missing_end(lost)
            assert gap is not None
            found.append(LinkStatus(lost, "impossible", gap.what, last, (gap,)))
            continue
        typed, read = link.from_ in ticked or link.to in ticked, link.from_ in seen
        if typed or read or known.pending or (missing := gaps(case)):
            found.append(standing(case, last if read else {}, ticks if typed else {}))
        else:
            found.append(LinkStatus(case, "ready", None, last, missing))
    return found
