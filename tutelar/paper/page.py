"""The printed page: the product's typefaces, hairlines, no colour that a black-and-white printer would lose."""

import io
from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime
from functools import cache
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

from anyascii import anyascii
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.lib.utils import TimeStamp
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, KeepTogether, LongTable, Paragraph, SimpleDocTemplate, Spacer, TableStyle

from tutelar.core.wording import spoken_date

INK, QUIET, HAIR = HexColor("#1B2430"), HexColor("#4A5462"), HexColor("#D9D4C5")
MARGIN = 15 * mm
WIDTH = A4[0] - 2 * MARGIN - 12  # the frame keeps 6 points at each side
_ARROWS = {"→": "->", "←": "<-", "↔": "<->", "⇒": "=>", "⇐": "<=", "⇔": "<=>"}
_FONT = ("FONTNAME", (0, 0), (-1, -1), "Text-Regular")  # of cells that hold no paragraph too
_FONTS = Path(__file__).parent / "fonts"


@cache
def register_fonts() -> frozenset[int]:
    """Register the typefaces once; return the code points that the text face can show."""
    shown: frozenset[int] = frozenset()
    for name in ("Text-Regular", "Text-Bold", "Mono-Regular", "Mono-Bold"):
        font = TTFont(name, str(_FONTS / f"{name}.ttf"))
        pdfmetrics.registerFont(font)
        if name == "Text-Regular":
            shown = frozenset(font.face.charToGlyph)
    return shown


def _style(name: str, font: str, size: float, leading: float, **more: Any) -> ParagraphStyle:
    return ParagraphStyle(name, fontName=font, fontSize=size, leading=leading, textColor=INK, **more)


TITLE = _style("title", "Text-Bold", 17, 20)
HEAD = _style("head", "Text-Bold", 10, 13, spaceBefore=9, spaceAfter=2)
BODY = _style("body", "Text-Regular", 9, 12)
CELL = _style("cell", "Text-Regular", 7.8, 9.6)
CELL_HEAD = _style("cell-head", "Text-Bold", 7.8, 9.6)
MONO = _style("mono", "Mono-Regular", 7.4, 9.6)


def words(text: str, style: ParagraphStyle = BODY) -> Paragraph:
    """Return a paragraph of plain text; letters that the typeface lacks are written out in Latin ones."""
    return Paragraph(escape(printable(text)).replace("\n", "<br/>"), style)


def printable(text: str) -> str:
    """Return the text in letters that the typeface has: others in Latin letters, an arrow as "->", else by its code."""
    shown = register_fonts()
    return "".join(
        letter
        if ord(letter) in shown or letter.isspace()
        else _ARROWS.get(letter) or anyascii(letter) or f"[U+{ord(letter):04X}]"
        for letter in text
    )


def heading(text: str) -> Paragraph:
    """Return a heading of a paper."""
    return words(text, HEAD)


def lines(items: Iterable[str], *, box: bool = False) -> list[Flowable]:
    """Return sentences under each other; `box` puts an open box before each, to be ticked by hand."""
    mark = BODY.clone("marked", leftIndent=12 if box else 0, spaceAfter=2)
    found: list[Flowable] = []
    for item in items:
        text = words(item, mark)
        found.append(_Boxed(text) if box else text)
    return found


class _Boxed(Flowable):
    """A paragraph with an open box at its left."""

    def __init__(self, text: Paragraph) -> None:
        super().__init__()
        self.text = text

    def wrap(self, width: float, height: float) -> tuple[float, float]:
        self.width, self.height = self.text.wrap(width, height)
        return self.width, self.height + 2

    def draw(self) -> None:
        self.text.drawOn(self.canv, 0, 2)
        self.canv.setStrokeColor(INK)
        self.canv.setLineWidth(0.8)
        self.canv.rect(0, self.height - 7, 6.5, 6.5)


