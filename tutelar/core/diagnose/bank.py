"""Written cases: the troubles that are met most, each as a story with its fault, what it teaches and what to mind
(handbook 2 and 3.11). A case is played on one's own site, at a device that fits it."""

from collections.abc import Sequence
from typing import NamedTuple

from tutelar.core.diagnose.causes import SORTS, Cause
from tutelar.core.diagnose.drill import Dice, complaint
from tutelar.core.diagnose.ground import Ground
from tutelar.core.diagnose.observations import Seen
from tutelar.core.diagnose.wrong import Wrong


class Written(NamedTuple):
    """A written case: its title, what one is told, the fault, what it teaches, and what has to be minded."""

    title: str
    story: str
    fault: str
    teaches: str
    caution: str = ""


_OTHERS = "Other people's networks: only with written leave, and only the ranges of the job."
_MAINS = "Mains, fuses and fixed wiring stay with licensed people: switch off, prove dead, local code."
_LADDER = "Ladder: a second person, hands free."
_RESET = "A reset loses address, name, zones and links: have the list of what is set again first."
BANK: dict[str, Written] = {
    "two-from-the-box": Written(
        "Two new units share one address",
        "Two units were plugged in on the same morning. One page opens, sometimes it is the one, sometimes the other.",
        "duplicate-address",
        "Look at the hardware address in the laptop's table before anything is typed: it says who answers.",
    ),
    "laptop-left-behind": Written(
        "Nothing answers any more",
        "Since the bench nothing answers, not even the router. The technician wants to restart the switch.",
        "laptop-wrong",
        "Where everything is silent at once, the laptop is looked at first: its own address and its own socket.",
    ),
    "factory-range": Written(
        "It was on the bench, now it is gone",
        "The unit worked on the bench. In place its lamps are lit and nothing finds it at its planned address.",
        "wrong-address",
        "Lamp lit, link lit, silent: ask the unit itself which address it has before a cable is touched.",
    ),
    "other-vlan": Written(
        "The search finds all but one",
        "The search program lists every unit of the row but this one. The link lamp is lit.",
        "wrong-vlan",
        "A search ends at the edge of its network. IT sees in a minute in which network the port is.",
        _OTHERS,
    ),
    "after-the-restart": Written(
        "Gone after a restart",
        "After a power cut at night the unit is online on the phone, but the recorder has lost it.",
        "leased-moved",
        "Online on the phone and lost in the recorder: it has another address. Reserve it, or make it fixed.",
    ),
    "phone-took-it": Written(
        "Somebody's phone",
        "Every morning the unit refuses the recorder, in the evening it works again.",
        "duplicate-address",
        "A hand-set address inside the lease pool goes to somebody else one day. Move it out of the pool.",
    ),
    "summer-time": Written(
        "The recording that cannot be",
        "The police ask for pictures of 14:10. The film of 14:10 shows an empty yard.",
        "clock-offset",
        "The difference of the clock is measured and kept before it is put right: it is evidence.",
    ),
    "new-password": Written(
        "Since the password was changed",
        "The administrator password was changed yesterday. The page takes it; the recorder shows nothing.",
        "wrong-password",
        "A password is used in more places than one. Each partner is told before the lock-out counts to its end.",
        "Tries are counted: once, then stop.",
    ),
    "third-of-fourth": Written(
        "The third of the fourth",
        "An export of the fourth of March is asked for; the unit shows the third of April.",
        "wrong-date-order",
        "Day and month swapped read well on most days and are wrong on all.",
    ),
    "moved-port": Written(
        "It answers, but not there",
        "The unit answers and its page does not open, or its picture does not come. Somebody hardened it.",
        "port-changed",
        "A changed port hides nothing and cuts off every partner that was not told.",
    ),
    "second-hand": Written(
        "Bought at an auction",
        "The unit is bought used, resets well and stays offline in the app: it is said to be somebody's already.",
        "relay-bound-elsewhere",
        "Only the former owner or the maker releases it, with the proof of purchase. No reset does.",
        _RESET,
    ),
    "router-again": Written(
        "The unit that was sent back twice",
        "The app says offline. The first unit was sent back; the second one says offline too.",
        "relay-blocked",
        "Twice the same unit is never the unit: nearly always the router or firewall blocks it on the way out.",
    ),
    "tested-in-the-hall": Written(
        "It worked in the hall",
        "On the day of handover the phone showed the picture, on the site's own Wi-Fi. At home it does not.",
        "relay-off",
        "A picture on the site's own Wi-Fi proves nothing. Remote access was never switched on.",
    ),
    "red-dot": Written(
        "The red dot",
        "The picture is shown and marked as recording. Nobody has ever played it back.",
        "not-recording",
        "Look at the time line, zoomed in: a red dot is a wish, a sliver on the line is a recording.",
    ),
    "kiosk-fuse": Written(
        "Everything at the exit",
        "All units of one row fell silent in one second. Somebody worked at a fuse box.",
        "switch-off",
        "What fails together hangs on one thing: find that before a single unit is touched.",
        _MAINS,
    ),
    "wrong-number": Written(
        "The wrong picture",
        "The picture is there, under another name. The alarm of the gate shows the car park.",
        "wrong-slot",
        "Numbers are proven one by one at the place itself: cover the lens and look which picture goes dark.",
        _LADDER,
    ),
    "gnawed": Written(
        "After the gardener",
        "One unit is silent since Tuesday. Its power lamp may be dark; the bed beside the wall was dug over.",
        "cable",
        "Power over the cable goes with the cable: a dark unit is not a dead unit. Try a cable that is good.",
        _LADDER,
    ),
    "half-the-town": Written(
        "I can see it, the phone cannot",
        "From the office everything opens. The phone says offline, for this unit alone.",
        "wrong-gateway",
        "Reached from nearby and not from afar: gateway, mask, name server, in this order.",
    ),
    "small-mask": Written(
        "Some see it, some do not",
        "Two laptops side by side: one opens the page, the other does not. The unit was set by hand.",
        "wrong-prefix",
        "A mask that is too small makes neighbours strangers. Copy it from the network, not from memory.",
    ),
    "line-is-down": Written(
        "Every site phone rings",
        "All units are offline in the app. On site everything is recorded and shown.",
        "provider-down",
        "One host outside and the gateway, a minute each, tell the line from the site. Then call the provider.",
    ),
}


def placed(ground: Ground, dice: Dice, key: str) -> tuple[Cause, Seen] | None:
    """Return a written case at a place of a site that fits, with what is complained of; None where none does."""
    fault = BANK[key].fault
    for at in _places(ground, dice, fault):
        cause = Cause(fault, at)
        wrong = Wrong(ground, [cause])
        seen = complaint(ground, wrong, cause, dice)
        if seen is not None:
            return cause, seen
    return None


def _places(ground: Ground, dice: Dice, fault: str) -> Sequence[str]:
    scope = SORTS[fault].scope
    keys = [key for key in ground.places(scope) if key not in ground.site.wired]
    if fault == "leased-moved":
        keys = [key for key in keys if ground.leases(key)] or keys
    elif scope == "device":
        keys = [key for key in keys if not ground.is_switch(key)]
    return dice.sample(keys, len(keys))
