"""A further door station of a main one: it follows the main station and rings the same monitors."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Kind, Number, ResolvedLink, Test
from tutelar.core.links.kinds.monitor_at_station import ESCAPE, call_flows, listed_lines, main_number
from tutelar.core.links.needs import FOLLOWING, limit_of
from tutelar.core.links.partner_values import address_line, entry_key, port_lines, secret_line


def _stations(case: ResolvedLink) -> tuple[int, int | None]:
    first, last = limit_of(case.site, case.end, "stations")
    return first if first is not None else main_number(case) + 1, last


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    what, key = f"Main station: {case.to}", entry_key(case)
    for line in (*address_line(case, what, f"It registers with {case.to} there."), *port_lines(case, what)):
        yield EndValue("from", line)
    yield EndValue("from", Line(f"{key}-role", "Kind of station", "Further station", f"{case.to} is the main one."))
    if case.link.slot is not None:
        yield EndValue("from", Line(f"{key}-number", "Number of this station", str(case.link.slot), "Its own; not 0."))
    yield EndValue("from", secret_line(case, what, "registration"))
    yield from listed_lines(case, "Station")


KIND = Kind(
    key="further-station",
    word="extends",
    title="Further door station",
    says="{from} is a further station of {to}",
    group="Door calls",
    starts=frozenset({"door-station", "doorbell"}),
    ends=frozenset({"door-station", "doorbell", "call-server"}),
    needs=FOLLOWING,
    number=Number("station number", _stations),
    asks=("signalling", "signalling-tls"),
    values=_values,
    tests=(
        Test("call", "Test call", lambda case: f"{case.start.label} rings the monitors of {case.to}"),
        Test("unlock", "Unlocks", lambda case: f"a monitor opens the door of {case.start.label}, and it locks again"),
    ),
    renumbered="address of the main station",
    sends=call_flows,
    caution=ESCAPE,
    rank=20,
)
