"""Picture and sound by family, with what is usual and why; the site may choose otherwise (docs/sources.md, picture)."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from tutelar.core.doors.typed import INPUT_SETTINGS, door_lines
from tutelar.core.line import Line
from tutelar.core.problems import Problem, problem
from tutelar.core.site.base import Family
from tutelar.core.site.model import CODECS, Stream, StreamChoice
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import listed

_PICTURES = frozenset({"camera", "encoder", "door-station", "doorbell"})
_SOUNDING = frozenset({"camera", "door-station", "doorbell", "indoor-monitor"})
_RINGING = frozenset({"door-station", "indoor-monitor", "doorbell"})
_NOISY = frozenset({"indoor-monitor", "recorder", "panel", "alarm-hub", "keypad"})
STREAM_OF = {"main-stream": "main", "sub-stream": "sub"}
_WHY = {
    "main-stream": "What is recorded; many devices are delivered with less than they can do.",
    "sub-stream": "For phones and multi-picture views, to save bandwidth.",
}
OWN_CHOICE = "The site's own choice."

# Settings that a site may choose for a family: key, label.
CHOICES = {
    "main-stream": "Main stream",
    "sub-stream": "Sub stream",
    "on-picture": "Text on the picture",
    "wide-dynamic": "Wide dynamic range",
    "day-night": "Day and night",
    "patrol": "Start-up patrol",
    "unused-channels": "Channels without a camera",
    "microphone": "Microphone",
    "recorded-sound": "Sound in recordings",
    "speaker": "Speaker and ring volume",
    "ring-time": "Ring time",
    "effects": "Sound effects",
    "interval": "Time update interval",
    **INPUT_SETTINGS,
}


def picture_lines(site: Site, device: Device) -> Iterator[Line]:
    """Yield the picture's settings of a device, none where it makes or keeps no pictures."""
    family = site.family_of(device)
    model = site.model_of(device)
    if family in _PICTURES:
        hertz = site.about.mains_hz
        yield Line(
            "mains",
            "Mains frequency",
            f"{hertz} Hz" if hertz else "not known yet",
            "With the other frequency lamps flicker in the picture."
            if hertz
            else "Lamps flicker if it is wrong: ask in the survey, 50 or 60 Hz.",
        )
        streams, sent = site.streams_by_model.get(device.model, {}), (model.streams if model else None) or {}
        for setting, key in STREAM_OF.items():
            if key in streams:
                own = streams[key] != sent[key]
                yield Line(
                    setting,
                    CHOICES[setting],
                    stream_words(streams[key]),
                    OWN_CHOICE if own else _WHY[setting],
                    proof="stream" if key == "main" else None,
                    chosen=own,
                    usual=stream_words(sent[key]) if own else None,
                )
        yield Line(
            "on-picture",
            CHOICES["on-picture"],
            "Name, date and time",
            "A picture that was handed on still says where and when.",
        )
        yield Line("wide-dynamic", CHOICES["wide-dynamic"], "Automatic", "Right for most places; look at it by light.")
        yield Line("day-night", CHOICES["day-night"], "Automatic", "Right for most places; look at it in the dark.")
    if any(link.kind == "steers" and link.to == device.key for link in site.links_of(device.key)):
        yield Line("patrol", CHOICES["patrol"], "Off", "Else it leaves the picture that was set whenever it restarts.")
    if family == "recorder":
        yield Line("unused-channels", CHOICES["unused-channels"], "Hidden", "Black tiles look like broken cameras.")


def sound_lines(site: Site, device: Device) -> Iterator[Line]:
    """Yield the sound's settings of a device; the microphone follows what the survey says of recording sound."""
    family = site.family_of(device)
    if family == "camera":
        value, why = {
            "allowed": ("On, gain in the middle", "Sound may be recorded here; listen to one recording."),
            "forbidden": ("Off", "Sound may not be recorded here."),
            None: ("Off", "Whether sound may be recorded here is not known yet; off until somebody decides it."),
        }[site.survey.audio]
        yield Line("microphone", CHOICES["microphone"], value, why)
    elif family in _SOUNDING:
        yield Line("microphone", CHOICES["microphone"], "Gain in the middle", "For talking; try it from a step away.")
        if family in _PICTURES:
            value = "On" if site.survey.audio == "allowed" else "Off"
            why = "What is said at the door is recorded only where that is allowed."
            yield Line("recorded-sound", CHOICES["recorded-sound"], value, why)
    if family in _RINGING:
        yield Line("speaker", CHOICES["speaker"], "Middle, then by ear", "Heard where people are, with the doors shut.")
        yield _ring_line(site, family)
    if family in _NOISY:
        yield Line("effects", CHOICES["effects"], "Off", "Key and alarm tones are the first complaint.")


