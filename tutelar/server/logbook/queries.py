"""Reads of the log: by words, and by whatever a device is or was known by, in any usual spelling."""

import re

from django.db.models import Q, QuerySet, TextField
from django.db.models.functions import Cast

from tutelar.core.site.values import mac_or_none
from tutelar.server import models
from tutelar.server.models.fields import text_in

_ADDRESS = re.compile(r"0*(\d{1,3})\.0*(\d{1,3})\.0*(\d{1,3})\.0*(\d{1,3})(?:/\d{1,2})?", re.ASCII)
_MOST_WORDS, _MOST_NAMED = 10, 500


def log_lines(
    row: models.Site | None, search: str = "", device: str = "", *, folded: bool = True
) -> QuerySet[models.Event]:
    """Return the lines of a site's log (None: of every site's) that hold every word, newest first.

    A word may be part of a device's name, or its address, serial number or hardware address of today or of then, as it
    is usually spelled. Without a search or a device, what one deed wrote together is not among them where `folded`.
    """
    lines = models.Event.objects.all() if row is None else models.Event.objects.filter(site_key=row.key)
    words = _words(search)
    if device:
        lines = lines.filter(subject=device)
    elif not words:
        # dozens a device: found by a search, under their device, and under their deed
        lines = lines.exclude(kind="value.tick")
        lines = lines.filter(part_of=None) if folded else lines
    if words:
        lines = _with_values(lines)
    for word in words:
        lines = lines.filter(_holds(word) | _about(row, word))
    return lines


def found_devices(search: str) -> QuerySet[models.Device]:
    """Return the devices of every site that is kept which answer to every word: by address, hardware address (on Wi-Fi
    too) or serial number in any usual spelling, or by a part of name, key, place, model, site."""
    found = models.Device.objects.filter(site__removed_at=None).select_related("site", "model")
    found = found.alias(wifi_mac=text_in("extra__wifi_mac"), found_at=text_in("extra__found__address"))
    for word in _words(search):
        if (mac := mac_or_none(word)) is not None:
            found = found.filter(Q(mac=mac) | Q(wifi_mac=mac))
        elif (address := _address(word)) is not None:
            found = found.filter(Q(address=address) | Q(found_at=address))
        else:
            named = Q(name__icontains=word) | Q(key__icontains=word) | Q(place__icontains=word)
            named |= Q(model__key__icontains=word) | Q(model__family__icontains=word) | Q(site__name__icontains=word)
            if (serial := _serial(word)) is not None:
                named |= Q(serial__iregex=_loose(serial))
            found = found.filter(named)
    return found.order_by("site__name", "position") if _words(search) else found.none()


def _with_values(lines: QuerySet[models.Event]) -> QuerySet[models.Event]:
    return lines.annotate(old=Cast("before", TextField()), new=Cast("after", TextField()))


def _words(search: str) -> list[str]:
    """Return the words of a search; a hardware address that is spelled with spaces is one word."""
    whole = mac_or_none(search.strip())
    return [whole] if whole else search.split()[:_MOST_WORDS]


def _holds(word: str) -> Q:
    """Return whether a line holds a word, in its sentence or its values."""
    if (mac := mac_or_none(word)) is not None:
        return Q(sentence__icontains=mac) | _had(word)
    if (address := _address(word)) is not None:  # .5 is not .50
        exact = rf"(^|[^0-9.]){re.escape(address)}($|[^0-9.]|\.($|[^0-9]))"
        return Q(sentence__regex=exact) | Q(old__regex=exact) | Q(new__regex=exact)
    said = Q(sentence__icontains=word) | Q(by__icontains=word) | Q(kind__icontains=word) | Q(subject__icontains=word)
    return said if _serial(word) is None else said | _had(word)


def _had(word: str) -> Q:
    """Return whether the values of a line hold a hardware address or a serial number."""
    if (mac := mac_or_none(word)) is not None:
        return Q(old__icontains=mac) | Q(new__icontains=mac)
    loose = _loose(_serial(word) or word)
    return Q(old__iregex=rf'"serial": "{loose}"') | Q(new__iregex=rf'"serial": "{loose}"')


def _about(row: models.Site | None, word: str) -> Q:
    """Return whether a line is about a device that a word names: by what it is known by today, by the hardware address
    and serial number that it ever had."""
    devices = models.Device.objects.all() if row is None else models.Device.objects.filter(site=row)
    mac, address = mac_or_none(word), _address(word)
    if mac is not None:
        named = Q(mac=mac)
    elif address is not None:
        named = Q(address=address)
    else:
        named = Q(name__icontains=word)
        if (serial := _serial(word)) is not None:
            named |= Q(serial__iregex=rf"^{_loose(serial)}$")
    found: dict[str, list[str]] = {}
    for site, key in devices.filter(named).values_list("site__key", "key")[:_MOST_NAMED]:
        found.setdefault(site, []).append(key)
    if mac is not None or (address is None and _serial(word) is not None):
        lines = models.Event.objects.filter(kind__startswith="device.", **({"site_key": row.key} if row else {}))
        once = _with_values(lines).filter(_had(word)).order_by()
        for site, key in once.values_list("site_key", "subject").distinct()[:_MOST_NAMED]:
            found.setdefault(site, []).append(key)
    about = Q(pk=None)
    for site, keys in found.items():
        about |= Q(site_key=site, subject__in=keys)
    return about


def _address(word: str) -> str | None:
    """Return an IPv4 address as it is usually written, None for any other word: "010.062.008.005/24" -> 10.62.8.5."""
    match = _ADDRESS.fullmatch(word.strip("(),;"))
    return ".".join(match.groups()) if match and all(int(part) < 256 for part in match.groups()) else None


def _loose(serial: str) -> str:
    """Return a pattern for a serial number with anything between its signs."""
    return "[^0-9A-Za-z]*".join(map(re.escape, serial))


def _serial(word: str) -> str | None:
    """Return a word without what people put between the signs of a serial number, None where it cannot be one."""
    bare = "".join(letter for letter in word if letter.isalnum())
    return bare if len(bare) >= 4 and any(letter.isdigit() for letter in bare) else None
