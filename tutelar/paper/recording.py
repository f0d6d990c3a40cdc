"""The recording schedule as a table: which channel follows what, and what it writes."""

from tutelar.core.recording import channels_of
from tutelar.core.recording.mends import day_range, weekdays_alike
from tutelar.core.recording.typed import periods_said
from tutelar.core.recording.week import day_of
from tutelar.core.site.types import Site, first_by_key
from tutelar.paper.tables import Table

_HEADER = ("Recorder", "Channel", "Device", "Place", "Recorded", "kbit/s", "Sound", "GB a day", "Files a day")


def recording_table(site: Site) -> Table:
    """Return a row for each channel: what it follows and what it writes."""
    weeks = _weeks(site)
    rows = []
    for item in channels_of(site):
        device = site.device_by_key.get(item.device)
        daily = None if item.bytes_per_day is None else round(item.bytes_per_day / 1e9, 3)
        recorded = "all day" if item.pattern is None else weeks.get(item.pattern, f"not known: {item.pattern}")
        rows.append(
            (
                site.label_of(item.recorder),
                item.slot,
                site.label_of(item.device),
                device.place if device else None,
                recorded,
                item.kbps,
                "yes" if item.audio else "no",
                daily,
                item.files_per_day,
            )
        )
    return Table("Recording", _HEADER, tuple(rows))


def _weeks(site: Site) -> dict[str, str]:
    """Return each pattern in words, days that are recorded alike together."""
    found = {}
    for key, pattern in first_by_key(site.recording.patterns if site.recording else ()).items():
        days = [
            f"{day_range(alike)}: {periods_said(day_of(pattern, alike[0]) or ())}" for alike in weekdays_alike(pattern)
        ]
        found[key] = f"{pattern.name or key}. {'; '.join(days)}"
    return found
