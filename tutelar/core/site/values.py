"""The small values a technician types: addresses, networks and hardware addresses.

Every function takes what was typed and returns the value or raises ValueError with a sentence that
quotes it. Dotted-quad notation follows RFC 4632; hardware addresses IEEE 802 (EUI-48).
"""

import re
import unicodedata
from collections.abc import Container
from ipaddress import AddressValueError, IPv4Address, IPv4Network

_DIGIT_OF: dict[str, str | int | None] = {
    **dict.fromkeys("OoQОо", "0"),
    **dict.fromkeys("IlІі", "1"),
    **{"А": "a", "а": "a", "В": "b", "С": "c", "с": "c", "Е": "e", "е": "e"},  # Cyrillic
}
LOOK_ALIKE = "".join(_DIGIT_OF)  # letters that are taken for a digit of a hardware address
_QUAD = re.compile(r"\d{1,3}\.\d{1,3}\.\d{1,3}\.\d{1,3}")
_SIX_GROUPS = re.compile(r"[0-9a-f]{1,2}([:\- ])[0-9a-f]{1,2}(?:\1[0-9a-f]{1,2}){4}")
_TIDY = re.compile(r"(?!00:00:00:00:00:00)[0-9a-f][02468ace](?::[0-9a-f]{2}){5}")
_TIDY_LINES = re.compile(f"(?:{_TIDY.pattern}\n)*")
_CLOSED_UP = re.compile(r"[0-9a-f]{12}|[0-9a-f]{4}([.:\-])[0-9a-f]{4}\1[0-9a-f]{4}|[0-9a-f]{6}([:\-])[0-9a-f]{6}")


def as_address(text: object) -> IPv4Address:
    """Return the IPv4 address that `text` spells, or raise ValueError naming it."""
    if isinstance(text, IPv4Address):
        return text
    if not isinstance(text, str):
        raise ValueError(f"{text!r} is not an address; write it like '10.62.8.20'")
    try:
        return IPv4Address(text.strip())
    except AddressValueError:
        if ":" in text:
            raise ValueError(f"'{text}' is an IPv6 address; an IPv4 address like '10.62.8.20' is expected") from None
        if _QUAD.fullmatch(text) and re.search(r"(^|\.)0\d", text):
            plain = ".".join(str(int(part)) for part in text.split("."))
            raise ValueError(f"'{text}' has leading zeros; write '{plain}'") from None
        raise ValueError(f"'{text}' is not an IPv4 address; four numbers from 0 to 255 are expected") from None


def as_network(text: object) -> IPv4Network:
    """Return the IPv4 network that `text` spells as address/prefix or address/mask, stray blanks aside.

    Raises ValueError with a sentence that quotes the text and names what was meant.
    """
    if isinstance(text, IPv4Network):
        return text
    if not isinstance(text, str):
        raise ValueError(f"{text!r} is not a network; write it like '10.62.8.0/24'")
    start, slash, length = (part.strip() for part in text.strip().partition("/"))
    if not slash and len(pair := text.split()) == 2:  # "10.62.8.0 255.255.255.0", as routers write it
        start, slash, length = pair[0], " ", pair[1]
    if ":" in text:
        raise ValueError(f"'{text}' is an IPv6 network; an IPv4 network like '10.62.8.0/24' is expected")
    if not slash:
        whole = text if _QUAD.fullmatch(text) else "10.62.8.0"
        raise ValueError(f"'{text}' has no prefix length; write it like '{whole}/24'")
    if (mask := _prefix_of(length)) is not None:
        length = str(mask)
    if not (length.isascii() and length.isdigit() and len(length) <= 2 and int(length) <= 32):
        raise ValueError(f"'{text}' has the prefix length '{length}'; a number from 0 to 32 is expected")
    try:
        address = as_address(start)
    except ValueError as error:
        said = str(error).replace(f"'{start}'", f"'{text}'", 1).replace("an IPv4 address;", "an IPv4 network;")
        raise ValueError(re.sub(r"write '([\d.]+)'$", rf"write '\1/{length}'", said)) from None
    network = IPv4Network((address, int(length)), strict=False)
    if network.network_address != address:
        raise ValueError(f"'{text}' has host bits set; the network that holds it is '{network}'")
    return network


