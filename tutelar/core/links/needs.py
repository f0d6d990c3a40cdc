"""What links need, each said once for all kinds: who can talk, to which address and port, with which login and number;
what leads outside has its needs in `outward`.

A gap's words stand along the loose end of a thread, so they begin small and have no full stop.
"""

from typing import TYPE_CHECKING

from tutelar.core.links.base import IT, Gap, Need, ResolvedLink, login_slot
from tutelar.core.loads.budget import feeder_of
from tutelar.core.site.types import Device, Link, Site
from tutelar.core.wording import article, count, family_plural, listed, one_of_family

if TYPE_CHECKING:
    from tutelar.core.links.index import LinkIndex


def families(case: ResolvedLink) -> Gap | None:
    """Return what is wrong with the families of the ends: a reader records nothing."""
    if case.fits:
        return None
    site, kind = case.site, case.kind
    start = site.family_of(case.start)
    end = one_of_family(site.family_of(case.end)) if case.end is not None else "an end outside the site"
    if start not in kind.starts:
        wanted = listed([family_plural(item) for item in sorted(kind.starts)], 6)
        return Gap(
            "families",
            f"{one_of_family(start)} cannot be tied like this",
            "links",
            never=True,
            nearest=f"It takes {wanted}",
        )
    wanted = listed([family_plural(item) for item in sorted(kind.ends or ())], 6)
    said = f"{case.to} is no target for it, but {end}"
    return Gap("families", said, "links", never=True, nearest=f"It leads to {wanted}" if kind.ends else None)


def why_apart(site: Site, start: Device, end: Device) -> str | None:
    """Return why two devices cannot reach each other as far as the document tells, else None."""
    for hidden, other in ((start, end), (end, start)):
        if hidden.behind is not None and hidden.behind not in (other.key, other.behind):
            recorder = site.label_of(hidden.behind)
            return f"{hidden.label} is behind {recorder} and is reached only through that recorder"
    if start.behind is not None or end.behind is not None or start.network == end.network:
        return None
    for key in (start.network, end.network):
        network = site.network_by_key.get(key or "")
        if network is None:
            return None
        if network.gateway is None:
            return f"they are in different networks, and {network.label} has no gateway"
    return None


def _route(case: ResolvedLink) -> Gap | None:
    start, end = case.start, case.end
    if end is None:
        if start.behind is None:
            return None
        said = f"it is behind {case.site.label_of(start.behind)}, reached only through it"
        return Gap("route", said, never=True, nearest=_through(case, start))
    if start.network == end.network and start.behind is None and end.behind is None:
        return None
    why = why_apart(case.site, start, end)
    if why is None:
        return None
    hidden = next((item for item in (start, end) if item.behind is not None), None)
    if hidden is not None:
        why = f"{_who(case, hidden)} is behind {case.site.label_of(hidden.behind or '')}, reached only through it"
    if hidden is None:
        return Gap(
            "route",
            why,
            "survey",
            IT,
            never=True,
            nearest="Put both into one network, or ask IT for a route between the two",
        )
    return Gap("route", why, "links", never=True, nearest=_through(case, hidden))


def channel_behind(site: Site, hidden: Device) -> int | None:
    """Return the channel on which a device is recorded by the recorder whose camera port it is in, None so far."""
    links = site.links_of(hidden.key)
    return next(
        (
            link.slot
            for link in links
            if link.kind == "records" and (link.from_, link.to) == (hidden.key, hidden.behind)
        ),
        None,
    )


def _through(case: ResolvedLink, hidden: Device) -> str:
    """Return the way that is left to a device behind a recorder."""
    recorder = case.site.label_of(hidden.behind or "")
    if at := case.known.addresses.get(hidden.behind or ""):
        recorder = f"{recorder} ({at})"
    channel = channel_behind(case.site, hidden)
    which = f"channel {channel}" if channel is not None else "its channel"
    if case.link.kind == "steers":
        return f"Steer it through {recorder}, {which}"
    if case.link.kind == "manages":
        return f"Let the program ask {recorder} for {which}"
    return f"Take {which} of {recorder} for it, or plug {hidden.label} into a switch of the site"


def _route_met(case: ResolvedLink) -> str:
    end = case.end
    if end is None:
        return f"{case.to.capitalize()} is reached through the router"
    if case.start.behind is not None or end.behind is not None:
        return "Both are on the recorder's own side"
    if case.start.network != end.network:
        return "They are in different networks: IT must let it through the firewall"
    network = case.site.network_by_key.get(case.start.network or "")
    return f"Both are in {network.label if network else 'one network'}"


route = Need("route", _route_met, _route, alike=True)


