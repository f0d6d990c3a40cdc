"""The words by which an item of a card says when it applies, and for which site and device each of them holds."""

from collections.abc import Callable
from functools import cache
from typing import NamedTuple

from tutelar.core.site.base import FAMILIES, RECORDERS
from tutelar.core.site.model import Model
from tutelar.core.site.types import Device, Site

_ALIKE = 5  # devices of one model from which on a file for all of them is worth its making


class Of(NamedTuple):
    """A device with what is asked of it most."""

    site: Site
    device: Device
    family: str
    model: Model | None
    links: frozenset[str]


ON_SITE: dict[str, tuple[str, Callable[[Site], bool]]] = {
    "remote-wanted": (
        "somebody wants to look from outside, or a device is tied to the relay",
        lambda site: bool(site.survey.remote_viewing) or any(link.kind == "relays" for link in site.links),
    ),
    "sound-allowed": ("recording sound is allowed", lambda site: site.survey.audio == "allowed"),
    "sound-open": ("nobody decided on recording sound", lambda site: site.survey.audio is None),
    "watched": (
        "a station watches the alarm",
        lambda site: (
            bool(site.survey.alarms_watched_by)
            and str(site.survey.alarms_watched_by).lower() not in ("nobody", "no one", "none")
        ),
    ),
    "escape-doors": (
        "a door is on an escape route",
        lambda site: bool(site.survey.escape_doors) or any(door.escape for door in site.doors),
    ),
    "doors": ("there are doors", lambda site: bool(site.doors)),
    "magnet": ("a door is held by a magnet", lambda site: any(door.lock == "magnet" for door in site.doors)),
    "gate": ("a gate is opened", lambda site: any(door.lock == "gate" for door in site.doors)),
    "internet": (
        "there is an internet connection",
        lambda site: site.internet is not None and site.internet.connection not in (None, "none"),
    ),
    "no-internet": (
        "there is none",
        lambda site: site.internet is not None and site.internet.connection == "none",
    ),
    "mobile-line": (
        "the internet comes over a mobile network",
        lambda site: site.internet is not None and site.internet.connection == "mobile",
    ),
    "small-packets": (
        "the line passes packets smaller than 1500",
        lambda site: site.internet is not None and site.internet.mtu is not None and site.internet.mtu < 1500,
    ),
    "forwards": (
        "ports are forwarded from outside",
        lambda site: site.internet is not None and bool(site.internet.forwards),
    ),
    "others-network": ("somebody runs the network", lambda site: bool(site.survey.network_run_by)),
    "taken-over": ("the site is taken over from others", lambda site: site.survey.taken_over is True),
    "retention": ("days of recording were promised", lambda site: bool(site.survey.retention_days)),
    "exceptions": ("something is left open by decision", lambda site: bool(site.exceptions)),
    "monitored-wifi": (
        "a device is on Wi-Fi",
        lambda site: any(device.medium == "wifi" for device in site.devices),
    ),
    "outdoor-work": (
        "a device stands outdoors",
        lambda site: any(device.outdoors for device in site.devices),
    ),
    "battery": (
        "a supply has batteries",
        lambda site: any(item.battery is not None or item.kind == "ups" for item in site.supplies),
    ),
    "transformer": (
        "a house transformer feeds something",
        lambda site: any(item.kind == "transformer" for item in site.supplies),
    ),
    "kit": ("there is any device", lambda site: bool(site.devices)),
}


def _capacity(of: Of, name: str) -> bool:
    return of.model is not None and of.model.capacity is not None and bool(getattr(of.model.capacity, name))


def _rated(of: Of) -> bool:
    return of.model is not None and of.model.outdoor is not None


def _mobile_paths(of: Of) -> bool:
    paths = of.model.capacity.paths if of.model is not None and of.model.capacity is not None else None
    return any(path.startswith("mobile") for path in paths or ())


def _supply(of: Of, kind: str) -> bool:
    fed = of.device.fed
    return fed is not None and any(item.key == fed.supply and item.kind == kind for item in of.site.supplies)


