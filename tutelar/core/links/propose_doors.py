"""What hangs on what besides recording: monitors on their main station, further stations on it, readers on panels.

Nobody is tied to one that follows another, and a monitor never to a monitor: who is an extension is somebody's wish,
as is which cameras a desk moves.
"""

from collections import defaultdict
from dataclasses import dataclass, field

from tutelar.core.links.base import Gap, Kind
from tutelar.core.links.index import LinkIndex
from tutelar.core.links.needs import gap_of_route
from tutelar.core.links.propose_recording import Proposed
from tutelar.core.links.registry import KINDS
from tutelar.core.links.wishes import RECORDED, Change, untied
from tutelar.core.site.types import Device, Link
from tutelar.core.wording import listed

# Of the families that a device may hang on, those that a proposal chooses: the first of which the kit has any.
_CHOSEN: dict[str, tuple[frozenset[str], ...]] = {
    "registers-at": (frozenset({"door-station"}), frozenset({"doorbell"}), frozenset({"call-server"})),
    "reads-for": (frozenset({"panel"}), frozenset({"door-station"})),
}


@dataclass(slots=True)
class _Board:
    """The proposal as it grows: what each target carries by now, who follows somebody, and what is said."""

    known: LinkIndex
    carried: dict[tuple[str, str], int]
    numbers: dict[tuple[str, str], set[int]]
    unnumbered: dict[tuple[str, str], int]
    following: set[str]
    changes: list[Change] = field(default_factory=list)
    shortfall: list[str] = field(default_factory=list)
    left: list[str] = field(default_factory=list)

    def tie(self, link: Link, why: str) -> None:
        """Add a link to the proposal."""
        self.carried[link.to, link.kind] += 1
        self.unnumbered[link.to, link.kind] += 1
        self.changes.append(Change("add", link, why))


def propose_doors(known: LinkIndex) -> Proposed:
    """Return what could hang on what; what is left stands by key, and in words where a target is full."""
    site = known.site
    carried: dict[tuple[str, str], int] = defaultdict(int)
    unnumbered: dict[tuple[str, str], int] = defaultdict(int)
    numbers: dict[tuple[str, str], set[int]] = defaultdict(set)
    for link in site.links:
        if known.case(link) is None:
            continue
        carried[link.to, link.kind] += 1
        if link.slot is None:
            unnumbered[link.to, link.kind] += 1
        else:
            numbers[link.to, link.kind].add(link.slot)
    following = {link.from_ for link in site.links if link.kind == "extends"}
    board = _Board(known, carried, numbers, unnumbered, following)
    _further_stations(board)
    open_ = set(untied(site))
    for device in site.walking_order(list(site.devices)):
        family = site.family_of(device)
        if device.key not in open_ or family in RECORDED:
            continue
        kind = next(kind for kind in KINDS if family in kind.expected)
        if kind.word == "steers":
            board.left.append(device.key)
        else:
            _hang(board, device, kind)
    return Proposed(tuple(board.changes), tuple(board.shortfall), tuple(board.left))


def _further_stations(board: _Board) -> None:
    """Let the door stations of a network follow its main one, where there are monitors for them to ring.

    A station that monitors are on, that others follow, or that a call server serves keeps its own part.
    """
    site, known = board.known.site, board.known
    kind = next(kind for kind in KINDS if kind.key == "further-station")
    rooms: dict[tuple[str | None, str | None], list[Device]] = defaultdict(list)
    rung = set()
    for device in site.devices:
        family = site.family_of(device)
        if family == "door-station" and device.key not in board.following:
            rooms[device.network, device.behind].append(device)
        elif family == "indoor-monitor":
            rung.add((device.network, device.behind))
    calling = {link.from_ for link in site.links if link.kind in ("calls", "registers-at")}
    for where, stations in rooms.items():
        leading = [
            device
            for device in stations
            if known.tied_to.get((device.key, "registers-at")) or known.tied_to.get((device.key, "extends"))
        ]
        alone = [device for device in stations if device not in leading and device.key not in calling]
        if where not in rung or not alone:
            continue
        mains = leading or [alone.pop(0)]
        for device in alone:
            _, target, _ = _best(board, device, kind, mains)
            if target is not None:
                board.following.add(device.key)
                board.tie(
                    Link(kind="extends", from_=device.key, to=target.key),
                    f"{target.label} is the main station of its network; monitors that hang on it ring for both.",
                )


def _hang(board: _Board, device: Device, kind: Kind) -> None:
    site = board.known.site
    targets = _targets(board, device, kind)
    elsewhere, target, gaps = _best(board, device, kind, targets)
    if target is not None:
        why = "It is in reach and carries the least." if elsewhere else f"It is at the same place, {device.place}."
        board.tie(Link(kind=kind.word, from_=device.key, to=target.key), why)
        return
    board.left.append(device.key)
    if targets:
        names = listed([item.label for item in targets])
        word = kind.number.word if kind.number else "number"
        full = gaps[0].what if gaps else f"no {word} is free at {names}"
        board.shortfall.append(f"{site.label_of(device.key)} is not tied: {full}.")


def _targets(board: _Board, device: Device, kind: Kind) -> list[Device]:
    """Return the devices that one could hang on, of the first family of those chosen that the kit has."""
    site = board.known.site
    family = site.family_of(device)
    found = [
        item
        for item in site.devices
        if kind.takes(family, site.family_of(item), "", behind=False)
        and item.key != device.key
        and item.key not in board.following
    ]
    for chosen in _CHOSEN.get(kind.word, ()):
        some = [item for item in found if site.family_of(item) in chosen]
        if some:
            return some
    return [] if kind.word in _CHOSEN else found


def _best(board: _Board, device: Device, kind: Kind, targets: list[Device]) -> tuple[bool, Device | None, list[Gap]]:
    """Return whether the best target is at another place, that target (None: none in reach has room), and what keeps
    the device from the targets that are out of reach."""
    known, reached, gaps = board.known, [], []
    for target in targets:
        link = Link(kind=kind.word, from_=device.key, to=target.key)
        case = known.case(link)
        if case is None or not case.fits:
            continue
        if gap_of_route(known, link):
            never = known.never(case)
            gaps += [never] if never is not None else []
            continue
        if _has_room(board, target, kind, link):
            reached.append((target.place != device.place, board.carried[target.key, kind.word], target))
    if not reached:
        return False, None, gaps if len(gaps) == len(targets) else []
    elsewhere, _, target = min(reached, key=lambda row: row[:2])
    return elsewhere, target, gaps


def _has_room(board: _Board, target: Device, kind: Kind, link: Link) -> bool:
    """Return whether one more number is free at a target, besides those that wait for one."""
    case = board.known.case(link)
    if kind.number is None or case is None:
        return True
    first, last = kind.number.limit(case)
    if last is None:
        return True
    held = board.numbers[target.key, kind.word]
    free = sum(1 for number in range(first, last + 1) if number not in held)
    return free > board.unnumbered[target.key, kind.word]
