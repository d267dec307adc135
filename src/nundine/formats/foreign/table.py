"""A table as another system wrote it: found in a file of any encoding and separator, below whatever titles
stand above it."""

from __future__ import annotations

import csv
from collections import Counter
from dataclasses import dataclass
from typing import Any

from nundine.core.characters import bad_character
from nundine.formats.bad import BadFile
from nundine.formats.tables import MOST_COLUMNS, MOST_ROWS, csv_rows, is_workbook, refuse_large, workbook_rows

SEPARATORS = ";,\t|"
TITLES = 15
"""Rows in which the names of the columns are looked for."""


@dataclass(frozen=True)
class ForeignTable:
    """Columns as they are named in the file, rows of cells with their numbers in the file, and how it was
    read, in words."""

    title: str
    columns: tuple[str, ...]
    rows: tuple[tuple[int, tuple[Any, ...]], ...]
    read_as: str


def foreign_tables(name: str, data: bytes) -> list[ForeignTable]:
    """The tables of a file, CSV or XLSX by its content. Raises BadFile if there is none."""
    refuse_large(name, data)
    if is_workbook(data):
        found = [_table(title, rows, "spreadsheet") for title, rows in workbook_rows(name, data)]
    else:
        text, encoding = _decoded(name, data)
        separator = _separator(name, text)
        rows = csv_rows(name, text, separator)
        shown = {"\t": "tab"}.get(separator, separator)
        found = [
            _table(name.rsplit("/", 1)[-1].rsplit(".", 1)[0], rows, f"{encoding}, columns parted by {shown}")
        ]
    tables = [t for t in found if t is not None]
    if not tables:
        raise BadFile(
            f"{name}: no table was found. It needs a row with the names of the columns and rows below it."
        )
    return tables


def _decoded(name: str, data: bytes) -> tuple[str, str]:
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        try:
            return data.decode("utf-16"), "UTF-16"
        except UnicodeDecodeError as bad:
            raise BadFile(
                f"{name} is broken UTF-16 (byte {bad.start + 1}). Save it again as CSV UTF-8."
            ) from bad
    try:
        text, encoding = data.decode("utf-8-sig"), "UTF-8"
    except UnicodeDecodeError:
        text, encoding = data.decode("cp1252", errors="replace"), "Windows-1252"
    if "\0" in text:
        raise BadFile(f"{name} is neither CSV nor XLSX.")
    return text, encoding


def _separator(name: str, text: str) -> str:
    """The one that parts most of the first lines into the same number of cells, more than one."""
    lines = [line for line in text.splitlines()[:60] if line.strip()]

    def score(separator: str) -> tuple[int, int]:
        counts = Counter(len(r) for r in csv.reader(lines, delimiter=separator) if len(r) > 1)
        width, lines_so = max(counts.items(), key=lambda c: (c[1] * min(c[0], 4), c[0]), default=(0, 0))
        return lines_so * min(width, 4), width

    try:
        return max(SEPARATORS, key=score)
    except csv.Error as bad:
        raise BadFile(f"{name}: {bad} in its first lines. Save it again as CSV UTF-8.") from bad


def _filled(row: list[Any]) -> list[Any]:
    return [c for c in row if c is not None and str(c).strip()]


def _table(title: str, rows: list[list[Any]], read_as: str) -> ForeignTable | None:
    """The names of the columns stand in the first of the rows on top with most words in it; what is above is
    a title."""
    if len(rows) > MOST_ROWS:
        raise BadFile(f"{title}: more than {MOST_ROWS} rows. Split it.")

    def words(row: list[Any]) -> int:
        cells = _filled(row)
        return len(cells) if cells and all(isinstance(c, str) and not _is_figure(c) for c in cells) else 0

    best = max(range(min(TITLES, len(rows))), key=lambda n: (words(rows[n]), -n), default=None)
    if best is None or words(rows[best]) < 2:
        return None
    width = min(MOST_COLUMNS, max(len(r) for r in rows[best:]))
    if any(isinstance(c, str) and bad_character(c) for c in rows[best]):
        raise BadFile(
            f"{title}, row {best + 1}: the name of a column holds a character that no text may hold."
        )
    names: list[str] = []
    for n in range(width):
        cell = rows[best][n] if n < len(rows[best]) else None
        name = " ".join(str(cell).split()) if cell is not None and str(cell).strip() else f"column {n + 1}"
        names.append(name if name not in names else f"{name} ({n + 1})")
    body = [
        (n, (*r[:width], *[None] * (width - len(r))))
        for n, r in enumerate(rows[best + 1 :], best + 2)
        if _filled(r)
    ]
    used = [
        n for n in range(width) if not names[n].startswith("column ") or any(_filled([r[n]]) for _, r in body)
    ]
    above = f", names in row {best + 1}" if best else ""
    kept = tuple((number, tuple(r[n] for n in used)) for number, r in body)
    return ForeignTable(title, tuple(names[n] for n in used), kept, read_as + above)


def _is_figure(cell: str) -> bool:
    return not any(c.isalpha() for c in cell)