def _alike(of: Of) -> bool:
    return sum(device.model == of.device.model for device in of.site.devices) >= _ALIKE


ON_DEVICE: dict[str, tuple[str, Callable[[Of], bool]]] = {
    "any-recorder": ("it records", lambda of: of.family in RECORDERS),
    "outdoors": ("it stands outdoors", lambda of: of.device.outdoors is True),
    "rated": ("its model says whether it may stand outdoors", _rated),
    "wifi": ("it is on Wi-Fi", lambda of: of.device.medium == "wifi"),
    "mains-borne": ("its network comes over mains wiring", lambda of: of.device.medium == "mains-borne"),
    "mobile": ("its network is a mobile one", lambda of: of.device.medium == "mobile"),
    "cable-fed": ("its network cable feeds it", lambda of: of.device.powered_by is not None),
    "supply-fed": ("a low-voltage supply feeds it", lambda of: of.device.fed is not None),
    "transformer-fed": ("a house transformer feeds it", lambda of: _supply(of, "transformer")),
    "used": ("it was bought used", lambda of: of.device.used),
    "bays": ("it has bays for disks", lambda of: _capacity(of, "bays")),
    "own-ports": ("it has ports of its own for cameras", lambda of: bool(of.model and of.model.camera_ports)),
    "mobile-paths": ("it has a way over a mobile network", _mobile_paths),
    "signs": ("its profile says what its lamps and beeps mean", lambda of: bool(of.model and of.model.signs)),
    "apps": ("its profile names programs", lambda of: bool(of.model and of.model.apps)),
    "licensed": (
        "its model counts licences",
        lambda of: bool(of.model and of.model.licence_per) or _capacity(of, "licences"),
    ),
    "certificate": ("it showed a certificate", lambda of: bool(of.device.certificate)),
    "alike": (f"there are {_ALIKE} or more of its model", _alike),
    "recorded": ("a recorder records it", lambda of: of.family not in RECORDERS and "records" in of.links),
    "steered": (
        "a desk steers it",
        lambda of: any(link.kind == "steers" and link.to == of.device.key for link in of.site.links_of(of.device.key)),
    ),
    "relayed": ("it is tied to the makers' relay", lambda of: "relays" in of.links),
    "calls": ("it calls or is called", lambda of: bool(of.links & {"calls", "registers-at", "pages"})),
    "reports": ("it reports to a station", lambda of: "reports-to" in of.links),
    "panel-with-escape": (
        "it holds a door on an escape route",
        lambda of: any(door.escape and door.panel == of.device.key for door in of.site.doors),
    ),
    "panel-with-magnet": (
        "it holds a door with a magnet",
        lambda of: any(door.lock == "magnet" and door.panel == of.device.key for door in of.site.doors),
    ),
    "wired": ("it hangs on wires of another device", lambda of: of.device.key in of.site.wired),
    "long-supply": (
        "its low-voltage cable is longer than 15 m",
        lambda of: of.device.fed is not None and (of.device.fed.m or 0) > 15,
    ),
    "web": ("it has a page of its own", lambda of: bool(of.model and of.model.services)),
}


@cache
def known_words() -> dict[str, str]:
    """Return every word, with what it says."""
    families = {family: f"its family is {family.replace('-', ' ')}" for family in sorted(FAMILIES)}
    return {
        **families,
        **{word: says for word, (says, _) in ON_DEVICE.items()},
        **{word: says for word, (says, _) in ON_SITE.items()},
    }


def site_facts(site: Site) -> frozenset[str]:
    """Return the words that hold for a site."""
    return frozenset(word for word, (_, holds) in ON_SITE.items() if holds(site))


def device_facts(site: Site, device: Device, of_site: frozenset[str]) -> frozenset[str]:
    """Return the words that hold for a device, those of its site among them."""
    links = frozenset(link.kind for link in site.links_of(device.key))
    of = Of(site, device, site.family_of(device), site.model_of(device), links)
    return of_site | {of.family} | {word for word, (_, holds) in ON_DEVICE.items() if holds(of)}
