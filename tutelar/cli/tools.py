"""Commands about what is typed into devices: clock rules, clock differences, keypads, passwords."""

import argparse
import secrets
import sys
from datetime import date

from tutelar.cli.outcome import DONE, PROBLEMS, Unreadable
from tutelar.cli.shared import print_json, read_the_site
from tutelar.core.clock import UnknownZone, clock_rule, difference, zone_named
from tutelar.core.clock.difference import read_time
from tutelar.core.clock.rules import spoken_turn
from tutelar.core.credentials import fails, generate, shared_rule
from tutelar.core.keypad import keypad, layout_named


def clock(options: argparse.Namespace) -> int:
    """Say how the clocks of a zone are set on a device."""
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


def difference_command(options: argparse.Namespace) -> int:
    """Say what is wrong with a clock from what it shows."""
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


def keypad_command(options: argparse.Namespace) -> int:
    """Say which keys type a text on a telephone-style keypad."""
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


def password(options: argparse.Namespace) -> int:
    """Make or check a password that devices share."""
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
        print_json(
            {
                "rule": shared.rule.as_dict(),
                "satisfiable": shared.satisfiable,
                "conflicts": list(shared.conflicts),
                "password": password,
                "check": checked,
            }
        )
    else:
        for line in shared.conflicts if checked is None else checked["fails"] or ["It satisfies every rule."]:  # type: ignore[attr-defined]
            print(line)
        if password is not None:
            print(password)
    return DONE if shared.satisfiable and (checked is None or checked["ok"]) else PROBLEMS
