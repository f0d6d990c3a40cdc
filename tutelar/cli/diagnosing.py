"""The commands about trouble: why is it offline, and what would a technician see at the pretend site."""

import argparse

from tutelar.cli.outcome import DONE, Unreadable
from tutelar.cli.proving import faults_of
from tutelar.cli.shared import fault_lines, print_json, read_file, read_the_site
from tutelar.core.diagnose import CHECKS, Cause, Ground, UnknownCheck, diagnose, read_observations
from tutelar.core.diagnose.causes import NOTHING
from tutelar.core.planning import placed
from tutelar.core.site import UnreadableSite
from tutelar.core.wording import sentence
from tutelar.standin.observing import observed


def diagnose_command(options: argparse.Namespace) -> int:
    """Name the likely causes of what was seen, and the check to make next."""
    site = read_the_site(options.site)
    ground = Ground(site, placed(site))
    try:
        seen = read_observations(read_file(options.observations), ground)
    except UnreadableSite as error:
        raise Unreadable(fault_lines(options.observations, error)) from None
    found = diagnose(ground, seen.observations, seen.prior)
    if options.json:
        print_json(found.as_dict())
        return DONE
    for cause in found.causes[:8]:
        faults = cause.faults or (Cause(NOTHING, ""),)
        print(f"{cause.likelihood:6.1%}  {'; '.join(item.said(ground.names) for item in faults)}.")
    if not found.fits:
        print("None of these fits what was seen: note address, lamp, light, time and port for the supplier.")
    if found.next is None:
        print("No further check is worth its minutes.")
    else:
        check = CHECKS[found.next.check]
        name = ground.names[found.next.where]
        print(f"Next: {check.asks.replace('{at}', name)} ({check.where.replace('{at}', name)}; {check.minutes:g} min)")
        if check.caution:
            print(f"      {check.caution}")
    return DONE


def observe_command(options: argparse.Namespace) -> int:
    """Say what a check would show at the pretend site."""
    site = read_the_site(options.site)
    ground = Ground(site, placed(site))
    try:
        result = observed(ground, faults_of(options.faults, site), options.check, options.at)
    except UnknownCheck as error:
        raise Unreadable([sentence(error)]) from None
    if options.json:
        print_json({"check": options.check, "at": options.at, "result": result})
    else:
        print(f"{CHECKS[options.check].asks.replace('{at}', ground.names[options.at])} {result}")
    return DONE
