"""Labels for devices: a QR code of the device's page, its name, place, address, serial and hardware address.

A sheet is A4 with 3 by 8 labels of 70 by 37 mm, a size that stationers sell. QR codes: ISO/IEC 18004, by segno.
"""

import io
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from xml.sax.saxutils import escape

import segno
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from tutelar.paper.page import INK, QUIET, printable, register_fonts

WIDE, HIGH, ACROSS, DOWN = 70.0, 37.0, 3, 8  # mm, mm, labels
TOP = (297.0 - DOWN * HIGH) / 2
CODE = 25.0  # mm
LEFT, GAP = 4.0, 3.0


@dataclass(frozen=True, slots=True)
class Label:
    """What stands on one label; `link` is the address of the device's page, lines that are empty are left out."""

    link: str
    name: str
    lines: tuple[str, ...]


def modules(link: str) -> list[list[bool]]:
    """Return the code as rows of dark and light squares, without a quiet zone."""
    return [[bool(cell) for cell in row] for row in segno.make(link, error="m", micro=False).matrix]


def _fitting(text: str, font: str, size: float, width_mm: float) -> str:
    """Return the text, or as much of it as fits with a sign that more follows."""
    if stringWidth(text, font, size) <= width_mm * mm:
        return text
    while text and stringWidth(f"{text}…", font, size) > width_mm * mm:
        text = text[:-1]
    return f"{text.rstrip()}…"


def _texts(label: Label) -> Iterator[tuple[float, str, float, str]]:
    """Yield (mm from the label's top, face, points, text) of the lines beside the code; a long name takes two."""
    width = WIDE - LEFT - CODE - GAP - 2
    at, rest = 7.5, printable(label.name).split()
    for last in (False, True):
        line = ""
        while rest and (last or stringWidth(f"{line} {rest[0]}".strip(), "Text-Bold", 10) <= width * mm or not line):
            line = f"{line} {rest.pop(0)}".strip()
        if line:
            yield at, "Text-Bold", 10, _fitting(line, "Text-Bold", 10, width)
            at += 4.4
    for text in map(printable, filter(None, label.lines)):
        yield at, "Mono-Regular", 7, _fitting(text, "Mono-Regular", 7, width)
        at += 3.5


def label_pdf(labels: Sequence[Label], title: str) -> bytes:
    """Return the sheets as PDF. Same labels, same bytes."""
    register_fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=1, initialFontName="Text-Regular", lang="en")  # type: ignore[arg-type]
    canvas.setTitle(title)
    for at, label in enumerate(labels):
        place = at % (ACROSS * DOWN)
        if at and place == 0:
            canvas.showPage()
        left, top = place % ACROSS * WIDE, 297.0 - TOP - place // ACROSS * HIGH
        _draw(canvas, label, left, top)
    if not labels:  # a PDF without a page opens nowhere
        canvas.drawString(LEFT * mm, (297.0 - TOP - 2 * LEFT) * mm, "No devices yet, so no labels.")
    canvas.save()
    return out.getvalue()


def _draw(canvas: Canvas, label: Label, left: float, top: float) -> None:
    rows = modules(label.link)
    size = CODE / len(rows)
    canvas.setFillColor(INK)
    path = canvas.beginPath()
    for y, row in enumerate(rows):
        for x, dark in enumerate(row):
            if dark:
                corner = (left + LEFT + x * size) * mm, (top - (HIGH - CODE) / 2 - (y + 1) * size) * mm
                path.rect(*corner, size * mm, size * mm)
    canvas.drawPath(path, stroke=0, fill=1)
    for down, face, points, text in _texts(label):
        canvas.setFillColor(INK if face == "Text-Bold" else QUIET)
        canvas.setFont(face, points)
        canvas.drawString((left + LEFT + CODE + GAP) * mm, (top - down) * mm, text)


def label_svg(labels: Sequence[Label], title: str) -> str:
    """Return the labels as one SVG drawing, three in a row, in millimetres; every sheet below the one before."""
    register_fonts()
    high = (len(labels) + ACROSS - 1) // ACROSS * HIGH
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{ACROSS * WIDE:g}mm" height="{high:g}mm" '
        f'viewBox="0 0 {ACROSS * WIDE:g} {high:g}"><title>{escape(title)}</title>'
    ]
    for at, label in enumerate(labels):
        parts.append(f'<g transform="translate({at % ACROSS * WIDE:g} {at // ACROSS * HIGH:g})">')
        rows = modules(label.link)
        squares = "".join(f"M{x} {y}h1v1h-1z" for y, row in enumerate(rows) for x, dark in enumerate(row) if dark)
        scale = CODE / len(rows)
        parts.append(f'<path transform="translate({LEFT:g} {(HIGH - CODE) / 2:g}) scale({scale:.5f})" d="{squares}"/>')
        for down, face, points, text in _texts(label):
            weight = ' font-weight="700"' if face == "Text-Bold" else ""
            family = "monospace" if face.startswith("Mono") else "sans-serif"
            length = stringWidth(text, face, points) / mm  # whatever typeface the reader has, it fits
            parts.append(
                f'<text x="{LEFT + CODE + GAP:g}" y="{down:g}" font-family="{family}" '
                f'font-size="{points * 0.3528:.2f}"{weight} textLength="{length:.2f}" '
                f'lengthAdjust="spacingAndGlyphs">{escape(text)}</text>'
            )
        parts.append("</g>")
    return "".join([*parts, "</svg>\n"])
