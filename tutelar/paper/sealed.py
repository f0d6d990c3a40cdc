"""The sealed sheet of credentials: one part on its own pages, to be put into an envelope."""

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

from reportlab.platypus import Flowable, HRFlowable, Spacer

from tutelar.core.wording import count, spoken_date
from tutelar.paper.page import INK, TITLE, grid, heading, lines, pdf, signatures, words


class SealedRow(NamedTuple):
    """A credential: of which device, where that stands, its address, what it is, the user, and the secret itself."""

    device: str
    place: str
    address: str
    what: str
    user: str
    secret: str


class SealedCover(NamedTuple):
    """What stands above: the site, the part and who may open it, for whom it is, its number, who printed it and why
    again."""

    site: str
    title: str
    says: str
    for_whom: str
    number: int
    by: str
    again: str


def sealed_pdf(cover: SealedCover, rows: Sequence[SealedRow], today: date) -> bytes:
    """Return the sheet. It is not kept anywhere."""
    story: list[Flowable] = [
        words(f"Sealed sheet {cover.number}: {cover.title.lower()}", TITLE),
        words(f"{cover.site} · for {cover.for_whom} only · {spoken_date(today)}, printed by {cover.by}"),
        HRFlowable(width="100%", thickness=1.2, color=INK, spaceBefore=4, spaceAfter=2),
        *lines(
            [
                cover.says,
                "Put it into an envelope, sign across the seal, and keep it apart from every other paper. "
                "Whoever opens it notes it below; passwords that were read by others are changed.",
                *([f"Printed again: {cover.again}."] if cover.again else []),
            ]
        ),
        heading(count(len(rows), "credential")),
        grid(
            ("Device", "Place", "Address", "What", "User", "Password or code"),
            [tuple(row) for row in rows],
            (20, 13, 14, 21, 11, 25),
            frozenset({2, 5}),
        ),
        Spacer(1, 10),
        signatures(["Handed over by", f"Received by {cover.for_whom[:40]}"]),
        Spacer(1, 6),
        signatures(["Opened by", "Why"]),
    ]
    return pdf(f"Sealed sheet {cover.number}", cover.site, today, story, "SEALED")
