"""A detector, keypad or other device in a zone of an alarm hub."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Gap, Kind, Need, Number, ResolvedLink, Sent, Test
from tutelar.core.links.needs import number, set_up
from tutelar.core.wording import count

DISARM = "Disarm, and put the monitoring station on test, before programming; end the test afterwards."


def _zones(case: ResolvedLink) -> tuple[int, int | None]:
    model = case.site.model_of(case.end) if case.end else None
    return 1, model.capacity.devices if model and model.capacity else None


def _seats(case: ResolvedLink) -> Gap | None:
    most = _zones(case)[1]
    links = case.known.tied_to.get((case.link.to, "reports-to"), [])
    if most is None or case.link not in links[most:]:
        return None
    said = f"{case.to} takes {count(most, 'device')}, and {len(links)} are wanted"
    return Gap("seats", said, never=True, nearest="Add a hub, or leave a device out")


def _seats_met(case: ResolvedLink) -> str:
    used, most = len(case.known.tied_to.get((case.link.to, "reports-to"), [])), _zones(case)[1]
    return (
        f"{used} of {count(most, 'device')} of {case.to}"
        if most is not None
        else f"{count(used, 'device')} at {case.to}"
    )


seats = Need("seats", _seats_met, _seats)


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    zone = f"Zone{'' if case.link.slot is None else f' {case.link.slot}'}"
    key = f"partner-reports-to-{case.start.key}"
    yield EndValue("to", Line(key, f"{zone}, name", case.start.label, "As people at the site say it."))
    if case.start.place:
        yield EndValue("to", Line(f"{key}-room", f"{zone}, room", case.start.place, "What the alarm names first."))
    if case.start.serial:
        yield EndValue("to", Line(f"{key}-serial", f"{zone}, serial", case.start.serial, "How the hub takes it in."))


def sends(case: ResolvedLink) -> Iterator[Sent]:
    """Yield what goes over the network: the alarm reports."""
    site = case.site
    reports = site.services_of(case.end).get("control") if case.end else site.services_of(case.start).get("report")
    yield Sent(case.start.key, case.link.to, "tcp", reports, "alarm reports")


KIND = Kind(
    key="device-at-hub",
    word="reports-to",
    title="Detector or keypad at a hub",
    says="{from} reports to {to}",
    group="Alarm",
    starts=frozenset(
        {
            "keypad",
            "reader",
            "other",
            "camera",
            "doorbell",
            "door-station",
            "panel",
            "indoor-monitor",
            "alarm-hub",
            "encoder",
            "recorder",
            "software-recorder",
        }
    ),
    ends=frozenset({"alarm-hub", "panel", "recorder", "software-recorder"}),
    needs=(seats, number, set_up),
    number=Number("zone", _zones),
    asks=("control",),
    values=_values,
    tests=(
        Test("signal", "Signal test", lambda case: f"{case.to} shows a good signal of {case.start.label}"),
        Test("trips", "Trips", lambda case: f"{case.start.label} is walked or pressed, {case.to} shows its zone"),
    ),
    renumbered="address of the receiver",
    sends=sends,
    caution=DISARM,
    expected=frozenset({"keypad"}),
    rank=20,
)
