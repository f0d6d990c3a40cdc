"""A station that calls another one straight, without a server."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Kind, Number, ResolvedLink, Test
from tutelar.core.links.kinds.monitor_at_station import call_flows
from tutelar.core.links.needs import address, limit_of, number, port, route, set_up
from tutelar.core.links.partner_values import address_line, entry_key, port_lines
from tutelar.core.links.reached import reached


def _numbers(case: ResolvedLink) -> tuple[int, int | None]:
    first, last = limit_of(case.site, case.end, "calls")
    return first if first is not None else 1, last


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    what = f"Calls: {case.to}"
    for line in (*address_line(case, what, f"It calls {case.to} there, without a server."), *port_lines(case, what)):
        yield EndValue("from", line)
    if case.link.slot is not None:
        yield EndValue(
            "from", Line(f"{entry_key(case)}-number", "Call number", str(case.link.slot), "What is dialled.")
        )
    if at := case.address(case.start):
        yield EndValue(
            "to", Line(f"caller-{case.start.key}", f"Call from {case.start.label}", at, "Whom it lets through.")
        )


KIND = Kind(
    key="peer-call",
    word="calls",
    title="Call from one to another",
    says="{from} calls {to}",
    group="Door calls",
    starts=frozenset({"door-station", "doorbell", "indoor-monitor", "call-server", "panel", "alarm-hub", "other"}),
    ends=frozenset({"door-station", "doorbell", "indoor-monitor", "other"}),
    needs=(route, reached, address, set_up, port, number),
    number=Number("call number", _numbers, required=False),
    asks=("signalling", "signalling-tls"),
    values=_values,
    tests=(Test("call", "Test call", lambda case: f"{case.start.label} calls, {case.to} answers, both are heard"),),
    renumbered="address of the called station",
    sends=call_flows,
    rank=20,
)
