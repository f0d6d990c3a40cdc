"""Commands about what is typed into devices: clock rules, clock differences, keypads, passwords."""

import argparse
import secrets
import sys
from collections.abc import Callable
from datetime import date

from tutelar.cli.shared import DONE, PROBLEMS, Unreadable, print_json, read_the_site
from tutelar.core.clock import UnknownZone, clock_rule, difference, zone_named
from tutelar.core.clock.difference import read_time
from tutelar.core.clock.rules import spoken_turn
from tutelar.core.credentials import fails, generate, shared_rule
from tutelar.core.keypad import keypad, layout_named

Add = Callable[..., argparse.ArgumentParser]


def add_typed_commands(add: Add) -> None:
    """Add the commands to the parser."""
    ruling = add("clock", _clock, "say how a zone's clocks are set on a device", site=False)
    ruling.add_argument("zone", metavar="ZONE", help="name in the time-zone database, e.g. Europe/Dublin")
    ruling.add_argument("--from", type=_year, dest="first", metavar="YEAR", help="first year (default: this year)")
    ruling.add_argument("--years", type=_years, default=10, metavar="N", help="how many years (default 10)")
    telling = add("difference", _difference, "say what is wrong with a clock from what it shows", site=False)
    telling.add_argument("shown", metavar="SHOWN", help="what the device shows")
    telling.add_argument("reference", metavar="REFERENCE", help="what a trusted clock shows")
    telling.add_argument("--zone", required=True, metavar="Z", help="time zone of the site")
    telling.add_argument("--date-order", choices=["DMY", "MDY", "YMD"], default="YMD", help="order of dates")
    pressing = add("keypad", _keypad, "say which keys type a text on a telephone-style keypad", site=False)
    pressing.add_argument("text", metavar="TEXT", help="the text")
    pressing.add_argument("--layout", default="telephone", help='telephone, digits, or JSON: {"2": "abc2"}')
    for one in (ruling, telling, pressing):
        one.add_argument("--json", action="store_true", help="print one JSON document")
    sharing = add("password", _password, "make or check a password that these devices share")
    sharing.add_argument("devices", metavar="DEVICE", nargs="+", help="keys of the devices")
    sharing.add_argument("--check", action="store_true", help="check the candidate on standard input instead")


def _year(text: str) -> int:
    if not text.isdecimal() or not 1900 <= int(text) <= 2200:
        raise argparse.ArgumentTypeError(f"'{text}' is not a year; 1900 to 2200 is expected")
    return int(text)


def _years(text: str) -> int:
    if not text.isdecimal() or not 1 <= int(text) <= 200:
        raise argparse.ArgumentTypeError(f"'{text}' is not a number of years; 1 to 200 is expected")
    return int(text)


def _clock(options: argparse.Namespace) -> int:
    try:
        rule = clock_rule(options.zone, options.first or date.today().year, options.years)  # noqa: DTZ011
    except UnknownZone as error:
        raise Unreadable([f"{error}."]) from None
    if options.json:
        print_json(rule.as_dict())
        return DONE
    hours, minutes = divmod(abs(rule.utc_offset_min), 60)
    print(f"{rule.zone}: UTC {'-' if rule.utc_offset_min < 0 else '+'}{hours:02d}:{minutes:02d}")
    if rule.start and rule.end:
        print(f"start {spoken_turn(rule.start)}\nend   {spoken_turn(rule.end)}\nbias  {rule.bias_min} min")
    print(f"POSIX {rule.posix}\n{rule.note}")
    return DONE


def _difference(options: argparse.Namespace) -> int:
    try:
        zone = zone_named(options.zone)
        shown, reference = (read_time(text, options.date_order) for text in (options.shown, options.reference))
    except ValueError as error:
        raise Unreadable([f"{error}."]) from None
    found = difference(shown, reference, zone)
    if options.json:
        print_json(found.as_dict())
    else:
        print(f"{found.finding}: {found.message}")
    return DONE


def _keypad(options: argparse.Namespace) -> int:
    try:
        typing = keypad(options.text, layout_named(options.layout))
    except ValueError as error:
        raise Unreadable([f"{error}."]) from None
    if options.json:
        print_json(typing.as_dict())
    else:
        for press in typing.presses:
            print(f"{press.character:6} {press.key} × {press.times}")
        if typing.cannot:
            print(f"Cannot be typed: {' '.join(typing.cannot)}")
    return PROBLEMS if typing.cannot else DONE


def _password(options: argparse.Namespace) -> int:
    site = read_the_site(options.site)
    unknown = next((key for key in options.devices if key not in site.device_by_key), None)
    if unknown is not None:
        raise Unreadable([f"{options.site}: the site has no device '{unknown}'."])
    shared = shared_rule(site, [site.device_by_key[key] for key in dict.fromkeys(options.devices)])
    password, checked = None, None
    if options.check:
        broken = [*shared.conflicts, *fails(shared, sys.stdin.readline().rstrip("\r\n"))]
        checked = {"ok": not broken, "fails": broken}
    elif shared.satisfiable:
        password = generate(shared, secrets.choice)
    if options.json:
        print_json({
            "rule": shared.rule.as_dict(), "satisfiable": shared.satisfiable, "conflicts": list(shared.conflicts),
            "password": password, "check": checked,
        })  # fmt: skip
    else:
        for line in shared.conflicts if checked is None else checked["fails"] or ["It satisfies every rule."]:  # type: ignore[attr-defined]
            print(line)
        if password is not None:
            print(password)
    return DONE if shared.satisfiable and (checked is None or checked["ok"]) else PROBLEMS
