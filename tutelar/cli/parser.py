"""What can be typed: commands, their arguments, and the module that carries each of them out."""

import argparse
import os
import sys
from typing import NoReturn

from tutelar import VERSION
from tutelar.cli.outcome import UNREADABLE


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        self.exit(UNREADABLE, f"{self.prog}: {message}\n")


def _viewers(text: str) -> int:
    if not text.isascii() or not text.isdigit() or int(text) > 1_000:
        raise argparse.ArgumentTypeError(f"'{text}' is no number of people; a whole number up to 1000 is expected")
    return int(text)


class _Commands:
    """The commands that a parser knows."""

    def __init__(self, parser: argparse.ArgumentParser) -> None:
        self._commands = parser.add_subparsers(required=True, metavar="COMMAND")

    def add(self, name: str, command: str, about: str, *, site: bool = True) -> argparse.ArgumentParser:
        """Add a command that `command` ("module:function") carries out; with `site`, it reads a site file."""
        sub: argparse.ArgumentParser = self._commands.add_parser(name, help=about, description=about)
        sub.set_defaults(command=f"tutelar.cli.{command}")
        if site:
            sub.add_argument("site", metavar="SITE", help="site file, or - for standard input")
            sub.add_argument("--json", action="store_true", help="print one JSON document")
        return sub


def parser() -> argparse.ArgumentParser:
    """Return the parser of the whole command line; `command` of what it parses names who carries it out."""
    found = _Parser(prog="tutelar", description="Plans, guides, records and measures a security installation.")
    found.add_argument("--version", action="version", version=f"tutelar {VERSION}")
    commands = _Commands(found)
    _add_planning(commands)
    _add_running(commands)
    _add_proving(commands)
    _add_tools(commands)
    linking = commands.add("links", "links:links", "say how far every link is, and what is missing for it")
    linking.add_argument("--propose", action="store_true", help="tie what can be tied, and give every link its number")
    linking.add_argument("--csv", action="store_true", help="print the links as a table")
    linking.add_argument("-o", metavar="OUT", dest="out", help="write the site file with what was proposed")
    commands.add("recording", "loads:recording", "say what is recorded, how long it is kept, and which disks would")
    loading = commands.add("loads", "loads:loads", "say what is used of everything that has a limit")
    loading.add_argument("--viewers", type=_viewers, default=3, help="people who look from outside (default 3)")
    _add_access(commands)
    walking = commands.add("reach", "reaching:reach_command", "say whether an end reaches another, and where it stops")
    walking.add_argument("start", metavar="FROM", help="device, laptop@NETWORK or outside")
    walking.add_argument("goal", metavar="TO", help="device or outside")
    walking.add_argument("port", type=_port, metavar="PORT[/udp]", help="port, with /udp where it is not tcp")
    _add_diagnosing(commands)
    carding = commands.add("cards", "leaving:cards_command", "print the job cards: what is easily left out, and where")
    carding.add_argument("--device", metavar="KEY", help="of one device; 'site' for what is about the whole site")
    carding.add_argument("--phase", metavar="PART", help="of one part of the work, like mounting or leaving")
    carding.add_argument("--cards", metavar="FILE", dest="own", help="a firm's own cards (JSON)")
    commands.add("loose-ends", "leaving:loose_ends_command", "say what is still open before the site is left")
    leaving = commands.add("handover", "leaving:handover_command", "write the pack that is left behind")
    leaving.add_argument("-o", metavar="FOLDER", dest="out", required=True, help="folder, or NAME.zip for one file")
    changing = commands.add("change", "later:change_command", "say what is done when a device changes, in a safe order")
    changing.add_argument("kind", metavar="KIND", help="replace, add, wifi, retire, reset or take-over")
    changing.add_argument("device", metavar="DEVICE", nargs="?", help="the device that changes")
    commands.add("diary", "later:diary_command", "say what comes due within three years")
    showing = commands.add("footage", "later:footage_command", "say when a recording was really made")
    showing.add_argument("device", metavar="DEVICE", help="whose clock the picture or time line shows")
    showing.add_argument("shown", metavar="SHOWN", help="the time that it shows, like 2027-07-10T14:10")
    commands.add("schema", "planning:schema", "print the JSON Schema of site files", site=False)
    serving = commands.add("serve", "parser:serve", "serve the web application on this machine", site=False)
    serving.add_argument("--port", type=int, default=8000, help="port on 127.0.0.1 (default 8000)")
    serving.add_argument("--lan", action="store_true", help="let phones in the same network in as well")
    serving.add_argument("--live", action="store_true", help="let real devices be measured")
    serving.add_argument("--plain", action="store_true", help="unencrypted even so: behind a proxy that encrypts")
    serving.add_argument("--demo", action="store_true", help="load the demo site and print a login")
    serving.add_argument("--processes", default="1", metavar="N", help="so many serve (needs PostgreSQL)")
    serving.add_argument("--workers", default="1", metavar="N", help="so many carry out long jobs")
    for what, says in (
        ("backup", "write a backup of the data folder, while it is served"),
        ("restore", "put one back"),
    ):
        keeping = commands.add(what, "parser:keep", says, site=False)
        keeping.set_defaults(what=what)
        keeping.add_argument("file", metavar="FILE", help="the backup; sealed where TUTELAR_BACKUP_PASSPHRASE is set")
    for what, says in (
        ("archive", "write every site, its log and its photographs into one file of open formats"),
        ("unpack", "bring such a file into an installation that has no site yet"),
        ("move", "move the rows of a tutelar.sqlite3 into the PostgreSQL database of TUTELAR_DATABASE_URL"),
    ):
        leaving = commands.add(what, "parser:pack_up", says, site=False)
        leaving.set_defaults(what=what)
        leaving.add_argument("file", metavar="FILE")
    return found


