"""What was typed into a device at its bench step, and what of it is no longer so: then it is typed anew."""

from collections.abc import Mapping

from tutelar.core.addressing.assignment import Plan
from tutelar.core.site.types import Site
from tutelar.core.wording import capital, listed

_WORDS = {
    "address": "its address",
    "prefix": "its mask",
    "gateway": "its gateway",
    "ports": "its ports",
    "password": "its password",
}


def typed_values(site: Site, planned: Plan, secrets: Mapping[tuple[str, str], str]) -> dict[str, dict[str, str]]:
    """Return for each device what is typed at its configure step, as text by its name ("address", "prefix",
    "gateway", "ports", "password"); a password by what the secret is known by, never itself."""
    assigned = {item.device: item for item in planned.assignments}
    found = {}
    for device in site.devices:
        values = {"ports": " ".join(f"{name}:{port}" for name, port in sorted(site.services_of(device).items()))}
        if (item := assigned.get(device.key)) is not None:
            values |= {"address": item.address, "prefix": str(item.prefix), "gateway": str(item.gateway or "")}
        if (mark := secrets.get((device.key, "administrator"))) is not None:
            values["password"] = mark
        found[device.key] = values
    return found


def changed_since_typed(then: Mapping[str, str], now: Mapping[str, str]) -> str:
    """Return in one sentence what of a device changed since it was typed, "" where nothing did.

    A password that nobody had kept then, or keeps now, is not held against it.
    """
    changed = []
    for name, word in _WORDS.items():
        before, after = then.get(name), now.get(name)
        if before == after or (name == "password" and None in (before, after)):
            continue
        shown = "" if name in ("password", "ports") else f" from {before or 'none'} to {after or 'none'}"
        changed.append(f"{word} changed{shown}")
    return f"{capital(listed(changed))} since it was typed." if changed else ""
