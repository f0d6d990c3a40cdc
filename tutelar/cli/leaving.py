"""The commands about leaving: job cards, what is still open, and the pack that is left behind."""

import argparse
import hashlib
import json
from datetime import UTC, datetime
from pathlib import Path

from tutelar.cli.outcome import DONE, Unreadable
from tutelar.cli.shared import device_of, print_json, read_file, read_the_site
from tutelar.core.cards import PHASES, UnreadableCards, cards_of, first_phase, items_of, read_cards
from tutelar.core.loose_ends import loose_ends, may_sign
from tutelar.core.planning import plan
from tutelar.core.wording import count
from tutelar.paper.pack import SUMS, as_zip, pack, sums


def cards_command(options: argparse.Namespace) -> int:
    """Print the job cards of a site: a row for each item that applies."""
    site = read_the_site(options.site)
    own = None
    if options.own:
        try:
            own = read_cards(json.loads(read_file(options.own)))
        except UnreadableCards as error:
            raise Unreadable([f"{options.own}: {path}: {said}" for path, said in error.faults]) from None
        except ValueError as error:
            raise Unreadable([f"{options.own}: The file is not JSON: {error}."]) from None
    if options.phase is not None and options.phase not in PHASES:
        raise Unreadable([f"'{options.phase}' is no part of the work; there are {', '.join(PHASES)}."])
    if options.device not in (None, "site"):
        device_of(site, options.device)
    cards = [card for card in cards_of(site, items_of(own)) if options.device in (None, card.subject)]
    shown = [(card, row) for card in cards for row in card.rows if options.phase in (None, row.item.phase)]
    rows = [
        {
            "subject": card.subject,
            "item": row.item.key,
            "phase": row.item.phase,
            "text": row.item.text,
            "state": row.state,
            "now": row in card.now,
            "waits_for": row.waits_for,
            "right": row.verdict.right if row.verdict is not None else None,
            "said": row.verdict.said if row.verdict is not None else None,
            "caution": row.item.caution,
        }
        for card, row in shown
    ]
    if options.json:
        print_json({"turn": first_phase(cards), "items": rows})
        return DONE
    for card, row in shown:
        print(f"{row.state:10} {card.subject:12} {PHASES[row.item.phase]}: {row.item.text}")
    return DONE


def loose_ends_command(options: argparse.Namespace) -> int:
    """Say what is still open; that is the answer, no error."""
    site = read_the_site(options.site)
    ends = loose_ends(site, plan(site), datetime.now(tz=UTC).date())
    if options.json:
        print_json({"may_sign": may_sign(ends), "ends": [end.as_dict() for end in ends]})
        return DONE
    for end in ends:
        mark = "holds" if end.blocks else "notes"
        print(f"{mark:6} {end.message} {end.fix} ({end.whose})")
    holding = sum(1 for end in ends if end.blocks)
    print("It may be signed off." if not holding else f"{count(holding, 'loose end')} hold the signature.")
    return DONE


def handover_command(options: argparse.Namespace) -> int:
    """Write the handover pack into a folder, or as one ZIP."""
    site = read_the_site(options.site)
    planned, today = plan(site), datetime.now(tz=UTC).date()
    ends = loose_ends(site, planned, today)
    files = pack(site, planned, ends, today)
    out = Path(options.out)
    try:
        if out.suffix == ".zip":
            out.parent.mkdir(parents=True, exist_ok=True)
            out.write_bytes(as_zip(files))
        else:
            for name, data in {**files, SUMS: sums(files)}.items():
                (out / name).parent.mkdir(parents=True, exist_ok=True)
                (out / name).write_bytes(data)
    except OSError as error:
        raise Unreadable([f"{options.out}: cannot be written: {error.strerror}."]) from None
    rows = [
        {"name": name, "bytes": len(data), "sha256": hashlib.sha256(data).hexdigest()} for name, data in files.items()
    ]
    if options.json:
        print_json({"files": rows, "may_sign": may_sign(ends)})
        return DONE
    for row in rows:
        print(f"{row['bytes']:>9} {row['name']}")
    if not may_sign(ends):
        print("It says on every page that something is still open.")
    return DONE