def _add_planning(commands: _Commands) -> None:
    commands.add("check", "planning:check_command", "say everything that is wrong with a site file")
    planning = commands.add("plan", "planning:plan_command", "give every device an address")
    planning.add_argument("-o", metavar="OUT", dest="out", help="write the site file with the addresses filled in")
    moving = commands.add(
        "renumber",
        "planning:renumber_command",
        "move a network to another range and list every setting that must follow",
    )
    moving.add_argument("--network", required=True, metavar="KEY", help="the network that moves")
    moving.add_argument("--to", required=True, metavar="CIDR", help="its new range")
    moving.add_argument("--gateway", metavar="ADDRESS", help="its new gateway (default: moved by the same offset)")
    moving.add_argument("-o", metavar="OUT", dest="out", help="write the site file with the new addresses")
    reaching = commands.add("contact", "planning:contact_command", "say how a device is reached out of the box")
    reaching.add_argument("device", metavar="DEVICE", help="key of the device")
    reaching.add_argument("--laptop", choices=["windows", "macos", "linux"], default="linux", help="whose commands")


def _add_running(commands: _Commands) -> None:
    running = commands.add("run", "running:run_command", "put the bench work into order, with the values to type")
    running.add_argument("--hands", type=_hands, default=1, metavar="N", help="technicians at the bench (default 1)")
    running.add_argument(
        "--limit", type=_limit, metavar="SECONDS", help="search for about so long; the same limit gives the same run"
    )
    running.add_argument("--seed", type=int, default=1, metavar="N", help="another number searches elsewhere")
    rehearsing = commands.add(
        "rehearse", "running:rehearse_command", "play the run on a pretend bench and say where it would fail"
    )
    rehearsing.add_argument("--hands", type=_hands, default=1, metavar="N", help="technicians at the bench (default 1)")
    rehearsing.add_argument(
        "--speed", type=_limit, metavar="TIMES", help="watch it so many times as fast as it would go (default: at once)"
    )


def _add_proving(commands: _Commands) -> None:
    pretending = commands.add("standin", "proving:standin", "run the pretend site on loopback until stopped")
    pretending.add_argument("--faults", metavar="FILE", help="faults to play")
    proving = commands.add("prove", "proving:prove", "measure every device")
    proving.add_argument("--stand-in", action="store_true", help="measure the pretend site on loopback")
    proving.add_argument("--faults", metavar="FILE", help="faults for the stand-in to play")
    proving.add_argument("--evidence", action="store_true", help="with --json: also what came over the wire")
    proving.add_argument("--authorised", action="store_true", help="you are authorised to test the site's networks")
    searching = commands.add("search", "proving:search", "ask who is there over the shared device interface")
    searching.add_argument("--stand-in", action="store_true", help="search the pretend site on loopback")
    searching.add_argument("--faults", metavar="FILE", help="faults for the stand-in to play")
    searching.add_argument("--authorised", action="store_true", help="you are authorised to test the site's networks")