def _one_network(case: ResolvedLink) -> Gap | None:
    start, end = case.start, case.end
    if end is None or (start.network == end.network and start.behind == end.behind):
        return None
    home = case.site.network_by_key.get(end.network or "")
    where = home.label if home else "the other's network"
    said = f"{start.label} is not in the network of {end.label}, and calls do not cross"
    return Gap("one-network", said, "kit", never=True, nearest=f"Move {start.label} into {where}")


one_network = Need("one-network", _route_met, _one_network, alike=True)


def _who(case: ResolvedLink, device: Device) -> str:
    """Return how a device is named along its own thread: the start is "it"."""
    return "it" if device is case.start else device.label


def _whose(case: ResolvedLink, device: Device) -> str:
    return "its" if device is case.start else f"{device.label}: its"


def _address(case: ResolvedLink) -> Gap | None:
    for device in (case.start, case.end):
        if device is None:
            continue
        if device.addressing == "leased" and device.behind is None:
            return Gap(
                "address",
                f"{_whose(case, device)} address changes with each lease",
                "addresses",
                nearest=f"Make {device.label} fixed, or reserve its address in the router",
            )
        if device.key not in case.known.addresses:
            return Gap("address", f"{_who(case, device)} has no address yet", "addresses")
    return None


def _address_met(case: ResolvedLink) -> str:
    ends = [device for device in (case.start, case.end) if device is not None]
    said = [f"{device.label} at {where}" for device in ends if (where := case.address(device))]
    return " and ".join(said) or "No address is needed"


address = Need("address", _address_met, _address, placed=True)


def _set_up(case: ResolvedLink) -> Gap | None:
    """The end that the other depends on comes first, so that is the one waited for first."""
    for device in (case.held, case.holder):
        if device is not None and not case.known.set_up(device):
            return Gap("set-up", f"{_who(case, device)} is not set up yet", "bench")
    return None


def _set_up_met(case: ResolvedLink) -> str:
    return "Both ends went over the bench" if case.end is not None else f"{case.start.label} went over the bench"


set_up = Need("set-up", _set_up_met, _set_up, placed=True)


def _port(case: ResolvedLink) -> Gap | None:
    held = case.held
    if held is None or case.port() is not None or not case.site.services_of(held):
        return None
    wanted = listed(list(case.kind.asks), 5).replace(" and ", " or ")
    return Gap(
        "port",
        f"{held.label} lists no port for {wanted}",
        "kit",
        never=False,
        nearest=f"Add the service to the model, if {held.label} has it",
    )


def _port_met(case: ResolvedLink) -> str:
    found = case.port()
    return f"Asked on port {found[1]} ({found[0]})" if found else "Its ports are not known"


port = Need("port", _port_met, _port, alike=True)


def _login(case: ResolvedLink) -> Gap | None:
    held, known = case.held, case.known
    if held is None or known.secrets is None or not case.kind.logs_in:
        return None
    slot = login_slot(case.site, held)
    if (held.key, slot) not in known.secrets:
        which = "administrator password" if slot == "administrator" else "login"
        return Gap("login", f"{_whose(case, held)} {which} is not saved yet", "settings")
    return None


def _login_met(case: ResolvedLink) -> str:
    if not case.kind.logs_in or case.held is None:
        return "No login is needed"
    who = case.holder.label if case.holder is not None else case.to
    return f"{who} logs in with the slot “{login_slot(case.site, case.held)}” of {case.held.label}"


login = Need("login", _login_met, _login, idle=lambda known: known.secrets is None)


def _logins(case: ResolvedLink) -> Gap | None:
    """The device that is logged in to takes only so many at once."""
    held = case.held
    if held is None or held.model not in case.known.limited:
        return None
    holder, model = case.holder, case.site.model_of(held)
    if holder is None or not case.kind.logs_in:
        return None
    most = model.capacity.logins if model and model.capacity else None
    if most is None:
        return None
    users = case.known.users.get(held.key, [])
    if holder.key not in users[most:]:
        return None
    names = listed([case.site.label_of(key) for key in users[:most]])
    said = f"{held.label} takes {count(most, 'login')} at once, held by {names}"
    return Gap("logins", said, "links", never=True, nearest=f"Untie {names}, or let {holder.label} go through it")


def _logins_met(case: ResolvedLink) -> str:
    model = case.site.model_of(case.held) if case.held else None
    most = model.capacity.logins if model and model.capacity else None
    if case.held is None or most is None:
        return "How many logins it takes is not known"
    return f"{len(case.known.users.get(case.held.key, []))} of {count(most, 'login')} of {case.held.label} are used"


logins = Need("logins", _logins_met, _logins, idle=lambda known: not known.limited)


def _supply(case: ResolvedLink) -> Gap | None:
    over = case.known.over_budget
    if not over:
        return None
    for device in (case.start, case.end):
        feeder = feeder_of(case.site, device) if device is not None else None
        if feeder in over:
            return Gap(
                "supply",
                over[feeder],
                "kit",
                nearest="Feed some devices from another switch or injector",
            )
    return None


