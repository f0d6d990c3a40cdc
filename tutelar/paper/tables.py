"""Tables as CSV (RFC 4180, UTF-8 with a mark so that spreadsheets read it) and as XLSX."""

import csv
import io
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter

Cell = str | int | float | None
Separator = Literal["comma", "semicolon"]
_MARKS = {"comma": ",", "semicolon": ";"}


@dataclass(frozen=True)
class Table:
    """A titled table: one header, rows of the same length."""

    title: str
    header: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]


def safe(value: Cell) -> Cell:
    """Return the value so that no spreadsheet takes it for a formula."""
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "\t", "\r"):
        return f"'{value}"
    return "" if value is None else value


_UNSEEN = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff\ud800-\udfff]")  # XML knows no such signs


def as_csv(header: Sequence[str], rows: Iterable[Sequence[Cell]], separator: Separator = "comma") -> str:
    """Return rows as CSV (RFC 4180) that a spreadsheet opens as they are: no cell begins a formula.

    Spreadsheets of countries that write a comma in numbers expect a semicolon between the cells.
    """
    out = io.StringIO()
    writer = csv.writer(out, delimiter=_MARKS[separator])
    writer.writerow(header)
    writer.writerows([safe(value) for value in row] for row in rows)
    return "﻿" + out.getvalue()


def as_xlsx(tables: Iterable[Table]) -> bytes:
    """Return a workbook with a sheet a table: header bold and kept in sight, columns as wide as their words."""
    book = Workbook(write_only=True)
    for table in tables:
        sheet = book.create_sheet(table.title[:31])
        sheet.freeze_panes = "A2"
        for at, head in enumerate(table.header):
            widest = max([len(head), *(len(str(row[at] or "")) for row in table.rows)])
            sheet.column_dimensions[get_column_letter(at + 1)].width = min(max(widest, 6) + 2, 60)
        sheet.append([_cell(sheet, head, bold=True) for head in table.header])
        for row in table.rows:
            sheet.append([_cell(sheet, value) for value in row])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _cell(sheet: Any, value: Cell, *, bold: bool = False) -> Any:
    shown = _UNSEEN.sub("", value) if isinstance(value, str) else value
    cell = WriteOnlyCell(sheet, value="" if shown is None else shown)
    if isinstance(value, str):
        cell.data_type = "s"  # text stays text, whatever it begins with
    cell.font = Font(bold=bold)
    cell.alignment = Alignment(vertical="top", wrap_text=not bold)
    return cell