def _add_tools(commands: _Commands) -> None:
    ruling = commands.add("clock", "tools:clock", "say how a zone's clocks are set on a device", site=False)
    ruling.add_argument("zone", metavar="ZONE", help="name in the time-zone database, e.g. Europe/Dublin")
    ruling.add_argument("--from", type=_year, dest="first", metavar="YEAR", help="first year (default: this year)")
    ruling.add_argument("--years", type=_years, default=10, metavar="N", help="how many years (default 10)")
    telling = commands.add(
        "difference", "tools:difference_command", "say what is wrong with a clock from what it shows", site=False
    )
    telling.add_argument("shown", metavar="SHOWN", help="what the device shows")
    telling.add_argument("reference", metavar="REFERENCE", help="what a trusted clock shows")
    telling.add_argument("--zone", required=True, metavar="Z", help="time zone of the site")
    telling.add_argument("--date-order", choices=["DMY", "MDY", "YMD"], default="YMD", help="order of dates")
    pressing = commands.add(
        "keypad", "tools:keypad_command", "say which keys type a text on a telephone-style keypad", site=False
    )
    pressing.add_argument("text", metavar="TEXT", help="the text")
    pressing.add_argument("--layout", default="telephone", help='telephone, digits, or JSON: {"2": "abc2"}')
    for one in (ruling, telling, pressing):
        one.add_argument("--json", action="store_true", help="print one JSON document")
    sharing = commands.add("password", "tools:password", "make or check a password that these devices share")
    sharing.add_argument("devices", metavar="DEVICE", nargs="+", help="keys of the devices")
    sharing.add_argument("--check", action="store_true", help="check the candidate on standard input instead")


def _add_access(commands: _Commands) -> None:
    asking = commands.add("may", "access:may_command", "say whether a person may open a door, and by which rule")
    asking.add_argument("person", metavar="PERSON", help="key of the person")
    asking.add_argument("door", metavar="DOOR", help="key of the door")
    asking.add_argument("when", metavar="WHEN", help="day and time at the site, like 2027-03-17T17:45")
    coding = commands.add("card", "access:card_command", "turn a card's number into bits, or bits into it", site=False)
    coding.add_argument("format", metavar="FORMAT", help="w26, or a format of the site file")
    coding.add_argument("--facility", type=_card_number, metavar="N", help="facility code")
    coding.add_argument("--number", type=_card_number, metavar="N", help="card number")
    coding.add_argument("--bits", metavar="TEXT", help="bits to be read, the first one first")
    coding.add_argument("--site", metavar="SITE", help="site file with formats of its own")
    coding.add_argument("--json", action="store_true", help="print one JSON document")


def _add_diagnosing(commands: _Commands) -> None:
    asking = commands.add("diagnose", "diagnosing:diagnose_command", "name the likely causes of what was seen")
    asking.add_argument("observations", metavar="OBSERVATIONS", help="file with what was seen")
    looking = commands.add("observe", "diagnosing:observe_command", "say what a check shows at the pretend site")
    looking.add_argument("check", metavar="CHECK", help="answers, light, power, …")
    looking.add_argument("at", metavar="AT", help="key of the device")
    looking.add_argument("--faults", metavar="FILE", help="faults for the pretend site to play")


def _port(text: str) -> tuple[int, str]:
    number, _, protocol = text.partition("/")
    fits = number.isascii() and number.isdigit() and len(number) < 6 and 1 <= int(number) <= 65_535
    if not fits or protocol not in ("", "tcp", "udp"):
        raise argparse.ArgumentTypeError(f"'{text}' is no port; a number from 1 to 65535 is expected, or like 5060/udp")
    return int(number), protocol or "tcp"


def _card_number(text: str) -> int:
    if not text.isascii() or not text.isdigit() or len(text) > 80:
        raise argparse.ArgumentTypeError(f"'{text}' is no card number; digits are expected")
    return int(text)


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


def _year(text: str) -> int:
    if not text.isdecimal() or not 1900 <= int(text) <= 2200:
        raise argparse.ArgumentTypeError(f"'{text}' is not a year; 1900 to 2200 is expected")
    return int(text)


def _years(text: str) -> int:
    if not text.isdecimal() or not 1 <= int(text) <= 200:
        raise argparse.ArgumentTypeError(f"'{text}' is not a number of years; 1 to 200 is expected")
    return int(text)


def serve(options: argparse.Namespace) -> int:
    """Hand over to the server in a process of its own: the command line stays free of it."""
    more = [f"--{flag}" for flag in ("demo", "lan", "live", "plain") if getattr(options, flag)]
    more += ["--processes", options.processes, "--workers", options.workers]
    os.execv(sys.executable, [sys.executable, "-m", "tutelar.server", "--port", str(options.port), *more])  # noqa: S606


def pack_up(options: argparse.Namespace) -> int:
    """Hand over to the server's archives in a process of their own."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "tutelar.server.settings"
    os.execv(sys.executable, [sys.executable, "-m", "django", options.what, options.file])  # noqa: S606


def keep(options: argparse.Namespace) -> int:
    """Hand over to the server's backups in a process of their own."""
    command = [sys.executable, "-m", "tutelar.server.backup", options.what, options.file]
    os.execv(sys.executable, command)  # noqa: S606
