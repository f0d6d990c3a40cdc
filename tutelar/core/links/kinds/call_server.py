"""A station or a monitor at a call server: its extension, its account, its registration."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Gap, Kind, Need, Number, ResolvedLink, Test
from tutelar.core.links.kinds.monitor_at_station import call_flows
from tutelar.core.links.needs import address, limit_of, number, port, registration, route, set_up
from tutelar.core.links.outward import outbound, where_outside
from tutelar.core.links.partner_values import address_line, entry_key, port_lines, secret_line
from tutelar.core.links.reached import reached
from tutelar.core.wording import count


def _extensions(case: ResolvedLink) -> tuple[int, int | None]:
    first, last = limit_of(case.site, case.end, "extensions")
    return first if first is not None else 1, last


def _registrations(case: ResolvedLink) -> Gap | None:
    """A server counts registrations and lines; those who share an account share a line."""
    model = case.site.model_of(case.end) if case.end else None
    capacity = model.capacity if model else None
    if capacity is None:
        return None
    links = case.known.tied_to.get((case.link.to, "calls"), [])
    at = links.index(case.link)
    if capacity.stations is not None and at >= capacity.stations:
        said = f"{len(links)} registrations wanted, {case.to} takes {capacity.stations}"
        return Gap("registrations", said, never=True, nearest="Call some of them peer to peer, or add a licence")
    accounts = list(dict.fromkeys(account_of(link.account, link.slot) for link in links))
    own = accounts.index(account_of(case.link.account, case.link.slot))
    if capacity.lines is not None and own >= capacity.lines:
        said = f"{len(accounts)} accounts wanted, {case.to} has {count(capacity.lines, 'line')}"
        return Gap("registrations", said, never=True, nearest="Let some of them share an account")
    return None


def account_of(account: str | None, slot: int | None) -> str:
    """Return the account of a registration: its own, or its extension."""
    return account or (str(slot) if slot is not None else "")


def _registrations_met(case: ResolvedLink) -> str:
    links = case.known.tied_to.get((case.link.to, "calls"), [])
    lines = len({account_of(link.account, link.slot) for link in links})
    return f"{count(len(links), 'registration')} on {count(lines, 'line')} at {case.to}"


registrations = Need("registrations", _registrations_met, _registrations)


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    what, key = f"Call server: {case.to}", entry_key(case)
    for line in (*address_line(case, what, "Where it registers."), *port_lines(case, what)):
        yield EndValue("from", line)
    account = account_of(case.link.account, case.link.slot)
    if account:
        yield EndValue("from", Line(f"{key}-account", "Account", account, "What it registers as."))
        yield EndValue(
            "to",
            Line(
                f"listed-calls-{case.start.key}",
                f"Account {account}",
                case.start.label,
                "The server lists whoever may register.",
            ),
        )
    if case.link.slot is not None:
        yield EndValue("from", Line(f"{key}-extension", "Extension", str(case.link.slot), "What others dial."))
    yield EndValue(
        "from", Line(f"{key}-transport", "Transport", "UDP", "The usual one; TLS where the server wants it.")
    )
    if case.end is not None:
        yield EndValue("from", secret_line(case, what, "registration"))


KIND = Kind(
    key="station-to-call-server",
    word="calls",
    title="Station at a call server",
    says="{from} calls through {to}",
    group="Door calls",
    starts=frozenset({"door-station", "doorbell", "indoor-monitor", "call-server", "panel", "alarm-hub", "other"}),
    ends=frozenset({"call-server"}),
    outside=frozenset({"call-server"}),
    needs=(where_outside, outbound, route, reached, address, set_up, port, registration, registrations, number),
    number=Number("extension", _extensions),
    asks=("signalling", "signalling-tls"),
    values=_values,
    tests=(
        Test("registered", "Registered", lambda case: f"{case.to} lists extension {case.link.slot} as registered"),
        Test("call", "Test call", lambda case: f"a call of {case.start.label} is answered on a telephone, both heard"),
    ),
    renumbered="address of the called station",
    sends=call_flows,
    rank=10,
)
