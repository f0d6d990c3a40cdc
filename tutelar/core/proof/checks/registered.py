"""Whether a monitor or station is registered, by what it says itself and by what its main station lists."""

from tutelar.core.links.registry import kind_of
from tutelar.core.proof.check import Check, Outcome, Sight, Subject, Values, fails, not_told, passes
from tutelar.core.proof.identity import unit_of
from tutelar.core.proof.ties import registration


def _wants(of: Subject) -> Values | None:
    home = registration(of.site, of.device) if of.logs_in else None
    if home is None:
        return None
    return {"station": home.to, "number": f" as number {home.slot}" if home.slot is not None else ""}


def _hangs(of: Subject) -> Values:
    home = registration(of.site, of.device)
    if home is None:
        return {}
    services = of.site.services_of(of.site.device_by_key[home.to])
    port = next((services[name] for name in kind_of(of.site, home).asks if name in services), "")
    where = f"{of.addresses.get(home.to, '')} {port} {unit_of(of.site, home.to)}"
    return {"home": where, "password": of.marks.get((home.to, "registration"), "")}


def _judge(at: Sight) -> Outcome:
    seen = at.seen
    told, home = seen.told.registered if seen.told else None, registration(at.site, at.device)
    if home is None or (told is None and seen.listed is None):
        return not_told(seen)
    if told is not None:
        number, state = told
        if state != "registered":
            return Outcome("not-registered", {"state": state})
        if home.slot is not None and number != home.slot:
            return Outcome("another-number", {"number": str(number)})
    if seen.listed is not None and home.slot is not None:
        where: dict[str, str | float] = {"station": home.to, "number": home.slot}
        if not seen.listed:
            return Outcome("nobody-listed", where)
        own = str(at.device.address or "")
        numbers = all(item.replace(".", "").isdigit() for item in seen.listed)  # a name tells nothing of the address
        if own and numbers and own not in seen.listed:
            return Outcome("another-listed", where | {"listed": ", ".join(seen.listed[:3])})
    return Outcome("registered", {"number": f" as number {home.slot}" if home.slot is not None else ""})


CHECK = Check(
    key="registered",
    title="Is registered",
    rank=34,
    probe="how it is set",
    asked="what registers at a main station",
    wants=_wants,
    says="registered at {station:label}{number}",
    endings={
        "registered": passes("registered{number}"),
        "not-registered": fails("{state}"),
        "another-number": fails("registered as number {number}"),
        "nobody-listed": fails("{station:label} lists nobody as number {number}"),
        "another-listed": fails("{station:label} lists {listed} as number {number}"),
    },
    judge=_judge,
    hangs=_hangs,
    hung=("home", "password"),
    sources=("state", "registrar"),
)
