"""Label strips for the ports of a switch: a cell a port, as far apart as its sockets, to be cut out and stuck on."""

import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from tutelar.paper.page import HAIR, INK, QUIET, printable, register_fonts

PITCH, HIGH, ACROSS = 14.0, 15.0, 18  # mm from socket to socket of most switches, mm, cells in a row
LEFT, TOP, APART = 18.0, 18.0, 10.0  # mm
_LINES, _SIZE, _LEAD = 3, 5.6, 2.3


@dataclass(frozen=True, slots=True)
class Strip:
    """The ports of one switch: its name, and what is in each port from 1 on ("" for an empty one)."""

    title: str
    ports: tuple[str, ...]


def strip_pdf(strips: Sequence[Strip], title: str) -> bytes:
    """Return the strips as PDF, A4 across. Same strips, same bytes."""
    register_fonts()
    out = io.BytesIO()
    wide, high = landscape(A4)
    canvas = Canvas(out, pagesize=(wide, high), invariant=1, initialFontName="Text-Regular", lang="en")  # type: ignore[arg-type]
    canvas.setTitle(title)
    at = high / mm - TOP
    for strip in strips:
        rows = [strip.ports[start : start + ACROSS] for start in range(0, len(strip.ports), ACROSS)]
        for number, row in enumerate(rows):
            if at - HIGH - APART < 10:
                canvas.showPage()
                at = high / mm - TOP
            canvas.setFillColor(INK)
            canvas.setFont("Text-Bold", 9)
            more = f", ports {number * ACROSS + 1} on" if number else ""
            canvas.drawString(LEFT * mm, (at + 2) * mm, printable(f"{strip.title}{more}"))
            _draw(canvas, row, number * ACROSS, at)
            at -= HIGH + APART
    canvas.save()
    return out.getvalue()


def _draw(canvas: Canvas, ports: Sequence[str], before: int, top: float) -> None:
    for place, text in enumerate(ports):
        left = LEFT + place * PITCH
        canvas.setStrokeColor(HAIR)
        canvas.rect(left * mm, (top - HIGH) * mm, PITCH * mm, HIGH * mm)
        canvas.setFillColor(QUIET)
        canvas.setFont("Mono-Bold", 7)
        canvas.drawCentredString((left + PITCH / 2) * mm, (top - 3.2) * mm, str(before + place + 1))
        canvas.setFillColor(INK)
        canvas.setFont("Text-Regular", _SIZE)
        for number, line in enumerate(wrapped(printable(text), PITCH - 1.4)):
            canvas.drawCentredString((left + PITCH / 2) * mm, (top - 6.2 - number * _LEAD) * mm, line)


def wrapped(text: str, width_mm: float) -> list[str]:
    """Return a text in as many lines as a cell takes; what does not fit ends in a sign that more follows."""

    def wide(line: str) -> bool:
        return stringWidth(line, "Text-Regular", _SIZE) > width_mm * mm

    lines: list[str] = []
    for word in text.split():
        if lines and not wide(f"{lines[-1]} {word}"):
            lines[-1] = f"{lines[-1]} {word}"
        else:
            lines.append(word)
    more = len(lines) > _LINES
    return [_cut(line, wide, more=more and at == _LINES - 1) for at, line in enumerate(lines[:_LINES])]


def _cut(line: str, wide: Callable[[str], bool], *, more: bool) -> str:
    """Return a line, or as much of it as fits with a sign that more follows."""
    if not more and not wide(line):
        return line
    while line and wide(f"{line}…"):
        line = line[:-1]
    return f"{line}…"
