"""A camera on a recorder's own ports: the recorder finds it, and only this recorder reaches it."""

from tutelar.core.links.base import Gap, Kind, Need, Number, ResolvedLink
from tutelar.core.links.needs import address, login, number, port, route, set_up, supply
from tutelar.core.links.reached import reached
from tutelar.core.links.room import RECORDING_TESTS, channels, codec, recorded_values, room
from tutelar.core.wording import count


def _own_port(case: ResolvedLink) -> Gap | None:
    model = case.site.model_of(case.end) if case.end else None
    if model is None:
        return None
    if model.camera_ports is None:
        return Gap(
            "camera-port",
            f"{case.to} has no camera ports of its own",
            "kit",
            never=True,
            nearest=f"Plug {case.start.label} into a switch of the site",
        )
    behind = [device.key for device in case.site.devices if device.behind == case.link.to]
    if behind.index(case.start.key) >= model.camera_ports.count:
        said = f"all {count(model.camera_ports.count, 'camera port')} of {case.to} are taken"
        return Gap("camera-port", said, "kit", never=True, nearest=f"Plug {case.start.label} into a switch of the site")
    return None


own_port = Need("camera-port", lambda case: f"It is plugged into a camera port of {case.to}", _own_port)

KIND = Kind(
    key="camera-behind-recorder",
    word="records",
    title="Camera behind a recorder's own ports",
    says="{from} is recorded by {to}, on its own camera ports",
    group="Recording",
    starts=frozenset({"camera", "doorbell", "door-station", "encoder"}),
    ends=frozenset({"recorder", "software-recorder"}),
    behind=True,
    needs=(own_port, route, reached, address, set_up, port, login, codec, room, number, supply),
    number=Number("channel", channels),
    holder="to",
    asks=("stream", "control", "device-interface"),
    logs_in="records",
    values=recorded_values,
    tests=RECORDING_TESTS,
    renumbered="address of the camera on channel {slot}",
    caution="A laptop or a desk never goes into a camera port.",
    expected=frozenset({"camera"}),
    rank=5,
)
