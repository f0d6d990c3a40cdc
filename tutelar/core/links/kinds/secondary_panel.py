"""A panel that follows a primary one: the secondary names its primary."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Kind, Number, ResolvedLink, Test
from tutelar.core.links.kinds.management_program import sends
from tutelar.core.links.needs import address, followed, hardware, limit_of, login, number, route, set_up
from tutelar.core.links.partner_values import entry_key
from tutelar.core.links.reached import reached


def _panels(case: ResolvedLink) -> tuple[int, int | None]:
    first, last = limit_of(case.site, case.end, "panels")
    return first if first is not None else 2, last


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    key = entry_key(case)
    yield EndValue("from", Line(f"{key}-role", "Kind of panel", "Secondary", f"{case.to} is its primary."))
    if at := case.address(case.end):
        yield EndValue("from", Line(key, f"Primary: {case.to}", at, "Whom it follows."))
    identity = case.start.mac or case.start.serial
    if identity:
        which = f"Secondary {case.link.slot}" if case.link.slot is not None else "Secondary"
        yield EndValue(
            "to",
            Line(
                f"listed-manages-{case.start.key}",
                f"{which}: {case.start.label}",
                identity,
                "The primary registers it by this.",
            ),
        )


KIND = Kind(
    key="secondary-panel",
    word="manages",
    title="Secondary panel at its primary",
    says="{from} follows the primary panel {to}",
    group="Doors",
    starts=frozenset({"panel"}),
    ends=frozenset({"panel"}),
    needs=(followed, route, reached, address, set_up, login, number, hardware),
    number=Number("panel number", _panels, required=False),
    asks=("control", "web-tls", "web"),
    logs_in="manages",
    values=_values,
    tests=(Test("registered", "Online under its primary", lambda case: f"{case.to} lists {case.start.label} online"),),
    renumbered="address of the manager",
    sends=sends,
    rank=10,
)
