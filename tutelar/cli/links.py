"""The command about links: how far each is, what could be tied, the table of them."""

import argparse
import csv
import sys

from tutelar.cli.outcome import DONE, PROBLEMS
from tutelar.cli.shared import print_json, read_the_site, write_the_site
from tutelar.core.links.propose import applied, held, overfilled, propose
from tutelar.core.links.readiness import LinkStatus, link_statuses
from tutelar.core.links.registry import link_index
from tutelar.core.links.table import link_table
from tutelar.core.links.wishes import untied
from tutelar.core.planning import plan
from tutelar.core.proof import latest
from tutelar.core.site import Site
from tutelar.core.wording import count


def links(options: argparse.Namespace) -> int:
    """Say how far every link is, and what is missing for it."""
    site = read_the_site(options.site)
    known, last = link_index(site, plan(site).addresses()), latest(site.readings, site)
    shortfall, left = tuple(overfilled(known)), tuple[str, ...]()
    if options.propose:
        wanted = propose(known, held(known, last, {}))
        site, shortfall, left = applied(site, wanted.changes), wanted.shortfall, wanted.left
        known = link_index(site, known.addresses)
    write_the_site(options.out, site)
    found = link_statuses(known, last, {})
    if options.csv:
        csv.writer(sys.stdout).writerows(link_table(site))
    elif options.json:
        rows = [_row(item) for item in found]
        print_json({"links": rows, "untied": untied(site), "shortfall": list(shortfall), "left": list(left)})
    else:
        _print(site, found, shortfall)
    return PROBLEMS if shortfall or any(item.state in ("impossible", "broken") for item in found) else DONE


def _row(item: LinkStatus) -> dict[str, object]:
    case, link = item.case, item.case.link
    return {
        "kind": link.kind,
        "from": link.from_,
        "to": link.to,
        "slot": link.slot,
        "of": case.kind.key,
        "state": item.state,
        "reason": item.reason,
        "missing": [
            {"need": gap.need, "what": gap.what, "where": gap.where, "whose": gap.whose, "nearest": gap.nearest}
            for gap in item.gaps
        ],
        "values": [
            {"end": at.end, "label": at.line.label, "value": at.line.value, "secret": at.line.slot is not None}
            for at in item.values
        ],
        "tests": [{"key": test.key, "title": test.title, "expected": test.expects(case)} for test in case.kind.tests],
    }


def _print(site: Site, found: list[LinkStatus], shortfall: tuple[str, ...]) -> None:
    for item in found:
        number, slot = item.case.kind.number, item.case.link.slot
        seat = f", {number.word} {slot}" if number is not None and slot is not None else ""
        why = f": {item.reason}" if item.reason else ""
        print(f"{item.state:10} {item.case.said()}{seat}{why}.")
    for key in untied(site):
        print(f"{'untied':10} {site.label_of(key)}.")
    for said in shortfall:
        print(said)
    print(f"{count(len(found), 'link')}.")
