"""What a measuring of devices proves of their links: a recorder's channel shows, it is written, the relay is online;
and what a witnessed test of a link proves of the devices at its ends."""

from collections.abc import Iterable

from tutelar.core.links.base import ResolvedLink
from tutelar.core.links.index import LinkIndex
from tutelar.core.links.readiness import basis, check_name
from tutelar.core.links.ties import registrations
from tutelar.core.site.types import Reading

# Check of a device: the word of the links that it tells about, and the test of such a link.
_PROVES = {
    "linked": ("records", "live"),
    "records": ("records", "records"),
    "relay": ("relays", "online"),
    "registered": ("calls", "registered"),  # at a call server of the site; calls at a door are tried by somebody
}
_ENDS = {"call": ("test-call", True), "unlock": ("door-opens", False), "mobile": ("phone-picture", False)}


def witnessed_ends(case: ResolvedLink, test: str) -> list[tuple[str, str]]:
    """Return the (device, check) that a passed test of a link proves besides: a call both ends, an opened door the
    station that holds it, a picture on mobile data the device that is seen."""
    check, both = _ENDS.get(test, ("", False))
    if not check:
        return []
    holder = case.end if check == "door-opens" and case.link.kind != "extends" else case.start
    ends = [case.start, case.end] if both else [holder]
    return [(device.key, check) for device in ends if device is not None]


def link_readings(known: LinkIndex, readings: Iterable[Reading]) -> list[Reading]:
    """Return the readings of links that follow from readings of devices.

    Where a device with several such links failed, it is not said which of them: nothing follows.
    """
    found = []
    for reading in readings:
        word, key = _PROVES.get(reading.check, ("", ""))
        links = known.tied_from.get((reading.device, word), [])
        several = len(links) > 1
        if reading.check == "registered" and (device := known.site.device_by_key.get(reading.device)) is not None:
            several = several or len(registrations(known.site, device)) > 1
        if reading.result not in ("pass", "fail") or (reading.result == "fail" and several):
            continue
        for link in links:
            case = known.case(link)
            test = next((item for item in case.kind.tests if item.key == key), None) if case is not None else None
            if case is not None and test is not None:
                found.append(
                    Reading(
                        device=reading.device,
                        check=check_name(link, test),
                        expected=test.expects(case),
                        measured=reading.measured,
                        result=reading.result,
                        basis=basis(case),
                    )
                )
    return found