def _supply_met(case: ResolvedLink) -> str:
    said = [
        f"{device.label} is fed by {case.site.label_of(feeder)}"
        for device in (case.start, case.end)
        if device is not None and (feeder := feeder_of(case.site, device)) is not None
    ]
    return ", ".join(said) or "Fed by a supply of its own"


supply = Need("supply", _supply_met, _supply, alike=True)


def _number(case: ResolvedLink) -> Gap | None:
    link, number = case.link, case.kind.number
    if number is None:
        return None
    if link.slot is None:
        return Gap("number", f"no {number.word} yet") if number.required else None
    limits = case.known.limits.get((case.kind.key, link.to))
    if limits is None or case.kind.holder == "from":  # a desk's own limits count, not its target's
        limits = case.known.limits[case.kind.key, link.to] = number.limit(case)
    first, last = limits
    if link.slot < first or (last is not None and link.slot > last):
        span = f"{first} to {last}" if last is not None else f"{first} and up"
        said = f"{case.numbers_of} has the {number.word}s {span}, not {link.slot}"
        return Gap("number", said, never=True, nearest=f"Choose {article(number.word)} from {span}")
    first_there = case.known.seats[link.to, link.kind][link.slot, link.side]
    if first_there is not link:
        holder = case.site.label_of(first_there.from_)
        if first_there.from_ == link.from_:
            holder = f"another link of {holder}"
        return Gap(
            "number",
            f"{number.word} {link.slot} is taken by {holder}",
            never=True,
            nearest=f"Choose a free {number.word}",
        )
    return None


def _number_met(case: ResolvedLink) -> str:
    if case.kind.number is None or case.link.slot is None:
        return "No number is needed"
    return f"{case.kind.number.word.capitalize()} {case.link.slot} of {case.to} is its own"


number = Need("number", _number_met, _number)


def _followed(case: ResolvedLink) -> Gap | None:
    """Whoever follows another needs somebody at the head, and only one: a circle has none."""
    heads = case.known.heads.get((case.start.key, case.kind.key), [])
    if len(heads) > 1 and heads[0] is not case.link:
        first = case.site.label_of(heads[0].to)
        return Gap("circle", f"it follows {first} already", never=True, nearest=f"Untie it from {first} first")
    circle = next((keys for keys in case.known.circles if case.link.from_ in keys and case.link.to in keys), None)
    if circle is None:
        return None
    names = " → ".join(case.site.label_of(key) for key in [*circle, circle[0]])
    return Gap(
        "circle",
        f"they follow each other in a circle: {names}",
        never=True,
        nearest="Untie one of them: somebody has to be the first",
    )


followed = Need(
    "circle",
    lambda case: f"{case.to} is the one that others follow",
    _followed,
    idle=lambda known: not known.circles and not known.two_heads,
)


def _hardware(case: ResolvedLink) -> Gap | None:
    if case.start.mac or case.start.serial:
        return None
    return Gap("hardware", "its label is not read yet", "kit")


hardware = Need("hardware", lambda case: f"{case.start.label} is {case.start.mac or case.start.serial}", _hardware)


def _registration(case: ResolvedLink) -> Gap | None:
    known, end = case.known, case.end
    if known.secrets is None or end is None or (end.key, "registration") in known.secrets:
        return None
    return Gap("registration", f"{end.label}: no registration password saved yet", "settings")


registration = Need("registration", lambda case: f"It registers with the password of {case.to}", _registration)


def limit_of(site: Site, device: Device | None, name: str) -> tuple[int | None, int | None]:
    """Return the (first, last) number that a device's model allows, None where it does not say.

    A model says it in `numbering` by name as a number (the last), two numbers, or {"first", "last"}.
    """
    model = site.model_of(device) if device is not None else None
    said = (model.numbering or {}).get(name) if model else None
    if isinstance(said, bool):
        return None, None
    if isinstance(said, int):
        return None, said
    if isinstance(said, list) and len(said) == 2 and all(type(item) is int for item in said):
        return said[0], said[1]  # type: ignore[return-value]
    if isinstance(said, dict):
        first, last = said.get("first"), said.get("last")
        return (first if type(first) is int else None), (last if type(last) is int else None)
    return None, None


def gap_of_route(known: "LinkIndex", link: Link, *more: str) -> bool:
    """Return whether a link, made as it stands, could not be made for its ways (and other needs by their keys)."""
    case = known.case(link)
    if case is None or not case.fits:
        return True
    keys = {"route", "one-network", *more}
    return any(need.key in keys and need.gap(case) is not None for need in case.kind.needs)


# what one that follows a main station or a master monitor needs, the first that is missing first
FOLLOWING = (followed, one_network, address, set_up, port, registration, number, hardware, supply)
