"""A channel of an analogue encoder on a recorder: several channels, one address; the encoder itself keeps nothing."""

from tutelar.core.links.base import Kind, Number
from tutelar.core.links.kinds.camera_to_recorder import ASKS
from tutelar.core.links.kinds.camera_to_recorder import KIND as CAMERA
from tutelar.core.links.needs import address, login, logins, number, port, route, set_up, supply
from tutelar.core.links.reached import reached
from tutelar.core.links.room import RECORDING_TESTS, channels, codec, own_channel, recorded_values, room

KIND = Kind(
    key="encoder-channel",
    word="records",
    title="Encoder channel to recorder",
    says="{from} is recorded by {to}",
    group="Recording",
    starts=frozenset({"encoder"}),
    ends=frozenset({"recorder", "software-recorder"}),
    behind=False,
    needs=(own_channel, route, reached, address, set_up, port, login, logins, codec, room, number, supply),
    number=Number("channel", channels),
    holder="to",
    asks=ASKS,
    logs_in="records",
    values=recorded_values,
    tests=RECORDING_TESTS,
    renumbered="address of the camera on channel {slot}",
    sends=CAMERA.sends,
    expected=frozenset({"encoder"}),
    rank=20,
)
