"""Which column of a delivery note holds what? By its heading in several languages, else by what stands in it."""

import re
import unicodedata
from collections.abc import Callable, Sequence

from tutelar.core.site.types import Site
from tutelar.core.site.values import as_address, read_mac

FIELDS = {
    "key": "Sticker",
    "name": "Name",
    "place": "Place",
    "model": "Model",
    "maker": "Maker",
    "mac": "Hardware address",
    "serial": "Serial number",
    "network": "Network",
    "addressing": "Addressing",
    "address": "Address",
    "used": "Used",
    "count": "How many",
}

_WORDS = {
    "key": "key sticker tag id kennung etikett label asset",
    "name": "name devicename hostname host clientname geraetename nom nombre naam benennung",
    "place": "place location room site area position standort ort raum lieu emplacement ubicacion locatie plaats",
    "model": "model type product item article artikel modell typ produkt modele modelo description bezeichnung "
    "designation partno "
    "partnumber itemno itemnumber articleno articlenumber artikelnr artikelnummer sku productcode",
    "maker": "maker manufacturer brand vendor hersteller marke fabricant marque fabricante merk",
    "mac": "mac macaddress macid macadresse macadres adressemac direccionmac hardwareaddress hwaddress physicaladdress "
    "ethernetaddress ethernetid lanmac wiredmac",
    "serial": "serial serialno serialnumber sn snr seriennummer seriennr numerodeserie nserie serienummer serie",
    "network": "network vlan subnet netz netzwerk reseau red netwerk",
    "addressing": "addressing addressmode ipmode adressierung adressage",
    "address": "ip address ipaddress ipv4 ipv4address ipadresse adresse adresseip direccionip ipadres",
    "used": "used secondhand gebraucht occasion usado gebruikt refurbished condition zustand",
    "count": "count quantity qty pcs pieces menge anzahl stueck stk quantite qte cantidad aantal",
}
_FIELD_OF_WORD = {word: field for field, words in _WORDS.items() for word in words.split()}


def plain(text: str) -> str:
    """Return a heading or name reduced to its letters and digits: "N° de série" -> "ndeserie"."""
    text = text.replace("ß", "ss")
    for letter, pair in (("ä", "ae"), ("ö", "oe"), ("ü", "ue")):
        text = text.replace(letter, pair).replace(letter.upper(), pair)
    folded = unicodedata.normalize("NFKD", text.casefold())
    return re.sub(r"[^a-z0-9]", "", folded)


def field_of_heading(heading: str) -> str | None:
    """Return the field that a heading names, None for one that says nothing known."""
    word = plain(heading)
    if word in _FIELD_OF_WORD:
        return _FIELD_OF_WORD[word]
    spelled = plain(re.sub(r"\([^)]*\)", "", heading))  # "MAC address (label)"
    if spelled in _FIELD_OF_WORD:
        return _FIELD_OF_WORD[spelled]
    found = [_FIELD_OF_WORD[part] for part in map(plain, re.split(r"[\s/_\-.:#°]+", heading)) if part in _FIELD_OF_WORD]
    for field in ("mac", "serial", "address", "count"):  # the words that are never said by the way
        if field in found:
            return field
    return found[0] if found else None


def heading_row(rows: Sequence[Sequence[str]]) -> int | None:
    """Return the row that holds the headings: the first of the top 30 with two or more known ones, else None."""
    for at, row in enumerate(rows[:30]):
        fields = {field for cell in row if (field := field_of_heading(cell))}
        values = sum(1 for cell in row if read_mac(cell.strip()))
        if len(fields) >= 2 and values == 0:
            return at
    return None


def match_columns(site: Site, rows: Sequence[Sequence[str]], heads: int | None) -> list[str | None]:
    """Return the field of each column, each field once; None for columns that nothing is known about."""
    width = max((len(row) for row in rows), default=0)
    body = list(rows[(heads + 1) if heads is not None else 0 :])[:200]
    named = [
        field_of_heading(rows[heads][at]) if heads is not None and at < len(rows[heads]) else None
        for at in range(width)
    ]
    result: list[str | None] = [None] * width
    for at, field in enumerate(named):
        if field and field not in result:
            result[at] = field
    for field, fits in _by_content(site).items():
        if field in result:
            continue
        scores = [_share(body, at, fits) if result[at] is None and named[at] is None else 0.0 for at in range(width)]
        if scores and max(scores) >= 0.6:
            result[scores.index(max(scores))] = field
    return result


def _share(rows: Sequence[Sequence[str]], at: int, fits: Callable[[str], bool]) -> float:
    values = [row[at].strip() for row in rows if at < len(row) and row[at].strip()]
    return sum(1 for value in values if fits(value)) / len(values) if values else 0.0


def _by_content(site: Site) -> dict[str, Callable[[str], bool]]:
    places = {plain(place) for place in site.about.places}
    models = {plain(word) for model in site.models for word in (model.key, model.label, model.name or "")} - {""}
    networks = {plain(word) for network in site.networks for word in (network.key, network.label)}
    return {
        "mac": lambda value: read_mac(value) is not None,
        "address": _is_address,
        "model": lambda value: plain(value) in models,
        "place": lambda value: plain(value) in places,
        "network": lambda value: plain(value) in networks,
    }


def _is_address(value: str) -> bool:
    try:
        as_address(value)
    except ValueError:
        return False
    return True
