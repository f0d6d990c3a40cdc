"""The commands about what comes years later: changes of a device, the diary, when a recording was made."""

import argparse
from dataclasses import asdict
from datetime import UTC, datetime

from tutelar.cli.outcome import DONE, Unreadable
from tutelar.cli.shared import device_of, print_json, read_the_site
from tutelar.core.later import KINDS, change_steps, diary, footage, looks_of
from tutelar.core.later.change import OF_SITE
from tutelar.core.planning import placed


def change_command(options: argparse.Namespace) -> int:
    """Say what is done when a device changes, in an order that cuts nothing off."""
    site = read_the_site(options.site)
    if options.kind not in KINDS:
        raise Unreadable([f"'{options.kind}' is no change; there are {', '.join(KINDS)}."])
    if options.device is None and options.kind not in OF_SITE:
        raise Unreadable([f"'{options.kind}' is about a device; say which one."])
    device = device_of(site, options.device) if options.device is not None else None
    steps = change_steps(site, placed(site), options.kind, device if options.kind not in OF_SITE else None)
    if options.json:
        print_json({"steps": [asdict(step) for step in steps]})
        return DONE
    for number, step in enumerate(steps, 1):
        at = f" [{site.label_of(step.at)}]" if step.at else ""
        print(f"{number:2}. {step.title}{at}. {step.why}{f' Caution: {step.caution}' if step.caution else ''}")
    return DONE


def diary_command(options: argparse.Namespace) -> int:
    """Say what comes due within three years."""
    site = read_the_site(options.site)
    entries = diary(site, datetime.now(tz=UTC).date())
    if options.json:
        rows = [
            {
                "key": item.key,
                "at": item.at.isoformat(),
                "title": item.title,
                "about": item.about,
                "device": item.subject,
            }
            for item in entries
        ]
        print_json({"entries": rows})
        return DONE
    for item in entries:
        print(f"{item.at:%Y-%m-%d} {item.title}")
    return DONE


def footage_command(options: argparse.Namespace) -> int:
    """Say when a recording was made that shows a time, by the clock differences that were kept."""
    site = read_the_site(options.site)
    device = device_of(site, options.device)
    try:
        shown = datetime.fromisoformat(options.shown)
    except ValueError:
        said = "is no moment; a day and a time like 2027-07-10T14:10 are expected."
        raise Unreadable([f"'{options.shown}' {said}"]) from None
    if shown.tzinfo is not None:
        raise Unreadable([f"'{options.shown}' names an offset; a picture shows the site's own time, without one."])
    try:
        found = footage(site, device.key, shown, looks_of(site, device.key))
    except OverflowError:
        raise Unreadable([f"'{options.shown}' lies beyond what a calendar of this site reaches."]) from None
    if options.json:
        made = [at.isoformat() for at in found.made]
        print_json({"shown": shown.isoformat(), "made": made, "certain": found.certain, "sentence": found.sentence})
        return DONE
    print(found.sentence)
    return DONE
