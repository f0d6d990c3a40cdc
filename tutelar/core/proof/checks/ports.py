"""Whether the planned ports are open and speak their protocol, a check a service."""

from collections.abc import Callable

from tutelar.core.proof.check import Check, Outcome, Sight, Subject, Values, fails, passes

TITLES = {
    "web": "Web page opens",
    "web-tls": "Secure web port is open",
    "stream": "Picture comes",
    "signalling": "Signalling port is open",
    "control": "Control port is open",
    "time": "Serves the time",
    "device-interface": "Device interface answers",
}
_SOURCES = {"web": ("identity",), "web-tls": ("certificate",)}
RANK = 3


def _judge(service: str) -> Callable[[Sight], Outcome]:
    def judged(at: Sight) -> Outcome:
        port = at.seen.ports.get(service)
        if port is None:
            return Outcome("not-told")
        if port.open and port.fault is None:
            return Outcome("open", {}, port.took_ms)
        if port.fault is None:
            return Outcome("closed", {}, port.took_ms)
        return Outcome(port.fault.code, {"what": port.fault.sentence}, port.took_ms)

    return judged


def _wants(service: str) -> Callable[[Subject], Values | None]:
    def wanted(of: Subject) -> Values | None:
        port = of.services.get(service)
        return None if port is None else {"port": str(port), "at": of.at}

    return wanted


def port_check(service: str) -> Check:
    """Return the check of a service's port; a service without a protocol of its own is only knocked at."""
    rank = RANK + (list(TITLES).index(service) if service in TITLES else len(TITLES))
    return Check(
        key=service,
        title=TITLES.get(service, f"Port {service} is open"),
        rank=rank,
        probe="ports",
        asked=f"devices with the service `{service}`",
        wants=_wants(service),
        says="port {port} open {at:at}",
        endings={
            "open": passes("open"),
            "closed": fails("closed"),
            "no-answer": fails("{what}"),
            "no-connection": fails("{what}"),
            "says-nothing": fails("{what}"),
            "broken-off": fails("{what}"),
            "wrong-protocol": fails("{what}"),
        },
        judge=_judge(service),
        itself=False,
        sources=_SOURCES.get(service, (service,)),
    )


CHECKS = tuple(port_check(service) for service in TITLES)
