"""Whether mask, gateway, DNS server and time source are set as planned."""

from collections.abc import Callable, Mapping

from tutelar.core.proof.check import Check, Outcome, Sight, Subject, Values, fails, not_told, passes
from tutelar.core.proof.seen import ReportedState


def _mask(of: Subject) -> str | None:
    return str(of.assignment.prefix) if of.assignment is not None else None


def _gateway(of: Subject) -> str | None:
    return of.assignment.gateway if of.assignment is not None else None


def _dns(of: Subject) -> str | None:
    return ", ".join(of.assignment.dns) if of.assignment is not None and of.assignment.dns else None


def _time_source(of: Subject) -> str | None:
    network = of.site.network_by_key.get(of.device.network or "")
    if network is None or of.assignment is None or "device-interface" not in of.services:
        return None
    return str(network.time_source) if network.time_source else None


Told = Callable[[ReportedState], str | None]
_TOLD: Mapping[str, Told] = {
    "mask": lambda told: None if told.prefix is None else str(told.prefix),
    "gateway": lambda told: told.gateway,
    "dns": lambda told: None if told.dns is None else ", ".join(told.dns),
    "time-source": lambda told: told.time_source,
}


def _check(key: str, title: str, rank: int, wanted: Callable[[Subject], str | None], form: str, asked: str) -> Check:
    def wants(of: Subject) -> Values | None:
        value = wanted(of) if of.logs_in else None
        return None if not value else {key: value}

    def judge(at: Sight) -> Outcome:
        told = _TOLD[key](at.seen.told) if at.seen.told is not None else None
        if told is None:
            return not_told(at.seen)
        return Outcome("same" if told == at.wanted.get(key) else "another", {key: told})

    endings = {"same": passes(form), "another": fails(form)}
    return Check(key, title, rank, "how it is set", asked, wants, form, endings, judge)


CHECKS = (
    _check("mask", "Subnet mask is right", 26, _mask, "/{mask}", "devices with an address that are logged in to"),
    _check("gateway", "Gateway is right", 27, _gateway, "{gateway}", "the same, where the network has a gateway"),
    _check("dns", "DNS server is right", 28, _dns, "{dns}", "the same, where the network has a DNS server"),
    _check(
        "time-source",
        "Takes the time from its server",
        29,
        _time_source,
        "{time-source}",
        "the same with the device interface, where the network has a time source",
    ),
)
