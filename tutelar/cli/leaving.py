"""The command about leaving: what is still open, whose turn it is, and whether the site may be signed off."""

import argparse
from datetime import UTC, datetime

from tutelar.cli.outcome import DONE
from tutelar.cli.shared import print_json, read_the_site
from tutelar.core.loose_ends import loose_ends, may_sign
from tutelar.core.planning import plan
from tutelar.core.wording import count


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
