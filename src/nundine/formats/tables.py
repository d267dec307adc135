"""Tables as CSV or XLSX. Nothing in a file is ever run: no formula, macro, link or path is followed."""

from __future__ import annotations

import csv
import io
import zipfile
from dataclasses import dataclass
from datetime import date, datetime, time
from typing import Any

from nundine.core.characters import bad_character
from nundine.formats.bad import BadCell, BadFile

__all__ = ["BadCell", "BadFile", "Sheet", "read_tables", "write_csv", "write_xlsx"]

MOST_BYTES, MOST_UNPACKED, MOST_ROWS, MOST_COLUMNS = 25 * 2**20, 250 * 2**20, 200_000, 60
MOST_PARTS, MOST_CELLS = 500, 4_000_000
LONGEST_CELL = 32_767
"""Characters in a cell, as many as spreadsheets hold in one (ECMA-376 part 1, 18.18.91, as their makers limit
it: from memory)."""
RISKY = ("=", "+", "-", "@", "\t")


@dataclass(frozen=True)
class Sheet:
    """Rows of one table: (row number in the file, {column: cell}). Cells are text, or values of a
    spreadsheet."""

    name: str
    columns: tuple[str, ...]
    rows: tuple[tuple[int, dict[str, Any]], ...]


def read_tables(name: str, data: bytes) -> list[Sheet]:
    """The tables of a file, chosen by its content.

    Raises
    ------
    BadFile
        If the file is too large, is no CSV or XLSX, or holds a formula.
    """
    refuse_large(name, data)
    if is_workbook(data):
        return [_sheet(f"{name}, sheet {title}", title, rows) for title, rows in workbook_rows(name, data)]
    return [_read_csv(name, data)]


def refuse_large(name: str, data: bytes) -> None:
    """Raises BadFile for more bytes than are taken."""
    if len(data) > MOST_BYTES:
        raise BadFile(
            f"{name} has {len(data) / 2**20:.0f} MB; at most {MOST_BYTES // 2**20} MB are taken. Split it."
        )


def is_workbook(data: bytes) -> bool:
    return data[:2] == b"PK"


def _read_csv(name: str, data: bytes) -> Sheet:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as bad:
        raise BadFile(
            f"{name} is not UTF-8 (byte {bad.start + 1}). Save it as CSV UTF-8, or as XLSX."
        ) from bad
    if "\0" in text:
        raise BadFile(f"{name} is neither CSV nor XLSX.")
    head = text.split("\n", 1)[0]
    rows = csv_rows(name, text, max(",;\t", key=head.count))
    return _sheet(name, name.rsplit("/", 1)[-1].rsplit(".", 1)[0], [[_unguard(c) for c in r] for r in rows])


def csv_rows(name: str, text: str, separator: str) -> list[list[str]]:
    """The rows of a CSV. Raises BadFile for more of them, or longer ones, than a table may have."""
    csv.field_size_limit(LONGEST_CELL)
    rows: list[list[str]] = []
    cells = 0
    try:
        for row in csv.reader(io.StringIO(text, newline=""), delimiter=separator):
            while len(row) > MOST_COLUMNS and not row[-1].strip():
                row.pop()
            cells += len(row)
            if len(row) > MOST_COLUMNS:
                raise BadFile(
                    f"{name}, row {len(rows) + 1}: {len(row)} columns; at most {MOST_COLUMNS} are taken."
                )
            if len(rows) > MOST_ROWS or cells > MOST_CELLS:
                raise BadFile(f"{name}: more than {MOST_ROWS} rows or {MOST_CELLS} cells. Split it.")
            rows.append(row)
    except csv.Error as bad:
        raise BadFile(
            f"{name}, row {len(rows) + 1}: {bad}. At most {LONGEST_CELL} characters fit into a cell."
        ) from bad
    return rows


def _unguard(cell: str) -> str:
    bare = cell.lstrip("'")
    return cell[1:] if cell[:1] == "'" and bare[:1] in RISKY and bare else cell


def workbook_rows(name: str, data: bytes) -> list[tuple[str, list[list[Any]]]]:
    """The sheets of an XLSX file that hold anything: title and rows of cells. Raises BadFile."""
    from openpyxl import load_workbook  # a third of a second to import: only for workbooks

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as pack:
            parts = pack.infolist()
            if len(parts) > MOST_PARTS or sum(i.file_size for i in parts) > MOST_UNPACKED:
                raise BadFile(f"{name} unpacks to more than {MOST_UNPACKED // 2**20} MB and is not opened.")
            if any("vbaProject" in i.filename for i in parts):
                raise BadFile(f"{name} holds macros. Save it as plain XLSX.")
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=False, keep_links=False)
        sheets = [(sheet.title, _rows_of(name, sheet)) for sheet in book.worksheets]
        book.close()
    except (BadFile, MemoryError):
        raise
    except Exception as bad:
        raise BadFile(
            f"{name} can not be read as XLSX ({type(bad).__name__}). Open it in a spreadsheet and "
            "save it again."
        ) from bad
    return [(title, rows) for title, rows in sheets if any(c is not None for r in rows for c in r)]


