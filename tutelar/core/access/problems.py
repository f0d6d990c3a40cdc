"""What is wrong with people, frames, rules, cards, and with what panels were sent."""

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence

from tutelar.core.access.cards import fits, formats_of, numbers_of, wrong_format
from tutelar.core.access.digest import Standing, standings
from tutelar.core.access.index import AccessIndex
from tutelar.core.problems import Problem, problem
from tutelar.core.site.access import Frame, Person
from tutelar.core.site.once import once_a_site
from tutelar.core.site.types import Device, Site
from tutelar.core.site.weeks import DAY_WORDS, DAYS, NO_DAY, lost_days, minutes_of
from tutelar.core.wording import listed


def access_problems(site: Site, told: Sequence[Standing] | None = None) -> Iterator[Problem]:
    """Yield what is wrong with who may open what; nothing where the document does not speak of it."""
    if site.access is not None:
        yield from _problems_of(site) if told is None else _problems(AccessIndex(site), told)


@once_a_site
def _problems_of(site: Site) -> tuple[Problem, ...]:
    known = AccessIndex(site)
    return tuple(_problems(known, standings(known)))


def _problems(known: AccessIndex, told: Sequence[Standing]) -> Iterator[Problem]:
    yield from _twice(known)
    for frame in known.access.frames:
        yield from _frame_problems(frame)
    yield from _unknown(known)
    yield from _formats(known)
    yield from _cards(known)
    yield from _lengths(known)
    for standing in told:
        if not standing.is_sent:
            name = known.site.label_of(standing.panel)
            said = "was never sent" if standing.sent is None else "was sent something else than"
            yield problem(
                "access.not-sent",
                (standing.panel,),
                f"{name} {said} what it has to know of doors and people now.",
                "Send it, then tick that it was sent.",
            )


def _twice(known: AccessIndex) -> Iterator[Problem]:
    access = known.access
    for word, parts in (
        ("frame", access.frames),
        ("person", access.people),
        ("rule", access.rules),
        ("card format", access.formats),
    ):
        for key, number in Counter(part.key for part in parts).items():
            if number > 1:
                yield problem("key.duplicate", (key,), f"The {word} key '{key}' is used {number} times.", "Rename one.")


def _frame_problems(frame: Frame) -> Iterator[Problem]:
    for lost in lost_days(frame.week):
        said_ = f"The frame {frame.label} says {lost}, which leads to no day of the week."
        yield problem("access.unknown", (frame.key,), said_, NO_DAY)
    for day, said in frame.week.items():
        if isinstance(said, str) or day not in DAYS:
            continue
        good = []
        for begin, end in said:
            if minutes_of(end) <= minutes_of(begin):
                yield problem(
                    "frame.backwards",
                    (frame.key,),
                    f"The frame {frame.label} on {DAY_WORDS[day]} ends before it begins: {begin} to {end}.",
                    f"Correct its end; past midnight it is {begin} to 24:00, and 00:00 to {end} on the next day.",
                )
            else:
                good.append((begin, end))
        good.sort(key=lambda span: (minutes_of(span[0]), minutes_of(span[1])))
        reach: tuple[str, str] | None = None
        for span in good:
            if reach is not None and minutes_of(span[0]) < minutes_of(reach[1]):
                yield problem(
                    "frame.overlap",
                    (frame.key,),
                    f"The frame {frame.label} on {DAY_WORDS[day]} has {span[0]} to {span[1]} and {reach[0]} to "
                    f"{reach[1]}, which overlap.",
                    "Join them.",
                )
            if reach is None or minutes_of(span[1]) > minutes_of(reach[1]):
                reach = span


def _unknown(known: AccessIndex) -> Iterator[Problem]:
    site, formats = known.site, formats_of(known.access)
    for rule in known.access.rules:
        strange = [key for key in rule.people if key not in known.people and key not in known.person_groups]
        yield from _not_there(rule.key, f"The rule {rule.label} names", strange, "Add that person or group")
        strange = [key for key in rule.doors if key not in known.doors and key not in known.door_groups]
        yield from _not_there(rule.key, f"The rule {rule.label} names", strange, "Add that door or group of doors")
        if rule.frame is not None and rule.frame not in known.frames:
            yield from _not_there(rule.key, f"The rule {rule.label} holds in", [rule.frame], "Add that frame")
    for person in known.access.people:
        strange = [card.format for card in person.cards if card.format not in formats]
        yield from _not_there(person.key, f"A card of {person.label} has the format", strange, "Add that format")
    for item in known.access.sent:
        if item.panel not in site.device_by_key:
            yield from _not_there(item.panel, "Something was sent to", [item.panel], "Add that panel")


