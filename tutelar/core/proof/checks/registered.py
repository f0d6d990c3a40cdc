"""Whether a monitor or station is registered wherever it should be, by what it says itself and by what the main
station or the call server lists."""

from tutelar.core.links.registry import kind_of
from tutelar.core.links.ties import registrations
from tutelar.core.proof.check import Check, Outcome, Sight, Subject, Values, fails, not_told, passes, skips
from tutelar.core.proof.identity import unit_of
from tutelar.core.site.types import Link


def _wants(of: Subject) -> Values | None:
    found = registrations(of.site, of.device) if of.logs_in else []
    if not found:
        return None
    home, *further = found
    number = f" as number {home.slot}" if home.slot is not None else ""
    return {"station": home.to, "number": number, "further": _places(further)}


def _places(links: list[Link]) -> str:
    return " ".join(f"{link.to}:{'' if link.slot is None else link.slot}" for link in links)


def _hangs(of: Subject) -> Values:
    found = registrations(of.site, of.device)
    if not found:
        return {}
    password = " ".join(of.marks.get((link.to, "registration"), "") for link in found).strip()
    return {"home": "; ".join(_where(of, link) for link in found), "password": password}


def _where(of: Subject, link: Link) -> str:
    services = of.site.services_of(of.site.device_by_key[link.to])
    port = next((services[name] for name in kind_of(of.site, link).asks if name in services), "")
    return f"{of.addresses.get(link.to, '')} {port} {unit_of(of.site, link.to)}"


def _judge(at: Sight) -> Outcome:
    """Judge one registration after the other: one that is wrong decides, then one that nobody told of."""
    seen, links = at.seen, registrations(at.site, at.device)
    told = seen.told.registered if seen.told else None
    if not links or (told is None and not seen.listed):
        return not_told(seen)
    home = links[0]
    if told is not None:
        number, state = told
        if state != "registered":
            return Outcome("not-registered", {"state": state})
        if home.slot is not None and number != home.slot:
            return Outcome("another-number", {"number": str(number)})
    found = [_listed(at, link) for link in links]
    wrong = next((item for item in found if item is not None), None)
    if wrong is not None:
        return wrong
    untold = next((link for link in links[told is not None :] if link.to not in seen.listed), None)
    if untold is not None:
        return Outcome("station-tells-not", {"station": untold.to})
    number_ = f" as number {home.slot}" if home.slot is not None else ""
    return Outcome("registered", {"number": number_, "further": _places(links[1:])})


def _listed(at: Sight, link: Link) -> Outcome | None:
    """Return what is wrong with what the station of a registration lists for its number, None where nothing is."""
    listed = at.seen.listed.get(link.to)
    if listed is None or link.slot is None:
        return None
    where: dict[str, str | float] = {"station": link.to, "number": link.slot}
    if not listed:
        return Outcome("nobody-listed", where)
    own = str(at.device.address or "")
    numbers = all(item.replace(".", "").isdigit() for item in listed)  # a name tells nothing of the address
    if own and numbers and own not in listed:
        return Outcome("another-listed", where | {"listed": ", ".join(listed[:3])})
    return None


CHECK = Check(
    key="registered",
    title="Is registered",
    rank=34,
    probe="how it is set",
    asked="what registers at a main station or a call server",
    wants=_wants,
    says="registered at {station:label}{number}{further:further}",
    endings={
        "registered": passes("registered{number}{further:further}"),
        "not-registered": fails("{state}"),
        "another-number": fails("registered as number {number}"),
        "nobody-listed": fails("{station:label} lists nobody as number {number}"),
        "station-tells-not": skips("not told by {station:label}"),
        "another-listed": fails("{station:label} lists {listed} as number {number}"),
    },
    judge=_judge,
    hangs=_hangs,
    hung=("home", "password"),
    sources=("state", "registrar"),
)
