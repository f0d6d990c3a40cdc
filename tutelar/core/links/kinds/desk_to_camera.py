"""A joystick desk that moves a camera itself."""

from collections.abc import Iterator

from tutelar.core.links.base import EndValue, Gap, Kind, Need, Number, ResolvedLink, Sent, Test
from tutelar.core.links.needs import address, login, logins, number, port, route, set_up
from tutelar.core.links.partner_values import address_line, login_lines, own_account, port_lines
from tutelar.core.links.reached import reached
from tutelar.core.links.room import shorts


def _own_short(case: ResolvedLink) -> Gap | None:
    """A short number stands for one target of a desk."""
    mine = case.known.tied_from.get((case.start.key, "steers"), [])
    first = next((link for link in mine if link.slot == case.link.slot and link.slot is not None), None)
    if first is None or first is case.link:
        return None
    other = case.site.label_of(first.to)
    return Gap(
        "short-number",
        f"{case.start.label} reaches {other} by short number {case.link.slot}",
        never=True,
        nearest="Choose a short number that is free on the desk",
    )


own_short = Need("short-number", lambda case: f"Short number {case.link.slot} means one target", _own_short)


def values(case: ResolvedLink) -> Iterator[EndValue]:
    """Yield what is typed into the desk, and the account on what it steers."""
    slot = f" {case.link.slot}" if case.link.slot is not None else ""
    what = f"Short number{slot}: {case.to}"
    for line in address_line(case, what, f"It steers {case.to} there."):
        yield EndValue("from", line)
    for line in (*port_lines(case, what), *login_lines(case, what)):
        yield EndValue("from", line)
    for line in own_account(case):
        yield EndValue("to", line, elsewhere=True)


def sends(case: ResolvedLink) -> Iterator[Sent]:
    """Yield the control flow; a camera behind a recorder is steered through that recorder."""
    site, end = case.site, case.end
    if end is None:
        return
    through = site.device_by_key.get(end.behind) if end.behind else end
    services = site.services_of(through) if through else {}
    target = through.key if through else end.key
    yield Sent(case.start.key, target, "tcp", services.get("control", services.get("web")), "moves cameras")


KIND = Kind(
    key="desk-to-camera",
    word="steers",
    title="Desk to camera",
    says="{from} steers {to}",
    group="Desks",
    starts=frozenset({"joystick-desk"}),
    ends=frozenset({"camera", "encoder", "doorbell", "door-station"}),
    needs=(route, reached, address, set_up, port, login, logins, number, own_short),
    number=Number("short number", shorts),
    asks=("control", "web"),
    logs_in="steers",
    values=values,
    tests=(
        Test("moves", "Moves", lambda case: f"{case.to} moves with the stick of {case.start.label} and stops with it"),
    ),
    renumbered="address of the target with the short number {slot}",
    sends=sends,
    expected=frozenset({"joystick-desk"}),
    rank=10,
)