def _not_there(subject: str, said: str, strange: Iterable[str], fix: str) -> Iterator[Problem]:
    for key in dict.fromkeys(strange):
        message = f"{said} '{key}', which the file does not have."
        yield problem("access.unknown", (subject,), message, f"{fix}, or correct the key.")


def _formats(known: AccessIndex) -> Iterator[Problem]:
    for item in known.access.formats:
        wrong = wrong_format(item)
        if wrong is not None:
            said = f"The card format {item.name or item.key} cannot be: {wrong}."
            yield problem("access.unknown", (item.key,), said, "Correct its bits.")


def _cards(known: AccessIndex) -> Iterator[Problem]:
    formats = formats_of(known.access)
    held: dict[tuple[str, int | None, int], list[Person]] = {}
    for person in known.access.people:
        for card in person.cards:
            item = formats.get(card.format)
            refused = fits(item, numbers_of(card)) if item is not None else None
            if refused is not None:
                yield problem(
                    "card.too-large",
                    (person.key,),
                    f"A card of {person.label} does not fit {item.name or item.key if item else card.format}: "
                    f"{refused.field} {refused.value}, at most {refused.limit}.",
                    f"A panel would cut it to {refused.cut}, which can be somebody else's. Use a longer format.",
                )
            if not card.lost:
                owners = held.setdefault((card.format, card.facility, card.number), [])
                if person not in owners:
                    owners.append(person)
    for (_, facility, number), owners in held.items():
        if len(owners) > 1:
            shown = f"{facility}·{number}" if facility is not None else str(number)
            yield problem(
                "card.twice",
                [person.key for person in owners],
                f"The card {shown} is that of {listed([person.label for person in owners])}.",
                "A panel cannot tell them apart: give one of them another card.",
            )


def _lengths(known: AccessIndex) -> Iterator[Problem]:
    """Yield doors whose ends do not take the cards of those who may open them, or share no length."""
    formats = formats_of(known.access)
    lengths = _lengths_by_door(known, {key: item.bits for key, item in formats.items()})
    readers = _readers_by_door(known.site)
    for door in known.doors.values():
        panel = known.site.device_by_key.get(door.panel or "")
        ends = [*readers.get((door.panel, door.number), ()), *([panel] if panel is not None else [])]
        bits = {end.key: set(taken) for end in ends if (taken := _card_bits(known.site, end)) is not None}
        for end in ends:
            missing = sorted(lengths.get(door.key, set()) - bits[end.key]) if end.key in bits else []
            if missing:
                yield problem(
                    "card.bits-differ",
                    (door.key, end.key),
                    f"{end.label} at {door.label} takes cards of {_bits(bits[end.key])} bits; cards of "
                    f"{_bits(missing)} bits are to open it.",
                    "Take cards of a length that both ends know, or set the end to that length.",
                )
        if panel is None or panel.key not in bits:
            continue
        for reader in readers.get((door.panel, door.number), ()):
            if reader.key in bits and not bits[reader.key] & bits[panel.key]:
                yield problem(
                    "card.bits-differ",
                    (door.key, reader.key, panel.key),
                    f"{reader.label} sends {_bits(bits[reader.key])} bits and {panel.label} takes "
                    f"{_bits(bits[panel.key])}: no card opens {door.label}.",
                    "Set both to one length, or take another reader.",
                )


def _bits(lengths: Iterable[int]) -> str:
    return listed([str(length) for length in sorted(lengths)])


def _card_bits(site: Site, device: Device) -> tuple[int, ...] | None:
    model = site.model_of(device)
    return model.card_bits if model is not None else None


def _readers_by_door(site: Site) -> dict[tuple[str | None, int | None], list[Device]]:
    found: dict[tuple[str | None, int | None], list[Device]] = {}
    for link in site.links:
        reader = site.device_by_key.get(link.from_)
        if link.kind == "reads-for" and link.slot is not None and reader is not None:
            found.setdefault((link.to, link.slot), []).append(reader)
    return found


def _lengths_by_door(known: AccessIndex, bits: dict[str, int]) -> dict[str, set[int]]:
    """Return the lengths of the cards with which each door is to be opened, by its key."""
    own = {
        person.key: {bits[card.format] for card in person.cards if not card.lost and card.format in bits}
        for person in known.people.values()
    }
    found: dict[str, set[int]] = {}
    for rule in known.access.rules:
        wanted: set[int] = set().union(*(own[key] for key in known.people_of(rule)))
        for key in known.doors_of(rule):
            found.setdefault(key, set()).update(wanted)
    return found
