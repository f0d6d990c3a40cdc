"""An alarm path: a hub or panel to the monitoring station, by cable, Wi-Fi or mobile; two that fail apart."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import STATION, EndValue, Gap, Kind, Need, ResolvedLink, Test
from tutelar.core.links.kinds.hub_zone import DISARM, sends
from tutelar.core.links.needs import set_up
from tutelar.core.links.outward import outbound, where_outside
from tutelar.core.links.reached import reached

_PATHS = {"cable": "network cable", "wifi": "Wi-Fi", "mobile-1": "mobile, first SIM", "mobile-2": "mobile, second SIM"}


def paths_of(case: ResolvedLink) -> tuple[str, ...]:
    """Return the ways by which a hub may report."""
    model = case.site.model_of(case.start)
    return (model.capacity.paths or ()) if model and model.capacity else ()


def path_word(case: ResolvedLink) -> str | None:
    """Return the path that a link takes in words, None where it does not say."""
    paths, wanted = paths_of(case), case.link.from_channel
    if wanted is None or not 1 <= wanted <= len(paths):
        return None
    return _PATHS.get(paths[wanted - 1], paths[wanted - 1])


def _path(case: ResolvedLink) -> Gap | None:
    paths, wanted = paths_of(case), case.link.from_channel
    if not paths:
        return None
    if wanted is None:
        return Gap("path", "not said which path it takes")
    if not 1 <= wanted <= len(paths):
        return Gap(
            "path",
            f"{case.start.label} has {len(paths)} paths, not number {wanted}",
            never=True,
            nearest=f"Choose one of {', '.join(paths)}",
        )
    return None


path = Need("path", lambda case: f"It goes by {path_word(case) or 'its one path'}", _path)


def _second(case: ResolvedLink) -> Gap | None:
    """Two independent paths: what cuts one must not cut the other."""
    mine = {
        link.from_channel
        for link in case.known.tied_from.get((case.start.key, "reports-to"), [])
        if link.to == case.link.to
    }
    if len(paths_of(case)) < 2 or len(mine) > 1:
        return None
    return Gap("second-path", "no second path that fails apart from this one", "links", nearest="Tie a mobile path too")


second = Need("second-path", lambda case: "A second path is planned beside it", _second)


def _account(case: ResolvedLink) -> Gap | None:
    if case.link.account:
        return None
    return Gap("account", f"no account number from {case.to} yet", "links", STATION)


account = Need("account", lambda case: f"Account {case.link.account} at {case.to}", _account)


def _way(case: ResolvedLink) -> Gap | None:
    """A path by cable or Wi-Fi goes through the site's router, a mobile one does not."""
    paths, wanted = paths_of(case), case.link.from_channel
    if wanted is not None and 1 <= wanted <= len(paths) and paths[wanted - 1].startswith("mobile"):
        return None
    return outbound.gap(case)


way = Need("outbound", lambda case: f"It goes out by {path_word(case) or 'the router'}", _way)


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    number = case.link.from_channel or 1
    key = f"path-{case.link.to}-{number}"
    if case.link.at:
        yield EndValue("from", Line(key, f"Receiver, path {number}", case.link.at, f"Where {case.to} listens."))
    if case.link.account:
        yield EndValue(
            "from", Line(f"{key}-account", f"Account, path {number}", case.link.account, f"What {case.to} knows it by.")
        )
    if word := path_word(case):
        yield EndValue("from", Line(f"{key}-way", f"Path {number}", word, "Independent of the others."))


KIND = Kind(
    key="alarm-path",
    word="reports-to",
    title="Alarm path to the monitoring station",
    says="{from} reports to {to}",
    group="Alarm",
    starts=frozenset({"alarm-hub", "panel", "other", "keypad"}),
    ends=frozenset(),
    outside=frozenset({"monitoring-station", "relay", "management"}),
    needs=(where_outside, account, path, way, reached, second, set_up),
    asks=("control",),
    values=_values,
    tests=(
        Test("lamp", "Lamp says connected", lambda case: f"the lamp of {case.start.label} shows the path is up"),
        Test("arrives", "Arrives alone", lambda case: f"{case.to} confirms a test with the other paths unplugged"),
    ),
    renumbered="address of the receiver",
    sends=sends,
    caution=DISARM,
    part="path",
    rank=10,
)
