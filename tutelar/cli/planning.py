"""The commands about a site file and its addresses: check, plan, renumber, contact."""

import argparse

from tutelar.cli.outcome import DONE, Unreadable
from tutelar.cli.shared import device_of, print_json, print_problems, read_the_site, status_of, write_the_site
from tutelar.core.addressing import Plan
from tutelar.core.check import check
from tutelar.core.contact import contact
from tutelar.core.planning import plan
from tutelar.core.planning.renumber import renumber
from tutelar.core.site import Site, with_addresses
from tutelar.core.site.values import as_address, as_network
from tutelar.core.wording import count


def check_command(options: argparse.Namespace) -> int:
    """Say everything that is wrong with a site file."""
    problems = check(read_the_site(options.site))
    if options.json:
        print_json({"problems": [item.as_dict() for item in problems]})
    else:
        print_problems(problems)
        print("Nothing is wrong." if not problems else f"{count(len(problems), 'problem')}.")
    return status_of(problems)


def plan_command(options: argparse.Namespace) -> int:
    """Give every device an address."""
    site = read_the_site(options.site)
    planned = plan(site)
    write_the_site(options.out, with_addresses(site, planned.addresses()))
    if options.json:
        print_json(planned.as_dict())
    else:
        _print_plan(site, planned)
    return status_of(planned.problems)


def _print_plan(site: Site, planned: Plan) -> None:
    for item in planned.assignments:
        print(f"{item.address:15}/{item.prefix:<2} {site.label_of(item.device):28} {item.why}")
    for row in planned.networks:
        print(f"{row['key']}: {row['fixed_wanted']} wanted, {row['fixed_free']} free of {row['usable']}.")
    print_problems(planned.problems)


def renumber_command(options: argparse.Namespace) -> int:
    """Move a network to another range."""
    site = read_the_site(options.site)
    network = site.network_by_key.get(options.network)
    if network is None:
        known = ", ".join(site.network_by_key) or "none"
        raise Unreadable([f"The site has no network '{options.network}'; it has {known}."])
    try:
        to = as_network(options.to)
        gateway = as_address(options.gateway) if options.gateway else None
    except ValueError as error:
        raise Unreadable([f"{error}."]) from None
    result = renumber(site, network, to, gateway)
    write_the_site(options.out, with_addresses(result.site, result.plan.addresses()))
    if options.json:
        print_json(result.as_dict())
    else:
        _print_plan(result.site, result.plan)
        for number, item in enumerate(result.partners, 1):
            after = f", after {', '.join(site.label_of(key) for key in item.after)} moved" if item.after else ""
            print(f"{number}. {site.label_of(item.device)}: {item.setting}: {item.old} → {item.new}{after}.")
    return status_of(result.plan.problems)


def contact_command(options: argparse.Namespace) -> int:
    """Say how a device is reached out of the box."""
    site = read_the_site(options.site)
    found = contact(site, device_of(site, options.device), options.laptop)
    if options.json:
        print_json(found.as_dict())
        return DONE
    for number, step in enumerate(found.steps, 1):
        print(f"{number}. {step}")
    for title, commands in (("To set the laptop", found.set_commands), ("To set it back", found.back_commands)):
        for command in commands:
            print(f"{title}: {command}")
    return DONE


def schema(_: argparse.Namespace) -> int:
    """Print the JSON Schema of site files."""
    from tutelar.core.site.schema import schema_text  # noqa: PLC0415 - slow, and nothing else needs it

    print(schema_text(), end="")
    return DONE
