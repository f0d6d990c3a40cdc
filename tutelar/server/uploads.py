"""Delivery notes and tables as they come: bytes of any spreadsheet or encoding, turned into rows of text."""

import csv
import io
import re
import zipfile
import zlib
from datetime import datetime
from typing import Any

from openpyxl import load_workbook
from openpyxl.utils import column_index_from_string
from openpyxl.utils.exceptions import InvalidFileException

from tutelar.core.kit.delivery import MOST
from tutelar.core.sightings import Sighting
from tutelar.core.wording import count
from tutelar.field.tables import read_table
from tutelar.server.store.writes import WriteRejected

MOST_BYTES = 8_000_000
MOST_COLUMNS = 60
ENCODINGS = ("cp1252", "mac_roman", "cp1250")  # what offices save when it is not UTF-8; the first of equals
_USUAL = frozenset("°ºª€–—’“”\u00a0")
_CAPITAL_INSIDE = re.compile(r"(?<=[^\W\d_])[À-ÖØ-ÞŸŠŽ](?=[a-zß-ÿ])")
_DELIMITERS = "\t;,|"


def rows_of(content: bytes, encoding: str | None = None) -> list[list[str]]:
    """Return the rows of a CSV, pasted or XLSX table as trimmed text. Raises Rejected for what is none."""
    if encoding is not None and encoding not in ENCODINGS:
        raise WriteRejected(f"'{encoding}' is not a known encoding; choose one of {', '.join(ENCODINGS)}.")
    _not_too_large(content)
    if content.startswith(b"PK"):
        rows = _workbook(content)
    elif content.startswith(b"\xd0\xcf\x11\xe0"):
        raise WriteRejected("This is an old Excel file (.xls); save it as .xlsx or CSV.")
    elif content.startswith(b"%PDF"):
        raise WriteRejected("This is a PDF; ask for the table as a spreadsheet, or copy it out and paste it.")
    else:
        rows = _text(decoded(content, encoding))
    rows = [[cell.strip() for cell in row[:MOST_COLUMNS]] for row in rows]
    while rows and not any(rows[-1]):
        rows.pop()
    width = max((at + 1 for row in rows for at, cell in enumerate(row) if cell), default=0)
    rows = [row[:width] for row in rows]
    if not any(any(row) for row in rows):
        raise WriteRejected("The table is empty: no row holds anything.")
    if len(rows) > MOST:
        raise WriteRejected(f"The table has {count(len(rows), 'row')}; up to {MOST} can be read at once.")
    return rows


def _not_too_large(content: bytes) -> None:
    if len(content) > MOST_BYTES:
        raise WriteRejected(f"The file has {len(content) / 1e6:.1f} MB; up to {MOST_BYTES / 1e6:.0f} MB can be read.")


def read_field_table(content: bytes) -> tuple[str, list[Sighting]]:
    """Return (what kind of table it is, its sightings) of a lease or neighbour table, text or XLSX.

    Raises Rejected where no line holds an address and a hardware address.
    """
    if content.startswith(b"PK"):
        out = io.StringIO()
        csv.writer(out, delimiter="\t").writerows(rows_of(content))
        text = out.getvalue()
    else:
        _not_too_large(content)
        text = decoded(content)
    table, seen = read_table(text)
    if not seen:
        raise WriteRejected(
            "No line of this table holds an address and a hardware address; a lease table, a neighbour table or a "
            "CSV with both is expected."
        )
    return table, seen


def decoded(content: bytes, encoding: str | None = None) -> str:
    """Return the text of a file: in the encoding asked for, else UTF-8, else the office encoding that gives the
    fewest signs which are no letters. Raises Rejected for what is no text."""
    for mark, name in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if content.startswith(mark):
            return content.decode(name, errors="replace")
    if encoding is not None:
        text = content.decode(encoding, errors="replace")
    else:
        try:
            text = content.decode("utf-8")
        except UnicodeDecodeError:
            text = min((content.decode(name, errors="replace") for name in ENCODINGS), key=_signs)
    if "\0" in text:
        raise WriteRejected("This is no table: the file holds neither text nor a spreadsheet.")
    return text


