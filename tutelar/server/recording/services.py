"""Trying out and keeping how a site records."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from tutelar.core.recording import channels_of, storage_of
from tutelar.core.recording.fill import UNITS, Fill, as_measured, fill_of
from tutelar.core.recording.levers import Change, levers_of
from tutelar.core.site import Site
from tutelar.core.site.writing import as_document
from tutelar.core.wording import sentence
from tutelar.server.store import drafts
from tutelar.server.store.writes import WriteRejected


def with_lever(stored: Site, draft: Mapping[str, Any], recorder: str, key: str) -> dict[str, Any]:
    """Return a draft with a lever of a recorder taken in. Raises WriteRejected for one that is not there."""
    found = next((item for item in levers_of(drafts.trial(stored, draft), recorder) if item.key == key), None)
    if found is None:
        raise WriteRejected("That change does not help any more; what is shown may be old.", [("lever", key)])
    return _taken(draft, recorder, found.change)


def _taken(draft: Mapping[str, Any], recorder: str, change: Change) -> dict[str, Any]:
    fresh = dict(draft)
    if change.recording is not None:
        fresh["recording"] = as_document(change.recording)
    if change.days is not None:
        fresh["retention_days"] = change.days
    parts: dict[str, Any] = {}
    if change.disks is not None:
        parts["disks"] = [as_document(disk) for disk in change.disks]
    if change.raid is not None:
        parts["raid"] = change.raid
    if parts:
        devices = dict(fresh.get("devices") or {})
        devices[recorder] = {**devices.get(recorder, {}), **parts}
        fresh["devices"] = devices
    return fresh


def measured(
    stored: Site, draft: Mapping[str, Any], recorder: str, first: Mapping[str, Any], second: Mapping[str, Any]
) -> tuple[Fill, dict[str, Any]]:
    """Return what two readings of a recorder's used space tell, and the draft with the rates that were measured.

    Raises WriteRejected where they tell nothing.
    """
    site = drafts.trial(stored, draft)
    channels = channels_of(site)
    row = next((item for item in storage_of(site, channels) if item.device == recorder), None)
    if row is None:
        raise WriteRejected(f"The site has no recorder '{recorder}'.", [("recorder", recorder)])
    before, after = (_reading(name, item) for name, item in (("first", first), ("second", second)))
    try:
        found = fill_of(before, after, row.usable_bytes, row.bytes_per_day)
    except ValueError as error:
        raise WriteRejected(sentence(error), [("second", sentence(error))]) from None
    if found.of_estimate is None:
        return found, dict(draft)
    fresh = as_measured(site, recorder, channels, found.of_estimate)
    return found, {**draft, "recording": as_document(fresh)}


def _reading(name: str, reading: Mapping[str, Any]) -> tuple[datetime, float]:
    try:
        at = datetime.fromisoformat(reading["at"]).replace(tzinfo=None)
    except ValueError:
        said = f"'{reading['at']}' is no moment; a day and a time like 2026-06-08T14:30 are expected."
        raise WriteRejected(said, [(f"{name}.at", said)]) from None
    return at, reading["used"] * UNITS[reading["unit"]]
