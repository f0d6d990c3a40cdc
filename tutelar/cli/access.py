"""The commands about doors and cards: who may open what when, and a card's number as bits."""

import argparse
import sys
from datetime import datetime
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from tutelar.cli.outcome import DONE, PROBLEMS, Unreadable
from tutelar.cli.shared import print_json, read_the_site
from tutelar.core.access import AccessIndex, CardRefused, card_format, decode, encode, may
from tutelar.core.site import Site
from tutelar.core.site.access import CardFormat
from tutelar.core.wording import sentence


def may_command(options: argparse.Namespace) -> int:
    """Say whether a person may open a door at a moment, by which rule, and whether the panel was told."""
    site = read_the_site(options.site)
    known = AccessIndex(site)
    person, door = known.people.get(options.person), known.doors.get(options.door)
    if person is None:
        raise Unreadable([f"The site has no person '{options.person}'."])
    if door is None:
        raise Unreadable([f"The site has no door '{options.door}'."])
    found = may(known, person, door, _moment(site, options.when))
    if options.json:
        print_json(found.as_dict())
        return DONE
    verdict = "may" if found.may else "may not"
    print(f"{person.label} {verdict} open {door.label} then.")
    for because in found.because:
        print(f"  {because.rule}: {because.why}.")
    for refused in found.refused:
        print(f"  not by {refused.rule or 'any rule'}: {refused.why}.")
    if found.may and not found.now:
        print("The panel was not sent these rules, so it may be otherwise now.")
    return DONE


def _moment(site: Site, text: str) -> datetime:
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        raise Unreadable([f"'{text}' is no moment; a day and a time like 2027-03-17T17:45 are expected."]) from None
    if found.tzinfo is None:
        return found
    try:
        return found.astimezone(ZoneInfo(site.about.time_zone or "UTC")).replace(tzinfo=None)
    except (ZoneInfoNotFoundError, ValueError):
        return found.replace(tzinfo=None)


def card_command(options: argparse.Namespace) -> int:
    """Turn a card's number into the bits that are sent, or bits into a number."""
    site = read_the_site(options.site) if options.site else None
    item = card_format(site.access if site is not None else None, options.format)
    if item is None:
        raise Unreadable(
            [f"'{options.format}' is no card format that is known; 'w26' is, others stand in a site file."]
        )
    if options.bits is not None:
        return _decoded(item, options)
    if options.number is None:
        raise Unreadable(["Give the card's --number, or --bits to be read."])
    return _encoded(item, options)


def _decoded(item: CardFormat, options: argparse.Namespace) -> int:
    try:
        found = decode(item, options.bits)
    except ValueError as error:
        raise Unreadable([sentence(error)]) from None
    numbers = {name: found.fields.get(name) for name in ("facility", "number")}
    text = "".join(options.bits.split())
    if options.json:
        print_json({"format": item.key, "bits": text, **numbers, "parity_ok": found.parity_ok})
    else:
        said = ", ".join(f"{name} {value}" for name, value in found.fields.items())
        print(f"{said}; parity {'right' if found.parity_ok else 'wrong'}.")
    return DONE


def _encoded(item: CardFormat, options: argparse.Namespace) -> int:
    names = {field.name for field in item.fields}
    given = {"facility": options.facility, "number": options.number}
    numbers = {name: value for name, value in given.items() if value is not None}
    strange = next((name for name in numbers if name not in names), None)
    if strange is not None:
        raise Unreadable([f"{item.name or item.key} has no field '{strange}'; it has {', '.join(sorted(names))}."])
    try:
        found = encode(item, numbers)
    except CardRefused as refused:
        if options.json:
            cut = {"value": refused.cut}
            print_json({"error": sentence(refused), "field": refused.field, "limit": refused.limit, "cut": cut})
        else:
            print(sentence(refused), file=sys.stderr)
        return PROBLEMS
    if options.json:
        print_json({"format": item.key, "bits": found.bits, "value": found.value, "hex": found.hex})
    else:
        print(f"{found.bits} ({found.value}, {found.hex} in hexadecimal)")
    return DONE
