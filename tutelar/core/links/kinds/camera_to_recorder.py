"""A camera on a channel of a recorder that stands in the network: it records and it shows."""

from collections.abc import Iterator

from tutelar.core.links.base import Kind, Number, ResolvedLink, Sent
from tutelar.core.links.needs import address, login, logins, number, port, route, set_up, supply
from tutelar.core.links.reached import reached
from tutelar.core.links.room import RECORDING_TESTS, channels, codec, recorded_values, room

ASKS = ("stream", "control", "device-interface")


def _sends(case: ResolvedLink) -> Iterator[Sent]:
    start, services = case.start, case.site.services_of(case.start)
    if case.end is None or start.behind is not None:
        return
    yield Sent(case.end.key, start.key, "tcp", services.get("stream"), "records")
    control = services.get("control", services.get("web"))
    if control is not None:
        yield Sent(case.end.key, start.key, "tcp", control, "records")


KIND = Kind(
    key="camera-to-recorder",
    word="records",
    title="Camera to recorder",
    says="{from} is recorded by {to}",
    group="Recording",
    starts=frozenset({"camera", "doorbell", "door-station"}),
    ends=frozenset({"recorder", "software-recorder"}),
    behind=False,
    needs=(route, reached, address, set_up, port, login, logins, codec, room, number, supply),
    number=Number("channel", channels),
    holder="to",
    asks=ASKS,
    logs_in="records",
    values=recorded_values,
    tests=RECORDING_TESTS,
    renumbered="address of the camera on channel {slot}",
    sends=_sends,
    caution="Recording people: signs and the local privacy law; sound only where it is allowed.",
    expected=frozenset({"camera"}),
    rank=10,
)
