"""The logbook as a printed page: day by day, what happened, to what, by whom."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from itertools import groupby

from reportlab.platypus import Flowable, HRFlowable

from tutelar.core.wording import count, spoken_date
from tutelar.paper.page import INK, TITLE, grid, heading, pdf, words


@dataclass(frozen=True)
class Entry:
    """A line as printed; `at` in the site's own time."""

    at: datetime
    about: str
    sentence: str
    by: str
    note: str = ""


def logbook_pdf(site: str, entries: Sequence[Entry], today: date) -> bytes:
    """Return the lines, oldest first, under a heading for each day."""
    story: list[Flowable] = [
        words("Logbook", TITLE),
        words(f"{site} · {count(len(entries), 'line')} · printed {spoken_date(today)}"),
        HRFlowable(width="100%", thickness=1.2, color=INK, spaceBefore=4, spaceAfter=2),
    ]
    for day, lines in groupby(entries, key=lambda item: item.at.date()):
        rows = [
            (item.at.strftime("%H:%M"), item.about, " ".join(filter(None, (item.sentence, item.note))), item.by)
            for item in lines
        ]
        story += [
            heading(spoken_date(day)),
            grid(("Time", "About", "What", "By"), rows, (8, 24, 60, 12), frozenset({0})),
        ]
    return pdf("Logbook", site, today, story)
