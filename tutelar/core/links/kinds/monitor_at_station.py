"""An indoor monitor at its main door station: the monitor knows the station, the station lists the monitor."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Gap, Kind, Need, Number, ResolvedLink, Sent, Test
from tutelar.core.links.needs import (
    address,
    hardware,
    limit_of,
    number,
    one_network,
    port,
    registration,
    set_up,
    supply,
)
from tutelar.core.links.partner_values import address_line, entry_key, port_lines, secret_line
from tutelar.core.links.reached import reached
from tutelar.core.wording import count, listed

ESCAPE = (
    "Escape doors must open from inside without power, credential or network: fire code and licensed people decide."
)


def main_number(case: ResolvedLink) -> int:
    """Return the number of a main station: 0, or 1 where its model begins there."""
    _, last = limit_of(case.site, case.end, "main")
    return last if last is not None else 0


def _monitors(case: ResolvedLink) -> tuple[int, int | None]:
    first, last = limit_of(case.site, case.end, "monitors")
    return first if first is not None else 1, last


def _stations(case: ResolvedLink) -> Gap | None:
    """A monitor knows as many main stations as its model takes."""
    model = case.site.model_of(case.start)
    most = model.capacity.stations if model and model.capacity else None
    links = case.known.tied_from.get((case.start.key, "registers-at"), [])
    at = links.index(case.link) if case.link in links else 0
    if at == 0 or (most is not None and at < most):
        return None
    before = listed([case.site.label_of(link.to) for link in links[:at]])
    nearest = f"Make {case.to} a further station of {case.site.label_of(links[0].to)}"
    if most is None:
        said = f"it is registered at {before} already; whether its model takes a second main station is not known"
        return Gap("stations", said, "kit", nearest=nearest)
    said = f"{case.start.label} takes {count(most, 'station')} and is registered at {before}"
    return Gap("stations", said, never=True, nearest=nearest)


def _stations_met(case: ResolvedLink) -> str:
    model = case.site.model_of(case.start)
    most = model.capacity.stations if model and model.capacity else None
    used = len(case.known.tied_from.get((case.start.key, "registers-at"), []))
    return f"{used} of {count(most, 'main station')} that it takes" if most is not None else "Its one main station"


stations = Need("stations", _stations_met, _stations)


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    for line in (
        *address_line(case, f"Main station: {case.to}", f"It registers with {case.to} there."),
        *port_lines(case, f"Main station: {case.to}"),
    ):
        yield EndValue("from", line)
    key = entry_key(case)
    yield EndValue(
        "from",
        Line(
            f"{key}-main",
            f"Number of {case.to}",
            str(main_number(case)),
            "A main station is number 0, on some makes 1.",
        ),
    )
    yield from numbers_lines(case, "from", "Number of this monitor")
    yield EndValue("from", secret_line(case, f"Main station: {case.to}", "registration"))
    yield from listed_lines(case, "Monitor")


def numbers_lines(case: ResolvedLink, end: str, label: str) -> Iterator[EndValue]:
    """Yield the number of the one that registers, and where it stands in the house."""
    key, own = entry_key(case), case.start.numbers
    if case.link.slot is not None:
        yield EndValue("from", Line(f"{key}-number", label, str(case.link.slot), f"Its own number at {case.to}."))
    for name in ("building", "floor", "unit"):
        value = getattr(own, name) if own else None
        if value is not None:
            yield EndValue(
                "from", Line(f"{key}-{name}", name.capitalize(), str(value), "Where the call is dialled to.")
            )


def listed_lines(case: ResolvedLink, word: str) -> Iterator[EndValue]:
    """Yield what the target lists of the one that registers: number and serial."""
    key = f"listed-{case.link.kind}-{case.start.key}"
    which = f"{word} {case.link.slot if case.link.slot is not None else 'without a number'}"
    yield EndValue(
        "to",
        Line(
            key,
            f"{which}: {case.start.label}",
            case.start.serial or case.start.mac or "not read yet",
            f"{case.to} lists whoever may register.",
        ),
    )


def call_flows(case: ResolvedLink) -> Iterator[Sent]:
    """Yield what door calls send: signalling, media and the door's picture."""
    site, start, end = case.site, case.start, case.end
    target = site.services_of(end) if end else {}
    own = site.services_of(start)
    why = "door calls, both ways"
    yield Sent(start.key, case.link.to, "udp", target.get("signalling") or own.get("signalling"), why)
    if (media := target.get("media") or own.get("media")) is not None:
        yield Sent(start.key, case.link.to, "udp", media, why)
    if end is not None and (stream := target.get("stream")) is not None:
        yield Sent(start.key, case.link.to, "tcp", stream, "shows the door's picture")


CALL_TESTS = (
    Test("call", "Test call", lambda case: f"{case.to} calls, {case.start.label} rings and answers"),
    Test("picture", "Picture", lambda case: f"the picture of {case.to} on {case.start.label}"),
    Test("sound", "Sound both ways", lambda case: f"both ends hear each other, {case.start.label} and {case.to}"),
    Test("unlock", "Unlocks", lambda case: f"{case.start.label} opens the door of {case.to}, and it locks again"),
)

KIND = Kind(
    key="monitor-at-station",
    word="registers-at",
    title="Monitor at its main station",
    says="{from} registers at {to}",
    group="Door calls",
    starts=frozenset({"indoor-monitor", "door-station", "doorbell", "call-server", "other"}),
    ends=frozenset({"door-station", "doorbell", "indoor-monitor", "call-server"}),
    needs=(one_network, reached, address, set_up, port, registration, stations, number, hardware, supply),
    number=Number("monitor number", _monitors),
    asks=("signalling", "signalling-tls"),
    values=_values,
    tests=CALL_TESTS,
    renumbered="address of the main station",
    sends=call_flows,
    caution=ESCAPE,
    expected=frozenset({"indoor-monitor"}),
    rank=30,
)
