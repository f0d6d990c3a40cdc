"""Sentences with blanks, filled last: `{recorder:label}` is the name that the device has today, not then.

Forms of a blank: `label` a device's name, `door` a door's, `channels` channels of recorders ("rec-1:3 rec-2:1"),
`further` further registrations ("gate-2:3", "" for none), `mark` the start of a
fingerprint, `offset` a clock difference in seconds, `give` by how much that may be off ("" where it is not worth
saying), `order` a date order, `at` an address, `ms` a time to answer.
"""

from collections.abc import Mapping, Sequence
from string import Formatter
from typing import Any

from tutelar.core.doors import door_label
from tutelar.core.site.types import Site

ORDERS = {"DMY": "day-month-year", "MDY": "month-day-year", "YMD": "year-month-day"}


def spoken_offset(seconds: float) -> str:
    """Return a clock difference as people say it: "right to the second", "59 min 58 s behind"."""
    whole = round(abs(seconds))
    if whole == 0:
        return "right to the second"
    hours, rest = divmod(whole, 3600)
    minutes, left = divmod(rest, 60)
    parts = [f"{hours} h" if hours else "", f"{minutes} min" if minutes else "", f"{left} s" if left else ""]
    return f"{' '.join(filter(None, parts))} {'ahead' if seconds > 0 else 'behind'}"


def short_mark(fingerprint: str) -> str:
    """Return the first eight bytes of a fingerprint: enough to compare by eye."""
    return fingerprint[:23] + "…"


class _Saying(Formatter):
    def __init__(self, site: Site) -> None:
        self.site = site

    def format_field(self, value: object, form: str) -> str:
        text = str(value)
        match form:
            case "label":
                return self.site.label_of(text)
            case "door":
                return door_label(self.site, text)
            case "channels":
                return "; ".join(self._channel(item) for item in text.split())
            case "further":
                return "".join(f", and at {self._place(item)}" for item in text.split())
            case "mark":
                return short_mark(text)
            case "offset":
                return spoken_offset(float(text))
            case "give":
                return f", give or take {text} s" if text else ""
            case "order":
                return ORDERS.get(text, text)
            case "at":
                return f"at {text}" if text else "at its leased address"
            case "ms":
                return f"in {float(text):.0f} ms" if float(text) >= 1 else "in under 1 ms"
        return str(super().format_field(value, form))

    def get_value(self, key: int | str, args: Sequence[Any], kwargs: Mapping[str, Any]) -> Any:
        """Return what fills a blank; readings that were kept before a check asked for more say nothing of it."""
        return "" if key in ("further", "give_s") and key not in kwargs else super().get_value(key, args, kwargs)

    def _place(self, item: str) -> str:
        station, _, number = item.rpartition(":")
        return f"{self.site.label_of(station)}{f' as number {number}' if number else ''}"

    def _channel(self, item: str) -> str:
        recorder, _, channel = item.rpartition(":")
        return f"channel {channel} of {self.site.label_of(recorder)}"


def said(site: Site, sentence: str, values: Mapping[str, str | float]) -> str:
    """Return a sentence with its blanks filled. Raises KeyError where a value is missing."""
    return _Saying(site).vformat(sentence, (), values)
