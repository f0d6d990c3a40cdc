"""The command about ways: does one end reach another on a port?"""

import argparse

from tutelar.cli.outcome import DONE, Unreadable
from tutelar.cli.shared import print_json, read_the_site
from tutelar.core.planning import placed
from tutelar.core.reach import Ends, UnknownEnd, reach
from tutelar.core.wording import sentence


def reach_command(options: argparse.Namespace) -> int:
    """Say whether an end reaches another on a port, hop by hop, and where it stops."""
    site = read_the_site(options.site)
    port, protocol = options.port
    try:
        found = reach(Ends(site, placed(site)), options.start, options.goal, port, protocol)
    except UnknownEnd as error:
        raise Unreadable([sentence(error)]) from None
    if options.json:
        print_json(found.as_dict())
        return DONE
    for hop in found.path:
        print(f"{hop.at:20} {hop.why}")
    if found.reason is None:
        print(f"{options.goal} is reached on {protocol} {port}.")
    else:
        print(f"Stops at {found.reason.at}: {found.reason.message}")
    return DONE
