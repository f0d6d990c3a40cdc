"""Questions about settings, made of the values of one's own site and the reasons that stand beside them."""

from dataclasses import dataclass

from tutelar.core.addressing.assignment import Plan
from tutelar.core.diagnose.drill import Dice
from tutelar.core.line import Line
from tutelar.core.setting import DeviceSettings
from tutelar.core.site.types import Site

OPTIONS = 4
_PARTNERS = "partner-"


@dataclass(frozen=True, slots=True)
class Question:
    """Why has a device this value? `options` are reasons, one of them the value's own (`right` is its number)."""

    device: str
    label: str
    value: str
    options: tuple[str, ...]
    right: int


def questions(site: Site, planned: Plan, dice: Dice, number: int = 8, year: int = 0) -> list[Question]:
    """Return so many questions at most, each about another setting; none where the site has too few reasons to choose
    between. Secrets are never asked for."""
    settings = DeviceSettings(site, planned, year)
    by_label: dict[str, list[tuple[str, Line]]] = {}
    for device in site.devices:
        if device.key in site.wired:
            continue
        for group in settings.groups(device):
            for line in group.lines:
                if line.value and line.slot is None and line.why and not line.key.startswith(_PARTNERS):
                    by_label.setdefault(line.label, []).append((device.key, line))
    labels = sorted(by_label)
    found = []
    for label in dice.sample(labels, min(number, len(labels))):
        device_key, line = dice.choice(by_label[label])
        others = {one.why for other, lines in by_label.items() if other != label for _, one in lines}
        others -= {one.why for _, one in by_label[label]}
        if len(others) < OPTIONS - 1:
            return []
        options = dice.sample([line.why, *dice.sample(sorted(others), OPTIONS - 1)], OPTIONS)
        found.append(Question(device_key, label, line.value, tuple(options), options.index(line.why)))
    return found
