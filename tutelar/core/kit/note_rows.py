"""What the rows of a delivery note mean before any is compared with the kit: how many, which belong together, which
are no devices."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from tutelar.core.kit.columns import FIELDS, plain
from tutelar.core.site.values import read_mac

MOST_IN_A_ROW = 500
_UNITS = """x × pc pcs piece pieces ea each off no nos unit units u st stk stck stück stueck stuks pz pza ud uds szt ks
pce pces un und""".split()  # noqa: SIM905
_HOW_MANY = re.compile(
    rf"(?:[x×]\s*)?(?P<number>\d{{1,6}})(?:[.,]0{{1,2}})?\s*(?:(?:{'|'.join(_UNITS)})\.?)?", re.IGNORECASE
)
_THOUSANDS = re.compile(r"\d{1,3}[.,]\d{3}")
_LEADING = re.compile(r"(?P<number>\d{1,3})\s*(?:[x×]|stk\.?|pcs?\.?)\s+(?P<rest>\S.*)", re.IGNORECASE)
# words of rows that are no device, as plain() writes them
_TOTALS = frozenset(
    """total totals subtotal sum grandtotal summe gesamt zwischensumme gesamtsumme totaal somme totale suma vat tax ust
    mwst tva iva btw discount rabatt shipping freight versand versandkosten fracht porto delivery carriage
    postage""".split()  # noqa: SIM905
)
_BESIDE_TOTALS = frozenset(
    "eur usd gbp chf incl excl inkl exkl of the goods net netto gross brutto cost costs".split()  # noqa: SIM905
)
_FITTINGS = frozenset(
    """cable cables kabel cavo patchcable patchkabel roll rolls rolle reel reels spool drum trommel connector connectors
    plug plugs stecker coupler bracket brackets halterung mount mounts wallmount screw screws schraube schrauben anchor
    anchors duebel conduit trunking tape label labels licence license lizenz gland grommet ferrite""".split()  # noqa: SIM905
)
_DEVICES = frozenset(
    """camera kamera cam dome bullet turret recorder nvr dvr station monitor panel reader keypad hub switch router
    injector intercom doorbell sensor detector encoder desk lock""".split()  # noqa: SIM905
)
_SPLIT = re.compile(r"\s*[/;,|\n]\s*")
LISTED = ("key", "name", "serial", "mac")  # what a cell may hold one after the other, one for each device


class BadCount(ValueError):
    """A number of devices that cannot be read; its text is the whole sentence."""


@dataclass(slots=True)
class Entry:
    """One entry of a note: its first row, what stands in it, how many devices, and which rows go on from it."""

    line: int
    cells: dict[str, str]
    many: int = 1
    lists: dict[str, list[str]] = field(default_factory=dict)  # by field: one value for each device
    goes_on: list[int] = field(default_factory=list)
    skip: str = ""  # why it is no device
    refused: str = ""

    def each(self) -> list[dict[str, str]]:
        """Return the cells of each device of the entry, without what says how many they are."""
        base = {name: text for name, text in self.cells.items() if name != "count"}
        if not self.lists:
            return [base]
        return [base | {name: texts[at] for name, texts in self.lists.items()} for at in range(self.many)]


def entries(rows: Sequence[tuple[int, Mapping[str, str]]], known: Mapping[str, object]) -> list[Entry]:
    """Return the entries of a note's rows, (line, cells by field); `known` holds the plain words of all models.

    A row without a model that brings a serial number or a hardware address goes on from the row above it while that
    one has devices left to name; one that brings only words goes on with its description.
    """
    found: list[Entry] = []
    last: Entry | None = None
    for line, cells in rows:
        entry = _entry(line, dict(cells), known)
        if last is not None and not entry.skip and _goes_on(last, entry, known):
            last.goes_on.append(line)
            continue
        found.append(entry)
        if not entry.skip:
            last = entry
        elif entry.cells:
            last = None
    for entry in found:
        _match_lists(entry)
    return found


def _entry(line: int, cells: dict[str, str], known: Mapping[str, object]) -> Entry:
    if not any(cells.values()):
        return Entry(line, {}, skip="Nothing stands in it.")
    entry = Entry(line, cells)
    leading = _LEADING.fullmatch(cells.get("model", ""))
    if leading and not cells.get("count") and plain(cells["model"]) not in known:
        cells["model"], cells["count"] = leading["rest"], leading["number"]
    entry.skip = _no_device(cells, known)
    if not entry.skip:
        try:
            entry.many = how_many(cells.get("count", ""))
        except BadCount as error:
            entry.refused = str(error)
    for name in LISTED:
        values = _several(name, cells.get(name, ""), entry.many)
        if values:
            entry.lists[name] = values
            if entry.many == 1 and not cells.get("count"):
                entry.many = len(values)
    return entry


def how_many(text: str) -> int:
    """Return a number of devices as people write it: "4", "4 x", "3 Stk.", "2.0"; "" is one. Raises BadCount."""
    if not text.strip():
        return 1
    match = _HOW_MANY.fullmatch(text.strip())
    if match is None or _THOUSANDS.fullmatch(text.strip()):
        raise BadCount(f"“{text}” is not a number of devices; 1 to {MOST_IN_A_ROW} are expected.")
    if not 1 <= int(match["number"]) <= MOST_IN_A_ROW:
        raise BadCount(f"{text} devices in one row cannot be; 1 to {MOST_IN_A_ROW} are expected.")
    return int(match["number"])


def _no_device(cells: Mapping[str, str], known: Mapping[str, object]) -> str:
    """Return why a row is none, "" where it may be one: what is identified or called like a model always may."""
    if cells.get("serial") or cells.get("mac"):
        return ""
    said = " ".join(filter(None, (cells.get("model"), cells.get("name")))) or " ".join(filter(None, cells.values()))
    parts = [plain(part) for part in re.split(r"[\s:,./()\-]+", said)]
    words = {*parts, *("".join(pair) for pair in pairwise(parts))}
    if _names_a_model(cells.get("model", ""), known) or _names_a_model(said, known):
        return ""
    filled = [part for part in parts if part and not part.isdigit()]
    if _TOTALS & set(filled) and set(filled) <= _TOTALS | _BESIDE_TOTALS:
        return f"“{said}” is a total or a charge, no device."
    if words & _FITTINGS and not words & _DEVICES:
        return f"“{said}” is a cable or a fitting, no device."
    return ""


def _several(name: str, text: str, many: int) -> list[str]:
    """Return the values of a cell that names several devices one after the other, [] for one value."""
    parts = [part for part in _SPLIT.split(text.strip()) if part]
    if len(parts) < 2:
        return []
    if len(parts) == many:
        return parts
    if name == "mac":
        return parts if all(map(read_mac, parts)) else []
    shapes = {re.sub(r"\d+", "#", part) for part in parts}
    counted = name in ("key", "serial") and len(shapes) == 1 and all(re.search(r"\d", part) for part in parts)
    return parts if counted else []


def _goes_on(last: Entry, entry: Entry, known: Mapping[str, object]) -> bool:
    """Whether a row belongs to the entry above; what it names is then taken over."""
    cells = entry.cells
    if _is_wrapped(last, cells, known):
        return True
    if cells.get("model") or cells.get("count") or not (cells.get("serial") or cells.get("mac")):
        return False
    named = {name: entry.lists.get(name) or [cells[name]] for name in LISTED if cells.get(name)}
    before = {name: last.lists.get(name) or list(filter(None, [last.cells.get(name)])) for name in named}
    if any(len(before[name]) + len(values) > last.many for name, values in named.items()):
        return False  # there are more names than devices, so the row stands for itself
    last.lists.update({name: before[name] + values for name, values in named.items()})
    return True


def _is_wrapped(last: Entry, cells: Mapping[str, str], known: Mapping[str, object]) -> bool:
    """Whether a row holds only words under a description that goes on: they begin small or with a sign, and name no
    model."""
    filled = [name for name, text in cells.items() if text]
    if not last.cells.get("count") or not {*filled} <= {"model", "name"}:
        return False
    small = all(re.match(r"[^\W\dA-Z_]|[(,;+&–-]", cells[name]) is not None for name in filled)
    return small and not _names_a_model(cells.get("model", ""), known)


def _names_a_model(said: str, known: Mapping[str, object]) -> bool:
    """Whether the words hold the name of a model that somebody knows."""
    return plain(said) in known or any(len(word) >= 4 and word in plain(said) for word in known)


def _match_lists(entry: Entry) -> None:
    """Say where not as many devices are named as there are, where a name stands twice, or where all would share one."""
    for name, values in list(entry.lists.items()):
        if len(values) == entry.many:
            continue
        if len(values) == 1:
            del entry.lists[name]
        elif not entry.refused:
            entry.refused = (
                f"{entry.many} devices stand in it and {len(values)} of them are named ({', '.join(values[:4])}); "
                "name each or none."
            )
    for name in (*LISTED, "address") if entry.lists else ():
        values = entry.lists.get(name) or ([entry.cells[name]] * entry.many if entry.cells.get(name) else [])
        shared = name != "name" and len(set(map(plain, values))) < len(values)
        if shared and not entry.refused:
            entry.refused = f"{entry.many} devices cannot share one {FIELDS[name].lower()} ({values[0]}); name each."
