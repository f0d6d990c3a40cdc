"""The proof as a printed page: coverage first, then what is open, place by place, then every reading."""

from collections.abc import Sequence
from datetime import date, tzinfo
from itertools import groupby

from reportlab.platypus import Flowable, HRFlowable

from tutelar.core.wording import spoken_date
from tutelar.paper.page import INK, TITLE, grid, heading, pdf, words
from tutelar.paper.proof_row import ProofRow


def proof_pdf(site: str, coverage: str, rows: Sequence[ProofRow], zone: tzinfo, today: date) -> bytes:
    """Return the readings, those that are not proven first; what was expected and what was measured stand apart."""
    story: list[Flowable] = [
        words("Proof", TITLE),
        words(f"{site} · {coverage} · printed {spoken_date(today)}"),
        HRFlowable(width="100%", thickness=1.2, color=INK, spaceBefore=4, spaceAfter=2),
    ]
    open_ = [row for row in rows if row.state != "proven"]
    if open_:
        story += [heading("Not proven"), _table(open_, zone)]
    for place, lines in groupby(rows, key=lambda row: row.place):
        story += [heading(place), _table(list(lines), zone)]
    return pdf("Proof", site, today, story)


def _table(rows: Sequence[ProofRow], zone: tzinfo) -> Flowable:
    cells = [
        (
            row.name,
            row.title,
            row.state_word,
            row.expected,
            row.by_instrument,
            row.by_person,
            row.when(zone),
            row.by or "",
        )
        for row in rows
    ]
    head = ("Device", "Check", "State", "Expected", "Measured", "Seen, or left open", "When", "By")
    return grid(head, cells, (17, 16, 10, 18, 18, 16, 12, 8), frozenset())