def _rows_of(name: str, sheet: Any) -> list[list[Any]]:
    rows: list[list[Any]] = []
    cells = 0
    for number, row in enumerate(sheet.iter_rows(max_col=MOST_COLUMNS), 1):
        cells += len(row)
        if number > MOST_ROWS or cells > MOST_CELLS * 3:  # empty cells of a wide sheet are counted too
            raise BadFile(f"{name}, sheet {sheet.title}: more than {MOST_ROWS} rows. Split it.")
        for cell in row:
            if cell.data_type == "f":
                raise BadFile(
                    f"{name}, sheet {sheet.title}, cell {cell.coordinate}: a formula. Paste values "
                    "instead; formulas are not run."
                )
        rows.append([cell.value for cell in row])
    return rows


def _sheet(where: str, title: str, rows: list[list[Any]]) -> Sheet:
    if len(rows) > MOST_ROWS:
        raise BadFile(f"{where}: more than {MOST_ROWS} rows. Split it.")
    if not rows or not any(str(c or "").strip() for c in rows[0]):
        raise BadFile(f"{where}: the first row must hold the names of the columns.")
    columns = tuple(str(c or "").strip().lower() for c in rows[0])
    if len(columns) > MOST_COLUMNS:
        raise BadFile(f"{where}: {len(columns)} columns; at most {MOST_COLUMNS} are taken.")
    if any(bad_character(c) for c in columns):
        raise BadFile(f"{where}: the name of a column holds a character that no text may hold.")
    twice = {c for c in columns if c and columns.count(c) > 1}
    if twice:
        raise BadFile(f"{where}: column {', '.join(sorted(twice))} stands twice.")
    body = []
    for number, row in enumerate(rows[1:], 2):
        cells = {c: v for c, v in zip(columns, row, strict=False) if c}
        if any(v is not None and str(v).strip() for v in cells.values()):
            body.append((number, cells))
    return Sheet(title, columns, tuple(body))


def _guard(value: Any) -> Any:
    """Text that a spreadsheet would take for a formula is led by an apostrophe, and so is text that begins so
    already."""
    if not isinstance(value, str):
        return value
    bare = value.lstrip("'")
    return "'" + value if bare and bare[:1] in RISKY else value


def write_csv(columns: list[str], rows: list[list[Any]]) -> bytes:
    """A CSV in UTF-8; text that a spreadsheet would take for a formula is led by an apostrophe."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(columns)
    writer.writerows([[_guard(_text(v)) for v in r] for r in rows])
    return ("\ufeff" + out.getvalue()).encode()


def _text(value: Any) -> Any:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (datetime, date, time)):
        return value.isoformat()
    return "" if value is None else value


def write_xlsx(sheets: dict[str, tuple[list[str], list[list[Any]]]]) -> bytes:
    """A workbook; all text is stored as text, never as a formula. Rows are written as they come: 50,000 cost
    seconds."""
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    book, bold = Workbook(write_only=True), Font(bold=True)
    for name, (columns, rows) in sheets.items():
        sheet = book.create_sheet(name[:31])
        sheet.freeze_panes = "A2"
        for n, width in enumerate(_widths(columns, rows[:60]), 1):
            sheet.column_dimensions[get_column_letter(n)].width = width

        def as_text(value: str, sheet: Any = sheet) -> Any:
            cell = WriteOnlyCell(sheet, value)
            cell.data_type = "s"
            return cell

        head = [as_text(c) for c in columns]
        for cell in head:
            cell.font = bold
        sheet.append(head)
        for r in rows:
            texts = (_text(v) for v in r)
            sheet.append([as_text(v) if isinstance(v, str) and v[:1] in ("=", "#") else v for v in texts])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _widths(columns: list[str], rows: list[list[Any]]) -> list[int]:
    """How wide each column is, in characters: as its longest cell, within bounds."""
    cells = [[columns[n], *(r[n] for r in rows if n < len(r))] for n in range(len(columns))]
    return [min(48, max(len(str(c or "")) for c in column) + 2) for column in cells]
