"""Lease and neighbour tables as routers and laptops print them, turned into sightings.

Formats: dnsmasq's lease file, ISC dhcpd.leases(5), Kea's memfile CSV, `ip neigh` (iproute2), `arp -a` of Windows,
macOS and Linux, and any other text with an IPv4 address and a hardware address in one line.
"""

import re
import unicodedata
from collections.abc import Callable, Iterator

from tutelar.core.kit.columns import field_of_heading, heading_row
from tutelar.core.sightings import Sighting
from tutelar.core.site.values import LOOK_ALIKE, as_address, read_mac

_ADDRESS = re.compile(r"(?<![\d.])(?:\d{1,3}\.){3}\d{1,3}(?![\d.]|/\d)")
_MAC = re.compile(
    r"(?<![0-9A-Fa-f:.\-])(?:[0-9A-Fa-f]{1,2}([:\-])(?:[0-9A-Fa-f]{1,2}\1){4}[0-9A-Fa-f]{1,2}"
    r"|[0-9A-Fa-f]{4}\.[0-9A-Fa-f]{4}\.[0-9A-Fa-f]{4}|[0-9A-Fa-f]{12})(?![0-9A-Za-z:\-]|\.[0-9A-Fa-f])"
)
_ALIKE = re.compile(rf"(?<![\w:.\-])[0-9A-Fa-f{LOOK_ALIKE}]{{2}}([:\-])(?:\w\w\1){{4}}\w\w(?![\w:\-])")
_ISC = re.compile(r"lease\s+([\d.]+)\s*\{(.*?)\n?\s*\}", re.DOTALL)
_LEASED = frozenset({"dynamic", "dhcp", "leased", "lease", "automatic", "auto"})
_FIXED = frozenset({"static", "fixed", "manual", "permanent", "reserved", "reservation"})
_ARP_NAME = re.compile(r"^\s*([\w.-]+)\s+\(")


def read_table(text: str) -> tuple[str, list[Sighting]]:
    """Return (what kind of table it is, its sightings).

    Each sighting comes once, in the order of the table; of a journal the last entry of each address.
    """
    for name, fits, reader in _KINDS:
        if fits(text):
            return name, list(dict.fromkeys(reader(text)))
    return "a table", list(dict.fromkeys(_table(text)))


def _sighting(address: str, mac: str, name: str | None, leased: bool | None = None) -> Sighting | None:
    tidy = read_mac(mac)
    try:
        number = int(as_address(address))
    except ValueError:
        return None
    if tidy is None or number >> 28 == 14 or number == 0xFFFFFFFF:  # multicast and broadcast are no devices
        return None
    return Sighting(address, tidy, name if name and name not in ("?", "*") else None, leased)


def _lines(
    text: str,
    name_of: Callable[[str], str | None] = lambda line: None,
    leased_of: Callable[[str], bool | None] = lambda line: None,  # what arp calls dynamic is its own memory, no lease
) -> Iterator[Sighting]:
    for line in text.splitlines():
        plain = unicodedata.normalize("NFKC", line)
        address, mac = _ADDRESS.search(plain), _MAC.search(plain) or _ALIKE.search(plain)
        if address and mac:
            found = _sighting(address[0], mac[0], name_of(line), leased_of(line))
            if found:
                yield found


def _cells(line: str) -> list[str]:
    """Return the cells of a line, whatever stands between them; columns of text are two blanks apart."""
    return [cell.strip().strip('"') for cell in re.split(r"[,;\t|]|\s{2,}", line)]


def _says_leased(line: str) -> bool | None:
    """Return what a cell says of how the address came about, None where none does, or they disagree."""
    words = {cell.casefold() for cell in _cells(line)}
    leased, fixed = bool(words & _LEASED), bool(words & _FIXED)
    return leased if leased != fixed else None


def _table(text: str) -> Iterator[Sighting]:
    """Yield the lines of any table; one with headings gives the names of its devices too."""
    rows = [_cells(line) for line in text.splitlines()]
    heads = heading_row(rows)
    fields = [field_of_heading(cell) for cell in rows[heads]] if heads is not None else []
    at = fields.index("name") if "name" in fields else None

    def name(line: str) -> str | None:
        cells = _cells(line)
        return cells[at] if at is not None and at < len(cells) else None

    return _lines(text, name, _says_leased)


def _dnsmasq(text: str) -> Iterator[Sighting]:
    for line in text.splitlines():
        parts = line.split()
        if len(parts) >= 4 and parts[0].isdigit() and (found := _sighting(parts[2], parts[1], parts[3], leased=True)):
            yield found


def _isc(text: str) -> Iterator[Sighting]:
    plain = re.sub(r"#[^\n]*", "", text)
    last = {match[1]: match[2] for match in _ISC.finditer(plain)}  # the file is a journal: the last entry holds
    for address, body in last.items():
        state = re.search(r"(?<!next )(?<!rewind )binding state (\w+)", body)
        mac = re.search(r"hardware ethernet ([^;]+);", body)
        name = re.search(r'client-hostname "([^"]*)"', body)
        if mac and (state is None or state[1] == "active"):
            found = _sighting(address, mac[1], name[1] if name else None, leased=True)
            if found:
                yield found


def _kea(text: str) -> Iterator[Sighting]:
    heads: list[str] = []
    last: dict[str, list[str]] = {}
    for line in text.splitlines():
        cells = [cell.strip() for cell in line.split(",")]
        if "hwaddr" in cells:
            heads = cells
        elif heads and len(cells) >= 2:
            last[cells[0]] = cells
    for cells in last.values():
        row = dict(zip(heads, cells, strict=False))
        if row.get("state", "0") == "0" and row.get("valid_lifetime", "1") != "0":
            found = _sighting(row.get("address", ""), row.get("hwaddr", ""), row.get("hostname"), leased=True)
            if found:
                yield found


def _neighbours(text: str) -> Iterator[Sighting]:
    return _lines("\n".join(line for line in text.splitlines() if "FAILED" not in line))


def _arp(text: str) -> Iterator[Sighting]:
    def name(line: str) -> str | None:
        match = _ARP_NAME.match(line)
        return match[1] if match else None

    return _lines(text, name)


_KINDS: tuple[tuple[str, Callable[[str], bool], Callable[[str], Iterator[Sighting]]], ...] = (
    ("an ISC lease file", lambda text: re.search(r"^\s*lease\s+[\d.]+\s*\{", text, re.MULTILINE) is not None, _isc),
    ("a Kea lease file", lambda text: re.search(r"^address,hwaddr,", text, re.MULTILINE) is not None, _kea),
    (
        "a dnsmasq lease file",
        lambda text: re.search(r"^\d{1,12} [0-9a-f:]{17} [\d.]+ \S+", text, re.MULTILINE) is not None,
        _dnsmasq,
    ),
    ("a neighbour table (ip neigh)", lambda text: " lladdr " in text, _neighbours),
    (
        "a neighbour table (arp)",
        lambda text: (
            re.search(r"\) at |^\s*[\d.]+\s+[0-9a-f-]{17}\s+\S+\s*$|HWaddress", text, re.MULTILINE) is not None
        ),
        _arp,
    ),
)