def _signs(text: str) -> int:
    """Return how many letters look misread: signs that no name holds, capitals inside a word of small letters."""
    strange = sum(1 for letter in text if ord(letter) > 127 and not letter.isalpha() and letter not in _USUAL)
    return strange + sum(1 for _ in _CAPITAL_INSIDE.finditer(text))


def _text(text: str) -> list[list[str]]:
    lines = text.splitlines()
    try:
        return list(csv.reader(io.StringIO(text, newline=""), delimiter=_delimiter(lines)))
    except csv.Error as error:
        raise WriteRejected(f"The table cannot be read: {error}.") from None


def _delimiter(lines: list[str]) -> str:
    """Return the delimiter that cuts most lines into the same number of columns, more than one."""
    sample = [line for line in lines[:200] if line.strip()]
    best, most = ",", 0
    for delimiter in _DELIMITERS:
        widths = [len(row) for row in csv.reader(sample, delimiter=delimiter)]
        wide = [width for width in widths if width > 1]
        if wide:
            usual = max(set(wide), key=wide.count)
            score = wide.count(usual) * 100 + usual
            if score > most:
                best, most = delimiter, score
    return best


# what its reader raises at a damaged file: anything that a wrong byte can lead to
_MERGED = re.compile(r'<mergeCell ref="([A-Z]{1,3})(\d{1,7}):([A-Z]{1,3})(\d{1,7})"')
_BROKEN = (zipfile.BadZipFile, InvalidFileException, zlib.error, EOFError, SyntaxError, LookupError, ArithmeticError,
           ValueError, TypeError, AttributeError, AssertionError, OSError, RuntimeError)  # fmt: skip


def _workbook(content: bytes) -> list[list[str]]:
    """Return the rows of the first sheet that holds anything."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if sum(item.file_size for item in packed.infolist()) > MOST_BYTES * 25:
                raise WriteRejected("The spreadsheet unpacks to far more than a delivery note; save the table as CSV.")
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        for sheet in book.worksheets:
            sheet.reset_dimensions()
            rows = [
                [_cell(value) for value in row]
                for row in sheet.iter_rows(max_row=MOST + 1, max_col=MOST_COLUMNS, values_only=True)
            ]
            if any(any(row) for row in rows):
                _fill_merged(rows, _packed_text(content, sheet))
                return rows
    except WriteRejected:
        raise
    except _BROKEN:
        raise WriteRejected(
            "The file looks like a spreadsheet and cannot be opened; save it again as XLSX or CSV."
        ) from None
    return []


def _packed_text(content: bytes, sheet: Any) -> str:
    """Return the part of a workbook that holds a sheet, as it stands in the file; "" for one too large."""
    with zipfile.ZipFile(io.BytesIO(content)) as packed:
        if packed.getinfo(sheet._worksheet_path).file_size > MOST_BYTES * 2:
            return ""
        return packed.read(sheet._worksheet_path).decode("utf-8", errors="replace")


def _fill_merged(rows: list[list[str]], text: str) -> None:
    """Write what stands in cells merged over several rows into each of them; a number that counts these rows is one
    in each."""
    for column, first, _, last in _MERGED.findall(text)[:MOST]:
        at, top, bottom = column_index_from_string(column) - 1, int(first) - 1, min(int(last), len(rows))
        if bottom - top < 2 or any(at >= len(row) for row in rows[top:bottom]):
            continue
        value = rows[top][at]
        if value.isdigit():
            if int(value) != bottom - top:
                continue
            value = "1"
        for row in rows[top:bottom]:
            row[at] = value


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value == int(value):
        return str(int(value))  # spreadsheets keep 4711 as 4711.0
    return value.date().isoformat() if isinstance(value, datetime) else str(value)