def grid(
    header: Sequence[str], rows: Sequence[Sequence[str]], widths: Sequence[float], mono: frozenset[int]
) -> Flowable:
    """Return a table with hairlines whose header is repeated; `widths` are shares, `mono` the columns of addresses."""
    whole = sum(widths)
    body = [[words(head, CELL_HEAD) for head in header]]
    body += [[words(cell, MONO if at in mono else CELL) for at, cell in enumerate(row)] for row in rows]
    table = LongTable(body, colWidths=[WIDTH * share / whole for share in widths], repeatRows=1, hAlign="LEFT")
    table.setStyle(
        TableStyle(
            [
                _FONT,
                ("LINEBELOW", (0, 0), (-1, 0), 0.9, INK),
                ("LINEBELOW", (0, 1), (-1, -1), 0.3, HAIR),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("RIGHTPADDING", (0, 0), (-1, -1), 5),
                ("TOPPADDING", (0, 0), (-1, -1), 1.6),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 1.6),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ]
        )
    )
    return table


def signatures(names: Sequence[str]) -> Flowable:
    """Return lines to sign on, with a place for the date."""
    body: list[list[Any]] = [[""] * len(names), [words(f"{name}, date", CELL) for name in names]]
    table = LongTable(body, colWidths=[WIDTH / len(names)] * len(names), rowHeights=[26, 14], hAlign="LEFT")
    table.setStyle(TableStyle([_FONT, ("LINEBELOW", (0, 0), (-1, 0), 0.8, INK), ("LEFTPADDING", (0, 0), (-1, -1), 0)]))
    return KeepTogether([Spacer(1, 6), table])


class _Made(TimeStamp):
    """The day that a paper was made on, at midnight UTC: the library knows only this moment or none."""

    def __init__(self, day: date) -> None:
        super().__init__(invariant=1)
        moment = datetime(day.year, day.month, day.day, tzinfo=UTC)
        self.t, self.lt = moment.timestamp(), tuple(moment.utctimetuple())  # type: ignore[assignment]
        self.YMDhms = self.lt[:6]


class _Numbered(Canvas):
    """A canvas that writes "page 2 of 3" when all pages are known."""

    def __init__(self, *args: Any, heading: str, note: str, day: date, **more: Any) -> None:
        super().__init__(*args, **more | {"initialFontName": "Text-Regular"})  # else one that is not embedded
        self._doc._timeStamp = _Made(day)  # type: ignore[attr-defined]
        self._kept: list[dict[str, Any]] = []
        self._heading, self._note = heading, note

    def showPage(self) -> None:  # noqa: N802  the library's name
        self._kept.append(dict(self.__dict__))
        self._startPage()  # type: ignore[attr-defined]

    def save(self) -> None:
        for number, page in enumerate(self._kept, 1):
            self.__dict__.update(page)
            self.setFont("Text-Regular", 8)
            self.setFillColor(QUIET)
            self.drawString(MARGIN + 6, 9 * mm, self._heading)
            self.drawRightString(A4[0] - MARGIN - 6, 9 * mm, f"{self._note}, page {number} of {len(self._kept)}")
            super().showPage()
        super().save()


def pdf(title: str, site: str, day: date, story: list[Flowable], note: str = "", author: str = "Tutelar") -> bytes:
    """Return the pages as PDF, made on `day`; `note` stands at the foot before it. Same input, same bytes.

    The library writes title, language, author and date into the file; it cannot tag the parts of a page.
    """
    foot = ", ".join(filter(None, (note, spoken_date(day))))
    register_fonts()
    out = io.BytesIO()
    template = SimpleDocTemplate(
        out,
        pagesize=A4,
        title=f"{title}, {site}",
        author=author,
        creator="Tutelar",
        lang="en",
        invariant=1,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=14 * mm,
        bottomMargin=16 * mm,
    )

    def canvas(*args: Any, **more: Any) -> _Numbered:
        return _Numbered(*args, heading=printable(f"{title} · {site}"[:110]), note=foot, day=day, **more)

    template.build(story, canvasmaker=canvas)
    return out.getvalue()
