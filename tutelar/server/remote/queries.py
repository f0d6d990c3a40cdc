"""What is known of the remote access of devices beside the document."""

from tutelar.core.remote.steps import Known
from tutelar.server import models
from tutelar.server.store import documents

_ONLINE = ("relay", "relays.relay.online")
_PICTURE = ("relays.relay.mobile", "phone-picture")


def known_of(row: models.Site) -> dict[str, Known]:
    """Return what is known of each device: its code is kept, it was seen online, its picture was seen on mobile data.
    What the pretend site shows counts on a practice site only."""
    practice = documents.document(row).about.practice
    names = (*_ONLINE, *_PICTURE)
    last: dict[tuple[str, str], bool] = {}
    readings = models.Reading.objects.filter(site=row, check_name__in=names).order_by("at", "pk")
    for device, check, result, where in readings.values_list("device__key", "check_name", "result", "measured_at"):
        if where != "pretend" or practice:
            last[device, check] = result == "pass"
    codes = set(models.SecretUse.objects.filter(site=row, slot="remote-code").values_list("device_key", flat=True))
    keys = {device for device, _ in last} | codes
    return {
        key: Known(
            code=key in codes,
            online=any(last.get((key, name), False) for name in _ONLINE),
            picture=any(last.get((key, name), False) for name in _PICTURE),
        )
        for key in keys
    }
