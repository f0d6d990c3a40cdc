"""The week of one person at every door, as the rules and their frames have it."""

from tutelar.core.access.index import AccessIndex, spans_on
from tutelar.core.site.access import Person, Span
from tutelar.core.site.weeks import DAYS, minutes_of

Minutes = tuple[int, int]  # since midnight: from inclusive, to exclusive
_ALWAYS: tuple[Span, ...] = (("00:00", "24:00"),)


def week_of(known: AccessIndex, person: Person) -> dict[str, dict[str, list[Minutes]]]:
    """Return when a person may open each door, by door and day (weekdays and holiday), spans that touch joined.

    Doors of which no rule speaks are absent. Days of validity and cards do not show in a week; they count in `may`.
    """
    at = sorted({at for key in (person.key, *person.groups) for at in known.rules_of_person.get(key, ())})
    days: dict[str, dict[str, list[Minutes]]] = {}
    for rule in (known.access.rules[place] for place in at):
        frame = known.frames.get(rule.frame) if rule.frame is not None else None
        if rule.frame is not None and frame is None:
            continue
        for key in known.doors_of(rule):
            own = days.setdefault(key, {day: [] for day in DAYS})
            for day in DAYS:
                spans = _ALWAYS if frame is None else spans_on(frame, day) or ()
                own[day] = _joined([*own[day], *((minutes_of(begin), minutes_of(end)) for begin, end in spans)])
    return days


def _joined(spans: list[Minutes]) -> list[Minutes]:
    found: list[Minutes] = []
    for begin, end in sorted(spans):
        if found and begin <= found[-1][1]:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        elif end > begin:
            found.append((begin, end))
    return found