def _prefix_of(mask: str) -> int | None:
    """Return the prefix length of a mask in dotted notation, None for what is none."""
    try:
        number = int(IPv4Address(mask))
    except AddressValueError:
        return None
    prefix = number.bit_count()
    return prefix if number == 0xFFFFFFFF << (32 - prefix) & 0xFFFFFFFF else None


def read_mac(text: str, *, closed_up: bool = True) -> str | None:
    """Return the hardware address that somebody wrote or read off a label, None for what is none.

    Letters that look like digits are read as those, whichever script they are of: O as 0, I and l as 1. Without
    `closed_up` this is done only where the pairs stand apart, since closed up it may be a serial number.
    """
    plain = mac_or_none(text)
    if plain is not None or eleven_digits(text) is not None:
        return plain
    digits = unicodedata.normalize("NFKC", text).strip().translate(str.maketrans(_DIGIT_OF))
    return mac_or_none(digits) if closed_up or re.search(r"[:.\- ]", digits) else None


def mac_or_none(text: str) -> str | None:
    """Return `text` as aa:bb:cc:dd:ee:ff in lower case, or None where it is no device's hardware address.

    Accepts the common spellings: colons, hyphens, spaces, dotted groups of four, closed up, and groups
    without their leading zero. All-zero, broadcast and multicast values name no device.
    """
    if _TIDY.fullmatch(text):
        return text
    typed = text.strip().lower()
    match = _SIX_GROUPS.fullmatch(typed)
    if match:
        digits = "".join(group.zfill(2) for group in typed.split(match.group(1)))
    elif _CLOSED_UP.fullmatch(typed):
        digits = re.sub(r"[.:\-]", "", typed)
    else:
        return None
    if digits == "0" * 12 or int(digits[1], 16) & 1:
        return None
    return ":".join(digits[i : i + 2] for i in range(0, 12, 2))


def eleven_digits(text: str) -> str | None:
    """Return the hardware address that a text of eleven digits most likely is, None for any other text.

    Among six groups the short one lacks its leading zero; closed up, the very first zero is the one that a
    spreadsheet drops.
    """
    digits = re.sub(r"[.:\- ]", "", text.strip().lower())
    if len(digits) != 11 or not all(letter in "0123456789abcdef" for letter in digits):
        return None
    return mac_or_none(text) or (mac_or_none(f"0{digits}") if digits == text.strip().lower() else None)


def is_tidy_mac(text: str) -> bool:
    """Return whether the text is a device's hardware address as this project writes it."""
    return _TIDY.fullmatch(text) is not None


def all_tidy_macs(texts: list[str]) -> bool:
    """Return whether every text is a hardware address as this project writes it."""
    return _TIDY_LINES.fullmatch("\n".join([*texts, ""])) is not None


def dotted(number: int) -> str:
    """Return the address with this 32-bit number in dotted notation."""
    return f"{number >> 24}.{number >> 16 & 255}.{number >> 8 & 255}.{number & 255}"


def netmask(prefix: int) -> str:
    """Return the mask of a prefix length in dotted notation, as most devices ask for it."""
    return dotted(0xFFFFFFFF << (32 - prefix) & 0xFFFFFFFF)


def plain_key(text: str) -> str:
    """Return a name or sticker as a key of the document: "CAM 07" -> "cam-07"; "" where nothing is left."""
    letters = "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in text.strip().lower())
    return "-".join(filter(None, letters.split("-")))[:80]


def packet_sum(mtu: int) -> str:
    """Return what a largest packet of `mtu` bytes leaves for its load, with the sums (IPv4 without options: RFC 791;
    ICMP echo: RFC 792; TCP: RFC 9293)."""
    return f"{mtu} bytes: a ping carries {mtu - 28} ({mtu} − 28), a TCP segment {mtu - 40} ({mtu} − 40)"


def free_key(text: str, taken: Container[str], otherwise: str) -> str:
    """Return a key made of a name that nobody has yet: "yard", "yard-2"; `otherwise` where nothing is left of it."""
    base, number = plain_key(text)[:60].strip("-") or otherwise, 2
    key = base
    while key in taken:
        key, number = f"{base}-{number}", number + 1
    return key
