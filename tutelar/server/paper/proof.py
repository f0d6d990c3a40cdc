"""The proof as a printed page: coverage first, then what is open, place by place, then every reading."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby

from reportlab.platypus import Flowable, HRFlowable

from tutelar.core.wording import spoken_date
from tutelar.server.paper.page import INK, TITLE, grid, heading, pdf, words

HEADER = ("Place", "Device", "Check", "State", "Expected", "Measured", "When", "By")


@dataclass(frozen=True)
class ProofLine:
    """One reading as printed; `when` in the site's own time."""

    place: str
    device: str
    check: str
    state: str
    expected: str
    measured: str
    when: str
    by: str

    @property
    def cells(self) -> tuple[str, ...]:
        return (self.place, self.device, self.check, self.state, self.expected, self.measured, self.when, self.by)


def proof_pdf(site: str, coverage: str, rows: Sequence[ProofLine], today: date) -> bytes:
    """Return the readings, those that are not proven first."""
    story: list[Flowable] = [
        words("Proof", TITLE),
        words(f"{site} · {coverage} · printed {spoken_date(today)}"),
        HRFlowable(width="100%", thickness=1.2, color=INK, spaceBefore=4, spaceAfter=2),
    ]
    open_ = [row for row in rows if row.state != "proven"]
    if open_:
        story += [heading("Not proven"), _table(open_)]
    for place, lines in groupby(rows, key=lambda row: row.place):
        story += [heading(place), _table(list(lines))]
    return pdf("Proof", site, spoken_date(today), story)


def _table(rows: Sequence[ProofLine]) -> Flowable:
    cells = [(row.device, row.check, row.state, row.measured or row.expected, row.when, row.by) for row in rows]
    return grid(("Device", "Check", "State", "Measured", "When", "By"), cells, (20, 22, 12, 30, 16, 8), frozenset())
