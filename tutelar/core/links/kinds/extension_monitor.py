"""An extension of a master monitor in the same flat or office: it rings with it."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Kind, Number, ResolvedLink, Test
from tutelar.core.links.kinds.monitor_at_station import call_flows, listed_lines
from tutelar.core.links.needs import FOLLOWING, limit_of
from tutelar.core.links.partner_values import address_line, entry_key, port_lines, secret_line


def _extensions(case: ResolvedLink) -> tuple[int, int | None]:
    first, last = limit_of(case.site, case.end, "extensions")
    return first if first is not None else 1, last


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    what, key = f"Master monitor: {case.to}", entry_key(case)
    for line in (*address_line(case, what, f"It follows {case.to} there."), *port_lines(case, what)):
        yield EndValue("from", line)
    yield EndValue("from", Line(f"{key}-role", "Kind of monitor", "Extension", f"{case.to} is the master."))
    if case.link.slot is not None:
        yield EndValue(
            "from", Line(f"{key}-number", "Number of this extension", str(case.link.slot), "Its own; the master is 0.")
        )
    yield EndValue("from", secret_line(case, what, "registration"))
    yield from listed_lines(case, "Extension")


KIND = Kind(
    key="extension-monitor",
    word="extends",
    title="Extension of a master monitor",
    says="{from} is an extension of {to}",
    group="Door calls",
    starts=frozenset({"indoor-monitor"}),
    ends=frozenset({"indoor-monitor"}),
    needs=FOLLOWING,
    number=Number("extension number", _extensions),
    asks=("signalling", "signalling-tls"),
    values=_values,
    tests=(Test("call", "Test call", lambda case: f"a call to {case.to} rings on {case.start.label} too"),),
    renumbered="address of the main station",
    sends=call_flows,
)
