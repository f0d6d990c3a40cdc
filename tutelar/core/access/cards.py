"""Card numbers as bits: formats as data, numbers into bits and back, and whether a number fits.

Bit 0 is sent first. 26 bits as every panel knows them: even parity over the first 12 data bits, facility code of 8
bits, card number of 16, odd parity over the last 12 (docs/sources.md, cards).
"""

from collections.abc import Mapping
from typing import NamedTuple

from tutelar.core.site.access import W26, Access, Card, CardField, CardFormat, Parity

KNOWN = CardFormat(
    key=W26,
    name="26 bits",
    bits=26,
    fields=(CardField(name="facility", first=1, bits=8), CardField(name="number", first=9, bits=16)),
    parity=(Parity(bit=0, even=True, first=1, bits=12), Parity(bit=25, even=False, first=13, bits=12)),
)


class CardRefused(ValueError):
    """A number that does not fit its field: the field, the largest number it holds, and the number cut to its bits."""

    def __init__(self, field: str, limit: int, cut: int, value: int) -> None:
        self.field, self.limit, self.cut, self.value = field, limit, cut, value
        super().__init__(f"The {field} {value} does not fit: at most {limit}; cut to its bits it becomes {cut}")


class Encoded(NamedTuple):
    """A number as it is sent: all bits, the data bits as one number and as hexadecimal digits."""

    bits: str
    value: int
    hex: str


class Decoded(NamedTuple):
    """What a row of bits says: its fields, and whether its parity is right."""

    fields: Mapping[str, int]
    parity_ok: bool


def formats_of(access: Access | None) -> dict[str, CardFormat]:
    """Return the formats of a site by key, that of 26 bits among them; of two with one key the first."""
    found: dict[str, CardFormat] = {}
    for item in access.formats if access is not None else ():
        found.setdefault(item.key, item)
    found.setdefault(W26, KNOWN)
    return found


def card_format(access: Access | None, key: str) -> CardFormat | None:
    """Return a format by its key, None where nobody knows it."""
    return formats_of(access).get(key)


def wrong_format(item: CardFormat) -> str | None:
    """Return what cannot be about a format in one sentence without a full stop, None where it can be sent."""
    taken: dict[int, str] = {}
    for field in item.fields:
        if field.first + field.bits > item.bits:
            return (
                f"the field {field.name} ends at bit {field.first + field.bits - 1}, past the last bit {item.bits - 1}"
            )
        for bit in range(field.first, field.first + field.bits):
            if bit in taken:
                return f"the fields {taken[bit]} and {field.name} share bit {bit}"
            taken[bit] = field.name
    bits = [parity.bit for parity in item.parity]
    for parity in item.parity:
        if parity.bit >= item.bits or parity.first + parity.bits > item.bits:
            return f"the parity of bit {parity.bit} reaches past the last bit {item.bits - 1}"
        if parity.bit in taken:
            return f"the parity bit {parity.bit} lies in the field {taken[parity.bit]}"
        if bits.count(parity.bit) > 1:
            return f"the parity bit {parity.bit} is there twice"
    return None


def fits(item: CardFormat, numbers: Mapping[str, int]) -> CardRefused | None:
    """Return what does not fit of a card's numbers, None where all do."""
    for field in item.fields:
        value = numbers.get(field.name, 0)
        limit = (1 << field.bits) - 1
        if value > limit:
            return CardRefused(field.name, limit, value & limit, value)
    return None


def numbers_of(card: Card) -> dict[str, int]:
    """Return the numbers of a card by the names of their fields."""
    return {"number": card.number} | ({} if card.facility is None else {"facility": card.facility})


def encode(item: CardFormat, numbers: Mapping[str, int]) -> Encoded:
    """Return numbers as they are sent in a format; fields that are not given are 0. Raises CardRefused."""
    refused = fits(item, numbers)
    if refused is not None:
        raise refused
    row = [0] * item.bits
    for field in item.fields:
        value = numbers.get(field.name, 0)
        for at in range(field.bits):
            row[field.first + at] = value >> (field.bits - 1 - at) & 1
    for parity in _in_order(item):
        row[parity.bit] = _parity(row, parity)
    data = "".join(str(row[at]) for at in _data_bits(item))
    value = int(data, 2) if data else 0
    return Encoded("".join(map(str, row)), value, f"{value:0{(len(data) + 3) // 4}x}" if data else "")


def decode(item: CardFormat, bits: str) -> Decoded:
    """Return what a row of bits says in a format. Raises ValueError where it is no row of that many bits."""
    text = "".join(bits.split())
    strange = next((sign for sign in text if sign not in "01"), None)
    if strange is not None:
        raise ValueError(f"'{strange}' is no bit; 0 and 1 are expected")
    if len(text) != item.bits:
        raise ValueError(f"{len(text)} bits are given; {item.name or item.key} has {item.bits}")
    row = [int(sign) for sign in text]
    fields = {
        field.name: int(text[field.first : field.first + field.bits], 2)
        for field in item.fields
        if field.first + field.bits <= item.bits
    }
    return Decoded(fields, all(row[parity.bit] == _parity(row, parity) for parity in item.parity))


def _in_order(item: CardFormat) -> list[Parity]:
    """Return the parity bits so that one that covers another comes after it."""
    left, found = list(item.parity), list[Parity]()
    while left:
        waits = {parity.bit for parity in left}
        free = next((one for one in left if not waits & _covered(one) - {one.bit}), left[0])
        left.remove(free)
        found.append(free)
    return found


def _covered(parity: Parity) -> set[int]:
    return set(range(parity.first, parity.first + parity.bits)) - {parity.bit}


def _parity(row: list[int], parity: Parity) -> int:
    ones = sum(row[at] for at in _covered(parity) if at < len(row))
    return ones % 2 if parity.even else 1 - ones % 2


def _data_bits(item: CardFormat) -> list[int]:
    parity = {one.bit for one in item.parity}
    return [at for at in range(item.bits) if at not in parity]