def _ring_line(site: Site, family: str) -> Line:
    ring = site.policy.numbering.ring
    if family == "indoor-monitor":
        return Line("ring-time", CHOICES["ring-time"], f"{ring.monitor_s:g} s", "Then the call is forwarded, or ends.")
    least = ring.monitor_s + ring.forward_s + ring.person_s
    why = f"Monitors {ring.monitor_s:g} s, forwarding {ring.forward_s:g} s, a person {ring.person_s:g} s: at least"
    return Line("ring-time", CHOICES["ring-time"], f"{ring.station_s:g} s", f"{why} {least:g} s.")


@dataclass(frozen=True, slots=True)
class Choice:
    """A setting that a site may choose for a family: what is usual, why, and the site's own word (None: as usual).

    Of a stream `numbers` are what the site set of it; a word of its own beside it was written by somebody else, is
    typed as it stands where there are no numbers, and counts in no load.
    """

    key: str
    label: str
    usual: str
    why: str
    own: str | None
    numbers: StreamChoice | None = None


def choices_of(site: Site) -> dict[Family, list[Choice]]:
    """Return the settings that may be chosen by family, families in the order of the file."""
    found: dict[Family, dict[str, Choice]] = {}
    for device in site.devices:
        family = site.family_of(device)
        own, lines = _own(site, family), found.setdefault(family, {})
        for line in (*picture_lines(site, device), *sound_lines(site, device), *door_lines(site, device)):
            if line.key in CHOICES:
                if line.key not in lines:
                    numbers = _numbers(site, family, line.key)
                    usual = line.value if numbers is None else _sent(site, family, STREAM_OF[line.key])
                    lines[line.key] = Choice(
                        line.key, line.label, usual, _WHY.get(line.key, line.why), own.get(line.key), numbers
                    )
    return {family: list(lines.values()) for family, lines in found.items() if lines}


def _numbers(site: Site, family: Family, setting: str) -> StreamChoice | None:
    """Return what the site set of a family's stream, None where the setting is no stream."""
    name = STREAM_OF.get(setting)
    return site.policy.streams.get(family, {}).get(name, StreamChoice()) if name else None  # type: ignore[call-overload]


def _sent(site: Site, family: Family, name: str) -> str:
    used = dict.fromkeys(device.model for device in site.devices)
    models = [model for key in used if (model := site.model_by_key.get(key)) and model.family == family]
    sent = dict.fromkeys(
        stream_words(model.streams[name]) for model in models if model.streams and name in model.streams
    )
    return next(iter(sent)) if len(sent) == 1 else "What each model sends"


def _own(site: Site, family: str) -> Mapping[str, str]:
    return site.policy.choices.get(family, {})  # type: ignore[call-overload, no-any-return]


def chosen(site: Site, device: Device, lines: Iterator[Line]) -> tuple[Line, ...]:
    """Return the lines with the site's own choices for the family in the place of the usual values."""
    own = _own(site, site.family_of(device))
    return tuple(
        Line(line.key, line.label, own[line.key], OWN_CHOICE, line.proof, chosen=True, usual=line.value)
        if line.key in own and line.key in CHOICES and not line.chosen
        else line
        for line in lines
    )


def stream_problems(site: Site) -> Iterator[Problem]:
    """Yield what the site set of a stream beyond what a model in use sends: more pixels, more pictures a second."""
    used = {device.model for device in site.devices}
    for model in site.models:
        chosen = site.policy.streams.get(model.family, {})
        for name in chosen:
            if model.key not in used or name not in (model.streams or {}):
                continue
            sent, wanted = (model.streams or {})[name], site.streams_by_model[model.key][name]
            over = [
                f"{want:g} {unit}"
                for want, most, unit in (
                    (wanted.width, sent.width, "wide"),
                    (wanted.height, sent.height, "high"),
                    (wanted.fps, sent.fps, "a second"),
                )
                if want > most
            ]
            if over:
                yield problem(
                    "stream.beyond-model",
                    (model.key,),
                    f"{CHOICES[f'{name}-stream']} of {model.label} is set to {listed(over)}; "
                    f"it sends {stream_words(sent)}.",
                    "Set no more than it sends, or correct its profile.",
                )


def choice_words(choice: StreamChoice) -> str:
    """Return what a site sets of a stream: "1920 wide, 15 a second, H.265"; "as each model sends it" without any."""
    codec = CODECS.get(choice.codec.lower(), choice.codec) if choice.codec else None
    numbers = (
        (choice.width, "wide"),
        (choice.height, "high"),
        (choice.fps, "a second"),
        (choice.kbps, "kbit/s"),
    )
    said = [f"{value:g} {unit}" for value, unit in numbers if value is not None]
    return ", ".join(filter(None, (*said, codec))) or "as each model sends it"


def stream_words(stream: Stream) -> str:
    """Return a stream as it is typed: "2688 × 1520, 20 a second, H.265, 4096 kbit/s"."""
    codec = CODECS.get(stream.codec.lower(), stream.codec)
    return f"{stream.width} × {stream.height}, {stream.fps:g} a second, {codec}, {stream.kbps:g} kbit/s"
