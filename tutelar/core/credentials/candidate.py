"""Is this secret good enough for its slot, which words would an attacker try first, and who is told when it changes?"""

from collections.abc import Callable, Collection

from tutelar.core.credentials.rules import fails, generate
from tutelar.core.credentials.slots import SLOTS, Slot, holders, logins_with, rule_for, slots_of
from tutelar.core.site.types import Device, Site

LONGEST_ADDRESS = 254  # RFC 5321, 4.5.3.1.3


def faults(site: Site, device: Device, slot: Slot, candidate: str) -> list[str]:
    """Return one sentence for each rule of the slot that a secret breaks; none quotes it."""
    if slot.kind != "address":
        return fails(rule_for(site, device, slot), candidate)
    name, _, home = candidate.partition("@")
    good = name and "." in home.strip(".") and not any(letter.isspace() for letter in candidate)
    return [] if good and len(candidate) <= LONGEST_ADDRESS else ["It is no e-mail address like name@example.org."]


def make(site: Site, device: Device, slot: Slot, choose: Callable[[str], str]) -> str:
    """Return a secret for a slot, drawn by `choose`. Raises ValueError with a sentence where none can be made."""
    if not slot.makeable:
        raise ValueError("A recovery address cannot be made up; type the customer's.")
    return generate(rule_for(site, device, slot), choose)


def known_words(site: Site, device: Device) -> list[str]:
    """Return the words that somebody who knows the site and the device would try first."""
    model = site.model_of(device)
    return [
        site.about.name,
        *site.about.places,
        device.label,
        device.serial or "",
        *(model.label.split() if model else []),
    ]


def rivals(slot: Slot) -> tuple[str, ...]:
    """Return the slots of a device that may not hold the same secret: who knows a limited one must not be
    administrator."""
    if slot.limited:
        return ("administrator",)
    return tuple(key for key, other in SLOTS.items() if other.limited) if slot.key == "administrator" else ()


def rule_conflicts(site: Site) -> list[tuple[str, str]]:
    """Return (slot and device, why no password can satisfy its rules), each sentence once, in walking order."""
    found: dict[str, str] = {}
    judged: set[tuple[str, str]] = set()
    for device in site.walking_order(list(site.devices)):
        for slot in slots_of(site, device):
            shared = slot.key == "administrator" and site.policy.passwords == "family"
            who = site.family_of(device) if shared else device.key  # one look for all that share it
            if (slot.key, who) in judged:
                continue
            judged.add((slot.key, who))
            for said in rule_for(site, device, slot).conflicts if slot.kind == "password" else ():
                found.setdefault(said, f"{slot.title} of {device.label}")
    return [(where, said) for said, where in found.items()]


def told_of_change(site: Site, here: Device, slot: Slot, had: Collection[str]) -> dict[tuple[str, str], str]:
    """Return what must be typed elsewhere once a secret was changed at a device, a sentence by (device, device whose
    secret it is): in those that share it and `had` the old one, and in all that log in with it."""
    found: dict[tuple[str, str], str] = {}
    for item in holders(site, here, slot.key):
        if item.key != here.key and item.key in had:
            found[item.key, item.key] = f"{item.label}: type its new {slot.title.lower()}."
        for login in logins_with(site, item, slot.key):
            name = site.label_of(login.device)
            found[login.device, item.key] = f"{name} {login.why}: type the new {slot.title.lower()} there."
    return found
