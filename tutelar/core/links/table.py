"""Links as a table: written for others, and read row by row, said before anything is stored."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from ipaddress import AddressValueError, IPv4Address
from typing import Any, Literal, get_args

from tutelar.core.kit.columns import plain
from tutelar.core.links.base import OUTSIDE_WORDS
from tutelar.core.links.ends import WISHES
from tutelar.core.links.registry import BY_WORD, link_index, slot_word
from tutelar.core.site.base import OUTSIDE_ENDS, LinkKind
from tutelar.core.site.types import Device, Link, Site
from tutelar.core.site.values import mac_or_none
from tutelar.core.wording import listed

Action = Literal["add", "change", "same", "skip", "refuse"]
FIELDS = {
    "kind": "Link",
    "from": "From",
    "from_channel": "Its channel",
    "to": "To",
    "to_channel": "Channel there",
    "slot": "Number",
    "side": "Side",
    "account": "Account",
    "at": "Outside address",
    "address": "Multicast address",
    "port": "Port",
    "priority": "Priority",
}
_ALSO = {
    "kind": ("kind", "type", "art"),
    "from": ("device", "start", "source", "camera"),
    "to": ("target", "end", "recorder"),
    "from_channel": ("fromchannel", "sourcechannel", "encoderchannel"),
    "to_channel": ("tochannel", "targetchannel"),
    "slot": ("slot", "channel", "no", "nr", "zone", "door"),
    "at": ("server", "host"),
    "address": ("multicast",),
}
_NUMBERS = {"slot": 1_000_000, "from_channel": 1_000_000, "to_channel": 1_000_000, "port": 65535, "priority": 99}
_TEXTS = ("account", "at")


@dataclass(frozen=True, slots=True)
class Row:
    """What becomes of one row: `line` counts from 1, `part` is the link as in the document, `position` the one that
    stands already."""

    line: int
    action: Action
    sentence: str
    part: dict[str, Any] | None = None
    position: int | None = None


class _Refused(ValueError):
    pass


def link_table(site: Site) -> list[list[str]]:
    """Return the links as rows of text below a row of headings; what is read back gives the same links."""
    rows = [list(FIELDS.values())]
    for link in site.links:
        values = link.model_dump(by_alias=True)
        rows.append(["" if values[name] is None else str(values[name]) for name in FIELDS])
    return rows


def match_fields(heads: Sequence[str]) -> list[str | None]:
    """Return for each heading which field it means, None for what is not known; each field once."""
    found: list[str | None] = []
    for head in heads:
        word = plain(head)
        hit = next(
            (
                name
                for name, title in FIELDS.items()
                if word and word in {plain(name), plain(title), *_ALSO.get(name, ())}
            ),
            None,
        )
        found.append(hit if hit not in found else None)
    return found


class _Reader:
    def __init__(self, site: Site) -> None:
        self.site = site
        self.names: dict[str, list[Device]] = {}
        for device in site.devices:
            for word in dict.fromkeys(filter(None, (device.key, device.mac, device.serial, plain(device.label)))):
                self.names.setdefault(word, []).append(device)
        self.standing: dict[tuple[str, str, str, int | None], int] = {}
        for at, link in enumerate(site.links):
            self.standing.setdefault((link.kind, link.from_, link.to, link.from_channel), at)
        self.known = link_index(site, {})
        self.claimed: dict[tuple[str, str, str, int | None], int] = {}

    def device(self, text: str, what: str) -> Device:
        """Return the device that is meant by a sticker, name, hardware address or serial. Raises _Refused."""
        hits = (
            self.names.get(text)
            or self.names.get(text.lower())
            or self.names.get(mac_or_none(text) or "")
            or self.names.get(plain(text))
            or []
        )
        hits = list({device.key: device for device in hits}.values())
        if len(hits) == 1:
            return hits[0]
        if hits:
            raise _Refused(f"“{text}” may be {listed([device.key for device in hits])}; write the sticker.")
        near = get_close_matches(plain(text), self.names, 1, 0.75)
        hint = f"; {self.names[near[0]][0].key} is the nearest" if near else ""
        raise _Refused(f"{what}: the kit has no “{text}”{hint}.")


def read_links(site: Site, fields: Sequence[str | None], rows: Sequence[tuple[int, Sequence[str]]]) -> list[Row]:
    """Return what becomes of each (line, cells) of a table whose columns hold `fields`.

    A link of the same kind between the same ends is changed, every other is added. Numbers taken by another link, of
    the site or of a row before, are refused.
    """
    reader = _Reader(site)
    found = []
    for line, row in rows:
        cells = {name: row[at].strip() for at, name in enumerate(fields) if name in FIELDS and at < len(row)}
        found.append(_row(reader, line, cells))
    return _with_seats(reader, found)


def _row(reader: _Reader, line: int, cells: Mapping[str, str]) -> Row:
    if not any(cells.values()):
        return Row(line, "skip", "Nothing stands in it.")
    try:
        part = _part(reader, cells)
        identity = (part["kind"], part["from"], part["to"], part.get("from_channel"))
        before = reader.claimed.setdefault(identity, line)
        if before != line:
            raise _Refused(f"The same link stands in row {before} already.")
        return _against(reader, line, part, reader.standing.get(identity))
    except _Refused as error:
        return Row(line, "refuse", str(error))


def _part(reader: _Reader, cells: Mapping[str, str]) -> dict[str, Any]:
    for name in ("kind", "from", "to"):
        if not cells.get(name):
            raise _Refused(f"Nothing stands under “{FIELDS[name]}”.")
    part: dict[str, Any] = {"kind": _kind(cells["kind"]), "from": reader.device(cells["from"], "From").key}
    part["to"] = _outside(cells["to"]) or reader.device(cells["to"], "To").key
    for name, most in _NUMBERS.items():
        if text := cells.get(name):
            least = 1 if name == "port" else 0
            if not text.isdecimal() or not least <= int(text) <= most:
                raise _Refused(f"{FIELDS[name]}: “{text}” is no number from {least} to {most}.")
            part[name] = int(text)
    if side := plain(cells.get("side", "")):
        if side not in ("in", "out"):
            raise _Refused(f"Side: “{cells['side']}” is neither in nor out.")
        part["side"] = side
    if text := cells.get("address"):
        try:
            part["address"] = str(IPv4Address(text))
        except AddressValueError:
            raise _Refused(f"Multicast address: “{text}” is no IPv4 address.") from None
    part |= {name: _bare(cells[name]) for name in _TEXTS if cells.get(name)}
    if part["from"] == part["to"]:
        raise _Refused(f"{cells['from']} cannot be tied to itself.")
    case = reader.known.case(Link.model_validate(part))
    gap = reader.known.never(case) if case is not None else None
    if case is not None and gap is not None and gap.need not in WISHES:
        raise _Refused(f"{case.start.label} to {case.to}: {gap.what}.")
    return part


def _bare(text: str) -> str:
    """Return a text without the mark that keeps spreadsheets from taking it for a formula."""
    return text[1:] if len(text) > 1 and text[0] == "'" and text[1] in "=+-@" else text


def _kind(text: str) -> str:
    word = plain(text)
    for kind in get_args(LinkKind):
        titles = {plain(item.title) for item in BY_WORD[kind]} | {plain(item.key) for item in BY_WORD[kind]}
        if word == plain(kind) or word in titles:
            return str(kind)
    known = ", ".join(get_args(LinkKind))
    raise _Refused(f"“{text}” is no kind of link; write one of {known}.")


def _outside(text: str) -> str | None:
    word = plain(text)
    return next((key for key in sorted(OUTSIDE_ENDS) if word in (plain(key), plain(OUTSIDE_WORDS[key]))), None)


def _against(reader: _Reader, line: int, part: dict[str, Any], position: int | None) -> Row:
    """Compare a row with the link that stands already."""
    site = reader.site
    what = f"{site.label_of(part['from'])} to {site.label_of(part['to'])}"
    if position is None:
        number = f", {slot_word(part['kind'])} {part['slot']}" if "slot" in part else ""
        return Row(line, "add", f"{what}{number}.", part)
    now = site.links[position].model_dump(mode="json", by_alias=True)
    fresh = {name: value for name, value in part.items() if now.get(name) != value}
    if not fresh:
        return Row(line, "same", f"{what} stands so already.", part, position)
    said = listed([f"{FIELDS[name].lower()} {value}" for name, value in fresh.items()], 9)
    return Row(line, "change", f"{what} gets {said}.", part, position)


def _with_seats(reader: _Reader, rows: list[Row]) -> list[Row]:
    """Refuse rows whose number is taken: by a link that no row changes, or by a row before."""
    site, changed = reader.site, {row.position for row in rows if row.position is not None}
    seats: dict[tuple[str, str, int, str | None], str] = {}
    for at, link in enumerate(site.links):
        if at not in changed and link.slot is not None:
            seats[link.to, link.kind, link.slot, link.side] = f"of {site.label_of(link.from_)}"
    found = []
    for row in rows:
        part = row.part
        if part is None:
            found.append(row)
            continue
        standing = site.links[row.position] if row.position is not None else None
        slot = part.get("slot", standing.slot if standing else None)
        if slot is None:
            found.append(row)
            continue
        seat = (part["to"], part["kind"], slot, part.get("side"))
        holder = seats.setdefault(seat, f"in row {row.line}")
        if holder != f"in row {row.line}":
            word = slot_word(part["kind"])
            said = f"{word.capitalize()} {slot} of {site.label_of(part['to'])} is taken: it stands {holder}."
            found.append(Row(row.line, "refuse", said))
        else:
            found.append(row)
    return found
