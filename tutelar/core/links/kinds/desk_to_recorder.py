"""A joystick desk that moves a camera through a recorder: the recorder's address, and the channel besides."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Gap, Kind, Need, Number, ResolvedLink, Test
from tutelar.core.links.kinds.desk_to_camera import own_short, sends, values
from tutelar.core.links.needs import address, login, logins, number, port, route, set_up
from tutelar.core.links.partner_values import entry_key
from tutelar.core.links.reached import reached
from tutelar.core.links.room import channels, shorts


def _channel(case: ResolvedLink) -> Gap | None:
    wanted = case.link.to_channel
    if wanted is None:
        return Gap("channel", f"not said which channel of {case.to} is steered")
    first, last = channels(case)
    if wanted < first or (last is not None and wanted > last):
        said = f"{case.to} has the channels {first} to {last}, not {wanted}"
        return Gap("channel", said, never=True, nearest=f"Choose a channel from {first} to {last}")
    if (wanted, None) not in case.known.seats.get((case.link.to, "records"), {}):
        return Gap("channel", f"channel {wanted} of {case.to} is empty", nearest="Tie a camera to that channel first")
    return None


def _channel_met(case: ResolvedLink) -> str:
    seated = case.known.seats.get((case.link.to, "records"), {}).get((case.link.to_channel or 0, None))
    who = case.site.label_of(seated.from_) if seated else "a camera"
    return f"Channel {case.link.to_channel} of {case.to} is {who}"


channel = Need("channel", _channel_met, _channel)


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    yield from values(case)
    if case.link.to_channel is not None:
        slot = f" {case.link.slot}" if case.link.slot is not None else ""
        yield EndValue(
            "from",
            Line(
                f"{entry_key(case)}-channel",
                f"Short number{slot}: channel",
                str(case.link.to_channel),
                f"Which camera of {case.to} is meant.",
            ),
        )


KIND = Kind(
    key="desk-through-recorder",
    word="steers",
    title="Desk through a recorder",
    says="{from} steers a camera through {to}",
    group="Desks",
    starts=frozenset({"joystick-desk"}),
    ends=frozenset({"recorder", "software-recorder"}),
    needs=(route, reached, address, set_up, port, login, logins, channel, number, own_short),
    number=Number("short number", shorts),
    asks=("control", "web", "web-tls"),
    logs_in="steers",
    values=_values,
    tests=(
        Test(
            "moves", "Moves", lambda case: f"the camera on channel {case.link.to_channel} of {case.to} moves and stops"
        ),
    ),
    renumbered="address of the target with the short number {slot}",
    sends=sends,
    expected=frozenset({"joystick-desk"}),
    rank=20,
)
