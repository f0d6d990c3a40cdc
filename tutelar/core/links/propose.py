"""What could be tied to what: channels in walking order, balanced over the recorders; numbers without collisions.

A proposal never moves a proven or typed link. Others stay where they are unless a recorder is beyond its limits and
moving them is what makes room; where there is no room for them anywhere they are taken out, and named. Where not
everything fits, it says what is short.
"""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass

from tutelar.core.links.index import LinkIndex
from tutelar.core.links.numbering import numbers
from tutelar.core.links.propose_doors import propose_doors
from tutelar.core.links.propose_recording import propose_recording
from tutelar.core.links.readiness import Last, Ticks, link_statuses
from tutelar.core.links.registry import link_index
from tutelar.core.links.room import full
from tutelar.core.links.wishes import Change
from tutelar.core.site.types import Link, Site


@dataclass(frozen=True)
class Proposal:
    """What to change, what is short, keys of those that are left without a link, and whether no more would fit."""

    changes: tuple[Change, ...]
    shortfall: tuple[str, ...]
    left: tuple[str, ...]
    proved: bool


def held(known: LinkIndex, last: Last, ticks: Ticks) -> frozenset[int]:
    """Return the positions of the links that a proposal leaves alone: proven, typed, or seen to work in part."""
    return frozenset(
        at
        for at, item in enumerate(link_statuses(known, last, ticks))
        if item.state in ("proven", "tied", "doubtful", "broken") or any(one.passed for one in item.tested)
    )


def propose(known: LinkIndex, fixed: Collection[int] = ()) -> Proposal:
    """Return what could be tied; `fixed` holds the positions of links that stay as they are (see `held`)."""
    site = known.site
    recording = propose_recording(known, frozenset(fixed))
    doors = propose_doors(known)
    changes = [*recording.changes, *doors.changes]
    shortfall = [*recording.shortfall, *doors.shortfall]
    after = _after(site.links, changes)
    trial = link_index(site.model_copy(update={"links": tuple(link for link, _, _ in after)}), known.addresses)
    for row in numbers(trial):
        link, position, at = after[row.position]
        if row.source == "kept" or (at is None and position in fixed):
            continue
        if row.source == "missing":
            shortfall.append(f"{row.device}: {row.why}")
            continue
        fresh = link.model_copy(update={"slot": row.number})
        if at is None:
            changes.append(Change("number", fresh, f"{row.word.capitalize()} {row.number}. {row.why}", position))
        else:
            changes[at] = Change(changes[at].action, fresh, changes[at].why, changes[at].position)
    shortfall += overfilled(trial)
    left = dict.fromkeys((*recording.left, *doors.left))
    return Proposal(tuple(changes), tuple(dict.fromkeys(shortfall)), tuple(left), recording.proved)


def overfilled(known: LinkIndex) -> list[str]:
    """Return a sentence for each limit that the links of a recorder pass, whether they are proven or not."""
    found = []
    for key, load in known.loads.items():
        for why in dict.fromkeys(load.beyond.values()):
            found.append(f"{known.site.label_of(key)}: {full(load, why)}.")
    return found


def applied(site: Site, changes: Iterable[Change]) -> Site:
    """Return the site with proposed changes made."""
    links = tuple(link for link, _, _ in _after(site.links, list(changes)))
    return site.model_copy(update={"links": links})


def _after(links: Sequence[Link], changes: Sequence[Change]) -> list[tuple[Link, int | None, int | None]]:
    """Return each link with the changes made, its position before (None: new), and the number of its change."""
    by_position = {change.position: at for at, change in enumerate(changes) if change.position is not None}
    found: list[tuple[Link, int | None, int | None]] = []
    for position, link in enumerate(links):
        at = by_position.get(position)
        if at is None:
            found.append((link, position, None))
        elif changes[at].action != "remove":
            found.append((changes[at].link, position, at))
    return [*found, *((change.link, None, at) for at, change in enumerate(changes) if change.position is None)]
