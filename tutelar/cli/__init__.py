"""The command line: each command reads one site file and prints for people, or one JSON document with --json."""

import argparse
import os
import sys
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Any, NoReturn

from tutelar.cli.links import add_link_command
from tutelar.cli.proving import add_proving_commands
from tutelar.cli.shared import (
    DONE,
    PROBLEMS,
    UNREADABLE,
    Unreadable,
    print_json,
    print_problems,
    read_the_site,
    status_of,
)
from tutelar.cli.typed import add_typed_commands
from tutelar.core.addressing import Plan, plan
from tutelar.core.addressing.renumber import renumber
from tutelar.core.check import check
from tutelar.core.contact import contact
from tutelar.core.run import PIECES_A_SECOND, run, said
from tutelar.core.run.steps import Step
from tutelar.core.site import Site, with_addresses, write_site
from tutelar.core.site.values import as_address, as_network
from tutelar.core.wording import count
from tutelar.field.guard import Refused
from tutelar.standin.loopback import NoRoomError
from tutelar.standin.rehearsal import rehearse
from tutelar.standin.site import CannotListen


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command and return its exit status: 0 done, 1 with error-level problems, 2 unreadable input."""
    options = _parser().parse_args(arguments)
    try:
        status: int = options.command(options)
        sys.stdout.flush()
    except Unreadable as error:
        for line in error.lines:
            print(line, file=sys.stderr)
        return UNREADABLE
    except (Refused, CannotListen, NoRoomError) as error:
        print(error, file=sys.stderr)
        return UNREADABLE
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())  # whoever read our output has left
        return DONE
    return status


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        self.exit(UNREADABLE, f"{self.prog}: {message}\n")


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="tutelar", description="Plans, guides, records and measures a security installation.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    def add(name: str, command: Any, about: str, *, site: bool = True) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=about, description=about)
        sub.set_defaults(command=command)
        if site:
            sub.add_argument("site", metavar="SITE", help="site file, or - for standard input")
            sub.add_argument("--json", action="store_true", help="print one JSON document")
        return sub

    add("check", _check, "say everything that is wrong with a site file")
    planning = add("plan", _plan, "give every device an address")
    planning.add_argument("-o", metavar="OUT", dest="out", help="write the site file with the addresses filled in")
    moving = add("renumber", _renumber, "move a network to another range and list every setting that must follow")
    moving.add_argument("--network", required=True, metavar="KEY", help="the network that moves")
    moving.add_argument("--to", required=True, metavar="CIDR", help="its new range")
    moving.add_argument("--gateway", metavar="ADDRESS", help="its new gateway (default: moved by the same offset)")
    moving.add_argument("-o", metavar="OUT", dest="out", help="write the site file with the new addresses")
    running = add("run", _run, "put the bench work into order, with the values to type")
    running.add_argument("--hands", type=_hands, default=1, metavar="N", help="technicians at the bench (default 1)")
    running.add_argument(
        "--limit", type=_limit, metavar="SECONDS", help="search for about so long; the same limit gives the same run"
    )
    running.add_argument("--seed", type=int, default=1, metavar="N", help="another number searches elsewhere")
    rehearsing = add("rehearse", _rehearse, "play the run on a pretend bench and say where it would fail")
    rehearsing.add_argument("--hands", type=_hands, default=1, metavar="N", help="technicians at the bench (default 1)")
    rehearsing.add_argument(
        "--speed", type=_limit, metavar="TIMES", help="watch it so many times as fast as it would go (default: at once)"
    )
    reaching = add("contact", _contact, "say how a device is reached out of the box")
    reaching.add_argument("device", metavar="DEVICE", help="key of the device")
    reaching.add_argument("--laptop", choices=["windows", "macos", "linux"], default="linux", help="whose commands")
    add_proving_commands(add)
    add_typed_commands(add)
    add_link_command(add)
    add("schema", _schema, "print the JSON Schema of site files", site=False)
    serving = add("serve", _serve, "serve the web application on this machine", site=False)
    serving.add_argument("--port", type=int, default=8000, help="port on 127.0.0.1 (default 8000)")
    serving.add_argument("--lan", action="store_true", help="let phones in the same network in as well")
    serving.add_argument("--live", action="store_true", help="let real devices be measured")
    serving.add_argument("--demo", action="store_true", help="load the demo site and print a login")
    return parser


def _hands(text: str) -> int:
    if not text.isdecimal() or not 1 <= int(text) <= 100:
        raise argparse.ArgumentTypeError(f"'{text}' is not a number of technicians; 1 to 100 is expected")
    return int(text)


def _limit(text: str) -> float:
    try:
        seconds = float(text)
    except ValueError:
        seconds = 0
    if not 0 < seconds <= 36_000:
        raise argparse.ArgumentTypeError(f"'{text}' is out of range; a number above 0, up to 36000, is expected")
    return seconds


# --- commands ------------------------------------------------------------------------------------------------


def _check(options: argparse.Namespace) -> int:
    problems = check(read_the_site(options.site))
    if options.json:
        print_json({"problems": [item.as_dict() for item in problems]})
    else:
        print_problems(problems)
        print("Nothing is wrong." if not problems else f"{count(len(problems), 'problem')}.")
    return status_of(problems)


def _plan(options: argparse.Namespace) -> int:
    site = read_the_site(options.site)
    planned = plan(site)
    _write(options.out, site, planned)
    if options.json:
        print_json(planned.as_dict())
    else:
        _print_plan(site, planned)
    return status_of(planned.problems)


def _write(path: str | None, site: Site, planned: Plan) -> None:
    if path:
        try:
            Path(path).write_text(write_site(with_addresses(site, planned.addresses())), encoding="utf-8")
        except OSError as error:
            raise Unreadable([f"{path}: cannot be written: {error.strerror}."]) from None


def _print_plan(site: Site, planned: Plan) -> None:
    for item in planned.assignments:
        print(f"{item.address:15}/{item.prefix:<2} {site.label_of(item.device):28} {item.why}")
    for row in planned.networks:
        print(f"{row['key']}: {row['fixed_wanted']} wanted, {row['fixed_free']} free of {row['usable']}.")
    print_problems(planned.problems)


def _renumber(options: argparse.Namespace) -> int:
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
    _write(options.out, result.site, result.plan)
    if options.json:
        print_json(result.as_dict())
    else:
        _print_plan(result.site, result.plan)
        for number, item in enumerate(result.partners, 1):
            after = f", after {', '.join(site.label_of(key) for key in item.after)} moved" if item.after else ""
            print(f"{number}. {site.label_of(item.device)}: {item.setting}: {item.old} → {item.new}{after}.")
    return status_of(result.plan.problems)


def _run(options: argparse.Namespace) -> int:
    effort = options.limit and round(options.limit * PIECES_A_SECOND)
    result = run(read_the_site(options.site), options.hands, effort, options.seed)
    if options.json:
        print_json(result.as_dict())
    else:
        for step in result.steps:
            print(_step_line(step))
        print(f"{count(len(result.steps), 'step')}. {said(result)}")
        print_problems(result.problems)
    return status_of(result.problems)


def _rehearse(options: argparse.Namespace) -> int:
    site = read_the_site(options.site)
    addresses, planned = plan(site), run(site, options.hands)
    found, clock = [], 0.0
    for played in rehearse(site, addresses, planned):
        if options.speed:
            time.sleep(max(0.0, played.at_s - clock) / options.speed)
            clock = played.at_s
        found.append(played)
        if not options.json:
            print(f"{played.at_s / 60:7.1f} min  {played.step.title}", flush=True)
            if played.fault:
                print(f"              fails: {played.fault}", flush=True)
    faults = [item for item in found if item.fault]
    if options.json:
        steps = [{"at_s": item.at_s, "step": item.step.id, "fault": item.fault} for item in found]
        print_json({"total_s": planned.total_s, "steps": steps, "faults": len(faults)})
    else:
        print(f"{count(len(found), 'step')} played, {count(len(faults), 'fault')}. {said(planned)}")
    return PROBLEMS if faults else DONE


def _contact(options: argparse.Namespace) -> int:
    site = read_the_site(options.site)
    device = site.device_by_key.get(options.device)
    if device is None:
        raise Unreadable([f"The site has no device '{options.device}'."])
    found = contact(site, device, options.laptop)
    if options.json:
        print_json(found.as_dict())
        return DONE
    for number, step in enumerate(found.steps, 1):
        print(f"{number}. {step}")
    for title, commands in (("To set the laptop", found.set_commands), ("To set it back", found.back_commands)):
        for command in commands:
            print(f"{title}: {command}")
    return DONE


def _step_line(step: Step) -> str:
    values = "  ".join(f"{item.label}: {item.value}" for item in step.values if not item.secret)
    who = f"hand {step.hand}" if step.hands else "alone"
    return f"{step.start_s / 60:7.1f} min  {who:7} {step.title}" + (f"\n{'':22}{values}" if values else "")


def _schema(_: argparse.Namespace) -> int:
    from tutelar.core.site.schema import schema_text  # noqa: PLC0415

    print(schema_text(), end="")
    return DONE


def _serve(options: argparse.Namespace) -> int:
    """Hand over to the server in a process of its own: the command line stays free of it."""
    more = [flag for flag, on in (("--demo", options.demo), ("--lan", options.lan), ("--live", options.live)) if on]
    os.execv(sys.executable, [sys.executable, "-m", "tutelar.server", "--port", str(options.port), *more])  # noqa: S606
