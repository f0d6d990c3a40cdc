"""A camera's or a station's picture on a tile of a monitor or a program."""

from collections.abc import Iterator

from tutelar.core.links.base import EndValue, Kind, Number, ResolvedLink, Sent, Test
from tutelar.core.links.needs import address, limit_of, login, logins, number, port, route, set_up
from tutelar.core.links.partner_values import address_line, login_lines, own_account, port_lines
from tutelar.core.links.reached import reached


def _tiles(case: ResolvedLink) -> tuple[int, int | None]:
    first, last = limit_of(case.site, case.end, "tiles")
    return first if first is not None else 1, last


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    what = f"Tile{'' if case.link.slot is None else f' {case.link.slot}'}: {case.start.label}{case.channel}"
    for line in address_line(case, what, f"It shows {case.start.label} there."):
        yield EndValue("to", line)
    for line in (*port_lines(case, what), *login_lines(case, what)):
        yield EndValue("to", line)
    for line in own_account(case):
        yield EndValue("from", line, elsewhere=True)


def _sends(case: ResolvedLink) -> Iterator[Sent]:
    if case.end is not None and case.start.behind is None:
        stream = case.site.services_of(case.start).get("stream")
        yield Sent(case.end.key, case.start.key, "tcp", stream, "fetches pictures")


KIND = Kind(
    key="picture-on-monitor",
    word="shows-on",
    title="Picture on a monitor",
    says="{from} is shown on {to}",
    group="Recording",
    starts=frozenset({"camera", "encoder", "recorder", "software-recorder", "door-station", "doorbell"}),
    ends=None,
    outside=frozenset({"management"}),
    needs=(route, reached, address, set_up, port, login, logins, number),
    number=Number("tile", _tiles, required=False),
    holder="to",
    asks=("stream",),
    logs_in="shows the picture of",
    values=_values,
    tests=(Test("live", "Shows live", lambda case: f"a moving picture of {case.start.label} on {case.to}"),),
    renumbered="address of the camera",
    sends=_sends,
)
